"""Make the demo team, its people and its plans from what stands in demo/: a document each, and the story of it where one is told."""

import secrets
import uuid
from pathlib import Path
from typing import Any

import yaml
from accounts.models import Membership, Role, Team
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandParser
from shelf.schemas import NewPull
from shelf.services import keep_pieces, keep_pull

from rigging.shelf.pulls import PullMade
from rigging.shelf.table import read_shelf
from stories.play import Story, played

PASSWORD = "practice-only"
PEOPLE = {"rowan": Role.LEADER, "ash": Role.MEMBER, "guest": Role.OBSERVER}


class Command(BaseCommand):
    help = "Loads the invented demo operations. Running it again changes nothing."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--own-passwords", action="store_true", help="a password made for each, told once: for a network"
        )
        parser.add_argument("--only", action="append", help="the name of a document in demo/, without its ending")

    def handle(self, *_args: Any, own_passwords: bool = False, only: list[str] | None = None, **_options: Any) -> None:
        team, _ = Team.objects.get_or_create(name="Practice team")
        told: dict[str, str] = {}
        for name, role in PEOPLE.items():
            user, fresh = get_user_model().objects.get_or_create(username=name)
            known = PASSWORD if fresh or user.check_password(PASSWORD) else "the password that they have"
            if fresh or (own_passwords and known == PASSWORD):
                # On a network nobody comes in by a password that everybody can read.
                known = secrets.token_urlsafe(12) if own_passwords else PASSWORD
                user.set_password(known)
                user.save()
            told[name] = known
            Membership.objects.get_or_create(user=user, team=team, defaults={"role": role})
        leader = get_user_model().objects.get(username="rowan")
        for file in sorted((settings.ROOT / "demo").glob("*.json")):
            if only is None or file.stem in only:
                played(team, leader, file, _story(file))
        _shelved(team, leader)
        for name, role in PEOPLE.items():
            self.stdout.write(f"  {name} / {told[name]}  ({role})")


def _shelved(team: Team, by: User) -> None:
    """The team's own gear and pulls, as they are in demo/shelf/."""
    here = settings.ROOT / "demo" / "shelf"
    if team.shelf.exists() or team.pulls.exists():
        return
    keep_pieces(team, by, read_shelf((here / "gear.csv").read_bytes()).pieces)
    for setup in yaml.safe_load((here / "pulls.yaml").read_text(encoding="utf-8")):
        for one in setup["pulls"]:
            keep_pull(team, by, NewPull(id=uuid.uuid4(), pull=PullMade(**setup["as"], **one)))


def _story(file: Path) -> Story | None:
    told = file.parent / "stories" / f"{file.stem}.yaml"
    return Story.model_validate(yaml.safe_load(told.read_text(encoding="utf-8"))) if told.exists() else None
