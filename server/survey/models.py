"""Readings that a team's instruments sent, for somebody at the sheet to place; and what columns of tables meant, told by hand once."""

from accounts.models import Team
from django.conf import settings
from django.db import models
from django.utils import timezone


class Reading(models.Model):
    """One reading of a rangefinder. `instrument` says which; the simulated one says so."""

    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="readings")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    time = models.DateTimeField(default=timezone.now)
    instrument = models.CharField(max_length=60)
    distance_m = models.FloatField()
    inclination_deg = models.FloatField()
    bearing_deg = models.FloatField()
    # From which north: "" where nobody said.
    north = models.CharField(max_length=8, blank=True, default="")

    class Meta:
        ordering = ["-id"]


class ColumnsKnown(models.Model):
    """What the columns of a table with such a head mean to a team, and in which units they are."""

    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="tables")
    head = models.CharField(max_length=64)
    columns = models.JSONField()
    units = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["team", "head"], name="one_meaning_of_a_head")]
