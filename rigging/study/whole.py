"""A plan asked over the whole of it: where the load starts, at every tenth of its way, and at every step of its operation.

What is found is gathered, each thing once, where it is worst, with its place."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from rigging.document import Plan
from rigging.judging.check import Check, Line, Row, gathered, line_of
from rigging.judging.found import URGENCY, Found
from rigging.judging.judged import judge
from rigging.judging.margins import Part, share_of_rule
from rigging.lines.whole_way import Travel, at_work
from rigging.procedures.compose import composed
from rigging.procedures.operation import Operation
from rigging.quantities.faults import Refused

_TENTHS = 10
# What may be otherwise where the load is elsewhere; how things lie and who is named is asked once.
_ALONG = frozenset({
    "below", "slips-under-load", "too-few-haulers", "hand-too-much", "may-not-run", "worse-than-straight", "leg-goes", "anchor-fails", "single", "shared-plate",
    "shared-feature", "falls", "hands-alone", "frame-tips", "frame-may-tip", "frame-by-guys", "nothing-catches", "does-not-stop", "reaches-ground", "people-below",
    "bitten", "loss", "unknown",
})  # fmt: skip


@dataclass(frozen=True)
class There:
    """The plan with its load `up_m` metres up its way, checked."""

    up_m: float
    checked: Check


class Study:
    """One plan, asked over the whole of it."""

    def __init__(self, plan: Plan):
        self.plan = plan

    @cached_property
    def start(self) -> Check:
        """The plan checked where the load starts.

        Raises
        ------
        Refused
            If the plan can not be laid out.
        """
        return Check(judge(self.plan))

    @cached_property
    def places(self) -> tuple[There, ...]:
        """Every tenth of the load's way up, checked; no place at which the plan can not be laid out."""
        if not self.plan.lines:
            return ()
        travel = Travel(self.plan, at_work(self.plan))
        found = []
        for tenth in range(1, _TENTHS + 1):
            up_m = travel.far_m * tenth / _TENTHS
            try:
                found.append(There(up_m, Check(judge(travel.moved(up_m)))))
            except Refused:
                continue
        return tuple(found)

    @cached_property
    def operation(self) -> Operation | None:
        """The plan's whole course; None where there is none to compose."""
        try:
            return composed(self.plan)
        except Refused:
            return None

    @cached_property
    def rows(self) -> list[Row]:
        """Every state with its weakest part over the whole way."""
        return [self._worst(row) for row in self.start.rows]

    def _worst(self, row: Row) -> Row:
        found = row
        for there in self.places:
            other = next((one for one in there.checked.rows if one.state == row.state), None)
            if (
                other is not None
                and other.weakest is not None
                and share_of_rule(other.weakest) < share_of_rule(found.weakest) - 1e-9
            ):
                found = replace(row, weakest=other.weakest, up_m=there.up_m)
        return found

    @cached_property
    def lines(self) -> list[Line]:
        """Everything found anywhere, each thing once where it is worst, most urgent first."""
        found = {line.id: line for line in self.start.lines}
        for there in self.places:
            for line in there.checked.lines:
                if line.found.kind in _ALONG and _worse(line, found.get(line.id)):
                    found[line.id] = replace(line, up_m=there.up_m, of=there.checked)
        return gathered([*found.values(), *self._steps()])

    def _steps(self) -> list[Line]:
        """What the operation would refuse, or has too few people for."""
        operation = self.operation
        if operation is None:
            return []
        found = []
        for section in operation.sections:
            for one in section.steps:
                why = [fault.problem for made in one.step.made for fault in made.refused]
                if why:
                    values: dict[str, Any] = {"section": section.name, "do": one.step.given.do, "why": why[0]}
                    found.append(line_of(Found("step-refused", "stop", "load", values, one.key), ""))
        for lack in operation.lacks:
            values = {"duty": lack.duty, "steps": len(lack.keys), "needed": lack.needed, "there": lack.there}
            found.append(line_of(Found("too-few-people", "look", "hand", values, lack.duty), ""))
        return found


def _worse(line: Line, known: Line | None) -> bool:
    """Whether a line found elsewhere says more than what is known of the same thing."""
    if known is None:
        return True
    here, there = (URGENCY.index(one.found.level) for one in (line, known))
    return here < there or (here == there and _size(line) < _size(known) * (1 - 0.01) - 1e-9)


def _size(line: Line) -> float:
    """How bad a line is among its like: the less the worse."""
    values = line.found.values
    part = values.get("part")
    if isinstance(part, Part) and part.margin is not None:
        return part.margin.low / max(part.target, 1e-9)
    hand = values.get("hand")
    return 1.0 / max(hand.high, 1e-9) if hand is not None else math.inf
