"""The log: append-only, each entry bound to the one before by its hash and to the plan as it was."""

from django.conf import settings
from django.db import models
from plans.models import Plan, Revision
from storing.canonical import canonical, sha256


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
    JSON by id; `otherwise`: what was found on the ropes that the plan has not, or was done besides, in order, with who and why; `counts`, `here` (who is there, in what role) and `looked` (when an anchor was last looked at) are JSON too, and
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
    otherwise = models.JSONField(default=list)
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
GEAR = canonical({"list": "gear"})
