"""Strands of a haul system that are not of the line's own rope, and nobody said of which."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace

# Two short strands any sling makes.
_SHORT_M = 6.0


class StrandsUnsaid(Found, topic="geometry"):
    line: str
    other_m: float


def find(here: AtPlace) -> Iterator[StrandsUnsaid]:
    for one in here.judged.budgets:
        line = next((line for line in here.plan.lines if line.id == one.line), None)
        haul = line.haul if line is not None and one.job == "raise" else None
        if haul is not None and haul.own is None and haul.strands_of is None and one.other_m > _SHORT_M:
            yield StrandsUnsaid(
                level="look", about=f"{one.line}:rope", key=one.line, line=one.line, other_m=one.other_m
            )


def mends(found: StrandsUnsaid, plan: Plan) -> Iterator[Mend]:
    path = f"/lines/{line_number(plan, found.line)}/haul/strands_of"
    for rope in plan.ropes:
        yield setting("strands-of", path, rope.id, rope=rope.id)
