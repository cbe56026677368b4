"""A team at work for as long as one likes: twelve devices whose lines are cut at random, a server killed twice, a disk that fills. At the end
every acknowledged thing is there, once, in order, and all devices have heard the same. `python -m tests.soak --minutes 30`."""

import argparse
import contextlib
import hashlib
import http.client
import json
import random
import socket
import subprocess
import tempfile
import threading
import time
import uuid
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from tests.conftest import Server, free_port
from tests.hindrances import headers_of
from tests.pictures import picture
from tests.plans import changed, demo_document
from tests.server.test_durability import Caller, whole_log

DEVICES, CELLS = 12, 2
# The disk's size, and how it is filled: piece by piece.
_DISK_MB, _PIECE_KB = 192, 64
_PATIENCE_S = 15.0
Answer = tuple[int, dict[str, Any]]


class Lines:
    """The team's network: everything goes through it, and any of it may be cut at any moment, in the middle of a request or of its answer."""

    def __init__(self, to: int, luck: random.Random, every_s: float):
        self.port, self._to, self._luck, self._every_s = free_port(), to, luck, every_s
        self.cut = 0
        self._open: set[socket.socket] = set()
        self._door = socket.create_server(("127.0.0.1", self.port), backlog=256)
        for work in (self._let_in, self._cuts):
            threading.Thread(target=work, daemon=True).start()

    def _let_in(self) -> None:
        while True:
            near, _ = self._door.accept()
            try:
                far = socket.create_connection(("127.0.0.1", self._to), timeout=5)
            except OSError:
                near.close()
                continue
            far.settimeout(None)
            self._open |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._carried, args=(one, other), daemon=True).start()

    def _carried(self, one: socket.socket, other: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while piece := one.recv(65536):
                other.sendall(piece)
        for end in (one, other):
            self._open.discard(end)
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()

    def _cuts(self) -> None:
        while True:
            time.sleep(self._luck.expovariate(1 / self._every_s))
            if chosen := list(self._open):
                self.cut += 1
                with contextlib.suppress(OSError):
                    self._luck.choice(chosen).shutdown(socket.SHUT_RDWR)


@dataclass
class Device:
    """A device: what it does it sends, again and again under one id, until the server has it or has refused it for good; what it hears it keeps."""

    number: int
    name: str
    caller: Caller
    port: int
    plan: str
    luck: random.Random
    over: threading.Event
    deaf: threading.Event
    pace_s: float
    # Acknowledged, in order: entries' ids; photographs' ids and prints; revisions' numbers and prints; readings of its cell.
    entries: list[str] = field(default_factory=list)
    photographs: dict[str, str] = field(default_factory=dict)
    revisions: dict[int, str] = field(default_factory=dict)
    cell: str = ""
    readings: int = 0
    heard: list[int] = field(default_factory=list)
    told: Counter[str] = field(default_factory=Counter)
    wire: http.client.HTTPConnection | None = None

    def asked(self, method: str, path: str, body: bytes | None = None, kind: str = "application/json") -> Answer:
        """Sent until it is answered for good."""
        while True:
            try:
                self.wire = self.wire or http.client.HTTPConnection("127.0.0.1", self.port, timeout=_PATIENCE_S)
                headers = {**headers_of(self.caller), "Content-Type": kind, "Origin": f"http://127.0.0.1:{self.port}"}
                self.wire.request(method, f"/api{path}", body, headers)
                answer = self.wire.getresponse()
                said = json.loads(answer.read())
                self.told[f"{answer.status}"] += 1
                if answer.status < 500 and answer.status not in (408, 429):
                    return answer.status, said
            except (OSError, ValueError, http.client.HTTPException):
                self.told["cut"] += 1
            self.wire = None
            time.sleep(self.luck.uniform(0.05, 0.5))

    def sent(self, method: str, path: str, content: dict[str, Any]) -> Answer:
        return self.asked(method, path, json.dumps(content).encode())

    def work(self) -> None:
        ways = [self.entry] * 4 + [self.act] * 4 + [self.photograph, self.save]
        while not self.over.is_set():
            self.luck.choice([self.measure] if self.cell and self.luck.random() < 0.7 else ways)()
            time.sleep(self.luck.expovariate(1 / self.pace_s))

    def entry(self) -> None:
        id = str(uuid.uuid4())
        entry = {"id": id, "kind": "observation", "decision": f"{self.number} saw {len(self.entries)}", "revision": 1}
        status, said = self.sent("POST", f"/plans/{self.plan}/log", entry)
        assert status == 200, said
        self.entries.append(id)

    def act(self) -> None:
        """A step done or taken back, a stop, a go: each may have come too late, and is then refused for good."""
        _, now = self.asked("GET", f"/plans/{self.plan}/run")
        run = now["run"]
        acts = ["go"] if run["status"] == "stopped" else ["done", "done", "back", "stop"]
        id, act = str(uuid.uuid4()), self.luck.choice(acts)
        body = {"id": id, "act": act, "at": run["at"], "text": "as agreed", "data": {}}
        status, said = self.sent("POST", f"/plans/{self.plan}/run", body)
        assert status in (200, 403, 409, 422), said
        self.told[f"{act} {status}"] += 1
        if status == 200:
            self.entries.append(id)

    def photograph(self) -> None:
        id, content = str(uuid.uuid4()), picture(size=(self.luck.randrange(8, 200), 60))
        mark = uuid.uuid4().hex
        fields = {"id": id, "text": "the lip", "name": "lip.png"}
        parts = [
            f'--{mark}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n'.encode() for k, v in fields.items()
        ]
        head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="lip.png"\r\nContent-Type: image/png\r\n\r\n'
        body = b"".join([*parts, head.encode(), content, f"\r\n--{mark}--\r\n".encode()])
        status, said = self.asked(
            "POST", f"/plans/{self.plan}/photographs", body, f"multipart/form-data; boundary={mark}"
        )
        assert status == 200, said
        self.entries.append(id)
        self.photographs[id] = said["data"]["sha256"]

    def save(self) -> None:
        """A change of the plan, made anew on the latest where somebody saved in between."""
        if self.name != "rowan":
            return self.entry()
        base = self.asked("GET", f"/plans/{self.plan}")[1]["latest"]["number"]
        while True:
            document = changed(demo_document(), ropes__0__length_m=self.luck.randrange(60, 200))
            status, said = self.sent(
                "PUT", f"/plans/{self.plan}", {"base": base, "id": str(uuid.uuid4()), "document": document}
            )
            if status != 409:
                break
            base = said["latest"]["number"]
        assert status == 200, said
        self.revisions[said["number"]] = said["sha256"]

    def measure(self) -> None:
        count, now = self.luck.randrange(1, 200), datetime.now(UTC).isoformat()
        body = {
            "cell": self.cell, "first": self.readings, "at": now, "times_ms": [5.0 * n for n in range(count)],
            "values": [self.luck.uniform(0.5, 2) for _ in range(count)],
        }  # fmt: skip
        status, said = self.sent("POST", f"/plans/{self.plan}/readings", body)
        assert status == 200, said
        self.readings += count

    def listen(self) -> None:
        """Hears every entry of the plan, over as many connections as it takes."""
        while not self.deaf.is_set():
            with contextlib.suppress(OSError, ValueError, http.client.HTTPException):
                self._heard_on(http.client.HTTPConnection("127.0.0.1", self.port, timeout=_PATIENCE_S))
            time.sleep(0.1)

    def _heard_on(self, wire: http.client.HTTPConnection) -> None:
        last = self.heard[-1] if self.heard else 0
        wire.request("GET", f"/api/plans/{self.plan}/events?after={last}", headers=headers_of(self.caller))
        answer = wire.getresponse()
        while not self.deaf.is_set() and (line := answer.readline()):
            if line.startswith(b"id: ") and line.endswith(b"\n"):
                self.heard.append(int(line[4:]))
        wire.close()


@contextlib.contextmanager
def disk() -> Iterator[tuple[Path, bool]]:
    """A folder on a disk of its own that can be filled, and whether there is one: it takes the right to mount."""
    with tempfile.TemporaryDirectory() as folder:
        mounted = (
            subprocess.run(
                ["mount", "-t", "tmpfs", "-o", f"size={_DISK_MB}m", "none", folder], capture_output=True
            ).returncode
            == 0
        )
        try:
            yield Path(folder), mounted
        finally:
            if mounted:
                subprocess.run(["umount", "-l", folder], check=True)


@contextlib.contextmanager
def full(folder: Path) -> Iterator[None]:
    """The disk filled up to a little."""
    ballast = folder / "ballast"
    # It may be full already by what was written on it.
    with contextlib.suppress(OSError), ballast.open("wb") as file:
        while True:
            file.write(bytes(_PIECE_KB * 1024))
            file.flush()
    try:
        yield
    finally:
        ballast.unlink(missing_ok=True)


def at_work(
    server: Server, seconds: float, beginning: int = 1, pace_s: float = 0.5, filled: Path | None = None
) -> list[Device]:
    """The team at work for so long; the server killed after a third and two thirds of it, its disk full in between."""
    luck = random.Random(beginning)
    lines = Lines(server.port, luck, every_s=0.4)
    callers = {name: Caller(server, name) for name in ("rowan", "ash")}
    plan = callers["rowan"].send("GET", "/plans")[0]["id"]
    callers["rowan"].send("POST", f"/plans/{plan}/run", {"id": str(uuid.uuid4()), "act": "begin", "text": "practice"})
    over, deaf = threading.Event(), threading.Event()
    devices = []
    for number in range(DEVICES):
        name = "ash" if number % 3 else "rowan"
        devices.append(
            Device(number, name, callers[name], lines.port, plan, random.Random(beginning + number), over, deaf, pace_s)
        )
    for one in devices[:CELLS]:
        one.cell = str(uuid.uuid4())
        callers["rowan"].send(
            "POST",
            f"/plans/{plan}/cells",
            {"id": one.cell, "name": f"Cell {one.number}", "place": "load", "unit": "kN"},
        )
    failed: list[BaseException] = []

    def watched(work: Any) -> None:
        try:
            work()
        except BaseException as error:
            failed.append(error)
            over.set()

    working = [threading.Thread(target=watched, args=(one.work,), daemon=True) for one in devices]
    listening = [threading.Thread(target=watched, args=(one.listen,), daemon=True) for one in devices]
    for thread in (*working, *listening):
        thread.start()
    for killed in (True, False, True):
        over.wait(seconds / 4)
        if killed:
            server.kill()
            over.wait(1.0)
            server.start()
        elif filled:
            with full(filled):
                over.wait(min(20.0, seconds / 8))
    over.wait(seconds / 4)
    over.set()
    for thread in working:
        thread.join(timeout=120)
        assert not thread.is_alive(), "a device was never answered"
    total = callers["rowan"].send("GET", f"/plans/{plan}/log")["total"]
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline and not failed and any(not one.heard or one.heard[-1] < total for one in devices):
        time.sleep(0.2)
    deaf.set()
    if failed:
        raise failed[0]
    print(f"{lines.cut} cuts; answers: {dict(sum((one.told for one in devices), Counter()))}")
    return devices


def judge(server: Server, devices: list[Device]) -> dict[str, int]:
    """What the team was told is kept is there, once, in order; all have heard the same; every seal fits."""
    caller = Caller(server)
    plan = devices[0].plan
    log = whole_log(caller, plan)
    ids = [one["id"] for one in log]
    assert [one["sequence"] for one in log] == list(range(1, len(log) + 1))
    assert len(set(ids)) == len(ids)
    place = {id: at for at, id in enumerate(ids)}
    for one in devices:
        assert [place[id] for id in one.entries] == sorted(place[id] for id in one.entries), (
            f"device {one.number}: out of order"
        )
        assert one.heard == list(range(1, one.heard[-1] + 1)), (
            f"device {one.number} missed something, or heard it twice"
        )
        for number, sha256 in one.revisions.items():
            assert caller.send("GET", f"/plans/{plan}/revisions/{number}")["sha256"] == sha256
        for id, sha256 in one.photographs.items():
            assert hashlib.sha256(_photograph(server, caller, plan, id)).hexdigest() == sha256
        if one.cell:
            # The last batch may be there without its device having been told.
            assert caller.send("GET", f"/plans/{plan}/readings/{one.cell}")["count"] >= one.readings
    assert len({one.heard[-1] for one in devices}) == 1, "they did not hear the same"
    assert "every hash fits" in server.manage("verify_log").stdout
    return {
        "entries": len(log), "photographs": sum(len(one.photographs) for one in devices), "revisions": sum(len(one.revisions) for one in devices),
        "readings": sum(one.readings for one in devices), "stops": sum(one["kind"] == "stop" for one in log),
    }  # fmt: skip


def _photograph(server: Server, caller: Caller, plan: str, id: str) -> bytes:
    wire = http.client.HTTPConnection("127.0.0.1", server.port, timeout=_PATIENCE_S)
    wire.request("GET", f"/api/plans/{plan}/photographs/{id}", headers=headers_of(caller))
    return wire.getresponse().read()


def main() -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--minutes", type=float, default=30.0)
    given.add_argument("--seed", type=int, default=1)
    asked = given.parse_args()
    with disk() as (folder, mounted):
        if not mounted:
            print("no disk of its own can be mounted here: it is not filled")
        server = Server(folder / "var")
        try:
            print(judge(server, at_work(server, asked.minutes * 60, asked.seed, filled=folder if mounted else None)))
        finally:
            server.kill()


if __name__ == "__main__":
    main()
