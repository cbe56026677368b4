"""Plans that were handed over to here, and people let in to one plan, to read it, until a date."""

from django.conf import settings
from django.contrib.auth.base_user import AbstractBaseUser
from django.contrib.auth.models import AnonymousUser
from django.db import models
from django.utils import timezone
from plans.models import Plan


class HandedOver(models.Model):
    """A plan that was read in from a bundle: nothing is written to it here. `key_print` says which installation signed it."""

    plan = models.OneToOneField(Plan, on_delete=models.PROTECT, related_name="handed_over")
    key_print = models.CharField(max_length=40)
    made_at = models.DateTimeField()
    read_at = models.DateTimeField(default=timezone.now)
    read_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)


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


def was_handed_over(plan: Plan) -> bool:
    return HandedOver.objects.filter(plan=plan).exists()


def reads_until(user: AbstractBaseUser | AnonymousUser, plan: Plan) -> ObserverLink | None:
    """The link by which somebody may read a plan now."""
    return plan.observer_links.filter(reader_id=user.pk, ends_at__gt=timezone.now()).first() if user.pk else None
