"""A line that should bear the load, and hangs slack beside it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.lines.rig import OPEN_M
from rigging.study.place import AtPlace


class HangsSlack(Found, topic="parts"):
    line: str
    slack_m: float


def find(here: AtPlace) -> Iterator[HangsSlack]:
    beside = any(one.role == "main" and one.slack_m < OPEN_M for one in here.plan.lines)
    for line in here.plan.lines:
        if line.slack_m >= OPEN_M and line.role != "belay":
            # A second line beside the main one is then a backup, which its drop speaks of.
            level: Level = "look" if line.role == "second" and beside else "stop"
            yield HangsSlack(level=level, about=f"{line.id}:rope", key=line.id, line=line.id, slack_m=line.slack_m)


def mends(found: HangsSlack, plan: Plan) -> Iterator[Mend]:
    yield setting("slack", f"/lines/{line_number(plan, found.line)}/slack_m", 0, length_m=0.0)
