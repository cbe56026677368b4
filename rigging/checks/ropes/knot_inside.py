"""A join that lies in a device, a redirect, a ratchet or on an edge where the load is now."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, rope_number, setting
from rigging.document import Plan
from rigging.lines.whole_way import stations
from rigging.study.place import AtPlace

# A knot this near to what it must not be in is in it (common practice, no source).
_INSIDE_M = 0.3


class KnotInside(Found, topic="geometry"):
    """`nearer`: which way along the rope is nearer to the load."""

    line: str
    rope: str
    number: int
    at_m: float
    to: str
    nearer: int


def find(here: AtPlace) -> Iterator[KnotInside]:
    for line in here.plan.lines:
        rope, way = here.plan.rope(line.rope), here.ways[line.id]
        for number, join in enumerate(rope.joins):
            from_load = join.at_m if line.end == "first" else rope.length_m - join.at_m
            for name, from_point in stations(here.plan, line, way):
                if name != "block" and abs(from_load + from_point - way.length_m) < _INSIDE_M:
                    yield KnotInside(
                        level="stop", about=f"{line.id}:rope", key=f"{rope.id}:{number}", line=line.id, rope=rope.id, number=number,
                        at_m=join.at_m, to=name, nearer=-1 if line.end == "first" else 1,
                    )  # fmt: skip
                    break


def mends(found: KnotInside, plan: Plan) -> Iterator[Mend]:
    """The join a metre nearer the load, so that it lies clear of what it was in."""
    number, at = rope_number(plan, found.rope), round(found.at_m + found.nearer, 2)
    if 0 < at < plan.ropes[number].length_m:
        yield setting("join-at", f"/ropes/{number}/joins/{found.number}/at_m", at, length_m=at)
