"""A haul grab set forward past the first edge."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, as_far_as_it_goes, line_number
from rigging.document import Plan
from rigging.study.place import AtPlace


class GrabOverEdge(Found, topic="geometry"):
    line: str
    reach_m: float
    first_m: float


def find(here: AtPlace) -> Iterator[GrabOverEdge]:
    for line in here.plan.lines:
        way = here.ways[line.id]
        if not (line.haul and line.haul.reach_m and line.haul.attached == "grab" and way.over.turns):
            continue
        if line.haul.reach_m > way.first_m + 1e-6:
            yield GrabOverEdge(
                level="look", about=f"{line.id}:haul", key=line.id, line=line.id, reach_m=line.haul.reach_m, first_m=way.first_m
            )  # fmt: skip


def mends(found: GrabOverEdge, plan: Plan) -> Iterator[Mend]:
    yield as_far_as_it_goes(line_number(plan, found.line))
