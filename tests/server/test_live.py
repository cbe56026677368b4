"""Live word: after a lost connection nothing is missing and nothing comes twice, without reading the whole log again."""

import http.client
import json
import threading
import uuid

import pytest

from tests.conftest import Server
from tests.server.test_durability import Caller

DEVICES = 12


@pytest.fixture(scope="module")
def live(tmp_path_factory):
    one = Server(tmp_path_factory.mktemp("var"))
    yield one
    one.kill()


class Device:
    """A device that listens until it has heard enough, and remembers the last event id."""

    def __init__(self, server: Server):
        self.server, self.caller = server, Caller(server)
        self.heard: list[int] = []

    def listen(self, plan: str, until: int) -> None:
        wire = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=20)
        cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in self.caller.jar)
        again = {"Last-Event-ID": str(self.heard[-1])} if self.heard else {}
        wire.request("GET", f"/api/plans/{plan}/events?after=0", headers={"Cookie": cookies, **again})
        answer = wire.getresponse()
        while not self.heard or self.heard[-1] < until:
            line = answer.readline()
            if line.startswith(b"id: "):
                self.heard.append(int(line[4:]))
        # The line breaks here.
        wire.close()


def say(caller: Caller, plan: str, count: int) -> None:
    for number in range(count):
        entry = {"id": str(uuid.uuid4()), "kind": "observation", "decision": f"seen {number}", "revision": 1}
        caller.send("POST", f"/plans/{plan}/log", entry)


def test_twelve_devices_come_back_after_a_lost_connection_without_a_gap_and_nothing_twice(live):
    caller = Caller(live)
    plan = caller.send("GET", "/plans")[0]["id"]
    say(caller, plan, 10)
    total = caller.send("GET", f"/plans/{plan}/log")["total"]
    devices = [Device(live) for _ in range(DEVICES)]
    listen_all(devices, plan, total)
    # Nobody hears these.
    say(caller, plan, 140)
    listening = [threading.Thread(target=one.listen, args=(plan, total + 160)) for one in devices]
    for one in listening:
        one.start()
    say(caller, plan, 20)
    for one in listening:
        one.join(timeout=30)
    for device in devices:
        assert device.heard == list(range(1, total + 161))


def listen_all(devices: list[Device], plan: str, until: int) -> None:
    threads = [threading.Thread(target=one.listen, args=(plan, until)) for one in devices]
    for one in threads:
        one.start()
    for one in threads:
        one.join(timeout=30)


def test_a_run_moved_on_is_told_with_its_version_and_who_stopped_it(live):
    caller = Caller(live)
    plan = caller.send("GET", "/plans")[0]["id"]
    wire = http.client.HTTPConnection("127.0.0.1", live.port, timeout=20)
    cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in caller.jar)
    wire.request("GET", f"/api/plans/{plan}/events", headers={"Cookie": cookies})
    answer = wire.getresponse()
    for name in ("begin", "stop"):
        caller.send("POST", f"/plans/{plan}/run", {"id": str(uuid.uuid4()), "act": name, "text": "practice"})
    versions: list[tuple[int, str]] = []
    while not versions or versions[-1][1] != "stopped":
        line = answer.readline()
        if line.startswith(b'data: {"id"') and b'"status"' in line:
            run = json.loads(line[6:])
            versions.append((run["version"], run["status"]))
    assert versions == sorted(versions)
    wire.close()
