"""Signed-in clients for each role."""

import json
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from accounts import attempts
from accounts.models import Membership, Team
from django.contrib.auth import get_user_model
from django.db import transaction
from django.test import Client
from django.test.utils import override_settings
from plans.models import Plan
from plans.services import create_plan

from rigging.document import Plan as Document
from tests.plans import demo_document

QUICK_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


class Person:
    """A client that speaks JSON."""

    def __init__(self, user: Any):
        self.user = user
        self.client = Client(headers={"host": "localhost"})
        if user:
            self.client.force_login(user)

    def send(self, method: str, path: str, content: Any = None) -> tuple[int, Any]:
        body = content if isinstance(content, str | bytes) else json.dumps(content)
        answer = self.client.generic(method, f"/api{path}", body, content_type="application/json")
        return answer.status_code, answer.json()

    def get(self, path: str) -> tuple[int, Any]:
        answer = self.client.get(f"/api{path}")
        return answer.status_code, answer.json()

    def save(self, plan: Plan, base: int, document: Any, id: str | None = None) -> tuple[int, Any]:
        body = {"base": base, "id": id or str(uuid.uuid4()), "document": document}
        return self.send("PUT", f"/plans/{plan.id}", body)

    def say(self, plan: Plan, decision: str, **more: Any) -> tuple[int, Any]:
        entry = {"id": str(uuid.uuid4()), "kind": "decision", "decision": decision, "reason": "why not", "revision": 1}
        return self.send("POST", f"/plans/{plan.id}/log", {**entry, **more})


@pytest.fixture(autouse=True)
def _own_folder(settings: Any, tmp_path_factory: pytest.TempPathFactory) -> None:
    """What is kept beside the database is kept apart from what anybody works with."""
    settings.VAR = tmp_path_factory.mktemp("var")


@pytest.fixture(autouse=True)
def _no_attempts() -> None:
    attempts.forget()


@pytest.fixture(autouse=True)
def _quick_passwords(settings: Any) -> None:
    """Hashing made slow on purpose would be most of the tests' time."""
    settings.PASSWORD_HASHERS = QUICK_HASHERS


def a_team() -> dict[str, Person]:
    """Somebody of each role, one from outside and one who is not signed in."""
    team, users = Team.objects.create(name="Team"), get_user_model().objects
    found = {"nobody": Person(None), "outsider": Person(users.create_user("outsider"))}
    for role in ("leader", "member", "observer"):
        user = users.create_user(role, password="a long enough one")
        Membership.objects.create(user=user, team=team, role=role)
        found[role] = Person(user)
    return found


def a_plan(leader: Person) -> Plan:
    return create_plan(Team.objects.get(), leader.user, Document.model_validate(demo_document()), uuid.uuid4())


@contextmanager
def made_once(unblocked: Any, var: Path, fill: Callable[[dict[str, Person], Plan], Any]) -> Iterator[Any]:
    """People, a plan of theirs, filled, and its folder, for all tests of a module, each of which leaves the database as it was."""
    with unblocked, override_settings(VAR=var, PASSWORD_HASHERS=QUICK_HASHERS), transaction.atomic():
        people = a_team()
        plan = a_plan(people["leader"])
        fill(people, plan)
        yield people, plan, var
        transaction.set_rollback(True)


@pytest.fixture
def people(db: None) -> dict[str, Person]:
    return a_team()


@pytest.fixture
def leader(people: dict[str, Person]) -> Person:
    return people["leader"]


@pytest.fixture
def plan(leader: Person) -> Plan:
    return a_plan(leader)
