"""What somebody did without a connection while the run moved on: kept as both saw it, until the leader settles it."""

from typing import Any

from storing import clock

from operations.acts import Act, Moved, Said
from operations.composed import Composed
from operations.composing import counted
from operations.models import LogEntry, Run
from rigging.procedures.run import known
from rigging.quantities.faults import Refused, refuse

_SAY = {
    "done": "Done: ",
    "back": "Back from: ",
    "skip": "Skipped: ",
    "otherwise": "The rig is otherwise at: ",
    "stop": "STOP",
}
# What moves a run, or may be why something no longer fits.
_MOVES = ("run", "step", "stop", "go", "contingency", "plan")


def kept(made: Composed, run: Run, user: Any, act: Act, against: Moved | Refused) -> Said:
    """An act that came too late, beside what was done meanwhile; one person's, one after the other, are one conflict."""
    name = user.get_username()
    both = next((one for one in run.done if act.act == "done" and one["key"] == act.at), None)
    if both is not None and isinstance(against, Moved):
        # The same step from both: said, and nothing to settle.
        who = f"{name}, too, without a connection"
        return LogEntry.Kind.CONFLICT, f"Done by {both['by']} and {who}: {_words(made, act.at)}", {"at": act.at}
    when = (act.device_time or clock.now()).isoformat()
    words = f"{_SAY.get(act.act, act.act)}{_words(made, act.at)}"
    deed = {"act": act.act, "at": act.at, "do": words, "by": name, "when": when}
    last = next((one for one in run.conflicts if one["by"] == name), None)
    theirs = [*(last["theirs"] if last else []), deed]
    leads_to = _leads_to(made, theirs) or run.at
    because = (
        f"the run is at {_words(made, run.at)!r} now"
        if isinstance(against, Moved)
        else "; ".join(fault.problem for fault in against.faults)
    )
    found = {
        "id": last["id"] if last else str(act.id), "by": name, "theirs": theirs, "meanwhile": _meanwhile(run, theirs[0], name),
        "because": because, "leads_to": leads_to, "leads_to_do": _words(made, leads_to),
    }  # fmt: skip
    run.conflicts = [one for one in run.conflicts if one is not last] + [found]
    said = f"Without a connection, {name}. {words}. It did not fit: {because}"
    return LogEntry.Kind.CONFLICT, said, {"at": act.at}


def settled(made: Composed, run: Run, id: str, take: Any) -> Said:
    """A conflict settled: the run stays where it is, or goes on from where the other was."""
    found = next((one for one in run.conflicts if one["id"] == id), None)
    if found is None:
        raise refuse(
            "data.conflict", "there is no such conflict, or it has been settled", "look at the run as it is now"
        )
    if take not in ("run", "theirs"):
        raise refuse("data.take", f"{take!r} settles nothing", "'run': it stays; 'theirs': it goes on from there")
    run.conflicts = [one for one in run.conflicts if one is not found]
    if take == "theirs":
        there = {one["key"] for one in run.done}
        for deed in found["theirs"]:
            if deed["act"] == "done" and deed["at"] in made.order and deed["at"] not in there:
                counted(run, made, deed["at"], deed["by"], deed["when"])
        run.at, run.since = found["leads_to"], clock.now()
    where = f"goes on from {found['by']}'s" if take == "theirs" else "stays"
    return (
        LogEntry.Kind.CONFLICT,
        f"Settled: the run {where}, at {_words(made, run.at)}",
        {"conflict": id, "take": take},
    )


def _words(made: Composed, key: str) -> str:
    if key in made.order:
        return made.step(key).do.rstrip(".")
    contingency = known().get(key.partition("/")[0])
    return contingency.name if contingency else ""


def _leads_to(made: Composed, theirs: list[dict[str, Any]]) -> str | None:
    """Where the run would be after the last step they took."""
    for deed in reversed(theirs):
        if deed["at"] not in made.order:
            continue
        if deed["act"] in ("done", "skip"):
            return made.after(deed["at"])
        if deed["act"] == "back":
            return made.order[max(0, made.index(deed["at"]) - 1)]
    return None


def _meanwhile(run: Run, first: dict[str, Any], name: str) -> list[dict[str, Any]]:
    """What moved the run here since it was last at the step at which they began."""
    rows = run.plan.log.filter(kind__in=_MOVES).select_related("author").order_by("-sequence")
    since = rows.filter(step=first["at"]).first()
    found = rows.filter(sequence__gte=since.sequence) if since else rows.filter(time__gte=first["when"])
    return [
        {
            "act": one.kind,
            "at": one.step,
            "do": one.decision,
            "by": one.author.get_username(),
            "when": one.time.isoformat(),
        }
        for one in reversed(found[:20])
        if one.author.get_username() != name
    ]
