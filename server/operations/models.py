"""The log: append-only, each entry bound to the one before by its hash and to the plan as it was."""

import json
import uuid
from collections.abc import Iterator
from typing import Any

from django.conf import settings
from django.db import models, transaction
from django.utils import timezone
from plans.canonical import canonical, sha256
from plans.models import Plan, Revision


class LogEntry(models.Model):
    """One entry. `id` is made by the client, so that sending it again is harmless."""

    class Kind(models.TextChoices):
        DECISION = "decision"
        OBSERVATION = "observation"
        CORRECTION = "correction"
        IMPORTED = "imported"
        SIGNED = "signed"

    id = models.UUIDField(primary_key=True)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="log")
    sequence = models.PositiveIntegerField()
    time = models.DateTimeField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    kind = models.CharField(max_length=12, choices=Kind)
    decision = models.TextField()
    reason = models.TextField(blank=True)
    considered = models.TextField(blank=True)
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    corrects = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    before = models.CharField(max_length=64)
    hash = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "sequence"], name="one_entry_per_sequence")]
        ordering = ["sequence"]

    def content_hash(self) -> str:
        """SHA-256 over everything the entry says, the hash of the entry before included."""
        return sha256(
            canonical(
                {
                    "id": str(self.id),
                    "plan": str(self.plan_id),
                    "sequence": self.sequence,
                    "time": self.time.isoformat(),
                    "author": self.author_id,
                    "kind": self.kind,
                    "decision": self.decision,
                    "reason": self.reason,
                    "considered": self.considered,
                    "revision": self.revision.number,
                    "revision_sha256": self.revision.sha256,
                    "corrects": str(self.corrects_id) if self.corrects_id else None,
                    "before": self.before,
                }
            )
        )


class Signature(models.Model):
    """What one person signed of the check: `lines` is canonical JSON, the line's id to its answer and words. The log entry
    that goes with it names the print of these lines, so that the chain holds them too."""

    entry = models.OneToOneField(LogEntry, on_delete=models.PROTECT, related_name="signature")
    lines = models.TextField()

    @property
    def print(self) -> str:
        return sha256(self.lines)[:16]


def sign(plan: Plan, signer: Any, *, id: uuid.UUID, revision: Revision, lines: dict[str, dict[str, str]]) -> LogEntry:
    """The lines signed by somebody, and the entry in the log that says so; sent again, the one already there."""
    with transaction.atomic():
        text = canonical(lines)
        said = f"Check signed: {len(lines)} line{'s' if len(lines) != 1 else ''} of revision {revision.number}, print {sha256(text)[:16]}"
        entry = append(plan, signer, id=id, revision=revision, kind=LogEntry.Kind.SIGNED, decision=said)
        Signature.objects.get_or_create(entry=entry, defaults={"lines": text})
        return entry


def signed_lines(plan: Plan) -> dict[str, tuple[str, LogEntry]]:
    """The last answer signed of every line, with the entry it was signed by."""
    found: dict[str, tuple[str, LogEntry]] = {}
    rows = Signature.objects.filter(entry__plan=plan).select_related("entry__author", "entry__revision")
    for one in rows.order_by("entry__sequence"):
        found.update({line: (said["answer"], one.entry) for line, said in json.loads(one.lines).items()})
    return found


def append(plan: Plan, author: Any, *, id: uuid.UUID, revision: Revision, **said: Any) -> LogEntry:
    """Add an entry at the end of the plan's log, or return the one already there under this id."""
    with transaction.atomic():
        known = LogEntry.objects.filter(id=id).first()
        if known:
            return known
        last = plan.log.order_by("-sequence").first()
        entry = LogEntry(
            id=id,
            plan=plan,
            author=author,
            revision=revision,
            time=timezone.now(),
            sequence=last.sequence + 1 if last else 1,
            before=last.hash if last else "",
            **said,
        )
        entry.hash = entry.content_hash()
        entry.save(force_insert=True)
        return entry


def broken_links(plan: Plan) -> Iterator[str]:
    """In words, everything in the plan's revisions and log that does not fit its hash."""
    for revision in plan.revisions.order_by("number"):
        if sha256(revision.document) != revision.sha256:
            yield f"plan {plan.id}, revision {revision.number}: the document does not fit its SHA-256"
    before, expected = "", 1
    for entry in plan.log.select_related("revision"):
        where = f"plan {plan.id}, log entry {entry.sequence}"
        if entry.sequence != expected:
            yield f"{where}: entry {expected} is missing"
        if entry.before != before:
            yield f"{where}: does not follow the entry before it"
        if entry.content_hash() != entry.hash:
            yield f"{where}: the content does not fit its hash"
        signature = Signature.objects.filter(entry=entry).first()
        if (entry.kind == LogEntry.Kind.SIGNED) != (signature is not None):
            yield f"{where}: what was signed is missing"
        elif signature and signature.print not in entry.decision:
            yield f"{where}: the lines that were signed do not fit their print"
        before, expected = entry.hash, entry.sequence + 1
