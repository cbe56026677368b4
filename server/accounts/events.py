"""What happens about who gets in, written down for leaders to read."""

from datetime import timedelta

from django.contrib.auth import get_user_model
from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from storing.writing import writing

from accounts.models import Membership, SecurityEvent, Team

_KEPT = timedelta(days=365)
# Somebody who tries for hours fills no disk.
_MOST = 20_000


def note(request: HttpRequest, kind: SecurityEvent.Kind, name: str, team: Team | None = None, said: str = "") -> None:
    """One more; the oldest beyond a year, or beyond all measure, are let go."""
    by = request.user.get_username() if request.user.is_authenticated else ""
    with writing():
        made = SecurityEvent.objects.create(
            kind=kind, name=name[:150], address=request.META.get("REMOTE_ADDR", "")[:60], by=by if by != name else "", team=team, said=said[:120],
        )  # fmt: skip
        SecurityEvent.objects.filter(time__lt=timezone.now() - _KEPT).delete()
        SecurityEvent.objects.filter(id__lte=made.pk - _MOST).delete()


def of_team(team: Team, count: int) -> list[SecurityEvent]:
    """The last that are about a team or its people, and attempts on names that nobody has."""
    members = Membership.objects.filter(team=team).values("user__username")
    known = get_user_model().objects.values("username")
    rows = SecurityEvent.objects.filter(
        Q(team=team) | Q(team=None, name__in=members) | (Q(team=None) & ~Q(name__in=known))
    )
    return list(rows[:count])
