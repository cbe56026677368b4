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
from plans.writing import touched, writing

from operations import live, photos
from rigging.quantities.faults import refuse


class LogEntry(models.Model):
    """One entry. `id` is made by the client, so that sending it again is harmless."""

    class Kind(models.TextChoices):
        DECISION = "decision"
        OBSERVATION = "observation"
        CORRECTION = "correction"
        IMPORTED = "imported"
        SIGNED = "signed"
        RUN = "run"
        STEP = "step"
        STOP = "stop"
        GO = "go"
        CONTINGENCY = "contingency"
        READING = "reading"
        PHOTO = "photo"
        HERE = "here"
        PLAN = "plan"
        CONFLICT = "conflict"
        ALARM = "alarm"

    id = models.UUIDField(primary_key=True)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="log")
    sequence = models.PositiveIntegerField()
    time = models.DateTimeField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    # The author's number where the entry was written, if that was in another installation: it is what the seal names.
    sealed_author = models.PositiveIntegerField(null=True)
    kind = models.CharField(max_length=12, choices=Kind)
    decision = models.TextField()
    reason = models.TextField(blank=True)
    considered = models.TextField(blank=True)
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    corrects = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    # The step of the run it was written at; what else it says, as canonical JSON; the writing device's own clock, and how far
    # that was ahead of the server's as measured there.
    step = models.CharField(max_length=160, blank=True, default="")
    data = models.TextField(blank=True, default="")
    device_time = models.DateTimeField(null=True)
    device_ahead_ms = models.IntegerField(null=True)
    before = models.CharField(max_length=64)
    hash = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "sequence"], name="one_entry_per_sequence")]
        ordering = ["sequence"]
        indexes = [models.Index(fields=["plan", "kind", "sequence"], name="entries_of_a_kind")]

    @property
    def author_sealed(self) -> int:
        """The author's number as the seal has it."""
        return self.author_id if self.sealed_author is None else self.sealed_author

    def content_hash(self) -> str:
        """SHA-256 over everything the entry says, the hash of the entry before included."""
        more = {
            "step": self.step, "data": self.data, "device_time": self.device_time.isoformat() if self.device_time else None,
            "device_ahead_ms": self.device_ahead_ms,
        }  # fmt: skip
        return sha256(
            canonical(
                # What an entry does not say is not in its seal: entries from before could say less.
                {name: value for name, value in more.items() if value not in ("", None)}
                | {
                    "id": str(self.id),
                    "plan": str(self.plan_id),
                    "sequence": self.sequence,
                    "time": self.time.isoformat(),
                    "author": self.author_sealed,
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


class Run(models.Model):
    """An operation under way: exactly one step is now. What the team changed of its procedures for this run is `own`, canonical
    JSON by id; `counts`, `here` (who is there, in what role) and `looked` (when an anchor was last looked at) are JSON too, and
    `conflicts`: what somebody did without a connection while the run moved on, until the leader settles it."""

    class Status(models.TextChoices):
        GOING = "going"
        STOPPED = "stopped"
        ENDED = "ended"

    id = models.UUIDField(primary_key=True)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="runs")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    status = models.CharField(max_length=8, choices=Status, default=Status.GOING)
    begun_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    at = models.CharField(max_length=160)
    since = models.DateTimeField()
    # Counts up with every change, so that a device knows which of two answers is the later.
    version = models.PositiveIntegerField(default=1)
    stopped = models.JSONField(null=True)
    contingency = models.JSONField(null=True)
    own = models.JSONField(default=dict)
    done = models.JSONField(default=list)
    counts = models.JSONField(default=dict)
    here = models.JSONField(default=dict)
    looked = models.JSONField(default=dict)
    conflicts = models.JSONField(default=list)
    changed = models.TextField(blank=True, default="")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["plan"], condition=~models.Q(status="ended"), name="one_run_at_a_time")
        ]


class TeamProcedure(models.Model):
    """A procedure as a team has made it its own, in place of the one that ships under the same id."""

    team = models.ForeignKey("accounts.Team", on_delete=models.PROTECT, related_name="procedures")
    procedure = models.CharField(max_length=60)
    given = models.JSONField()
    saved_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    saved_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["team", "procedure"], name="one_of_each_procedure")]


# What is signed line by line: the check before loading; the list of what the gear went through, which its entry names in `data`.
_GEAR = canonical({"list": "gear"})


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
        data = _GEAR if gear else ""
        entry = append(
            plan, signer, id=id, revision=revision, kind=LogEntry.Kind.SIGNED, decision=said, data=data, step=step
        )
        Signature.objects.get_or_create(entry=entry, defaults={"lines": text})
        return entry


def signed_lines(plan: Plan, gear: bool = False) -> dict[str, tuple[dict[str, str], LogEntry]]:
    """What was last signed of every line of the check, or of the gear, with the entry it was signed by."""
    found: dict[str, tuple[dict[str, str], LogEntry]] = {}
    rows = Signature.objects.filter(entry__plan=plan, entry__data=_GEAR if gear else "")
    for one in rows.select_related("entry__author", "entry__revision").order_by("entry__sequence"):
        found.update({line: (said, one.entry) for line, said in json.loads(one.lines).items()})
    return found


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
        touched(plan.pk)
        transaction.on_commit(lambda: live.tell(plan.id))
        return entry


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
