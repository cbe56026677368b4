"""A knot tied in wire, or what is made in wire tied in rope."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace


class WireKnot(Found, topic="margins"):
    line: str
    knot: str
    metal: bool


def find(here: AtPlace) -> Iterator[WireKnot]:
    for line in here.plan.lines:
        metal = catalogue().ropes[here.plan.rope(line.rope).kind].fibre == "metal"
        knot = catalogue().knots[line.load_knot]
        if knot.wire != metal:
            yield WireKnot(level="stop", about="load", key=line.id, line=line.id, knot=knot.name, metal=metal)


def mends(found: WireKnot, plan: Plan) -> Iterator[Mend]:
    knot = catalogue().knots["wire-eye" if found.metal else "figure-eight-loop"]
    yield setting("take", f"/lines/{line_number(plan, found.line)}/load_knot", knot.id, what=knot.name)
