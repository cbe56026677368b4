"""A team's pieces, what went out and came back for which plan, and its own pull tests."""

from accounts.models import Team
from django.conf import settings
from django.db import models
from plans.models import Plan
from storing import clock


class ShelfPiece(models.Model):
    """A piece of a team's gear under its label; `piece`: as it is now."""

    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="shelf")
    label = models.CharField(max_length=20)
    piece = models.JSONField()
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ["label"]
        constraints = [models.UniqueConstraint(fields=["team", "label"], name="one_piece_of_a_label")]


class Counted(models.Model):
    """So many of a piece that went out for a plan, or came back (`out` false), by the id that the device gave it."""

    id = models.UUIDField(primary_key=True)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="counted")
    piece = models.ForeignKey(ShelfPiece, on_delete=models.PROTECT, related_name="counted")
    count = models.PositiveIntegerField()
    out = models.BooleanField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ["at"]


class PullTest(models.Model):
    """A pull test of the team's own; `left_out`: why it no longer counts (empty: it does), and by whom."""

    id = models.UUIDField(primary_key=True)
    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="pulls")
    pull = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)
    left_out = models.CharField(max_length=500, blank=True, default="")
    left_out_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "id"]
