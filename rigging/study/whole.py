"""A plan asked over the whole of it: where the load starts, at every tenth of its way, and at every step of its operation.

What is found is gathered, each thing once, where it is worst, with its place."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from rigging.document import Plan
from rigging.judging.check import Check, Line, Row, gathered, line_of
from rigging.judging.found import URGENCY, Found
from rigging.judging.judged import judge
from rigging.judging.margins import Part, share_of_rule
from rigging.judging.removal import below_the_load
from rigging.lines.whole_way import Travel, at_work
from rigging.procedures.compose import composed
from rigging.procedures.operation import Operation
from rigging.quantities.faults import Fault, Refused

_TENTHS = 10
# Where a join on its way has to be passed; over edges and round redirects it is watched.
_PASSED = ("device", "ratchet", "belay")
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


@dataclass(frozen=True)
class Unasked:
    """A place of the way at which the plan can not be laid out, and why."""

    up_m: float
    fault: Fault
    below: list[str]


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
        """Every tenth of the load's way up at which the plan can be laid out, checked."""
        return tuple(one for one in self._tenths if isinstance(one, There))

    @cached_property
    def _tenths(self) -> list[There | Unasked]:
        if not self.plan.lines:
            return []
        travel = Travel(self.plan, at_work(self.plan))
        found: list[There | Unasked] = []
        for tenth in range(1, _TENTHS + 1):
            up_m = travel.far_m * tenth / _TENTHS
            there = travel.moved(up_m)
            try:
                found.append(There(up_m, Check(judge(there))))
            except Refused as refused:
                found.append(Unasked(up_m, refused.faults[0], below_the_load(there)))
        return found

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
        return gathered([*found.values(), *self._steps(), *self._joins(), *self._unasked()])

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

    def _unasked(self) -> Iterator[Line]:
        """Places at which the plan can not be laid out, by what it can not be for; and who stands below them."""
        for one in self._tenths:
            if isinstance(one, Unasked):
                found = Found("place-refused", "look", "load", {"fault": one.fault}, one.fault.path)
                yield replace(line_of(found, ""), up_m=one.up_m, of=self.start)
                if one.below:
                    below = Found("people-below", "look", "load", {"people": one.below})
                    yield replace(line_of(below, "raising"), up_m=one.up_m, of=self.start)

    def _joins(self) -> list[Line]:
        """Joins that come to a device, a ratchet or a belay while the load is on its way: each is passed there."""
        events = self.operation.way.events if self.operation and self.operation.way else ()
        found: dict[str, Line] = {}
        for one in events:
            if one.kind != "join" or one.comes_to not in _PASSED:
                continue
            rope = next(line.rope for line in self.plan.lines if line.id == one.line)
            number = next(n for n, there in enumerate(self.plan.ropes) if there.id == rope)
            at_m = self.plan.ropes[number].joins[one.number].at_m
            values: dict[str, Any] = {
                "line": one.line,
                "at_m": at_m,
                "to": one.comes_to,
                "job": one.job,
                "metre": one.metre,
            }
            key = f"{self.plan.ropes[number].id}:{one.number}"
            met = line_of(Found("join-on-way", "look", f"{one.line}:rope", values, key), one.job)
            found.setdefault(key, replace(met, up_m=one.run_m, of=self.start))
        return list(found.values())


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
