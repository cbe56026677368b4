"""Speed, measured: `make bench`. Medians over many runs on this machine, beside the bare linear algebra as the floor."""

import gzip
import http.client
import json
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from rigging.analyse import analyse
from rigging.anchors.pull import way_from
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.phases import solve_all
from tests.conftest import Server
from tests.plans import ROOT, demo_document
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
    """The plan's linear systems alone: one motion and three statics a phase, of the same sizes, by NumPy."""
    way = way_from(plan, plan.arrangement)
    rng = np.random.default_rng(1)
    systems = []
    for solved in solve_all(plan, way).values():
        assert not isinstance(solved, str)
        count = sum(len(row) for row in solved.network.strands)
        unknown = len(solved.network.travellers)
        for size in (unknown, count, count, count):
            systems.append((rng.normal(size=(size, size)) + size * np.eye(size), rng.normal(size=size)))
    return median_ms(lambda: [np.linalg.solve(matrix, right) for matrix, right in systems])


def script_kb() -> float:
    page = (ROOT / "web" / "dist" / "index.html").read_text()
    scripts = [file for file in (ROOT / "web" / "dist" / "assets").glob("*.js") if file.name in page]
    return sum(len(gzip.compress(file.read_bytes(), 6)) for file in scripts) / 1000


def kept_open(server: Server, caller: Caller, document: object) -> Callable[[], bytes]:
    """Asking over one connection kept open, as a browser does; the answer is read whole."""
    wire = http.client.HTTPConnection("127.0.0.1", server.port)
    cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in caller.jar)
    headers = {"Content-Type": "application/json", "X-CSRFToken": caller.token, "Cookie": cookies}
    body = json.dumps(document)

    def ask() -> bytes:
        wire.request("POST", "/api/analyse", body, headers)
        answer = wire.getresponse()
        assert answer.status == 200
        return answer.read()

    return ask


def main() -> None:
    document = demo_document()
    plan = Plan.model_validate(document)
    in_process = median_ms(lambda: analyse(Plan.model_validate(document)))
    floor = floor_ms(plan)
    with tempfile.TemporaryDirectory() as var:
        server = Server(Path(var))
        try:
            caller = Caller(server)
            through_api = median_ms(kept_open(server, caller, document))
        finally:
            server.kill()
    rows = [
        ("demo plan, all phases, in process", in_process, "ms", 10.0),
        ("the same through the API", through_api, "ms", 30.0),
        ("its linear systems alone (NumPy), the floor", floor, "ms", None),
        ("in process ÷ floor", in_process / floor, "×", None),
        ("script of the first view, compressed", script_kb(), "kB", 250.0),
    ]
    for name, value, unit, limit in rows:
        print(f"{name:48} {value:9.2f} {unit:3}" + (f"  (at most {limit:g})" if limit else ""))
    print(json.dumps({"systems": len(catalogue().systems), "report_kB": len(analyse(plan).model_dump_json()) / 1000}))


if __name__ == "__main__":
    main()
