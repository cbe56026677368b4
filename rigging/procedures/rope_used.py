"""Rope counted once at every step: what of each rope of the plan lies in the rig then, knots included, and what it is used for besides."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass

from rigging.catalogue import catalogue
from rigging.document import Line, Plan
from rigging.lines.lengths import used_all_the_while_m
from rigging.lines.rig import LOAD, anchor_node
from rigging.mechanics.vectors import Point3
from rigging.procedures.operation import Operation, Planned
from rigging.procedures.state import Item, State, line_of

# The strand that is let down to somebody, by its name in the procedures.
_FRESH = "drop"


@dataclass(frozen=True)
class RopeLeft:
    """A rope at the step of an operation at which least of it is left: metres there, laid in the rig, used besides; negative `left_m`: that much
    is missing. `strands`: those of it that lie in the rig then, by name."""

    rope: str
    key: str
    there_m: float
    laid_m: float
    besides_m: float
    strands: tuple[str, ...]

    @property
    def left_m(self) -> float:
        return self.there_m - self.laid_m - self.besides_m


def least_left(plan: Plan, operation: Operation) -> list[RopeLeft]:
    """Every rope that comes into the operation's rig, at the step at which least of it is left: the first of them where several are alike."""
    besides = {one.id: used_all_the_while_m(plan, one) for one in plan.ropes}
    found: dict[str, RopeLeft] = {}
    for section in operation.sections:
        for step in section.steps:
            for state in _states(step):
                for one in _left(plan, step.key, state, besides):
                    if one.rope not in found or one.left_m < found[one.rope].left_m - 1e-9:
                        found[one.rope] = one
    return [found[one.id] for one in plan.ropes if one.id in found]


def _states(planned: Planned) -> Iterator[State]:
    """The rig where a step leaves it, and after each of its edits."""
    yield planned.rests.state
    yield from (one.asked.state for one in planned.step.made if one.asked is not None)


def _left(plan: Plan, key: str, state: State, besides: dict[str, float]) -> Iterator[RopeLeft]:
    strands: dict[str, list[str]] = {}
    for name in state.ropes:
        rope = _of_rope(plan, name)
        if rope is not None:
            strands.setdefault(rope, []).append(name)
    for rope, names in strands.items():
        laid = math.fsum(_laid_m(plan, state, name) for name in names)
        yield RopeLeft(rope, key, plan.rope(rope).length_m, laid, besides[rope], tuple(names))


def _line(plan: Plan, name: str) -> Line | None:
    """The line that a strand in the rig belongs to."""
    return next((one for one in plan.lines if one.id == line_of(name)), None)


def _of_rope(plan: Plan, name: str) -> str | None:
    """The rope of the plan that a strand in the rig is of; None where it is of a sling or a tight line, or nobody said."""
    line = _line(plan, name)
    if line is None or any(one.rope == line.rope for one in plan.tension_lines):
        return None
    if name == line.id:
        return line.rope
    what = name.partition(":")[2]
    if what == _FRESH:
        return _fresh_rope(plan, line)
    return line.haul.strands_of if what.startswith("strand ") and line.haul and not line.haul.own else None


def _fresh_rope(plan: Plan, line: Line) -> str:
    """The rope that a fresh strand is of: the one that was said, a haul line's, or the rest of the line's own."""
    if line.haul and line.haul.strands_of:
        return line.haul.strands_of
    hauls = plan.line("haul")
    return hauls.rope if hauls else line.rope


def _laid_m(plan: Plan, state: State, name: str) -> float:
    """Rope of a strand from end to end as it lies, its slack and its knots; in the hands only what is led into them."""
    row, line = state.ropes[name], _line(plan, name)
    working_point = state.at.get(anchor_node(line.anchor)) if line else None
    strung = [one for one in row if one.on_the_way]
    ways = (_between_m(state, a, b, working_point) for a, b in itertools.pairwise(strung))
    slack = (one.before_m for one in row[1:])
    knots = (catalogue().knots[one.what].takes_m for one in row if one.kind == "tie" and one.what in catalogue().knots)
    return math.fsum([*ways, *slack, *knots])


def _between_m(state: State, a: Item, b: Item, working_point: Point3 | None) -> float:
    far = math.dist(state.at[a.node], state.at[b.node])
    if b.kind != "hands":
        return far
    # What is led over the ground into hands reaches the working point; behind what stands there it lies in the tail.
    led = a.kind == "edge" or a.node == LOAD
    return min(far, math.dist(state.at[a.node], working_point)) if led and working_point is not None else 0.0
