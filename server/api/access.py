"""Who may do what: every endpoint asks here."""

from accounts.models import Role, Team, role_of
from django.http import HttpRequest
from ninja.errors import HttpError


def team_of(request: HttpRequest, team_id: int, *roles: Role) -> Team:
    """The team, for somebody who has one of `roles` in it."""
    team = Team.objects.filter(id=team_id).first()
    if team is None or role_of(request.user, team) not in roles:
        raise HttpError(403, "your role in this team does not allow that")
    return team
