"""The run: a state machine kept in the database. Every act moves it and writes its own entry, both or neither; sent again, it is
answered as it then stands."""

import json
from contextlib import suppress
from functools import partial
from typing import Any

from accounts.models import Role
from accounts.permissions import role_of
from django.db import transaction
from ninja.errors import HttpError
from plans.models import Plan
from storing import clock
from storing.canonical import canonical
from storing.writing import writing

from operations import conflicts, live
from operations.acts import Act, Moved, Said
from operations.before import before
from operations.composed import Composed
from operations.composing import (
    checked,
    composed_ahead,
    composed_of,
    contingency_steps,
    counted,
    current,
    same_step,
    worse,
)
from operations.following import enter, entered_ahead
from operations.models import LogEntry, Run
from operations.otherwise import as_taken, keep, otherwise_ahead, say_otherwise
from operations.paces import took
from operations.services import append
from rigging.document import Plan as Document
from rigging.procedures.begin import Ground
from rigging.procedures.run import given_of, known, walked
from rigging.quantities.faults import Refused, refuse
from rigging.telling.work.operation import StepReport

# A guarded or temporary anchor that nobody has looked at for this long is said.
LOOK_EVERY_S = 600


# Who may do what; whoever stands there may stop it.
_MAY: dict[str, tuple[Role, ...]] = {
    "begin": (Role.LEADER,), "done": (Role.LEADER, Role.MEMBER), "back": (Role.LEADER,), "skip": (Role.LEADER,), "go": (Role.LEADER,), "end": (Role.LEADER,),
    "stop": (Role.LEADER, Role.MEMBER, Role.OBSERVER), "why": (Role.LEADER, Role.MEMBER, Role.OBSERVER), "contingency": (Role.LEADER, Role.MEMBER), "return": (Role.LEADER, Role.MEMBER), "here": (Role.LEADER, Role.MEMBER),
    "relieve": (Role.LEADER, Role.MEMBER), "look": (Role.LEADER, Role.MEMBER), "reading": (Role.LEADER, Role.MEMBER), "procedure": (Role.LEADER,), "enter": (Role.LEADER,), "otherwise": (Role.LEADER,), "settle": (Role.LEADER,),
}  # fmt: skip


def act_on(plan: Plan, user: Any, act: Act) -> Run:
    """One act done, kept and written.

    Raises
    ------
    Refused
        If it does not go; the reason names what would.
    Moved
        If it is about a step that is no longer now.
    """
    if role_of(user, plan.team) not in _MAY[act.act]:
        who = "the leader" if _MAY[act.act] == (Role.LEADER,) else "a member or the leader"
        raise HttpError(403, f"{who} does that; anybody may stop")
    if act.act != "stop":
        composed_ahead(plan, document=entered_ahead(plan, act), own=_brought(act), otherwise=otherwise_ahead(plan, act))
        _worked_out_ahead(plan, act)
    with writing():
        run = current(plan)
        sent = LogEntry.objects.filter(id=act.id).first()
        if sent is not None and run is not None and _is_of(sent, plan, user):
            return run
        if act.act == "begin":
            run = _begun(plan, run, act)
        if run is None or run.status == Run.Status.ENDED:
            raise refuse("act", "no run is under way", "begin one first")
        # An entry stands at the step that it is about, not at the one that comes after.
        here, stood = _about(plan, run, act), stop_told(run)
        try:
            said = _DO.get(act.act, _nothing)(plan, run, user, act)
        except (Moved, Refused) as against:
            if not act.kept:
                raise
            said = conflicts.kept(composed_of(plan, run.revision, run), run, user, act, against)
        stopped = stop_told(run)
        run.version += 1
        run.save()
        if stopped != stood:
            # Told from here, at once: nothing is read, composed or waited for.
            transaction.on_commit(partial(live.say, plan.id, "stopped", stopped, everywhere=True))
        kind, decision, data = said
        append(
            plan, user, id=act.id, revision=run.revision, kind=kind, decision=decision, reason=act.text if act.act != "reading" else "",
            step=here, data=canonical(data) if data else "", device_time=act.device_time, device_ahead_ms=act.device_ahead_ms,
        )  # fmt: skip
        return run


def _about(plan: Plan, run: Run, act: Act) -> str:
    """The step that an act is about: the one that is now, or one beside it."""
    if act.act != "done" or act.at == run.at or not act.at:
        return run.at
    return act.at if act.at in beside(run, composed_of(plan, run.revision, run)) else run.at


# What an entry of an act is; an observation may be one too.
_OF_ACTS = {
    LogEntry.Kind.RUN, LogEntry.Kind.STEP, LogEntry.Kind.STOP, LogEntry.Kind.GO, LogEntry.Kind.CONTINGENCY, LogEntry.Kind.HERE,
    LogEntry.Kind.OBSERVATION, LogEntry.Kind.READING, LogEntry.Kind.CONFLICT,
}  # fmt: skip


def _is_of(sent: LogEntry, plan: Plan, user: Any) -> bool:
    """Whether an entry that is there is the same person's act on the same plan, sent before."""
    return (sent.plan_id, sent.author_id) == (plan.pk, user.pk) and sent.kind in _OF_ACTS


def stop_told(run: Run) -> str:
    """Who has called stop on a run, or that it goes on, as it is told to every device: `stopped` null where it goes on."""
    stopped = run.stopped if run.status == Run.Status.STOPPED else None
    title = json.loads(run.revision.document)["title"]
    return canonical({"plan": str(run.plan_id), "title": title, "run": str(run.pk), "stopped": stopped})


def _worked_out_ahead(plan: Plan, act: Act) -> None:
    """What an act will ask of the engine, before anybody waits in the writer's turn."""
    run = current(plan)
    if act.act == "begin":
        before(plan, plan.latest)
    if run is None or run.status == Run.Status.ENDED:
        return
    with suppress(Refused):
        made = composed_of(plan, run.revision, run)
        # Read from how it came out of another process.
        made.step(run.at), made.planned(run.at)
        if act.act == "skip":
            _missed(made, run.at)
        contingency_steps(plan, run)


def _brought(act: Act) -> dict[str, Any] | None:
    """The procedure that an act puts in place of another."""
    if act.act != "procedure":
        return None
    with suppress(Refused):
        given = checked((act.data or {}).get("given"))
        return {given.id: given.model_dump(mode="json")}
    return None


def _begun(plan: Plan, run: Run | None, act: Act) -> Run:
    if run is not None and run.status != Run.Status.ENDED:
        raise refuse("act", "a run is under way already", "go on with it, or end it first")
    latest, now = plan.latest, clock.now()
    made = composed_of(plan, latest, None)
    at = str((act.data or {}).get("from") or made.order[0])
    if at not in made.order:
        raise refuse(
            "data.from", f"there is no step {at!r} in the operation", "begin at one that is there, or at the first"
        )
    if at != made.order[0] and not act.text.strip():
        raise refuse(
            "text", "it begins in the middle, and no reason is given", "say in a few words what stands already"
        )
    still = before(plan, latest)
    if still.text and not act.text.strip():
        raise refuse(
            "text",
            f"{still.text}, and no reason is given",
            "mend, accept and sign it, or say in a few words why it begins so",
        )
    return Run(
        id=act.id,
        plan=plan,
        revision=latest,
        begun_at=now,
        since=now,
        at=at,
        counts={"hauls": 0, "resets": 0, "in_m": 0.0, "out_m": 0.0},
    )


def _begin(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    made = composed_of(plan, run.revision, run)
    middle = f", at: {_plain(made.step(run.at).do)}" if run.at != made.order[0] else ""
    still = before(plan, run.revision)
    said = f"Run begun on revision {run.revision.number}{middle}{', with ' if still.text else ''}{still.text}"
    return LogEntry.Kind.RUN, said, still.data()


def _going(run: Run) -> None:
    if run.status == Run.Status.STOPPED:
        who = (run.stopped or {}).get("by", "somebody")
        raise refuse("act", f"{who} called stop", "the leader says go on first")


def _now(run: Run, act: Act) -> None:
    if act.at and act.at != run.at:
        raise Moved(run)


def _done(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """The step now is done, and the next one is; within a contingency, its own steps."""
    _going(run)
    if run.contingency:
        return _done_contingency(plan, run, act)
    made = composed_of(plan, run.revision, run)
    if act.at not in beside(run, made):
        _now(run, act)
    key = act.at or run.at
    step = made.step(key)
    _undone(run, made)
    over = _taken_over(plan, user, act) if step.refused else ""
    if step.refused and not over:
        raise refuse(
            "act", step.refused[0], "mend the plan, skip the step, change the procedure, or take it over with a reason"
        )
    grounded = made.planned(key).step.after.state.grounded
    if step.holds.alone and not grounded and not act.text and _first(run, step):
        raise refuse(
            "text",
            f"it hangs on one thing: {', '.join(step.holds.alone)}",
            "accept it with a reason, or put something behind it",
        )
    said = f"Done{over}: {_plain(step.do)}"
    measured = took(run, made.planned(key)) if key == run.at else {}
    counted(run, made, key, user.get_username(), clock.now().isoformat())
    if key == run.at:
        run.at, run.since = _onward(run, made), clock.now()
    if over and (lies := as_taken(made, key, run.at)):
        keep(run, lies, user, act.text)
    held = measured | {"key": step.key, "holds": step.holds.on_text, "behind": step.holds.behind_text}
    return LogEntry.Kind.STEP, said, held | ({"over": step.refused[0]} if over else {})


def beside(run: Run, made: Composed) -> list[str]:
    """Steps that can be done beside the one that is now: those of the set-up whose pieces are there already."""
    done = {one["key"] for one in run.done}
    if run.at not in made.waits:
        return []
    rows = made.waits.items()
    return [key for key, after in rows if key != run.at and key not in done and all(one in done for one in after)]


def done_ahead(run: Run, made: Composed) -> list[str]:
    """Steps of the set-up that are done already, further on than the one that is now."""
    done = {one["key"] for one in run.done}
    return [key for key in made.waits if key in done and made.index(key) > made.index(run.at)]


def _onward(run: Run, made: Composed) -> str:
    """The next step that is not done yet by somebody else, beside."""
    at = made.after(run.at)
    ahead = done_ahead(run, made)
    while at in ahead and at != made.order[-1]:
        at = made.after(at)
    return at


def all_done(run: Run, made: Composed) -> bool:
    """Whether the last step is done: the run stands there until it is ended."""
    return run.at == made.order[-1] and any(one["key"] == run.at for one in run.done)


def _undone(run: Run, made: Composed) -> None:
    if all_done(run, made):
        raise refuse("act", "everything is done", "end the run, or go back")


def _taken_over(plan: Plan, user: Any, act: Act) -> str:
    """In words, that the leader goes on by name although the plan has it that a step does not go; empty where nobody says so.

    Raises
    ------
    Refused
        If it is said without a reason.
    """
    if not (act.data or {}).get("anyway") or role_of(user, plan.team) != Role.LEADER:
        return ""
    if not act.text.strip():
        raise refuse("text", "no reason is given", "say in a few words why it can be done here")
    return f", taken over by {user.get_username()}"


def _plain(text: str) -> str:
    return text.rstrip(".")


def _first(run: Run, step: StepReport) -> bool:
    """Whether nobody has accepted yet that it hangs on just these."""
    return tuple(step.holds.alone) not in {tuple(one) for one in run.counts.get("accepted", [])}


def _done_contingency(plan: Plan, run: Run, act: Act) -> Said:
    entered: dict[str, Any] = run.contingency or {}
    given = known()[entered["id"]]
    place = int(entered["place"])
    if act.at and act.at != f"{given.id}/{place + 1}":
        raise Moved(run)
    steps = contingency_steps(plan, run)
    if place + 1 >= len(steps):
        run.contingency = None
        return LogEntry.Kind.CONTINGENCY, f"{given.name}: done, back to the step", {"id": given.id}
    run.contingency = {**entered, "place": place + 1}
    return LogEntry.Kind.STEP, f"{given.name}, done: {_plain(steps[place].do)}", {"id": given.id}


def _back(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    _now(run, act)
    made = composed_of(plan, run.revision, run)
    index = made.index(run.at)
    if index == 0:
        raise refuse("act", "this is the first step", "go on from here")
    run.at, run.since = made.order[index - 1], clock.now()
    return LogEntry.Kind.STEP, f"Back to: {_plain(made.step(run.at).do)}", {"key": run.at}


def _skip(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """The step left out, where what comes after it in its procedure still goes."""
    _going(run)
    _now(run, act)
    made = composed_of(plan, run.revision, run)
    step = made.step(run.at)
    _undone(run, made)
    over, why = "", _missed(made, step.key)
    if why is not None and not (over := _taken_over(plan, user, act)):
        raise refuse("act", f"without it: {why}", "do it, change the order, or take it over with a reason")
    run.at, run.since = made.after(run.at), clock.now()
    return LogEntry.Kind.STEP, f"Skipped{over}: {_plain(step.do)}", {"key": step.key} | ({"over": why} if over else {})


def _missed(made: Composed, key: str) -> str | None:
    """What would be refused later in its procedure if a step were left out."""
    return made.once(("without", key), lambda: _without(made, key))


def _without(made: Composed, key: str) -> str | None:
    section = made.section(key)
    kept = [one.step.given for one in section.steps if one.key != key]
    if section.procedure not in known() or not kept:
        return None
    whole = given_of(section.procedure)
    steps = walked(Ground(section.there), whole.model_copy(update={"steps": kept})).steps
    return next(
        (f"{fault.path}: {fault.problem}" for step in steps for one in step.made for fault in one.refused), None
    )


def _stop(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    if run.status == Run.Status.STOPPED:
        raise refuse(
            "act", f"{(run.stopped or {}).get('by', 'somebody')} has called stop already", "the leader says go on"
        )
    run.status = Run.Status.STOPPED
    run.counts = {**run.counts, "stopped_at": clock.now().isoformat()}
    run.stopped = {"by": user.get_username(), "why": act.text, "at": clock.now().isoformat()}
    return LogEntry.Kind.STOP, "STOP", {}


def _why(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """Whoever called stop says why, once everybody has stopped."""
    if run.status != Run.Status.STOPPED or not run.stopped:
        raise refuse("act", "nobody has called stop", "call stop first")
    if not act.text.strip():
        raise refuse("text", "no reason is given", "say in a few words what is wrong")
    run.stopped = {**run.stopped, "why": act.text.strip()}
    return LogEntry.Kind.STOP, f"STOP called by {run.stopped['by']}", {}


def _go(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    if run.status != Run.Status.STOPPED:
        raise refuse("act", "nobody has called stop", "go on with the step")
    said = f"Going on after {(run.stopped or {}).get('by', 'somebody')}'s stop"
    run.status, run.stopped = Run.Status.GOING, None
    return LogEntry.Kind.GO, said, {}


def _contingency(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    id = str((act.data or {}).get("id", ""))
    given = known().get(id)
    if given is None or given.kind != "contingency":
        names = ", ".join(one.id for one in known().values() if one.kind == "contingency")
        raise refuse("data.id", f"there is no contingency {id!r}", f"one of {names}")
    if run.contingency:
        raise refuse("act", f"{known()[run.contingency['id']].name} is under way", "go through it, or leave it, first")
    run.contingency = {"id": id, "place": 0, "at": clock.now().isoformat()}
    return LogEntry.Kind.CONTINGENCY, given.name, {"id": id}


def _return(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    if not run.contingency:
        raise refuse("act", "no contingency is under way", "go on with the step")
    name = known()[run.contingency["id"]].name
    run.contingency = None
    return LogEntry.Kind.CONTINGENCY, f"{name}: left, back to the step", {}


def _word(act: Act, key: str) -> str:
    """What an act says under a key; nothing where that is no text."""
    said = (act.data or {}).get(key, "")
    return said if isinstance(said, str) else ""


def _here(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    role = _word(act, "role")
    if not 0 < len(role) <= 30:
        raise refuse("data.role", f"{role!r} is no role", "for instance edge, belay, ratchet, main, haul, writer")
    run.here = {**run.here, user.get_username(): {"role": role, "at": clock.now().isoformat()}}
    return LogEntry.Kind.HERE, f"{user.get_username()} is here: {role}", {"role": role}


def _relieve(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """A guard, a ratchet or a belay from one person to another, hand over hand."""
    what, to = _word(act, "what")[:120], _word(act, "to")[:120]
    if not what or not to:
        raise refuse("data", "what is handed over, or to whom, is not said", "give what and to")
    return LogEntry.Kind.HERE, f"{to} has {what}, hand over hand", {"what": what, "to": to}


def _look(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    anchor = str((act.data or {}).get("anchor", ""))
    names = {one.id: one.name for one in Document.model_validate_json(run.revision.document).anchors}
    if anchor not in names:
        raise refuse("data.anchor", f"there is no anchor {anchor!r}", f"one of {', '.join(names)}")
    run.looked = {**run.looked, anchor: clock.now().isoformat()}
    return LogEntry.Kind.OBSERVATION, f"{names[anchor]} looked at", {"anchor": anchor}


def _reading(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """A reading taken by hand, with where it was taken."""
    data = act.data or {}
    value, where = data.get("force_n"), str(data.get("where", ""))[:120]
    if not isinstance(value, int | float) or isinstance(value, bool) or not 0 <= value <= 100_000:
        raise refuse("data.force_n", f"{value!r} is no force", "give newtons, 0 to 100000")
    return (
        LogEntry.Kind.READING,
        f"Reads {value / 1000:.2f} kN{f' at {where}' if where else ''}",
        {"force_n": value, "where": where},
    )


def _end(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    run.status, run.ended_at = Run.Status.ENDED, clock.now()
    return LogEntry.Kind.RUN, "Run ended", {}


def _settle(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """What was done without a connection meanwhile, settled by the leader: the run stays, or goes on from there."""
    data = act.data or {}
    return conflicts.settled(composed_of(plan, run.revision, run), run, str(data.get("conflict", "")), data.get("take"))


def _procedure(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    """The rest of the run by a procedure that was changed: steps left out, put in or in another order, where the engine lets it."""
    given = checked((act.data or {}).get("given"))
    before = composed_of(plan, run.revision, run)
    here = before.step(run.at)
    run.own = {**run.own, given.id: given.model_dump(mode="json")}
    after = composed_of(plan, run.revision, run)
    worst = worse(before, after)
    if worst:
        raise refuse("data.given", worst, "put the steps in an order that holds")
    run.at = same_step(after, here)
    return LogEntry.Kind.RUN, f"Changed for this run: {given.name}", {"procedure": given.id}


def _enter(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    _going(run)
    return enter(plan, run, user, act)


def _otherwise(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    _now(run, act)
    return say_otherwise(plan, run, user, act)


def _nothing(plan: Plan, run: Run, user: Any, act: Act) -> Said:
    raise refuse("act", f"there is no act {act.act!r}", f"one of {', '.join(_MAY)}")


_DO = {
    "begin": _begin, "done": _done, "back": _back, "skip": _skip, "stop": _stop, "why": _why, "go": _go, "contingency": _contingency, "return": _return, "here": _here,
    "relieve": _relieve, "look": _look, "reading": _reading, "end": _end, "procedure": _procedure, "enter": _enter, "otherwise": _otherwise, "settle": _settle,
}  # fmt: skip
