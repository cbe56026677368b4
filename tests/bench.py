"""Speed, measured: `make bench`. Medians over many runs on this machine, beside the bare linear algebra as the floor."""

import copy
import gzip
import http.client
import itertools
import json
import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from datetime import date
from functools import partial
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from rigging.advice.best import best
from rigging.advice.rigs.asked import asked
from rigging.advice.rigs.search import search
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.learning.drills.skills import SKILLS, drill
from rigging.lines.every_state import solve_all
from rigging.lines.solve import Solved
from rigging.lines.whole_way import Travel, whole_way
from rigging.mechanics.holds import Lying, Piece, drop
from rigging.mechanics.holds import study as questioned
from rigging.mechanics.legs import hang
from rigging.mechanics.next_pull import next_of
from rigging.procedures.compose import composed
from rigging.quantities.kept import forgotten
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.shelf.packed import packed
from rigging.shelf.table import read_shelf
from rigging.telling.anchors.report import study
from rigging.telling.learning.drills import drill_report
from rigging.telling.learning.knots import knots_report
from rigging.telling.learning.systems import systems_report
from rigging.telling.sheet.report import analyse
from rigging.telling.sheet.way import way_report
from rigging.telling.work.operation import operation_report
from tests.anchors import leg, plan_of, tree
from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.conftest import Server
from tests.hindrances import stop_rows
from tests.live_bench import run_rows
from tests.plans import DEMO, ROOT, deep, demo_document
from tests.reference.test_anchor_schemes import by_finite_elements
from tests.server.test_durability import Caller


def median_ms(work: Callable[[], object], runs: int = 150, warm_up: int = 80) -> float:
    """Median time of one run; the first runs, while processor and interpreter settle, are not counted."""
    for _ in range(warm_up):
        work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return 1000 * statistics.median(times)


def floor_ms(plan: Plan) -> float:
    """The plan's linear systems alone: for each line of each state one motion and three statics of its size, by NumPy."""
    rng = np.random.default_rng(1)
    systems = []
    for solved in solve_all(plan)[1].values():
        assert isinstance(solved, Solved)
        for line in solved.lines:
            count = sum(len(row) for row in line.network.strands)
            unknown = max(1, len(line.network.travellers))
            for size in (unknown, count, count, count):
                systems.append((rng.normal(size=(size, size)) + size * np.eye(size), rng.normal(size=size)))
    return median_ms(lambda: [np.linalg.solve(matrix, right) for matrix, right in systems])


def many_parts(count: int) -> Lying:
    """A load on ropes side by side, each under a hitch tied off behind with slack: `count` pieces in all."""
    at, kinds, pieces = {"L": (0.0, 0.0, -10.0)}, {"L": "load"}, []
    for n in range(count // 3):
        at |= {f"A{n}": (n / 10, 0.0, 0.0), f"G{n}": (n / 10, 0.0, -1.0)}
        kinds |= {f"A{n}": "anchor", f"G{n}": "grab"}
        long = float(np.linalg.norm(np.subtract(at["L"], at[f"G{n}"])))
        pieces += [
            Piece(f"rope{n}", f"r{n}", ("L", f"G{n}"), long + 0.01 * n), Piece(f"cord{n}", f"c{n}", (f"G{n}", f"A{n}"), 1.0),
            Piece(f"tail{n}", f"r{n}", (f"G{n}", f"A{n}"), 1.4),
        ]  # fmt: skip
    return Lying("L", (0.0, 0.0, -1.0), 2.0, at, kinds, tuple(pieces))


def check_ms(server: Server, caller: Caller, document: dict) -> tuple[float, float]:
    """The check of a plan whose ropes lie as none asked before; and again after a change of a knot."""
    knots = ("figure-eight-loop", "figure-nine-loop")
    cold, changed = [], []
    for number in range(15):
        moved = copy.deepcopy(document)
        moved["site"]["load_at"]["x_m"] -= 0.1 * (number + 1)
        moved["site"]["load_at"]["z_m"] += 0.11 * (number + 1)
        cold.append(median_ms(kept_open(server, caller, moved, "/api/check"), runs=1, warm_up=0))
        moved["lines"][0]["load_knot"] = knots[number % 2]
        changed.append(median_ms(kept_open(server, caller, moved, "/api/check"), runs=1, warm_up=0))
    return statistics.median(cold), statistics.median(changed)


def script_kb() -> float:
    page = (ROOT / "web" / "dist" / "index.html").read_text()
    scripts = [file for file in (ROOT / "web" / "dist" / "assets").glob("*.js") if file.name in page]
    return sum(len(gzip.compress(file.read_bytes(), 6)) for file in scripts) / 1000


# When the first part of the load path was drawn, and what had come over the wire by then.
SEEN_AT = "new MutationObserver(() => { if (document.querySelector('[data-rung]')) window.seenAt ??= performance.now() }).observe(document, { childList: true, subtree: true })"
CAME_BY_THEN = """() => [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')]
  .filter((one) => one.responseEnd <= window.seenAt).reduce((sum, one) => sum + one.transferSize, 0)"""


def first_view_kb(server: Server) -> float:
    """What comes over the wire until an opened plan is seen with its figures, on a device that has nothing of it: scripts, fonts, answers."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server)
        plan = person.call("GET", "/plans")[0]["id"]
        # Signed in, and nothing else kept on the device.
        cookies = {"cookies": person.context.storage_state()["cookies"], "origins": []}
        page = browser.new_context(storage_state=cookies, service_workers="block").new_page()
        page.add_init_script(SEEN_AT)
        page.goto(f"{server.url}/plans/{plan}/lines")
        page.wait_for_selector("[data-rung]")
        came = float(page.evaluate(CAME_BY_THEN))
        browser.close()
    return came / 1000


def whole_process_ms(words: list[str]) -> float:
    """The command line from its start to its end, as on any second call: its modules compiled."""
    command = [sys.executable, "-m", "rigging", *words]
    with tempfile.TemporaryDirectory() as compiled:
        env = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
        env["PYTHONPYCACHEPREFIX"] = compiled
        return median_ms(
            lambda: subprocess.run(command, check=True, capture_output=True, cwd=ROOT, env=env), runs=9, warm_up=2
        )


def kept_open(server: Server, caller: Caller, document: object, path: str) -> Callable[[], bytes]:
    """Asking over one connection kept open, as a browser does; the answer is read whole."""
    wire = http.client.HTTPConnection("127.0.0.1", server.port)
    cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in caller.jar)
    headers = {"Content-Type": "application/json", "X-CSRFToken": caller.token, "Cookie": cookies}
    body = json.dumps(document)

    def ask() -> bytes:
        wire.request("POST", path, body, headers)
        answer = wire.getresponse()
        assert answer.status == 200
        return answer.read()

    return ask


def four_legs() -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Ends, stiffness in kN, lengths and load of an anchor of four taut legs."""
    to = np.array([[-2.5, -1.2, 0.9], [-3.0, 0.2, -0.3], [-2.4, 1.3, 0.4], [-2.8, 0.8, 1.2]])
    return to, np.full(4, 250.0), np.linalg.norm(to, axis=1), np.array([4.0, 0.3, -0.8])


def full_report() -> Callable[[], object]:
    """61 directions, all legs and each one gone, luck in every leg: the study of the same four legs."""
    features = [tree(f"leg{n}", *end) for n, end in enumerate(four_legs()[0])]
    legs = [leg(one["id"]) for one in features]
    force = {"low": 3500, "expected": 4000, "high": 4600}
    plan = plan_of(features, "fixed", legs, pull={"force_n": force, "heading_rad": 0, "dip_rad": 0.2})
    return lambda: study(plan, "raising", only="tried")


def drag_ms(server: Server) -> float:
    """A feature dragged on the Anchors stage in Chromium: each move until the figures have changed on the screen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server, bypass_csp=True)
        person.fresh_plan("anchors")
        page = person.page
        page.wait_for_timeout(1500)
        box = page.locator("[data-feature=larch]").bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        times = []
        for step in range(1, 31):
            page.evaluate(WATCH, ["pointermove", "[data-testid=anchor-answer]"])
            page.mouse.move(x - 6 - 2 * (step % 12), y - 6 - step)
            page.wait_for_function("window.changed !== null", polling=5)
            times.append(page.evaluate("window.changed"))
            page.wait_for_timeout(60)
        page.mouse.up()
        browser.close()
    return statistics.median(times[5:])


def slide_ms(server: Server) -> float:
    """The load slid along its whole way in Chromium: each step until the rope of the new report is drawn."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server, bypass_csp=True)
        person.fresh_plan(base=demo_document)
        page = person.page
        page.get_by_role("button", name="The whole way").click()
        page.get_by_role("slider", name="Where the load is on its way").focus()
        page.wait_for_timeout(1500)
        times = []
        for _ in range(30):
            page.evaluate(WATCH, ["keydown", "[aria-label^='Main line, stretch 3']", True])
            page.keyboard.press("ArrowRight")
            page.wait_for_function("window.changed !== null", polling=5)
            times.append(page.evaluate("window.changed"))
            page.wait_for_timeout(60)
        browser.close()
    return statistics.median(times[5:])


WATCH = """([event, place, itself]) => {
  window.changed = null;
  let began = null;
  addEventListener(event, () => { began ??= performance.now(); }, { once: true, capture: true });
  const found = document.querySelector(place);
  const seen = itself ? found : found.parentElement;
  const watch = new MutationObserver(() => requestAnimationFrame(() => {
    if (began !== null && window.changed === null) { window.changed = performance.now() - began; watch.disconnect(); }
  }));
  watch.observe(seen, { subtree: true, characterData: true, childList: true, attributes: Boolean(itself) });
}"""


def way_rows(plan: Plan, slide: float) -> list[tuple[str, float, str, float | None]]:
    """The whole way, one more place of it, and every change tried."""
    travel = Travel(plan, plan.lines[0])
    spots = iter(itertools.cycle(np.linspace(0.5, travel.far_m - 0.5, 37)))
    tried = len(best(plan).tried)
    every = median_ms(lambda: best(plan), runs=7, warm_up=2)
    return [
        (
            "the whole way: 50 positions, two ropes",
            median_ms(lambda: whole_way(plan, plan.lines[0], 50), 15, 4),
            "ms",
            250.0,
        ),
        ("the same judged and told", median_ms(lambda: way_report(plan, None, 50), 11, 3), "ms", None),
        ("one more position", median_ms(lambda: travel.place(float(next(spots))), 60, 20), "ms", 4.0),
        ("the load slid to new figures, in Chromium", slide, "ms", 60.0),
        (f"what buys most: {tried} changes tried", every, "ms", 1500.0),
        ("what buys most: one change", every / tried, "ms", 6.0),
    ]


def rigs_rows(plan: Plan) -> list[tuple[str, float, str, float | None]]:
    """The best whole rigs out of the demo's bags, out of fewer and out of more, on two processes; the same without a bag."""
    found: list[tuple[str, float, str, float | None]] = []
    few = {"bends": {"ball-bearing-pulley": 2, "carabiner": 2}, "devices": {}, "hitches": {"prusik-8": 2}}
    more = {"bends": {"ball-bearing-pulley": 3, "bushing-pulley": 2, "carabiner": 9}, "hitches": {"prusik-8": 4, "klemheist-8": 2, "french-8": 2, "tandem-prusik-8": 1},
            "devices": {"super-munter": 1, "rack-6": 1, "self-locking": 1, "munter": 1}}  # fmt: skip
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(abs, range(2)))
        for name, one in (
            ("the demo's bags", plan),
            ("few", bagged(plan, few)),
            ("more", bagged(plan, more)),
            ("without Bag 3", asked(plan, without="Bag 3")[0]),
        ):
            began, first = time.perf_counter(), None
            for each in search(one, executor=pool):
                first = first or (time.perf_counter() - began if each.rigs else None)
            tried, whole = each.tried, time.perf_counter() - began
            found += [
                (f"the best out of {name}: {tried} rigs", 1000 * whole, "ms", 5000.0),
                (f"of {name}: the first that may be taken", 1000 * (first or whole), "ms", 1000.0),
            ]
    return found


def logger_rows() -> list[tuple[str, float, str, float | None]]:
    """A logger's table of an hour at 1000 Hz read by a process of its own: how long, and how much of the machine's memory."""
    read = (
        "import resource, sys, time; from rigging.files.log_columns import LogSettings; from rigging.files.loggers import read_log; began = time.perf_counter();"
        "found = read_log(open(sys.argv[1], 'rb'), LogSettings(begins='2026-03-01 10:00:00', zone='UTC'));"
        "assert len(found.times_ms) == 3_600_000, (found.asks, found.faults);"
        "print(time.perf_counter() - began, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    )
    forms = {
        "seconds": ("time (s),force (kN)", lambda n: f"{n / 1000:.3f},{1.2 + n % 997 / 9970:.4f}"),
        "date and time apart": (
            "Datum;Uhrzeit;Kraft [kN]",
            lambda n: (
                f"01.03.2026;{10 + n // 3_600_000:02d}:{n // 60_000 % 60:02d}:{n // 1000 % 60:02d},{n % 1000:03d};1,{n % 9970:04d}"
            ),
        ),
    }
    found: list[tuple[str, float, str, float | None]] = []
    for name, (head, row) in forms.items():
        with tempfile.NamedTemporaryFile("w", suffix=".csv") as file:
            file.write(head + "\n")
            file.writelines(f"{row(n)}\n" for n in range(3_600_000))
            file.flush()
            told = subprocess.run(
                [sys.executable, "-c", read, file.name], cwd=ROOT, capture_output=True, text=True, check=True
            )
        seconds, megabytes = (float(one) for one in told.stdout.split())
        found += [
            (f"an hour at 1000 Hz read, {name}", seconds, "s", 20.0),
            (f"of it, memory at most, {name}", megabytes, "MB", 200.0),
        ]
    return found


def _next_drill(skill: str, seeds: itertools.count) -> object:
    return drill_report(drill(skill, next(seeds), 3))


def drill_rows() -> list[tuple[str, float, str, float | None]]:
    """Drills of every skill made and told, and the slowest skill of them."""
    times = {}
    for skill in SKILLS:
        seeds = itertools.count()
        times[skill] = median_ms(partial(_next_drill, skill, seeds), 40, 10)
    slowest = max(times, key=lambda one: times[one])
    return [
        ("a drill made and told, median of skills", statistics.median(times.values()), "ms", 100),
        (f"the slowest of them: {slowest}", times[slowest], "ms", 100),
    ]


def one_piece_rows() -> list[tuple[str, float, str, float | None]]:
    """An anchor out of one piece on five trees told whole, closed by a knot and on a slider; four opposed legs tightened twice round."""
    trees = [tree(f"t{n}", -4 + 0.2 * n, n - 2) for n in range(5)]
    legs = [{"feature": one["id"], "method": "passed", "material": "rope-11"} for one in trees]
    knotted = plan_of(trees, "fixed", legs, piece={"closed": "one-knot", "knot": "overhand-loop"})
    slides = {"closed": "slides", "joined": "double-fisherman"}
    sliding = plan_of(trees, "self-adjusting", legs, piece=slides)
    round_it = [tree(f"t{n}", 4 * math.cos(n * math.pi / 2), 4 * math.sin(n * math.pi / 2)) for n in range(4)]
    tight = [leg(one["id"], pretension_n=600) for one in round_it]
    order = {"order": list(range(4)), "rounds": 2}
    floating = plan_of(round_it, "floating", tight, tightened=order)
    told = {
        "one piece in a knot": knotted,
        "one piece that slides": sliding,
        "four legs tightened twice round": floating,
    }

    def cold(plan: Plan) -> None:
        with forgotten():
            study(plan, "raising", only="tried")

    return [(f"{name}, told", median_ms(partial(cold, plan), 7, 2), "ms", 300) for name, plan in told.items()]


def reference_rows() -> list[tuple[str, float, str, float | None]]:
    """What the reference takes on a device without a connection."""
    kept = len(knots_report(Wording()).model_dump_json()) + len(systems_report().model_dump_json())
    return [("the reference, kept on a device", kept / 1000, "kB", 400)]


def shelf_rows(plan: Plan) -> list[tuple[str, float, str, float | None]]:
    """A shelf of 500 labels: its table read, a plan's gear against it; the range of a hundred pulls."""
    rows = "".join(f"P-{n},low-stretch-11,1,{30 + n % 60},{2015 + n % 11},30,4.5,Bag {n % 9}\n" for n in range(500))
    table = f"label,kind,count,length_m,made,stamp_kn,mass_kg,bag\n{rows}".encode()
    shelf = read_shelf(table).pieces
    pulls = [6000.0 + 17 * n for n in range(100)]
    return [
        ("a shelf of 500 read from its table", median_ms(lambda: read_shelf(table), 5, 1), "ms", 1000),
        ("a plan's gear against it", median_ms(lambda: packed(plan, shelf, {}, date(2026, 6, 1)), 5, 1), "ms", 100),
        (
            "the range of a hundred own pulls",
            median_ms(lambda: next_of(Range(5000, 6500, 8000), pulls), 5, 1),
            "ms",
            300,
        ),
    ]


def turned_fps(server: Server) -> float:
    """Frames a second of a knot turned with the finger on a phone, its processor at a quarter."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        person = Person(browser, server, viewport={"width": 390, "height": 844}, has_touch=True)
        page = person.page
        page.goto(f"{server.url}/reference/tandem-prusik-8")
        box = page.get_by_test_id("knot").bounding_box()
        assert box is not None
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
        page.evaluate("() => { window.frames_ = 0; const tick = () => { window.frames_++; requestAnimationFrame(tick) }; tick() }")  # fmt: skip
        page.mouse.move(box["x"] + 100, box["y"] + 100)
        page.mouse.down()
        began, first = time.perf_counter(), page.evaluate("window.frames_")
        for step in range(90):
            page.mouse.move(box["x"] + 100 + step, box["y"] + 100 + step / 3)
        found = (page.evaluate("window.frames_") - first) / (time.perf_counter() - began)
        browser.close()
    return float(found)


def bagged(plan: Plan, bags: dict[str, object]) -> Plan:
    return Plan.model_validate({**plan.model_dump(mode="json"), "bags": bags})


def operation_rows(plan: Plan) -> list[tuple[str, float, str, float | None]]:
    """The demo's operation composed, and the longest: 60 m, two joins, twelve hauls; and each told."""
    found: list[tuple[str, float, str, float | None]] = []
    for name, one, most in (("the demo's operation", plan, 500.0), ("60 m, two joins, twelve hauls", deep(), 1500.0)):
        made = composed(one)
        found.append((f"composed: {name}", median_ms(partial(composed, one), 9, 2), "ms", most))
        told = median_ms(partial(operation_report, one, made), 7, 1)
        found.append((f"told: {name}", told, "ms", None))
    return found


def main() -> None:
    document = demo_document()
    plan = Plan.model_validate(document)
    in_process = median_ms(lambda: analyse(Plan.model_validate(document)))
    judged = median_ms(lambda: judge(plan))
    raising = next(
        one for one in solve_all(plan)[1].values() if isinstance(one, Solved) and one.id == "raising"
    ).rig.lying()
    floor = floor_ms(plan)
    with tempfile.TemporaryDirectory() as var:
        server = Server(Path(var))
        try:
            caller = Caller(server)
            through_api = median_ms(kept_open(server, caller, document, "/api/analyse"))
            first_check, after_a_change = check_ms(server, caller, document)
            to_the_finger = median_ms(kept_open(server, caller, document, "/api/analyse?only=raising"))
            drag = drag_ms(server)
            slide = slide_ms(server)
            first_view = first_view_kb(server)
            turned = turned_fps(server)
            run = stop_rows(server) + run_rows(server)
        finally:
            server.kill()
    to, ea, rest, load = four_legs()
    one_solve = median_ms(lambda: hang(to, ea, rest, load, np.zeros(3)))
    elements = median_ms(lambda: by_finite_elements(to, ea, load), runs=15, warm_up=3)
    rows = [
        ("one solve of a four-leg anchor", one_solve, "ms", 2.0),
        ("the same by the finite element package", elements, "ms", None),
        ("finite elements ÷ one solve (at least 20)", elements / one_solve, "×", None),
        ("full report on a four-leg anchor", median_ms(full_report(), runs=40, warm_up=10), "ms", 120.0),
        ("a feature dragged to new figures, in Chromium", drag, "ms", 100.0),
        ("demo, two ropes, all states: compile, solve, judge", judged, "ms", 12.0),
        ("the same with its report told", in_process, "ms", None),
        ("the same through the API, as the finger gets it", to_the_finger, "ms", 25.0),
        ("through the API with every state told", through_api, "ms", None),
        ("the whole check of the demo, through the API, cold", first_check, "ms", 150.0),
        ("the check after a change of a knot, through the API", after_a_change, "ms", 60.0),
        ("its linear systems alone (NumPy), the floor", floor, "ms", None),
        ("compile, solve, judge ÷ floor (at most 60)", judged / floor, "×", 60.0),
        ("script of the first view, compressed", script_kb(), "kB", 200.0),
        ("the first view on the wire, with fonts and answers", first_view, "kB", 250.0),
    ]
    rows += [
        ("what holds: one question of the demo, raising", median_ms(lambda: drop(raising)), "ms", 2.0),
        ("what holds: every part of it", median_ms(lambda: questioned(raising), runs=40, warm_up=10), "ms", 60.0),
    ]
    rows += way_rows(plan, slide)
    rows += rigs_rows(plan)
    rows += operation_rows(plan)
    rows += logger_rows()
    rows += drill_rows() + one_piece_rows() + reference_rows() + shelf_rows(plan)
    rows.append(("a knot turned on a phone, a quarter of the processor", turned, "fps", None))
    rows += run
    for count in (21, 60, 120, 240, 399):
        rig = many_parts(count)
        rows.append(
            (
                f"what holds: one question of {count} pieces",
                median_ms(partial(drop, rig), runs=20, warm_up=3),
                "ms",
                None,
            )
        )
    for words in (["haul", "z-3"], ["analyse", str(DEMO)]):
        limit = 500.0 if words[0] == "haul" else 800.0
        rows.append((f"whole process: {words[0]}", whole_process_ms(words), "ms", limit))
    for name, value, unit, most in rows:
        print(f"{name:54} {value:9.2f} {unit:3}" + (f"  (at most {most:g})" if most else ""))
    print(json.dumps({"systems": len(catalogue().systems), "report_kB": len(analyse(plan).model_dump_json()) / 1000}))


if __name__ == "__main__":
    main()
