"""What somebody practised, for as long as they want it kept."""

from django.conf import settings
from django.db import models
from django.db.models import CASCADE
from plans.models import Revision


class Answered(models.Model):
    """A drill answered, by the id that the device gave it. `number` counts on within a device: its order holds where its clock does not."""

    id = models.UUIDField(primary_key=True)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=CASCADE, related_name="drills")
    device = models.CharField(max_length=60)
    number = models.PositiveIntegerField()
    skill = models.CharField(max_length=60)
    seed = models.PositiveBigIntegerField()
    level = models.PositiveSmallIntegerField()
    given = models.JSONField()
    right = models.BooleanField()
    took_s = models.FloatField()
    at = models.DateTimeField()
    # Of one about a plan: which, as it then was.
    about = models.ForeignKey(Revision, null=True, on_delete=CASCADE, related_name="+")

    class Meta:
        ordering = ["at", "id"]
        indexes = [models.Index(fields=["person", "skill"])]


class Tied(models.Model):
    """A knot tied before a second person, who ticked its stages and took the time."""

    id = models.UUIDField(primary_key=True)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=CASCADE, related_name="tied")
    ticked_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=CASCADE, related_name="ticked")
    knot = models.CharField(max_length=60)
    hand = models.CharField(max_length=5, choices=[("right", "right"), ("left", "left")])
    stages = models.JSONField()
    took_s = models.FloatField()
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "id"]

    @property
    def right(self) -> bool:
        """Whether every stage was as it has to be."""
        return all(self.stages)
