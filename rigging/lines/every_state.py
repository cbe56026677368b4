"""Every state of a plan solved: what holds and what runs, and what catches after a line went."""

from __future__ import annotations

from rigging.document import Plan
from rigging.lines.catch import caught
from rigging.lines.solve import Missing, Solved, Solver, Unasked, ways_of
from rigging.lines.states import Moment, moments
from rigging.quantities.faults import Refused


def solve(solver: Solver, moment: Moment) -> Solved | Missing:
    """One state; what can not be built says why instead."""
    if moment.solving != "goes" or moment.missing or solver.resting is None:
        return solver.solve(moment)
    try:
        return caught(solver, moment, solver.rig(moment))
    except Refused as refused:
        return Missing(moment, refused.faults)


def solve_all(plan: Plan, only: frozenset[str] | None = None) -> tuple[Solver, dict[str, Solved | Missing | Unasked]]:
    """Every state of a plan, by id, in the order of the work. `only`: those that are asked for.

    Raises
    ------
    Refused
        If the lines can not be laid out.
    """
    solver = Solver(plan, ways_of(plan))
    return solver, {
        moment.id: solve(solver, moment) if only is None or moment.id in only else Unasked(moment)
        for moment in moments(plan)
    }
