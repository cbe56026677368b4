"""A simulated load cell as a process of its own: it signs in and posts readings as a bridge to a real one would."""

import http.client
import http.cookiejar
import json
import math
import random
import time
import urllib.error
import urllib.request
import uuid
from datetime import UTC, datetime
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from rigging.document import Plan as Document
from rigging.lines.whole_way import moved
from rigging.readings.cell import HERTZ, Cell, Levels, at_work, hauling, levels_of
from rigging.readings.places import Motion, Place, Predictor, place

# How often the run is asked where it is.
_ASKS_S = 2.0


class _Bridge:
    def __init__(self, url: str, name: str, password: str):
        self.url, jar = url.rstrip("/") + "/api", http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self.token = ""
        self.token = self.send("GET", "/session")["csrf_token"]
        self.token = self.send("POST", "/session", {"username": name, "password": password})["csrf_token"]

    def send(self, method: str, path: str, content: Any = None) -> Any:
        body = None if content is None else json.dumps(content).encode()
        headers = {"Content-Type": "application/json", "X-CSRFToken": self.token}
        with self.opener.open(
            urllib.request.Request(self.url + path, body, headers, method=method), timeout=10
        ) as answer:
            return json.load(answer)

    def until_answered(self, method: str, path: str, content: Any = None) -> Any:
        """Sent again until the server has answered it."""
        while True:
            try:
                return self.send(method, path, content)
            except urllib.error.HTTPError as refused:
                # What is refused is not sent again; what failed is.
                if refused.code < 500:
                    raise CommandError(refused.read().decode()) from refused
                time.sleep(0.5)
            except (OSError, http.client.HTTPException, ValueError):
                # Nobody there, or gone in the middle of the answer.
                time.sleep(0.5)


class _Team:
    """Who pulls: as the run's step says, with the load where it then is; with no run under way, hauling by turns where it starts."""

    def __init__(self, bridge: _Bridge, plan: str, document: Document, where: Place, seed: int):
        self.bridge, self.plan, self.document, self.where, self.seed = bridge, plan, document, where, seed
        self.load: dict[str, Any] | None = None
        self.asked_at = -math.inf
        self.practice = (
            phase.motion
            for phase in hauling(random.Random(seed), math.inf)
            for _ in range(round(phase.seconds * HERTZ))
        )

    def levels(self, run_m: float) -> Levels:
        """The truth of one day, drawn alike wherever the load is."""
        there = Predictor(moved(self.document, run_m))
        return levels_of(there, self.where, random.Random(self.seed))

    def motion(self, cell: Cell) -> Motion:
        """What is done at the cell's next reading."""
        if time.monotonic() - self.asked_at > _ASKS_S:
            self.asked_at, before = time.monotonic(), self.load
            self.load = self.bridge.until_answered("GET", f"/plans/{self.plan}/cells")["load"]
            if self.load and (before is None or before["step"] != self.load["step"]):
                cell.comes_to(self.levels(self.load["run_m"]))
        return at_work(self.load["moves"], cell.at_s) if self.load else next(self.practice)


class Command(BaseCommand):
    help = "Sends readings of a simulated load cell to a plan, as the run goes or hauling and pausing, until it is stopped."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--url", default="http://127.0.0.1:8000")
        parser.add_argument("--name", default="rowan", help="who it signs in as")
        parser.add_argument("--password", default="practice-only")
        parser.add_argument("--plan", help="id of the plan; the first of the team if left out")
        parser.add_argument("--place", default="load")
        parser.add_argument("--seconds", type=float, default=3600.0)
        parser.add_argument("--faster", type=float, default=1.0, help="so many times faster than the clock")
        parser.add_argument(
            "--happens", action="append", default=[], help="for instance jam@60: what, after how many seconds"
        )
        parser.add_argument("--seed", type=int, default=1)

    def handle(self, *_args: Any, **said: Any) -> None:
        bridge = _Bridge(said["url"], said["name"], said["password"])
        plan = said["plan"] or bridge.send("GET", "/plans")[0]["id"]
        document = Document.model_validate(bridge.send("GET", f"/plans/{plan}")["latest"]["document"])
        team = _Team(bridge, plan, document, place(document, said["place"]), said["seed"])
        cell = Cell(team.levels(0.0), said["seed"])
        made = {
            "id": str(uuid.uuid4()),
            "name": f"Simulated {uuid.uuid4().hex[:4]}",
            "place": said["place"],
            "unit": "kN",
        }
        bridge.until_answered("POST", f"/plans/{plan}/cells", made)
        events = {float(at): what for what, _, at in (one.partition("@") for one in said["happens"])}
        began, number, rows = time.time(), 0, []
        at = datetime.fromtimestamp(began, UTC).isoformat()
        while cell.at_s < said["seconds"]:
            for due in [due for due in events if due <= cell.at_s]:
                what = events.pop(due)
                cell.over() if what == "over" else cell.happens(what)
            force = cell.next(team.motion(cell))
            if force is not None:
                rows.append((cell.at_s * 1000, force / 1000))
            if len(rows) >= HERTZ // 4:
                time.sleep(max(0.0, began + cell.at_s / said["faster"] - time.time()))
                body = {
                    "cell": made["id"],
                    "first": number,
                    "at": at,
                    "times_ms": [t for t, _ in rows],
                    "values": [f for _, f in rows],
                }
                number, rows = bridge.until_answered("POST", f"/plans/{plan}/readings", body)["next"], []
