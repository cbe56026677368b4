"""Plans and their revisions; which were handed over to here, which are only played on, and who was let in to read one. A revision, once saved, never changes: the
database itself refuses."""

import json
import uuid

from accounts.models import Team
from django.conf import settings
from django.db import models
from django.utils import timezone
from storing import clock


class Plan(models.Model):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    team = models.ForeignKey(Team, on_delete=models.PROTECT)
    created_at = models.DateTimeField(default=clock.now)
    # Put away: it is read as before, and stands apart in the list.
    archived = models.BooleanField(default=False)

    @property
    def latest(self) -> "Revision":
        return self.revisions.select_related("author").order_by("-number")[0]

    @property
    def title(self) -> str:
        # Only its name is wanted: the document is not checked again.
        return str(json.loads(self.latest.document)["title"])


class Revision(models.Model):
    """One saved state of a plan; `client_id` makes a repeated save harmless."""

    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    client_id = models.UUIDField(unique=True)
    document = models.TextField()
    sha256 = models.CharField(max_length=64)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    saved_at = models.DateTimeField(default=clock.now)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "number"], name="one_revision_per_number")]


class HandedOver(models.Model):
    """A plan that was read in from a bundle: nothing is written to it here. `key_print` says which installation signed it."""

    plan = models.OneToOneField(Plan, on_delete=models.PROTECT, related_name="handed_over")
    key_print = models.CharField(max_length=40)
    made_at = models.DateTimeField()
    read_at = models.DateTimeField(default=timezone.now)
    read_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        db_table = "handover_handedover"


class TableTop(models.Model):
    """A plan that is only played on: a copy of one, with what happens in it (`happenings`: each with when it was told) and its own clock (`clock`: when the pace
    was set, what time it then was in it, and the pace). `rigged`: on real ropes, by a clock that is everybody's."""

    plan = models.OneToOneField(Plan, on_delete=models.PROTECT, related_name="table_top")
    of = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="played_as")
    seed = models.PositiveIntegerField()
    rigged = models.BooleanField(default=False)
    clock = models.JSONField()
    happenings = models.JSONField(default=list)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")


class ObserverLink(models.Model):
    """A link by which somebody from outside reads one plan until it ends: only the hash of what stands in it is kept. `reader` is who they
    are here, made when the link is first used."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="observer_links")
    name = models.CharField(max_length=60)
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(default=timezone.now)
    ends_at = models.DateTimeField()
    reader = models.OneToOneField(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        db_table = "handover_observerlink"
