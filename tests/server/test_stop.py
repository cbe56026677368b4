"""A STOP arrives: whoever else is connected, silent, slow, hostile or busy."""

import contextlib
import http.client
import json
import socket
import threading
import time
import uuid
from typing import Any

import pytest

from tests.conftest import Server
from tests.hindrances import HINDRANCES, Stops, act, headers_of, wire_to
from tests.server.test_durability import Caller


@pytest.fixture(scope="module", params=[False, True], ids=["http", "https"])
def stops(request, tmp_path_factory):
    server = Server(tmp_path_factory.mktemp("var"), https=request.param)
    one = Stops(server)
    yield one
    one.close()
    server.kill()


@pytest.mark.parametrize("hindrance", HINDRANCES.values(), ids=HINDRANCES)
def test_a_stop_is_heard_on_another_device(stops, hindrance):
    """How soon is measured by `make bench`."""
    with hindrance(stops):
        for _ in range(3):
            assert stops.once_ms() < 5000


def test_a_stop_is_heard_on_a_device_that_shows_another_plan(stops):
    wire = wire_to(stops.server)
    wire.request("GET", "/api/live", headers=stops.headers)
    answer = wire.getresponse()
    stops.once_ms()
    said = heard(answer, "stopped")
    assert said["plan"] == stops.plan and said["stopped"]["by"] == "rowan"
    wire.close()


def heard(answer: http.client.HTTPResponse, event: str) -> dict:
    while line := answer.readline():
        if line.startswith(f"event: {event}".encode()):
            return json.loads(answer.readline()[6:])
    pytest.fail(f"{event} was not told")


def test_one_connection_tells_several_plans_apart(stops):
    caller = stops.caller
    other = Stops(stops.server)
    wire = wire_to(stops.server)
    wire.request("GET", f"/api/live?plan={stops.plan}&plan={other.plan}:0", headers=stops.headers)
    answer = wire.getresponse()
    assert answer.status == 200
    entry = {"id": str(uuid.uuid4()), "kind": "observation", "decision": "here", "revision": 1}
    caller.send("POST", f"/plans/{stops.plan}/log", entry)
    of = ""
    found: list[Any] = []
    while len(found) < 2:
        line = answer.readline()
        assert line
        if line.startswith(b"event: of"):
            of = json.loads(answer.readline()[6:])
        elif line.startswith(b"event: entry"):
            answer.readline()
            found.append((of, json.loads(answer.readline()[6:])["decision"]))
    # The one from its beginning, the other from now on.
    begun, here = found
    assert begun[0] == other.plan and begun[1].startswith("Run begun on revision 1, with ")
    assert here == (stops.plan, "here")
    other.close()
    wire.close()


def test_whoever_signed_out_or_left_the_team_hears_no_more(stops):
    server = stops.server
    leaving = Caller(server, "ash")
    server.callers.pop("ash")
    headers, wire = headers_of(leaving), wire_to(server)
    wire.request("GET", f"/api/plans/{stops.plan}/events", headers=headers)
    answer = wire.getresponse()
    heard(answer, "run")
    leaving.send("DELETE", "/session")
    began = time.monotonic()
    while answer.readline():
        assert time.monotonic() - began < 20
    wire.close()


def test_whoever_is_not_signed_in_sends_no_large_body_and_whoever_is_no_larger_one_than_there_is(stops):
    wire = wire_to(stops.server)
    for headers, size in (({}, 300 * 1024), (stops.headers, 3 * 1024**2)):
        wire.putrequest("POST", "/api/check")
        for name, value in {**headers, "Content-Length": str(size)}.items():
            wire.putheader(name, value)
        wire.endheaders()
        # Refused by what it says, before any of it is sent.
        answer = wire.getresponse()
        assert answer.status == 413 and json.loads(answer.read())["faults"][0]["path"] == "body"
        wire.close()


def test_half_a_request_is_let_go(stops):
    if stops.server.url.startswith("https"):
        pytest.skip("the same by the same code")
    one = socket.create_connection(("127.0.0.1", stops.server.port))
    one.sendall(b"GET /api/session HTTP/1.1\r\nHost: ")
    one.settimeout(30)
    with contextlib.suppress(ConnectionResetError):
        assert one.recv(1) == b""


def test_a_stop_goes_before_all_places_that_are_taken(stops):
    """Everything that may be asked at once is asked, and more: a stop has no place to wait for."""
    ended = threading.Event()

    def ask() -> None:
        wire = wire_to(stops.server)
        while not ended.is_set():
            wire.request("POST", f"/api/plans/{stops.plan}/run", json.dumps(act("look")), stops.headers)
            wire.getresponse().read()

    threads = [threading.Thread(target=ask, daemon=True) for _ in range(70)]
    for one in threads:
        one.start()
    try:
        assert stops.once_ms() < 5000
    finally:
        ended.set()
        for one in threads:
            one.join(timeout=60)
