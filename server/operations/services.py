"""What is written to the log."""

import uuid
from typing import Any

from django.db import IntegrityError, transaction
from plans.models import Plan, Revision
from storing import clock
from storing.canonical import canonical, sha256
from storing.writing import writing

from operations import live
from operations.models import GEAR, LogEntry, Signature
from rigging.quantities.faults import refuse


def sign(
    plan: Plan,
    signer: Any,
    *,
    id: uuid.UUID,
    revision: Revision,
    lines: dict[str, dict[str, str]],
    gear: bool = False,
    step: str = "",
) -> LogEntry:
    """The lines signed by somebody, and the entry in the log that says so; sent again, the one already there."""
    with writing():
        text = canonical(lines)
        what = "Gear list signed" if gear else "Check signed"
        said = f"{what}: {len(lines)} line{'s' if len(lines) != 1 else ''} of revision {revision.number}, print {sha256(text)[:16]}"
        data = GEAR if gear else ""
        entry = append(
            plan, signer, id=id, revision=revision, kind=LogEntry.Kind.SIGNED, decision=said, data=data, step=step
        )
        Signature.objects.get_or_create(entry=entry, defaults={"lines": text})
        return entry


def append(plan: Plan, author: Any, *, id: uuid.UUID, revision: Revision, **said: Any) -> LogEntry:
    """Add an entry at the end of the plan's log, or return the one already there under this id, if it is the same person's of the same plan
    and kind: sent again.

    Raises
    ------
    Refused
        If the id is that of another entry.
    """
    with writing():
        sequence, before = plan.log.order_by("-sequence").values_list("sequence", "hash").first() or (0, "")
        entry = LogEntry(
            id=id,
            plan=plan,
            author=author,
            revision=revision,
            time=clock.now(),
            sequence=sequence + 1,
            before=before,
            **said,
        )
        entry.hash = entry.content_hash()
        try:
            # Of its own: what else is written in this turn stays, whether or not the id is there already.
            with transaction.atomic():
                entry.save(force_insert=True)
        except IntegrityError:
            return _sent_again(entry)
        transaction.on_commit(lambda: live.tell(plan.id))
        return entry


def _sent_again(entry: LogEntry) -> LogEntry:
    """The entry that has the id already."""
    known = LogEntry.objects.get(id=entry.id)
    if (known.plan_id, known.author_id, known.kind) != (entry.plan_id, entry.author_id, entry.kind):
        raise refuse("id", "it is the id of another entry", "make a new one for each")
    return known
