"""A server killed in the middle of saving: nothing that was acknowledged is lost."""

import http.client
import http.cookiejar
import json
import os
import threading
import time
import urllib.error
import urllib.request
import uuid
from concurrent.futures import ThreadPoolExecutor

from tests.conftest import Server
from tests.plans import changed, demo_document


class Caller:
    """A person on the real wire."""

    def __init__(self, server: Server, name: str = "rowan"):
        self.server, self.url = server, f"{server.url}/api"
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPSHandler(context=server.trusted), urllib.request.HTTPCookieProcessor(self.jar)
        )
        # Who has signed in before goes on in the same session: signing in is slow on purpose.
        for cookie in server.callers.get(name, []):
            self.jar.set_cookie(cookie)
        session = self.send("GET", "/session")
        self.token = session["csrf_token"]
        if session["username"] != name:
            body = {"username": name, "password": "practice-only"}
            self.token = self.send("POST", "/session", body)["csrf_token"]
            server.callers[name] = list(self.jar)

    def send(self, method: str, path: str, content=None, more=None):
        body = None if content is None else json.dumps(content).encode()
        headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": getattr(self, "token", ""),
            "Referer": f"{self.url}/",
            **(more or {}),
        }
        request = urllib.request.Request(self.url + path, body, headers, method=method)
        with self.opener.open(request, timeout=30) as answer:
            return json.load(answer)


def test_many_who_write_the_same_file_at_once_leave_it_whole_and_the_first_key_is_the_only_one(tmp_path, settings):
    from sealing import keys
    from storing.settled import write

    settings.VAR = tmp_path
    content = os.urandom(3_000_000)
    with ThreadPoolExecutor(8) as together:
        list(together.map(lambda _: write(tmp_path / "lip.png", content), range(24)))
        assert len(set(together.map(lambda _: keys.public_key(), range(24)))) == 1
    assert (tmp_path / "lip.png").read_bytes() == content
    assert not list(tmp_path.rglob("*.part"))
    assert (tmp_path / "keys" / "handover.key").stat().st_mode & 0o077 == 0


def test_a_server_killed_while_saving_keeps_every_acknowledged_revision_and_entry(tmp_path):
    server = Server(tmp_path)
    try:
        for _ in range(2):
            caller = Caller(server)
            plan = caller.send("GET", "/plans")[0]["id"]
            number = caller.send("GET", f"/plans/{plan}")["latest"]["number"]
            threading.Timer(2.0, server.kill).start()
            saved, said = {}, []
            try:
                while True:
                    document = changed(demo_document(), ropes__0__length_m=60 + number)
                    body = {"base": number, "id": str(uuid.uuid4()), "document": document}
                    answer = caller.send("PUT", f"/plans/{plan}", body)
                    number = answer["number"]
                    saved[number] = answer["sha256"]
                    entry = {"id": str(uuid.uuid4()), "kind": "decision", "decision": f"r{number}", "revision": number}
                    said.append(caller.send("POST", f"/plans/{plan}/log", entry)["hash"])
            except (urllib.error.URLError, ConnectionError, TimeoutError, http.client.HTTPException):
                pass
            assert len(saved) > 3
            time.sleep(0.2)
            server.start()
            caller = Caller(server)
            for number_kept, sha256 in saved.items():
                assert caller.send("GET", f"/plans/{plan}/revisions/{number_kept}")["sha256"] == sha256
            kept = {entry["hash"] for entry in caller.send("GET", f"/plans/{plan}/log")["entries"]}
            assert set(said) <= kept
            assert "every hash fits" in server.manage("verify_log").stdout
    finally:
        server.kill()


def test_eight_writers_and_a_server_killed_twice_every_acknowledged_entry_is_there_once_and_in_order(tmp_path):
    """Clients send again what was not acknowledged, under the same id; the chain is whole afterwards. (All 10 000 with five kills: by
    `make bench`.)"""
    entries, kills = int(os.environ.get("OUTRIGGER_ENTRIES", "800")), int(os.environ.get("OUTRIGGER_KILLS", "2"))
    server = Server(tmp_path)
    try:
        plan = Caller(server).send("GET", "/plans")[0]["id"]
        before = Caller(server).send("GET", f"/plans/{plan}/log")["total"]
        acknowledged: list[list[str]] = [[] for _ in range(8)]
        writers = [
            threading.Thread(target=writes, args=(server, plan, entries // 8, acknowledged[n]), daemon=True)
            for n in range(8)
        ]
        for one in writers:
            one.start()
        for number in range(kills):
            while sum(map(len, acknowledged)) < entries * (number + 1) / (kills + 1):
                time.sleep(0.02)
            server.kill()
            time.sleep(0.3)
            server.start()
        for one in writers:
            one.join(timeout=240)
        kept = whole_log(Caller(server), plan)
        assert [one["sequence"] for one in kept] == list(range(1, len(kept) + 1))
        ids = [one["id"] for one in kept]
        assert len(set(ids)) == len(ids) == before + entries
        for mine in acknowledged:
            assert len(mine) == entries // 8
            # Each writer's own entries stand in the order in which they were acknowledged.
            places = [ids.index(one) for one in mine]
            assert places == sorted(places)
        assert "every hash fits" in server.manage("verify_log").stdout
    finally:
        server.kill()


def writes(
    server: Server, plan: str, count: int, acknowledged: list[str], enough: threading.Event | None = None
) -> None:
    """One writer, who sends again until it is acknowledged, up to `count` entries or until there are enough."""
    caller = None
    for number in range(count):
        if enough and enough.is_set():
            return
        entry = {"id": str(uuid.uuid4()), "kind": "observation", "decision": f"seen {number}", "revision": 1}
        while True:
            try:
                caller = caller or Caller(server)
                caller.send("POST", f"/plans/{plan}/log", entry)
                break
            except (urllib.error.URLError, ConnectionError, TimeoutError, http.client.HTTPException):
                caller = None
                time.sleep(0.2)
        acknowledged.append(entry["id"])


def whole_log(caller: Caller, plan: str) -> list[dict]:
    """Every page, first to last."""
    found: list[dict] = []
    while page := caller.send("GET", f"/plans/{plan}/log?place={len(found)}")["entries"]:
        found += page
    return found
