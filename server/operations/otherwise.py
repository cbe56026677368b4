"""The rig said as it is at the step that is now: found otherwise than the plan has it, or something done besides."""

from contextlib import suppress
from dataclasses import replace
from typing import Any

from plans.models import Plan
from pydantic import ValidationError
from storing import clock

from operations.acts import Act, Said
from operations.composed import Composed
from operations.composing import brought_by, composed_of, current, newly_refused, same_step
from operations.models import LogEntry, Run
from rigging.procedures.otherwise import Otherwise, found
from rigging.procedures.run import edit_of
from rigging.quantities.faults import Refused, faults_of, refuse
from rigging.quantities.units import Wording
from rigging.telling.words.otherwise import said
from rigging.telling.work.operation import Teller
from rigging.telling.work.otherwise import step_of

# So many things of one run's rig are kept; past them its plan is another.
_MOST = 200


def otherwise_ahead(plan: Plan, act: Act) -> list[dict[str, Any]] | None:
    """What will be known of a run's rig once an act has said it."""
    going, data = current(plan), act.data or {}
    if going is None or going.status == Run.Status.ENDED:
        return None
    said = None
    if act.act == "otherwise":
        with suppress(Refused):
            said = _given(act, going.at).model_dump(mode="json")
    elif act.act == "done" and data.get("anyway"):
        with suppress(Refused):
            made = composed_of(plan, going.revision, going)
            said = as_taken(made, act.at or going.at, made.after(going.at))
    return None if said is None else [*brought_by(plan, going)["otherwise"], said]


def as_taken(made: Composed, key: str, at: str) -> dict[str, Any] | None:
    """How the rig lies at a step, once one before it that does not go as planned was done all the same: as its edits would have left it, where that can
    be; None where that says nothing."""
    _, planned = step_of(made.operation, key)
    left, edits = planned.step.after, list[dict[str, Any]]()
    for one in planned.step.made:
        if one.asked is None:
            with suppress(Refused):
                left = found(left, Otherwise(at=at, edits=[one.edit.row]))
                edits.append(one.edit.row)
    return {"at": at, "edits": edits, "done": False} if edits else None


def keep(run: Run, said: dict[str, Any], user: Any, why: str) -> None:
    """What is known of a run's rig, with who said it, and why."""
    told = {"by": user.get_username(), "why": why, "when": clock.now().isoformat()}
    run.otherwise = [*run.otherwise, said | told]


def say_otherwise(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """How the rig lies before the step that is now: the steps go on from there.

    Raises
    ------
    Refused
        If it is no way in which it could lie, or no reason is given.
    """
    made = composed_of(plan, run.revision, run)
    if run.contingency:
        raise refuse("act", "a contingency is under way", "go through it, or leave it, first")
    if not act.text.strip():
        raise refuse("text", "no reason is given", "say in a few words what you see")
    if len(run.otherwise) >= _MOST:
        raise refuse("act", f"{_MOST} things have been said of this rig", "put the plan right, or end the run")
    section, planned = step_of(made.operation, run.at)
    given = _given(act, run.at)
    try:
        found(planned.step.found, given)
    except Refused as refused:
        raise refuse("data.edits", refused.faults[0].problem, refused.faults[0].right) from refused
    teller, state = Teller(section.there, Wording()), planned.step.found.state
    words = said(teller.part, state, [edit_of(row, {}) for row in given.edits])
    keep(run, given.model_dump(mode="json"), user, act.text.strip())
    here = made.step(run.at)
    after = composed_of(plan, run.revision, run)
    run.at = same_step(after, here)
    what = "Done besides" if given.done else "The rig is otherwise"
    return (
        LogEntry.Kind.RUN,
        f"{what}: {words}{_now_impossible(made, after, run.at)}",
        {"otherwise": given.model_dump(mode="json")},
    )


def _given(act: Act, at: str) -> Otherwise:
    data = act.data or {}
    try:
        return Otherwise.model_validate({"at": at, "edits": data.get("edits"), "done": data.get("done", False)})
    except ValidationError as error:
        raise Refused([replace(one, path=f"data.{one.path}") for one in faults_of(error)]) from error


def _now_impossible(before: Composed, after: Composed, at: str) -> str:
    """What can not be done any more as the rig is, in words."""
    gone = next((f"{one.do} {text}" for one, text in newly_refused(before, after, at)), "")
    return f"; now impossible: {gone}" if gone else ""
