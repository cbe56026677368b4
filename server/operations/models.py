"""The log: append-only, each entry bound to the one before by its hash and to the plan as it was."""

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
        before, expected = entry.hash, entry.sequence + 1
