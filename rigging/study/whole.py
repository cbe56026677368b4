"""A plan asked over the whole of it: where the load starts, at every tenth of its way, and at every step of its operation."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.judging.margins import share_of_rule
from rigging.lines.whole_way import Travel, WholeWay, at_work
from rigging.procedures.compose import composed
from rigging.procedures.operation import Operation
from rigging.procedures.run import ProcedureGiven
from rigging.quantities.faults import Fault, Refused
from rigging.quantities.progress import Tell, silent
from rigging.study.place import AtPlace, Row

TENTHS = 10


@dataclass(frozen=True)
class Unasked:
    """A place of the way at which the plan can not be laid out, and why; `plan` has its load there."""

    up_m: float
    fault: Fault
    plan: Plan


class Study:
    """One plan, asked over the whole of it; each part of it worked out when it is first asked for. `tell`: how many tenths of its way
    have been asked, to whoever waits; `own`: the team's own procedures (None: nobody said whose plan it is)."""

    def __init__(self, plan: Plan, tell: Tell = silent, own: dict[str, ProcedureGiven] | None = None):
        self.plan, self.tell, self.own = plan, tell, own

    @cached_property
    def start(self) -> AtPlace:
        """The plan where the load starts.

        Raises
        ------
        Refused
            If the plan can not be laid out.
        """
        return AtPlace(judge(self.plan))

    @property
    def places(self) -> list[AtPlace]:
        """Every tenth of the load's way up at which the plan can be laid out."""
        return [one for one in self._tenths if isinstance(one, AtPlace)]

    @property
    def unasked(self) -> list[Unasked]:
        """The others."""
        return [one for one in self._tenths if isinstance(one, Unasked)]

    @cached_property
    def _tenths(self) -> list[AtPlace | Unasked]:
        if not self.plan.lines:
            return []
        travel = Travel(self.plan, at_work(self.plan))
        found: list[AtPlace | Unasked] = []
        for tenth in range(1, TENTHS + 1):
            self.tell(tenth, TENTHS)
            up_m = travel.far_m * tenth / TENTHS
            there = travel.moved(up_m)
            try:
                found.append(AtPlace(judge(there), up_m))
            except Refused as refused:
                found.append(Unasked(up_m, refused.faults[0], there))
        return found

    @cached_property
    def _composed(self) -> Operation | tuple[Fault, ...]:
        try:
            return composed(self.plan, self.own)
        except Refused as refused:
            return tuple(refused.faults)

    @property
    def operation(self) -> Operation | None:
        """The plan's whole course; None where there is none to compose."""
        return self._composed if isinstance(self._composed, Operation) else None

    @property
    def uncomposed(self) -> tuple[Fault, ...]:
        """Why there is none, where there are lines for one."""
        lines = self.plan.lines or self.plan.tension_lines
        return self._composed if lines and not isinstance(self._composed, Operation) else ()

    @property
    def way(self) -> WholeWay | None:
        """The whole way of the line at work, with what comes to what on it."""
        return self.operation.way if self.operation else None

    @cached_property
    def rows(self) -> list[Row]:
        """Every state with its weakest part over the whole way."""
        return [self._worst(row) for row in self.start.rows]

    def _worst(self, row: Row) -> Row:
        found = row
        for there in self.places:
            other = next((one for one in there.rows if one.state == row.state), None)
            weakest = other.weakest if other else None
            if weakest is not None and share_of_rule(weakest) < share_of_rule(found.weakest) - 1e-9:
                found = replace(row, weakest=weakest, up_m=there.up_m)
        return found
