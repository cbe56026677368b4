"""Joins and damaged places of the ropes in use."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.found import Found

# Tails of a bend, in rope diameters (common practice, no source).
TAIL_DIAMETERS = 10.0


def find_knots(plan: Plan) -> Iterator[Found]:
    """Damage that is still in the pull; joins by a knot that is no bend, or with tails too short or not said."""
    for number, rope in enumerate(plan.ropes):
        line = next((one.id for one in plan.lines if one.rope == rope.id), rope.id)
        wanted = TAIL_DIAMETERS * catalogue().ropes[rope.kind].diameter_m
        for at, damage in enumerate(rope.damage):
            if damage.taken_out is None:
                values = {"line": line, "rope": number, "number": at, "at_m": damage.at_m}
                yield Found("damage-in-pull", "stop", f"{line}:rope", values, f"{rope.id}:{at}")
        for at, join in enumerate(rope.joins):
            knot = catalogue().knots[join.knot]
            values = {
                "line": line, "rope": number, "number": at, "at_m": join.at_m, "knot": knot.name, "tail_m": join.tail_m,
                "wanted_m": wanted,
            }  # fmt: skip
            if not knot.bend:
                yield Found("no-bend", "stop", f"{line}:rope", values, f"{rope.id}:{at}")
            elif join.tail_m is None:
                yield Found("tail-unsaid", "unknown", f"{line}:rope", values, f"{rope.id}:{at}")
            elif join.tail_m < wanted - 1e-9:
                yield Found("tail-short", "stop", f"{line}:rope", values, f"{rope.id}:{at}")
