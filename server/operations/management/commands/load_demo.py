"""Make the demo team, its people and its plans from the documents in demo/."""

import json
import secrets
import uuid
from typing import Any

from accounts.models import Membership, Role, Team
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandParser
from plans.services import create_plan

from operations.models import LogEntry
from operations.services import append
from rigging.document import Plan as Document

PASSWORD = "practice-only"
PEOPLE = {"rowan": Role.LEADER, "ash": Role.MEMBER, "guest": Role.OBSERVER}


class Command(BaseCommand):
    help = "Loads the invented demo scenario. Running it again changes nothing."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--own-passwords", action="store_true", help="a password made for each, told once: for a network"
        )

    def handle(self, *_args: Any, own_passwords: bool = False, **_options: Any) -> None:
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
            document = Document.model_validate(json.loads(file.read_text(encoding="utf-8")))
            plan = create_plan(team, leader, document, uuid.uuid5(uuid.NAMESPACE_URL, f"outrigger-demo/{file.stem}"))
            if not plan.log.exists():
                self._first_entry(plan, leader)
        for name, role in PEOPLE.items():
            self.stdout.write(f"  {name} / {told[name]}  ({role})")

    @staticmethod
    def _first_entry(plan: Any, leader: Any) -> None:
        append(
            plan, leader, id=uuid.uuid5(plan.id, "first"), revision=plan.latest, kind=LogEntry.Kind.DECISION,
            decision="Strap low on the larch, 0.3 m above the ground", reason="a trunk loses strength with height",
            considered="The boulder beside the road: only lying, undercut", corrects=None,
        )  # fmt: skip
