"""Who may do what. Nothing but the sign-in, a one-time link and the caution without signing in."""

import uuid

import pytest
from accounts.models import Team
from config.api import api
from django.test import Client

from tests.plans import demo_document

# A link is its own way in: what stands in it is the key.
OPEN = {"session", "sign_in", "caution", "read_invitation", "join", "read_observer_link", "look"}


def endpoints():
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method, operation in methods.items():
            filled = path.replace("{plan_id}", str(uuid.UUID(int=7))).replace("{number}", "1")
            yield operation["operationId"], method.upper(), filled


@pytest.mark.parametrize(("name", "method", "path"), list(endpoints()))
def test_every_endpoint_but_the_way_in_asks_who_you_are(db, name, method, path):
    status = (
        Client(headers={"host": "localhost"}).generic(method, path, "{}", content_type="application/json").status_code
    )
    assert (status != 401) == (name in OPEN)


def test_sign_in_needs_its_token_name_and_password(people):
    client = Client(enforce_csrf_checks=True, headers={"host": "localhost"})
    body = {"username": "leader", "password": "a long enough one"}
    assert client.post("/api/session", body, content_type="application/json").status_code == 403
    token = client.get("/api/session").json()["csrf_token"]
    wrong = client.post(
        "/api/session", {**body, "password": "x"}, content_type="application/json", headers={"X-CSRFToken": token}
    )
    assert wrong.status_code == 422
    assert wrong.json()["faults"][0]["path"] == "password"
    right = client.post("/api/session", body, content_type="application/json", headers={"X-CSRFToken": token})
    assert right.json()["username"] == "leader"
    # A request from another page, without the token, is refused even with the session.
    assert client.post("/api/analyse", demo_document(), content_type="application/json").status_code == 403


@pytest.mark.parametrize(
    ("who", "read", "save", "log", "create"),
    [
        ("leader", 200, 200, 200, 200),
        ("member", 200, 403, 200, 403),
        ("observer", 200, 403, 403, 403),
        ("outsider", 404, 404, 404, 403),
    ],
)
def test_roles(people, plan, who, read, save, log, create):
    person = people[who]
    assert person.get(f"/plans/{plan.id}")[0] == read
    assert person.get(f"/plans/{plan.id}/export")[0] == read
    assert person.save(plan, 1, demo_document())[0] == save
    assert person.say(plan, "Strap moved down")[0] == log
    new = {"team": Team.objects.get().id, "id": str(uuid.uuid4()), "document": demo_document()}
    assert person.send("POST", "/plans", new)[0] == create
    rows = person.get("/plans")[1]
    assert bool(rows) == (who != "outsider")
