"""Who may do what: teams, and the role a person has in each."""

from django.conf import settings
from django.db import models
from django.utils import timezone


class Team(models.Model):
    name = models.CharField(max_length=120, unique=True)


class Role(models.TextChoices):
    """A leader decides and saves plans; a member writes in the log; an observer reads."""

    LEADER = "leader"
    MEMBER = "member"
    OBSERVER = "observer"


class Membership(models.Model):
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    team = models.ForeignKey(Team, on_delete=models.PROTECT)
    role = models.CharField(max_length=10, choices=Role)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "team"], name="one_role_per_team")]


class Invitation(models.Model):
    """A link by which one person sets a password of their own, once: only the hash of what stands in it is kept."""

    team = models.ForeignKey(Team, on_delete=models.CASCADE)
    username = models.CharField(max_length=150)
    role = models.CharField(max_length=10, choices=Role)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    token_sha256 = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


class SecurityEvent(models.Model):
    """Something about who gets in: seen by leaders of the teams of whoever it is about."""

    class Kind(models.TextChoices):
        SIGNED_IN = "signed in"
        REFUSED = "wrong password"
        TOO_MANY = "too many attempts"
        SIGNED_OUT = "signed out"
        PASSWORD = "password changed"
        ENDED = "other devices signed out"
        INVITED = "link made"
        JOINED = "came in by a link"
        ROLE = "role changed"
        OUT = "taken out of the team"
        LOOKS = "outside reader let in"
        MAY_NOT = "asked for what is not theirs"

    time = models.DateTimeField(default=timezone.now)
    kind = models.CharField(max_length=30, choices=Kind)
    # As it was typed: also names that nobody has.
    name = models.CharField(max_length=150)
    address = models.CharField(max_length=60)
    by = models.CharField(max_length=150, blank=True, default="")
    team = models.ForeignKey(Team, null=True, on_delete=models.SET_NULL)
    said = models.CharField(max_length=120, blank=True, default="")

    class Meta:
        ordering = ["-id"]
