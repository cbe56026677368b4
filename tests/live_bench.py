"""Live word, many writers, a long log: what `make bench` measures of the run."""

import http.client
import json
import statistics
import threading
import time
import uuid

from tests.conftest import Server
from tests.server.test_durability import Caller

Row = tuple[str, float, str, float | None]
_DEVICES, _TOLD, _LONG = 12, 100, 50_000


def wire_of(server: Server, caller: Caller) -> tuple[http.client.HTTPConnection, dict[str, str]]:
    """A connection kept open, as a browser does, with who is signed in on it."""
    cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in caller.jar)
    headers = {"Content-Type": "application/json", "X-CSRFToken": caller.token, "Cookie": cookies}
    return http.client.HTTPConnection("127.0.0.1", server.port), headers


def asked_ms(
    wire: http.client.HTTPConnection, headers: dict[str, str], method: str, path: str, body: object = None
) -> float:
    began = time.perf_counter()
    wire.request(method, path, None if body is None else json.dumps(body), headers)
    answer = wire.getresponse()
    answer.read()
    assert answer.status == 200, answer.status
    return (time.perf_counter() - began) * 1000


def seen(decision: str) -> dict[str, object]:
    return {"id": str(uuid.uuid4()), "kind": "observation", "decision": decision, "revision": 1}


def writers_ms(server: Server, plan: str, count: int, each: int = 40) -> float:
    """So many people writing at once: until one entry is acknowledged."""
    times: list[float] = []

    def write() -> None:
        wire, headers = wire_of(server, Caller(server))
        times.extend(asked_ms(wire, headers, "POST", f"/api/plans/{plan}/log", seen(f"seen {n}")) for n in range(each))

    people = [threading.Thread(target=write) for _ in range(count)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    return statistics.median(times)


def live_ms(server: Server, plan: str) -> tuple[float, float]:
    """An entry and a stop, from being sent until every one of the devices has it: median and worst of all."""
    heard: dict[str, list[float]] = {}
    lock = threading.Lock()

    def listen() -> None:
        wire, headers = wire_of(server, Caller(server))
        wire.request("GET", f"/api/plans/{plan}/events", headers=headers)
        answer = wire.getresponse()
        while line := answer.readline():
            if line.startswith(b'data: {"id"') and b'"told ' in line:
                with lock:
                    heard.setdefault(json.loads(line[6:])["id"], []).append(time.perf_counter())

    for _ in range(_DEVICES):
        threading.Thread(target=listen, daemon=True).start()
    time.sleep(3)
    wire, headers = wire_of(server, Caller(server))
    sent: dict[str, float] = {}
    for number in range(_TOLD):
        entry = seen(f"told {number}")
        sent[str(entry["id"])] = time.perf_counter()
        asked_ms(wire, headers, "POST", f"/api/plans/{plan}/log", entry)
        time.sleep(0.05)
    time.sleep(1)
    late = [(at - sent[id]) * 1000 for id, all_at in heard.items() for at in all_at]
    assert len(late) == _DEVICES * _TOLD
    return statistics.median(late), max(late)


FILL = f"""
import uuid
from django.contrib.auth.models import User
from operations.models import LogEntry
from plans.models import Plan, create_plan
plan = Plan.objects.first()
kept = create_plan(plan.team, User.objects.first(), __import__('rigging.document').document.Plan.model_validate_json(plan.latest.document), uuid.uuid4())
revision, author, before, rows = kept.latest, User.objects.first(), '', []
from django.utils import timezone
for n in range(1, {_LONG} + 1):
    one = LogEntry(id=uuid.uuid4(), plan=kept, author=author, revision=revision, time=timezone.now(), sequence=n, kind='observation',
                   decision=f'stone {{n}}' if n % 50 else 'rope end near', reason='', before=before)
    one.hash = before = one.content_hash()
    rows.append(one)
LogEntry.objects.bulk_create(rows, 2000)
print(kept.id)
"""


def run_rows(server: Server) -> list[Row]:
    plan = Caller(server).send("GET", "/plans")[0]["id"]
    alone, eight = writers_ms(server, plan, 1), writers_ms(server, plan, 8)
    median, worst = live_ms(server, plan)
    long = server.manage("shell", "-v0", "-c", FILL).stdout.strip().splitlines()[-1]
    wire, headers = wire_of(server, Caller(server))
    first = statistics.median(asked_ms(wire, headers, "GET", f"/api/plans/{long}/log") for _ in range(15))
    search = statistics.median(
        asked_ms(wire, headers, "GET", f"/api/plans/{long}/log?words=rope%20end") for _ in range(9)
    )
    composed = statistics.median(asked_ms(wire, headers, "GET", f"/api/plans/{plan}/run") for _ in range(9))
    return [
        ("an entry acknowledged, one writer", alone, "ms", None),
        ("an entry acknowledged, eight writers at once", eight, "ms", 120.0),
        (f"an entry on {_DEVICES} devices, median of {_TOLD}", median, "ms", 300.0),
        (f"an entry on {_DEVICES} devices, worst", worst, "ms", 1000.0),
        (f"a log of {_LONG} entries: its first page", first, "ms", 200.0),
        (f"a log of {_LONG} entries: searched", search, "ms", 500.0),
        ("the run and its operation, through the API", composed, "ms", None),
    ]
