"""What an operation consists of, in order: as its leader arranged it, or as is usual for what the plan is; and what may follow what."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from rigging.document import Instead, Plan, SectionGiven
from rigging.procedures.begin import MOMENTS
from rigging.procedures.operation import Operation, Section
from rigging.procedures.run import ProcedureGiven, StepGiven, known
from rigging.quantities.faults import refuse

# What begins with a rig finds it, too, where another was left that has all of it.
_ALSO: Mapping[str, Collection[str]] = {
    "lowering": {"held"},
    "raising": {"held", "between-hauls", "lifting"},
    "lifting": {"held", "raising"},
    "ground": {"lifting"},
}
CHECKED = ProcedureGiven(
    id="check", name="Check", takes="check",
    steps=[StepGiven(who=["leader"], do="Check gone through and signed by a second person.", look="Every line answered, on the Check stage.", words="ready")],
)  # fmt: skip
EDGE = ProcedureGiven(
    id="edge", name="Over the edge", begins="between-hauls", takes="over-edge",
    steps=[
        StepGiven(who=["edge"], do="Load to the edge: ratchet set, everybody there tied in.", look="Own lines short of the lip.", words="set"),
        StepGiven(who=["edge", "attendant"], do="Over the edge: pad, litter lifted, small pulls on the word.", look="Feet, fingers, rope out of the lip.", words="up slow"),
        StepGiven(who=["edge"], do="Load in, away from the edge, held by hand before anything is let off.", look="Nobody unclips at the lip.", words="clear"),
    ],
)  # fmt: skip
STRUCK = ProcedureGiven(
    id="derig", name="Struck", begins="ground", takes="struck",
    steps=[
        StepGiven(who=["main"], do="Ropes in; anchors struck, the people's own last.", look="Nobody near the edge untied."),
        StepGiven(who=["leader"], do="Gear counted; what was shocked, cut or muddy set aside.", look="Sling by sling, with the list."),
    ],
)  # fmt: skip
SET_UP = "set-up"
# Sections that are not kept as procedures: what is set up is the plan's.
PLACED = {one.id: one for one in (CHECKED, EDGE, STRUCK)}
LOWERS_ON = "lower-on"


def down_on(lower: ProcedureGiven) -> ProcedureGiven:
    """A lower from the step on that lets the load down: as it goes on past a join, or from where the load hangs."""
    down = (n for n, one in enumerate(lower.steps) if any("lower" in edit for edit in one.edits))
    steps = lower.steps[next(down, 0) :]
    return lower.model_copy(
        update={"id": LOWERS_ON, "name": "Lower on", "begins": "lowering", "leaves": "lowering", "steps": steps}
    )


def usual(plan: Plan, lowers: bool, raises: bool) -> list[SectionGiven]:
    """The sections of an operation that nobody arranged, for where it begins and what the plan does."""
    begins = plan.operation.begins
    if begins == "arrested":
        first = "after-arrest-alone" if alone(plan) else "after-arrest"
        six = Instead(when="it does not come", procedure="drop-six")
        return [_one(first), SectionGiven(procedure="drop-haul", instead=[six]), _one("drop-lip"), _one("derig")]
    if begins == "belayed":
        return [_one("escape-belay"), _one("back-into-belay")]
    if begins == "tension-line":
        return [_one(id) for id in (SET_UP, "check", "tension-line", "traverse", "let-off", "derig")]
    edges = bool(plan.site.edges)
    from_ground = begins == "ground"
    found = [SET_UP] if from_ground else []
    found.append("check")
    if lowers and (from_ground or not raises):
        found += ["lower", "secure"] if from_ground else [LOWERS_ON, "secure"]
    if lowers and raises:
        found.append("change-over")
    if raises and not lowers and not edges and from_ground:
        found.append("straight-lift")
    if raises:
        found += ["raise", "edge"] if edges else ["raise"]
    return [_one(id) for id in (*found, "derig")]


def arranged(plan: Plan, operation: Operation) -> list[SectionGiven]:
    """An operation's sections as they could be arranged by hand: as the leader put them, else as they are composed."""
    if plan.operation.sections is not None:
        return plan.operation.sections
    places: dict[int, list[Section]] = {}
    for one in operation.sections:
        places.setdefault(one.place, []).append(one)
    return [
        SectionGiven(
            procedure=rows[0].procedure,
            instead=[Instead(when=one.when, procedure=one.section.procedure) for one in rows[-1].instead],
        )
        for rows in places.values()
    ]


def entered(plan: Plan, operation: Operation, branch: str) -> tuple[Plan, int]:
    """The plan with what is done instead in the place of its section, and which place that is.

    Raises
    ------
    Refused
        If there is no such branch, or it can not be done from where it is entered.
    """
    found = next(((one, way) for one in operation.sections for way in one.instead if way.id == branch), None)
    if found is None:
        known_ids = [way.id for one in operation.sections for way in one.instead]
        raise refuse(
            "data.branch", f"there is no {branch!r} in this operation", f"one of {', '.join(known_ids) or 'none'}"
        )
    section, way = found
    if way.section.unmade is not None:
        raise refuse(
            "data.branch", f"{way.section.name} can not be done from here", "choose what fits, or take a step over"
        )
    rows = [*arranged(plan, operation)]
    rows[section.place] = SectionGiven(procedure=way.section.procedure)
    course = plan.operation.model_copy(update={"sections": rows})
    return plan.model_copy(update={"operation": course}), section.place


def alone(plan: Plan) -> bool:
    """Whether nobody is there but one."""
    return max(len(plan.team.people), plan.team.haulers) <= 1


def by_one(given: ProcedureGiven) -> ProcedureGiven:
    """A procedure of a rope team as it is done by the arrester alone."""
    steps = [
        one.model_copy(update={"who": _one_of(one.who), "edits": [_by_one(edit) for edit in one.edits]})
        for one in given.steps
    ]
    return given.model_copy(update={"steps": steps})


def _one_of(who: list[str]) -> list[str]:
    return list(dict.fromkeys("arrester" if one == "second" else one for one in who))


def _by_one(edit: dict[str, Any]) -> dict[str, Any]:
    return {verb: "arrester" if part == "second" else part for verb, part in edit.items()}


def first_rig(plan: Plan, lowers: bool) -> str:
    """The rig that an operation finds."""
    begins = plan.operation.begins
    if begins == "tension-line":
        return "ground"
    return begins if begins != "hanging" else "lowering" if lowers else "raising"


def follows(given: ProcedureGiven, left: str) -> bool:
    """Whether a procedure finds its rig where another was left. What is struck has been let off before, whatever it was."""
    return not given.begins or given.begins == left or given.id == STRUCK.id or given.begins in _ALSO.get(left, ())


def goes_on(given: ProcedureGiven, left: str) -> bool:
    """Whether a procedure begins with the very rig that was left, and not with a moment of the plan."""
    return not given.begins or (given.begins == left and left not in MOMENTS)


def leaves(given: ProcedureGiven, found: str) -> str:
    """The rig that a procedure leaves where it found one."""
    ships = known().get(given.id)
    # A team's own leaves what the one in whose place it stands does, where it says nothing else.
    return given.leaves or (ships.leaves if ships else "") or (found if not given.begins else given.begins)


def fitting(rig: str, own: Mapping[str, ProcedureGiven]) -> list[ProcedureGiven]:
    """Every procedure that may begin with a rig, those of the plan's own set-up and striking apart."""
    there = {**known(), **PLACED, **own}
    return [one for one in there.values() if one.kind == "procedure" and follows(one, rig)]


def _one(procedure: str) -> SectionGiven:
    return SectionGiven(procedure=procedure)
