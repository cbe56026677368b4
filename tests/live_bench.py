"""Live word, many writers, a long log: what `make bench` measures of the run."""

import http.client
import json
import statistics
import threading
import time
import uuid

from playwright.sync_api import sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.browser.test_debrief import readings
from tests.browser.test_run import go_to, on_run
from tests.conftest import Server
from tests.hindrances import headers_of, wire_to
from tests.plans import demo_document
from tests.server.test_durability import Caller

Row = tuple[str, float, str, float | None]
_DEVICES, _TOLD, _LONG = 12, 100, 50_000
_BATCHES, _BATCH = 20, 40


def wire_of(server: Server, caller: Caller) -> tuple[http.client.HTTPConnection, dict[str, str]]:
    """A connection kept open, as a browser does, with who is signed in on it."""
    return wire_to(server), headers_of(caller)


def asked_ms(
    wire: http.client.HTTPConnection, headers: dict[str, str], method: str, path: str, body: object = None
) -> float:
    began = time.perf_counter()
    wire.request(method, path, None if body is None else json.dumps(body), headers)
    answer = wire.getresponse()
    answer.read()
    assert answer.status == 200, answer.status
    return (time.perf_counter() - began) * 1000


def sent_kb(wire: http.client.HTTPConnection, headers: dict[str, str], path: str) -> float:
    """An answer as a browser gets it, compressed."""
    wire.request("GET", path, headers={**headers, "Accept-Encoding": "gzip"})
    answer = wire.getresponse()
    body = answer.read()
    assert answer.status == 200, answer.status
    return (len(body) + sum(len(name) + len(value) + 4 for name, value in answer.getheaders())) / 1000


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
from plans.models import Plan
from plans.services import create_plan
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


def readings_ms(server: Server, plan: str) -> tuple[float, float]:
    """Four cells sending batches of two seconds (40 readings) as fast as they are taken: median of a batch, and readings a second."""
    wire, headers = wire_of(server, Caller(server))
    cells = [str(uuid.uuid4()) for _ in range(4)]
    for cell in cells:
        made = {"id": cell, "name": cell[:8], "place": "load"}
        asked_ms(wire, headers, "POST", f"/api/plans/{plan}/cells", made)
    times, began = [], time.perf_counter()
    for number in range(_BATCHES):
        for cell in cells:
            first = number * _BATCH
            body = {
                "cell": cell, "first": first, "at": "2026-03-01T10:00:00Z", "times_ms": [50 * (first + n) for n in range(_BATCH)],
                "values": [1.4 + 0.01 * (n % 7) for n in range(_BATCH)],
            }  # fmt: skip
            times.append(asked_ms(wire, headers, "POST", f"/api/plans/{plan}/readings", body))
    spent = time.perf_counter() - began
    return statistics.median(times), _BATCHES * 4 * _BATCH / spent


_SCROLL = """px => new Promise(done => {
  const page = document.querySelector("main"), frames = [];
  let last = performance.now();
  const next = now => {
    frames.push(now - last);
    last = now;
    page.scrollTop += px;
    if (frames.length < 600) requestAnimationFrame(next);
    else done(frames.filter(one => one > 50).length);
  };
  requestAnimationFrame(next);
})"""


def scrolled(server: Server, plan: str, px: int) -> float:
    """A long log scrolled so many pixels a frame, 600 frames: how many of them took over 50 ms."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server)
        person.page.goto(f"{server.url}/plans/{plan}/log")
        person.page.get_by_test_id("sealed").wait_for()
        person.page.wait_for_timeout(1000)
        found = person.page.evaluate(_SCROLL, px)
        browser.close()
    return float(found)


_SCRUB = """() => new Promise(done => {
  const slider = document.querySelector("input[type=range]"), most = Number(slider.max);
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
  let frames = 0;
  const began = performance.now();
  const next = () => {
    set.call(slider, Math.round(most * frames / 240));
    slider.dispatchEvent(new Event("input", {bubbles: true}));
    if (++frames < 240) requestAnimationFrame(next);
    else done(240000 / (performance.now() - began));
  };
  requestAnimationFrame(next);
})"""


def debrief_figures(server: Server) -> tuple[float, float]:
    """Two hours of a cell at 20 Hz: ms until they are drawn in the debrief, and frames a second while it is scrubbed."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server)
        plan = person.fresh_plan("check", base=demo_document)
        on_run(person, plan)
        go_to(person, plan, "lower/5")
        readings(person, plan, 2 * 3600 * 20, batch=20)
        began = time.perf_counter()
        person.page.goto(f"{server.url}/plans/{plan}/debrief")
        person.page.locator("figure path").wait_for()
        opened = (time.perf_counter() - began) * 1000
        frames = person.page.evaluate(_SCRUB)
        browser.close()
    return opened, float(frames)


def paper_rows(server: Server) -> list[Row]:
    """The papers, the gear list and the bundle of a run of 500 entries, most of them decisions."""
    caller = Caller(server)
    plan, team = str(uuid.uuid4()), caller.send("GET", "/session")["teams"][0]["id"]
    plan = caller.send("POST", "/plans", {"team": team, "id": plan, "document": demo_document()})["id"]
    run = caller.send(
        "POST",
        f"/plans/{plan}/run",
        {"id": str(uuid.uuid4()), "act": "begin", "at": "", "text": "practice", "data": {}},
    )
    while run["at"] != "raise:2/1":
        body = {"id": str(uuid.uuid4()), "act": "done", "at": run["at"], "text": "as planned", "data": {}}
        run = caller.send("POST", f"/plans/{plan}/run", body)
    while caller.send("GET", f"/plans/{plan}/log")["total"] < 500:
        said = {
            "decision": "Roller on the lip, log left bare",
            "reason": "41° at the lip, 5° at the log",
            "considered": "a pad",
        }
        caller.send("POST", f"/plans/{plan}/log", seen("") | said | {"kind": "decision"})
    wire, headers = wire_of(server, caller)

    def taken(path: str) -> float:
        return statistics.median(asked_ms(wire, headers, "GET", f"/api/plans/{plan}/{path}") for _ in range(5))

    return [
        ("run report of 500 entries, PDF", taken("papers/run"), "ms", 3000.0),
        ("rig card, PDF", taken("papers/card"), "ms", 1000.0),
        ("what the gear went through", taken("gear"), "ms", None),
        ("the bundle of that run", taken("bundle"), "ms", None),
    ]


# A step done by a touch, until the next one stands there, drawn.
_DONE = """() => new Promise((shown) => {
  const of = document.querySelector('[data-testid=step]').dataset.key, began = performance.now()
  const seen = new MutationObserver(() => {
    const now = document.querySelector('[data-testid=step]')
    if (!now || now.dataset.key === of) return
    seen.disconnect()
    requestAnimationFrame(() => setTimeout(() => shown(performance.now() - began)))
  })
  seen.observe(document, { subtree: true, childList: true, attributes: true })
  document.querySelector('[data-testid=done]').click()
})"""


def step_ms(server: Server, count: int = 15) -> float:
    """From a touch on a step that is done to the next one on the screen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server, viewport={"width": 1024, "height": 768})
        go_to(person, person.fresh_plan("check", base=demo_document), "change-over/1")
        times = [float(person.page.evaluate(_DONE)) for _ in range(count)]
        browser.close()
    return statistics.median(times)


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
    batch, a_second = readings_ms(server, plan)
    opened, frames = debrief_figures(server)
    # The one from before has been let go by now.
    wire, headers = wire_of(server, Caller(server))
    composed = statistics.median(asked_ms(wire, headers, "GET", f"/api/plans/{plan}/run") for _ in range(9))
    return [
        ("an entry acknowledged, one writer", alone, "ms", None),
        ("an entry acknowledged, eight writers at once", eight, "ms", 120.0),
        (f"an entry on {_DEVICES} devices, median of {_TOLD}", median, "ms", 300.0),
        (f"an entry on {_DEVICES} devices, worst", worst, "ms", 1000.0),
        (f"a log of {_LONG} entries: its first page", first, "ms", 200.0),
        (f"a log of {_LONG} entries: searched", search, "ms", 500.0),
        ("the same scrolled 400 px a frame: frames of 600 over 50 ms", scrolled(server, long, 400), "", 12.0),
        ("the same flung 2400 px a frame: frames of 600 over 50 ms", scrolled(server, long, 2400), "", 12.0),
        ("a step done until the next is on the screen", step_ms(server), "ms", 150.0),
        ("the run and its operation, through the API", composed, "ms", None),
        (
            "where the run is, nothing recomposed, on the wire",
            sent_kb(wire, headers, f"/api/plans/{plan}/run/now"),
            "kB",
            15.0,
        ),
        (f"a batch of {_BATCH} readings taken in", batch, "ms", 20.0),
        ("readings taken in, a second", a_second, "", None),
        ("two hours of readings opened in the debrief", opened, "ms", 1000.0),
        ("the debrief scrubbed, frames a second (at least 30)", frames, "", None),
        *paper_rows(server),
    ]
