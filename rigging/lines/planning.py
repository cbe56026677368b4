"""A plan without a line: what the load held on an anchor would be, so that anchors can be judged before lines are laid."""

from __future__ import annotations

from rigging.catalogue import catalogue
from rigging.document import Line, Plan, Rope

PLANNING = "planning"


def planned(plan: Plan, anchor: str | None = None) -> Plan:
    """The plan with one line alone: a rope made fast at an anchor (the first unless one is named), the load held on it."""
    own = PLANNING
    while any(one.id == own for one in plan.ropes):
        own += "-"
    line = Line(
        id=PLANNING, role="main", rope=own, anchor=anchor or plan.anchors[0].id, load_knot="figure-eight-loop",
        load_connector="steel",
    )  # fmt: skip
    return plan.model_copy(update={"lines": [line], "ropes": [*plan.ropes, planned_rope(plan, own)]})


def planned_rope(plan: Plan, id: str) -> Rope:
    """The rope of a line that is only planned: of the first one's kind, as wet as the day."""
    kind = plan.ropes[0].kind if plan.ropes else next(iter(catalogue().ropes))
    return Rope(id=id, kind=kind, length_m=2000, state=plan.day.state)
