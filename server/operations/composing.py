"""The operation that a plan, the team and this run make together: its steps in order, and what became of a procedure changed."""

import json
from collections.abc import Callable, Iterator
from contextlib import suppress
from datetime import datetime
from functools import lru_cache
from typing import Any

from core import engine
from core.answers import Answers
from plans.models import Plan, Revision
from pydantic import ValidationError
from storing.canonical import canonical, sha256
from storing.writing import writing

from operations.composed import Composed, compose
from operations.models import LogEntry, Run, TeamProcedure
from rigging.document import Plan as Document
from rigging.procedures.begin import Ground
from rigging.procedures.operation import Planned
from rigging.procedures.run import ProcedureGiven, known, walked
from rigging.procedures.state import State
from rigging.quantities.faults import Refused, faults_of, refuse
from rigging.quantities.units import Wording
from rigging.telling.work.operation import StepReport, Teller

# Operations made, by what they are made of: whoever asks for one that is being made waits for it.
made: Answers[Composed] = Answers(32, lambda _: 1)


@lru_cache(maxsize=64)
def _said(document: str) -> str:
    """A document without what no operation speaks of: plans that differ in that alone have the same one."""
    return canonical(json.loads(document) | {"title": "unsaid", "place": ""})


def _composed(document: str, given: dict[str, Any]) -> Composed:
    brought = canonical(given)
    return made.of(sha256(f"{len(document)} {document}{brought}"), lambda: engine.ask(compose, document, brought))


def own_of(plan: Plan, run: Run | None) -> dict[str, Any]:
    """What the team, and this run of it, have in place of procedures that ship."""
    team = {one.procedure: one.given for one in TeamProcedure.objects.filter(team_id=plan.team_id)}
    return team | (run.own if run else {})


def brought_by(plan: Plan, run: Run | None) -> dict[str, Any]:
    """What an operation is composed of beside its document: procedures of the team's own, and what was found otherwise in its run."""
    rows = run.otherwise if run else []
    said = [{"at": one["at"], "edits": one["edits"], "done": one["done"]} for one in rows]
    return {"own": own_of(plan, run), "otherwise": said}


def composed_of(plan: Plan, revision: Revision, run: Run | None) -> Composed:
    """The operation of a revision, with the team's own procedures and what its run was found to be."""
    return _composed(_said(revision.document), brought_by(plan, run))


def composed_ahead(
    plan: Plan, document: Document | None = None, own: dict[str, Any] | None = None, otherwise: list[Any] | None = None
) -> None:
    """The operations that will be asked for, worked out before anybody waits in the writer's turn: of the run or plan as it is, on a
    document that is about to be saved, with procedures that are about to take the place of others, and with what is about to be said of the rig."""
    going, revision = under_way(plan)
    if document is not None and going is None:
        return
    texts = [revision.document] + ([canonical(document.model_dump(mode="json"))] if document else [])
    there = brought_by(plan, going)
    brought = [there]
    if own:
        brought.append(there | {"own": there["own"] | own})
    if otherwise is not None:
        brought.append(there | {"otherwise": otherwise})
    for text in texts:
        for given in brought:
            # What can not be composed is said where it is asked for.
            with suppress(Refused, ValidationError):
                _composed(_said(text), given)


def planned_now(plan: Plan, run: Run) -> Planned:
    """The step that a run is at."""
    return composed_of(plan, run.revision, run).planned(run.at)


def current(plan: Plan) -> Run | None:
    """The run that is under way, or the last that was."""
    runs = plan.runs.select_related("revision")
    return runs.exclude(status=Run.Status.ENDED).first() or runs.order_by("-begun_at").first()


def begun(plan: Plan) -> Run:
    """The run that is under way, or the last that was.

    Raises
    ------
    Refused
        If none has been begun.
    """
    run = current(plan)
    if run is None:
        raise refuse("run", "no run has been begun", "begin one on the Run stage")
    return run


def under_way(plan: Plan) -> tuple[Run | None, Revision]:
    """The run that goes on, if one does, and the revision that everything stands on now."""
    run = current(plan)
    going = run if run and run.status != Run.Status.ENDED else None
    return going, going.revision if going else plan.latest


def standing(plan: Plan, run: Run) -> Callable[[datetime], Revision]:
    """The revision that the run stood on when a step was done; one that it could not go on on is never it."""
    kinds = (LogEntry.Kind.STEP, LogEntry.Kind.CONFLICT)
    entries = plan.log.filter(kind__in=kinds, time__gte=run.begun_at).select_related("revision").order_by("sequence")
    rows = [(one.time, one.revision) for one in entries]
    return lambda at: next((revision for time, revision in rows if time >= at), run.revision)


def counted(run: Run, made: Composed, key: str, by: str, at: str) -> None:
    """A step that was done: by whom and when; hauls, resets, metres in and out; what was accepted."""
    planned = made.planned(key)
    counts = dict(run.counts)
    verbs = [one.edit.verb for one in planned.step.made if one.asked]
    hauls = verbs.count("haul") if planned.key.partition(":")[0] == "raise" else 0
    for name, more in (
        ("hauls", hauls),
        ("resets", verbs.count("reset")),
        ("in_m", planned.up_m),
        ("out_m", planned.down_m),
    ):
        counts[name] = counts.get(name, 0) + more
    alone = list(made.step(key).holds.alone)
    if alone and not planned.step.after.state.grounded:
        counts["accepted"] = [*counts.get("accepted", []), alone]
    run.counts = counts
    run.done = [*run.done, {"key": key, "by": by, "at": at}]


def own_procedure(plan: Plan, given: ProcedureGiven, user: Any) -> None:
    """A procedure kept as the team's own.

    Raises
    ------
    Refused
        If a step of it would be refused on this plan that was not before.
    """
    row = {"given": given.model_dump(mode="json"), "saved_by": user}
    before, there = composed_of(plan, plan.latest, None), brought_by(plan, None)
    after = there | {"own": there["own"] | {given.id: row["given"]}}
    worst = worse(before, _composed(_said(plan.latest.document), after))
    if worst:
        raise refuse("steps", worst, "put the steps in an order that holds")
    with writing():
        TeamProcedure.objects.update_or_create(team_id=plan.team_id, procedure=given.id, defaults=row)


def checked(given: Any) -> ProcedureGiven:
    """A procedure as somebody made it.

    Raises
    ------
    Refused
        If it is none; each fault by its field.
    """
    try:
        return ProcedureGiven.model_validate(given)
    except ValidationError as error:
        raise Refused(faults_of(error)) from error


def worse(before: Composed, after: Composed) -> str | None:
    return next((said for _, said in newly_refused(before, after)), None)


def newly_refused(before: Composed, after: Composed, at: str = "") -> Iterator[tuple[StepReport, str]]:
    """What is refused in an operation that was not before, each with its step; from a step on."""
    known_faults = {said for one in before.report.steps for said in one.refused}
    rows = after.report.steps[after.index(at) :]
    return ((one, said) for one in rows for said in one.refused if said not in known_faults)


def same_step(made: Composed, step: StepReport) -> str:
    """Where a step is now: by its words within its section, else its key, else the section's first."""
    rows = [one for one in made.report.steps if one.section == step.section]
    found = next((one.key for one in rows if one.do == step.do), None)
    return found or (step.key if step.key in made.order else rows[0].key if rows else made.order[0])


def contingency_steps(plan: Plan, run: Run) -> list[StepReport]:
    """The steps of the contingency under way, from the rig as the step now finds it."""
    if not run.contingency:
        return []
    made, id, at = composed_of(plan, run.revision, run), run.contingency["id"], run.at
    return made.once(
        ("contingency", id, at), lambda: _from_here(made.section(at).there, id, made.planned(at).step.after.state)
    )


def _from_here(document: Document, id: str, state: State) -> list[StepReport]:
    teller = Teller(document, Wording())
    return [
        teller.alone(step, f"{id}/{n}", id)
        for n, step in enumerate(walked(Ground(document), known()[id], state).steps, start=1)
    ]
