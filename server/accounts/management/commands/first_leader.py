"""A team and its first leader, for an installation that begins empty: everybody else comes in by links that the leader makes."""

import secrets
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError, CommandParser
from storing.writing import writing

from accounts.models import Membership, Role, Team


class Command(BaseCommand):
    help = "Makes a team and its first leader, and tells their password once. It is changed on the People page."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("team")
        parser.add_argument("name")

    def handle(self, *_args: Any, team: str, name: str, **_options: Any) -> None:
        users = get_user_model().objects
        if Team.objects.filter(name=team).exists() or users.filter(username=name).exists():
            raise CommandError(f"there is a team {team!r} or somebody {name!r} already: its leader makes a link")
        password = secrets.token_urlsafe(12)
        user = get_user_model()(username=name)
        user.set_password(password)
        with writing():
            user.save()
            Membership.objects.create(team=Team.objects.create(name=team), user=user, role=Role.LEADER)
        self.stdout.write(f"{name} / {password}  leads {team}")
