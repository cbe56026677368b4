"""Who may do what: every endpoint asks here."""

from django.contrib.auth.base_user import AbstractBaseUser
from django.contrib.auth.models import AnonymousUser, User
from django.http import HttpRequest
from ninja.errors import HttpError

from accounts.models import Membership, Role, Team


def person(request: HttpRequest) -> User:
    """Whoever asks: no endpoint but the sign-in answers anybody who has not signed in."""
    assert isinstance(request.user, User)
    return request.user


def team_of(request: HttpRequest, team_id: int, *roles: Role) -> Team:
    """The team, for somebody who has one of `roles` in it."""
    team = Team.objects.filter(id=team_id).first()
    if team is None or role_of(request.user, team) not in roles:
        raise HttpError(403, "your role in this team does not allow that")
    return team


def role_of(user: AbstractBaseUser | AnonymousUser, team: Team) -> Role | None:
    """The person's role in the team, None for an outsider."""
    if user.pk is None:
        return None
    found = Membership.objects.filter(user_id=user.pk, team=team).values_list("role", flat=True).first()
    return Role(found) if found else None
