"""A team's people: roles by the leader, a link that lets in once."""

import json
from datetime import timedelta

import pytest
from accounts.models import Invitation, Membership, Team
from django.test import Client
from django.utils import timezone


@pytest.fixture
def team(people):
    return Team.objects.get()


def link(leader, team, username="maple", role="member"):
    status, told = leader.send("POST", f"/teams/{team.id}/invitations", {"username": username, "role": role})
    assert status == 200, told
    return told["path"].removeprefix("/join/")


def use(token, password="rope over the edge"):
    client = Client(headers={"host": "localhost"})
    answer = client.post(f"/api/join/{token}", json.dumps({"password": password}), content_type="application/json")
    return client, answer.status_code, answer.json()


def test_a_link_lets_one_person_in_once_with_a_password_of_their_own(leader, team):
    token = link(leader, team)
    assert Client(headers={"host": "localhost"}).get(f"/api/join/{token}").json() == {
        "username": "maple",
        "team": "Team",
    }
    client, status, told = use(token)
    assert status == 200 and told["username"] == "maple" and told["teams"][0]["role"] == "member"
    assert client.get("/api/plans").status_code == 200
    assert use(token)[1] == 404
    assert "maple" in [one["username"] for one in leader.get(f"/teams/{team.id}/members")[1]["members"]]


def test_what_stands_in_the_link_is_not_kept(leader, team):
    token = link(leader, team)
    assert token not in str(list(Invitation.objects.values()))


@pytest.mark.parametrize("password", ["short", "12345678901", "password"])
def test_a_weak_password_is_refused_and_the_link_still_works(leader, team, password):
    token = link(leader, team)
    status, told = use(token, password)[1:]
    assert status == 422 and told["faults"][0]["path"] == "password"
    assert use(token)[1] == 200


def test_a_link_that_has_run_out_or_was_replaced_lets_nobody_in(leader, team):
    first = link(leader, team)
    second = link(leader, team)
    assert use(first)[1] == 404
    Invitation.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    assert use(second)[1] == 404
    assert not Membership.objects.filter(user__username="maple").exists()


def test_a_fresh_link_ends_the_sessions_of_the_one_it_is_for(people, leader, team):
    assert people["member"].get("/plans")[0] == 200
    token = link(leader, team, "member")
    assert use(token)[1] == 200
    assert people["member"].get("/plans")[0] == 401


def test_roles_are_the_leaders_to_give_and_the_team_keeps_one(people, leader, team):
    for who in ("member", "observer", "outsider"):
        assert people[who].get(f"/teams/{team.id}/members")[0] == 403
        body = {"username": "mine", "role": "leader"}
        assert people[who].send("POST", f"/teams/{team.id}/invitations", body)[0] == 403
    path = f"/teams/{team.id}/members"
    assert leader.send("PUT", f"{path}/member", {"role": "observer"})[0] == 200
    assert Membership.objects.get(user__username="member").role == "observer"
    status, told = leader.send("PUT", f"{path}/leader", {"role": "member"})
    assert status == 422 and "only leader" in told["faults"][0]["problem"]
    assert leader.send("PUT", f"{path}/observer", {"role": None})[0] == 200
    assert people["observer"].get(path)[0] == 403
    assert leader.send("POST", f"/teams/{team.id}/invitations", {"username": "outsider", "role": "member"})[0] == 422
    assert leader.send("POST", f"/teams/{team.id}/invitations", {"username": "a b", "role": "member"})[0] == 422
