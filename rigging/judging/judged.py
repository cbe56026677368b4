"""A plan once through compile → solve → judge: every state, its anchors and parts, without words."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.catalogue.haul import Advantage, advantage
from rigging.document import Plan
from rigging.judging.anchors import AnchorState, anchor_states
from rigging.judging.margins import Part
from rigging.judging.parts import all_parts
from rigging.lines.every_state import solve_all
from rigging.lines.lengths import Budget, budgets
from rigging.lines.parts import eta_of
from rigging.lines.planning import planned
from rigging.lines.solve import LineForces, Missing, Solved, Solver, Unasked


@dataclass(frozen=True)
class Judged:
    """A plan compiled, solved and judged, without words: every state, its anchors and parts.

    `given` is the plan as it was given, `plan` the one that was worked out: with no line yet, the load held as planned.
    """

    given: Plan
    plan: Plan
    solver: Solver
    states: dict[str, Solved | Missing | Unasked]
    anchors: dict[tuple[str, str], AnchorState]
    parts: dict[str, list[Part]]
    gives: Advantage | None
    hauling: LineForces | None
    budgets: list[Budget]


def judge(plan: Plan, only: str | None = None) -> Judged:
    """Compile → solve → judge. `only`: the one state that is asked for, with the haul, as a finger wants it.

    Raises
    ------
    Refused
        If the plan can not be laid out: points under the ground, a load where no ground is entered.
    """
    given, plan = plan, plan if plan.lines else planned(plan)
    solver, states = solve_all(plan, None if only is None else frozenset((only, "raising")))
    solved = {id: one for id, one in states.items() if isinstance(one, Solved)}
    anchors = anchor_states(plan, solved.values())
    parts = all_parts(plan, solved.values(), anchors)
    raising = solved.get("raising")
    hauling = raising.lines[0] if raising else None
    haul = hauling.rig.line.haul if hauling else None
    gives = advantage(haul.system, eta_of(plan, haul)) if haul else None
    rope = budgets(plan, solver.ways, hauling)
    return Judged(given, plan, solver, states, anchors, parts, gives, hauling, rope)
