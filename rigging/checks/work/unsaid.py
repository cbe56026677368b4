"""Bends of the haul that nobody spoke of."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import PULLEY, Mend, hauling_number, setting
from rigging.document import Plan
from rigging.lines.parts import open_bends
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class Unsaid(Found, topic="margins", source="bend-eta"):
    bend: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[Unsaid]:
    for line, haul in here.hauled(solved):
        for name in open_bends(haul):
            yield Unsaid(level="look", about=f"{line.rig.line.id}:{name}", key=name, state=solved.id, bend=name)


def mends(found: Unsaid, plan: Plan) -> Iterator[Mend]:
    number = hauling_number(plan)
    haul = plan.lines[number].haul if number is not None else None
    if haul is None:
        return
    for kind in (PULLEY, "carabiner"):
        value, what = {**haul.bends, found.bend: kind}, catalogue().bends[kind].name
        yield setting("bend", f"/lines/{number}/haul/bends", value, what=what, at=found.bend)
