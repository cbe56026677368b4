"""Setting up: anchors, edges and ropes as the plan has them, each for whoever minds it afterwards, and what must be there before it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.document import Anchor, Plan
from rigging.document.site import Edge
from rigging.judging.pulls import lines_on
from rigging.procedures.minutes import building
from rigging.procedures.operation import Task
from rigging.procedures.run import ProcedureGiven, StepGiven


def setting_up(plan: Plan) -> tuple[ProcedureGiven, tuple[Task, ...]]:
    """The steps of the set-up, and the piece of work that each is."""
    rows = [*_anchors(plan), *_edges(plan), *_ropes(plan)]
    steps = [step.model_copy(update={"who": [task.minds]}) for step, task in rows]
    given = ProcedureGiven(id="set-up", name="Set up", begins="ground", steps=steps)
    return given, tuple(task for _, task in rows)


def _anchors(plan: Plan) -> Iterator[tuple[StepGiven, Task]]:
    for one in plan.anchors:
        built = StepGiven(
            who=[], do=f"{one.name} built.", look="As drawn on the Anchors stage; every leg bears.", takes=building(plan, one),
        )  # fmt: skip
        yield built, Task(f"anchor:{one.id}", _minds(plan, one))


def _minds(plan: Plan, anchor: Anchor) -> str:
    """Who builds an anchor: the role that works at it afterwards."""
    roles = {line.role for line in plan.lines if line.anchor == anchor.id}
    if "main" in roles:
        return "main"
    if "belay" in roles:
        return "belay"
    if any(anchor.id == one.tied_to and one.role == "edge" for one in plan.team.people):
        return "edge"
    return "ratchet" if any(line.anchor != anchor.id for line in lines_on(plan, anchor.id)) else "other"


def _edges(plan: Plan) -> Iterator[tuple[StepGiven, Task]]:
    there = {one.id for one in plan.anchors}
    tied = {one.tied_to for one in plan.team.people if one.role == "edge"}
    # Nobody goes to the lip before what they are tied to is there.
    after = tuple(f"anchor:{id}" for id in sorted(id for id in tied if id in there))
    for number, edge in enumerate(plan.site.edges):
        yield _laid(edge), Task(f"edge:{number}", "edge", after)


def _laid(edge: Edge) -> StepGiven:
    look = "Tied in before going near."
    if edge.protection:
        return StepGiven(who=[], do=f"{edge.name}: protection laid and tied back.", look=look, takes="edge")
    return StepGiven(who=[], do=f"{edge.name}: looked at, bare.", look=look, takes="edge-looked-at")


def _ropes(plan: Plan) -> Iterator[tuple[StepGiven, Task]]:
    for rope in plan.ropes:
        lines = [line for line in plan.lines if line.rope == rope.id]
        minds = "belay" if any(line.role == "belay" for line in lines) else "main"
        stacked = StepGiven(
            who=[], do=f"Rope {rope.id} stacked, its end tied off.", look="Age and sheath looked at.", takes="rope",
        )  # fmt: skip
        # Its device hangs on the anchor.
        yield stacked, Task(f"rope:{rope.id}", minds, tuple(f"anchor:{line.anchor}" for line in lines))
