"""What might keep a STOP from being heard, each done by hostile or busy clients, and a STOP timed from a thumb to another device's screen."""

import contextlib
import http.client
import json
import socket
import ssl
import threading
import time
import uuid
from collections.abc import Iterator
from typing import Any

from tests.conftest import Server
from tests.plans import changed, demo_document
from tests.server.test_durability import Caller


def wire_to(server: Server) -> http.client.HTTPConnection:
    """A connection kept open, as a browser does."""
    if server.url.startswith("https"):
        return http.client.HTTPSConnection("127.0.0.1", server.port, context=server.trusted, timeout=30)
    return http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)


def headers_of(caller: Caller) -> dict[str, str]:
    cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in caller.jar)
    return {
        "Content-Type": "application/json", "X-CSRFToken": caller.token, "Cookie": cookies, "Referer": f"{caller.server.url}/",
        "Origin": caller.server.url,
    }  # fmt: skip


def act(name: str, **more: Any) -> dict[str, Any]:
    return {"id": str(uuid.uuid4()), "act": name, "at": "", "text": "", "data": {}, **more}


class Stops:
    """A run that is stopped on one device, and another device that hears it."""

    def __init__(self, server: Server, plan: str | None = None):
        self.server, self.caller = server, Caller(server)
        self.plan = plan or plan_made(self.caller)
        self.wire, self.headers = wire_to(server), headers_of(self.caller)
        if self.caller.send("GET", f"/plans/{self.plan}/run")["run"] is None:
            self._sent(act("begin", text="practice"))
        self._heard = threading.Semaphore(0)
        self.at = 0.0
        self.listening = wire_to(server)
        self.listening.request("GET", f"/api/plans/{self.plan}/events", headers=self.headers)
        self.answer = self.listening.getresponse()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        with contextlib.suppress(OSError, ValueError, AttributeError, http.client.HTTPException):
            event = b""
            while line := self.answer.readline():
                if line.startswith(b"event: "):
                    event = line[7:].strip()
                if line.startswith(b"data: ") and event == b"stopped" and json.loads(line[6:])["stopped"]:
                    self.at = time.perf_counter()
                    self._heard.release()

    def _sent(self, body: dict[str, Any]) -> dict[str, Any]:
        self.wire.request("POST", f"/api/plans/{self.plan}/run", json.dumps(body), self.headers)
        answer = self.wire.getresponse()
        said = json.loads(answer.read())
        assert answer.status == 200, said
        return said

    def once_ms(self) -> float:
        """From a STOP being sent until the other device has it; the run goes on again after it."""
        began = time.perf_counter()
        sent = threading.Thread(target=self._sent, args=(act("stop"),))
        sent.start()
        assert self._heard.acquire(timeout=20), "the STOP was not heard"
        sent.join()
        self._sent(act("go"))
        return (self.at - began) * 1000

    def close(self) -> None:
        for one in (self.wire, self.listening):
            if one.sock is not None:
                with contextlib.suppress(OSError):
                    one.sock.shutdown(socket.SHUT_RDWR)
            one.close()


def plan_made(caller: Caller, **changes: Any) -> str:
    """A fresh plan of the demo's."""
    team = caller.send("GET", "/session")["teams"][0]["id"]
    document = changed(demo_document(), **changes)
    return caller.send("POST", "/plans", {"team": team, "id": str(uuid.uuid4()), "document": document})["id"]


@contextlib.contextmanager
def nothing(_stops: Stops) -> Iterator[None]:
    yield


def _closed(sockets: list[Any]) -> None:
    for one in sockets:
        with contextlib.suppress(OSError):
            one.close()


@contextlib.contextmanager
def listeners(stops: Stops, count: int = 500) -> Iterator[None]:
    wires = []
    try:
        for _ in range(count):
            wire = wire_to(stops.server)
            wire.request("GET", f"/api/plans/{stops.plan}/events", headers=stops.headers)
            assert wire.getresponse().status == 200
            wires.append(wire)
        yield
    finally:
        _closed(wires)


def _connected(server: Server, tls: bool = True) -> socket.socket:
    plain = socket.create_connection(("127.0.0.1", server.port), timeout=30)
    if server.url.startswith("https") and tls:
        return server.trusted.wrap_socket(plain, server_hostname="127.0.0.1")
    return plain


@contextlib.contextmanager
def half_sent(stops: Stops, count: int = 200) -> Iterator[None]:
    """Somebody who never signed in: half of them stop within the head of a request, half within its body."""
    there = []
    try:
        for n in range(count):
            one = _connected(stops.server)
            head = b"POST /api/check HTTP/1.1\r\nHost: 127.0.0.1\r\n"
            one.sendall(head if n % 2 else head + b"Content-Length: 60000\r\n\r\n{")
            there.append(one)
        yield
    finally:
        _closed(there)


@contextlib.contextmanager
def silent(stops: Stops, count: int = 50) -> Iterator[None]:
    there: list[socket.socket] = []
    try:
        there.extend(_connected(stops.server, tls=False) for _ in range(count))
        yield
    finally:
        _closed(there)


@contextlib.contextmanager
def many(*threads: threading.Thread) -> Iterator[None]:
    for one in threads:
        one.start()
    yield
    for one in threads:
        one.join(timeout=120)


def _repeated(ended: threading.Event, work: Any) -> threading.Thread:
    def again() -> None:
        while not ended.is_set():
            with contextlib.suppress(OSError, ssl.SSLError, http.client.HTTPException):
                work()

    return threading.Thread(target=again, daemon=True)


@contextlib.contextmanager
def photograph(stops: Stops, size: int = 12_000_000) -> Iterator[None]:
    """A large photograph, on its way from the same person again and again, a little at a time."""
    ended = threading.Event()

    def send() -> None:
        one = _connected(stops.server)
        head = f"POST /api/plans/{stops.plan}/photographs HTTP/1.1\r\nHost: 127.0.0.1:{stops.server.port}\r\nContent-Length: {size}\r\n"
        one.sendall((head + "".join(f"{name}: {value}\r\n" for name, value in stops.headers.items()) + "\r\n").encode())
        for _ in range(0, size, 100_000):
            if ended.is_set():
                break
            one.sendall(b"x" * 100_000)
            time.sleep(0.02)
        one.close()

    with many(_repeated(ended, send)):
        yield
        ended.set()


@contextlib.contextmanager
def _asking(stops: Stops, count: int, ask: Any) -> Iterator[None]:
    ended = threading.Event()

    def begun() -> threading.Thread:
        wire = wire_to(stops.server)
        return _repeated(ended, lambda: ask(wire))

    with many(*(begun() for _ in range(count))):
        yield
        ended.set()


def asked(stops: Stops, wire: http.client.HTTPConnection, method: str, path: str, body: Any = None) -> bytes:
    wire.request(method, f"/api{path}", None if body is None else json.dumps(body), stops.headers)
    return wire.getresponse().read()


@contextlib.contextmanager
def uncomposed(stops: Stops, count: int = 10) -> Iterator[None]:
    """So many devices, each opening a run that nobody has composed yet."""
    numbers = iter(range(10**9))
    lock = threading.Lock()

    def ask(wire: http.client.HTTPConnection) -> None:
        with lock:
            slack = 0.1 + next(numbers) * 1e-6
        plan = plan_made(stops.caller, lines__1__slack_m=slack)
        asked(stops, wire, "GET", f"/plans/{plan}/run")

    with _asking(stops, count, ask):
        yield


@contextlib.contextmanager
def dragging(stops: Stops, count: int = 8) -> Iterator[None]:
    """So many leaders, each dragging a point of the ground and asking for the check of it."""
    numbers = iter(range(10**9))
    lock = threading.Lock()

    def ask(wire: http.client.HTTPConnection) -> None:
        with lock:
            slack = 0.2 + next(numbers) * 1e-6
        document = changed(demo_document(), lines__1__slack_m=slack)
        asked(stops, wire, "POST", "/analyse?only=raising", document)
        asked(stops, wire, "POST", "/check/here", document)

    with _asking(stops, count, ask):
        yield


@contextlib.contextmanager
def saving(stops: Stops) -> Iterator[None]:
    """Somebody who saves the plan that is run, over and over."""
    numbers = iter(range(10**9))

    def ask(wire: http.client.HTTPConnection) -> None:
        latest = json.loads(asked(stops, wire, "GET", f"/plans/{stops.plan}"))["latest"]
        document = changed(demo_document(), lines__1__slack_m=0.3 + next(numbers) * 1e-6)
        body = {"base": latest["number"], "id": str(uuid.uuid4()), "document": document}
        asked(stops, wire, "PUT", f"/plans/{stops.plan}", body)

    with _asking(stops, 1, ask):
        yield


HINDRANCES = {
    "alone": nothing, "500 listeners": listeners, "200 half-sent requests": half_sent, "50 silent connections": silent,
    "a photograph on its way": photograph, "ten opening an uncomposed run": uncomposed, "eight leaders dragging": dragging,
    "the plan being saved": saving,
}  # fmt: skip


def stop_rows(server: Server, count: int = 100) -> list[tuple[str, float, str, float | None]]:
    """A STOP from the thumb to another device, in each hindrance: the 99th of a hundred."""
    stops = Stops(server)
    rows: list[tuple[str, float, str, float | None]] = []
    for name, hindrance in HINDRANCES.items():
        with hindrance(stops):
            time.sleep(1)
            times = sorted(stops.once_ms() for _ in range(count))
        rows.append((f"a STOP on another device, {name}: 99th of {count}", times[int(count * 0.99) - 1], "ms", 500.0))
    stops.close()
    return rows
