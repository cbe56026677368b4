"""What becomes of a run when its plan changes: saved by somebody, or by what is done instead of a section being entered."""

import uuid
from contextlib import suppress
from typing import Any

from plans.models import Plan, Revision
from plans.services import save_revision
from storing import clock
from storing.writing import writing

from operations.acts import Act, Said
from operations.composed import Composed
from operations.composing import composed_of, current, same_step
from operations.models import LogEntry, Run
from operations.services import append
from rigging.document import Plan as Document
from rigging.procedures.course import entered
from rigging.quantities.faults import Refused, refuse


def follow_plan(plan: Plan, revision: Revision, user: Any) -> None:
    """A plan saved while it is run: the run goes on on the new revision, and says what became impossible."""
    with writing():
        run = plan.runs.exclude(status=Run.Status.ENDED).select_related("revision").first()
        if run is None or run.revision_id == revision.pk:
            return
        before = composed_of(plan, run.revision, run)
        here = before.step(run.at)
        try:
            after = composed_of(plan, revision, run)
        except Refused as refused:
            # The run stays on the plan that it can be composed from, and says why.
            run.changed = f"revision {revision.number}: {'; '.join(fault.problem for fault in refused.faults)}"
            run.version += 1
            run.save()
            return
        run.revision = revision
        run.at = same_step(after, here) if here.section in after.sections else _next_undone(run, after)
        index = after.index(run.at)
        gone = [one for one in after.report.steps[index:] if one.refused]
        lost = [one.name for one in before.report.sections if one.id not in after.sections]
        told = [f"{one.do} {one.refused[0]}" for one in gone[:3]] + [f"no longer there: {name}" for name in lost[:3]]
        run.changed = "; ".join(told)
        run.version += 1
        run.save()
        said = f"Run goes on on revision {revision.number}" + (f"; now impossible: {run.changed}" if told else "")
        append(
            plan,
            user,
            id=uuid.uuid5(run.id, str(revision.number)),
            revision=revision,
            kind=LogEntry.Kind.PLAN,
            decision=said,
            step=run.at,
        )


def _next_undone(run: Run, made: Composed) -> str:
    """Where a run goes on whose section is no longer there: after the last that was done and still is."""
    done = [one["key"] for one in run.done if one["key"] in made.order]
    return made.after(done[-1]) if done else made.order[0]


def entered_ahead(plan: Plan, act: Act) -> Document | None:
    """The plan as it will be once what is done instead of a section is entered."""
    going = current(plan)
    if act.act != "enter" or going is None:
        return None
    with suppress(Refused):
        return _with_branch(plan, going, act)[0]
    return None


def _with_branch(plan: Plan, run: Run, act: Act) -> tuple[Document, int]:
    document = Document.model_validate_json(run.revision.document)
    made = composed_of(plan, run.revision, run)
    return entered(document, made.operation, str((act.data or {}).get("branch", "")))


def enter(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """What is done instead of a section that does not come: the plan has it in its place from now on, and the run goes on at its first step."""
    if plan.latest.number != run.revision.number:
        raise refuse("act", "the plan was saved since, and the run could not follow it", "mend the plan first")
    left = composed_of(plan, run.revision, run).section(run.at)
    document, place = _with_branch(plan, run, act)
    if left.place != place:
        raise refuse("act", "its section is not the one now", "go on to there first")
    save_revision(plan, user, document, run.revision.number, uuid.uuid5(act.id, "entered"))
    run.refresh_from_db()
    after = composed_of(plan, run.revision, run)
    section = next(one for one in after.operation.sections if one.place == place)
    run.at, run.since, run.changed = section.steps[0].key, clock.now(), ""
    return LogEntry.Kind.CONTINGENCY, f"{section.name}, instead of: {left.name}", {"branch": section.id}
