"""What stands in the log."""

import json
from collections.abc import Iterator

from plans.models import Plan
from storing.canonical import sha256

from operations import photos
from operations.models import GEAR, LogEntry, Signature


def signed_lines(plan: Plan, gear: bool = False) -> dict[str, tuple[dict[str, str], LogEntry]]:
    """What was last signed of every line of the check, or of the gear, with the entry it was signed by."""
    found: dict[str, tuple[dict[str, str], LogEntry]] = {}
    rows = Signature.objects.filter(entry__plan=plan, entry__data=GEAR if gear else "")
    for one in rows.select_related("entry__author", "entry__revision").order_by("entry__sequence"):
        found.update({line: (said, one.entry) for line, said in json.loads(one.lines).items()})
    return found


def broken_links(plan: Plan) -> Iterator[str]:
    """In words, everything in the plan's revisions and log that does not fit its hash."""
    for revision in plan.revisions.order_by("number"):
        if sha256(revision.document) != revision.sha256:
            yield f"plan {plan.id}, revision {revision.number}: the document does not fit its SHA-256"
    before, expected = "", 1
    signatures = {one.entry_id: one for one in Signature.objects.filter(entry__plan=plan)}
    for entry in plan.log.select_related("revision").defer("revision__document").iterator():
        where = f"plan {plan.id}, log entry {entry.sequence}"
        if entry.sequence != expected:
            yield f"{where}: entry {expected} is missing"
        if entry.before != before:
            yield f"{where}: does not follow the entry before it"
        if entry.content_hash() != entry.hash:
            yield f"{where}: the content does not fit its hash"
        signature = signatures.get(entry.pk)
        if (entry.kind == LogEntry.Kind.SIGNED) != (signature is not None):
            yield f"{where}: what was signed is missing"
        elif signature and signature.print not in entry.decision:
            yield f"{where}: the lines that were signed do not fit their print"
        if entry.kind == LogEntry.Kind.PHOTO and (fault := photos.fault_of(json.loads(entry.data))):
            yield f"{where}: {fault}"
        before, expected = entry.hash, entry.sequence + 1
