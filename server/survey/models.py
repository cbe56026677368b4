"""Readings that a team's instruments sent, for somebody at the sheet to place."""

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

    class Meta:
        ordering = ["-id"]
