"""What is written to the log."""

import uuid
from typing import Any

from django.db import transaction
from plans.models import Plan, Revision
from storing import clock
from storing.canonical import canonical, sha256
from storing.writing import touched, writing

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
        known = LogEntry.objects.filter(id=id).first()
        if known and (known.plan_id, known.author_id, known.kind) != (plan.pk, author.pk, said["kind"]):
            raise refuse("id", "it is the id of another entry", "make a new one for each")
        if known:
            return known
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
        entry.save(force_insert=True)
        touched(plan.pk)
        transaction.on_commit(lambda: live.tell(plan.id))
        return entry
