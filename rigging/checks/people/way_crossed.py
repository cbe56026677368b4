"""A loaded rope across the haulers' way."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.lying.strands import cross_in_plan, strands
from rigging.checks.mending import Mend, line_number, turned_round
from rigging.checks.people.way_over_lip import UNSAID_M
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.mechanics.vectors import plus
from rigging.study.place import AtPlace


class WayCrossed(Found, topic="ground"):
    """`hauled`: the line whose haulers walk across `line`."""

    line: str
    hauled: str


def find(here: AtPlace) -> Iterator[WayCrossed]:
    raising = here.states.get("raising")
    if not isinstance(raising, Solved):
        return
    hauled = raising.lines[0].rig
    haul, hands = hauled.line.haul, next((node for node in hauled.nodes.values() if node.kind == "hands"), None)
    if hands is None or haul is None:
        return
    rows = strands(raising)
    last = next(a if b == hands.id else b for _, a, b, _, _ in rows if hands.id in (a, b))
    # They take hold near the last bend, and walk from there.
    first, end = (plus(hauled.nodes[last].at, hands.axis, out) for out in (0.5, haul.way_m or UNSAID_M))
    across = {
        line
        for line, a, b, start, stop in rows
        if not {hands.id, last} & {a, b} and cross_in_plan(first, end, start, stop)
    }
    for line in sorted(across):
        yield WayCrossed(level="look", about=f"{line}:rope", key=line, line=line, hauled=hauled.line.id)


def mends(found: WayCrossed, plan: Plan) -> Iterator[Mend]:
    yield from turned_round(plan, line_number(plan, found.hauled))
