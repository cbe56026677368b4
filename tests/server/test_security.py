"""Who gets in and how far: sign-ins counted before they are checked, passwords of one's own, links that die, what is sent and what is kept."""

import csv
import io
import json
import subprocess
import threading
import uuid
from io import StringIO

import numpy as np
import pytest
from accounts import attempts
from accounts.models import Invitation, Membership, SecurityEvent, Team
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import Client
from django.test.utils import CaptureQueriesContext
from ninja.errors import HttpError
from operations import photos
from PIL import Image
from plans.services import create_plan
from readings.models import Cell, unpacked
from readings.take import Batch, cell_made, take

from rigging.document import Plan as Document
from rigging.quantities.faults import Refused
from rigging.readings.places import places
from tests.conftest import manage
from tests.pictures import picture
from tests.plans import changed, demo_document
from tests.server.conftest import Person
from tests.server.test_run import act

LONG = "seven stones by the water"


def test_of_forty_attempts_at_once_ten_are_checked():
    through, refused = [], []

    def attempt() -> None:
        try:
            attempts.count("10.0.0.9", "rowan")
            through.append(1)
        except HttpError:
            refused.append(1)

    threads = [threading.Thread(target=attempt) for _ in range(40)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert (len(through), len(refused)) == (attempts.OF_A_NAME, 30)
    # Somebody else from there, and the same name from elsewhere, are not kept out by it.
    attempts.count("10.0.0.9", "ash")
    attempts.count("10.0.0.8", "rowan")


def test_one_address_does_not_try_name_after_name():
    for n in range(attempts.OF_AN_ADDRESS):
        attempts.count("10.0.0.7", f"name-{n}")
    with pytest.raises(HttpError):
        attempts.count("10.0.0.7", "one-more")


def test_links_are_not_guessed(people, client):
    token = client.get("/api/session", headers={"host": "localhost"}).json()["csrf_token"]
    answers = [
        client.post(
            f"/api/join/{uuid.uuid4()}", {"password": LONG}, content_type="application/json",
            headers={"X-CSRFToken": token, "host": "localhost"},
        ).status_code
        for _ in range(attempts.OF_AN_ADDRESS + 1)
    ]  # fmt: skip
    assert answers[0] == 404 and answers[-1] == 429


def test_a_password_of_ones_own_is_changed_and_other_sessions_end(people, leader):
    elsewhere = Client(headers={"host": "localhost"})
    elsewhere.force_login(leader.user)
    assert leader.send("POST", "/session/password", {"old": "wrong", "new": LONG})[1]["faults"][0]["path"] == "old"
    for weak in ("short", "password1234", "123456789012"):
        told = leader.send("POST", "/session/password", {"old": "a long enough one", "new": weak})
        assert told[0] == 422 and told[1]["faults"][0]["path"] == "new", weak
    assert leader.send("POST", "/session/password", {"old": "a long enough one", "new": LONG})[0] == 200
    leader.user.refresh_from_db()
    assert leader.user.check_password(LONG)
    assert leader.get("/plans")[0] == 200 and elsewhere.get("/api/plans").status_code == 401


def test_other_sessions_are_ended(people, leader):
    elsewhere = Client(headers={"host": "localhost"})
    elsewhere.force_login(leader.user)
    assert leader.send("DELETE", "/session/others")[0] == 200
    assert leader.get("/plans")[0] == 200 and elsewhere.get("/api/plans").status_code == 401


def test_nobodys_account_is_another_teams_to_give(people, leader):
    """A member of two teams: a fresh link would be a fresh password, and with it the other team."""
    other = Team.objects.create(name="Another team")
    Membership.objects.create(user=people["member"].user, team=other, role="leader")
    team = Team.objects.get(name="Team")
    body = {"username": "member", "role": "member"}
    assert leader.send("POST", f"/teams/{team.id}/invitations", body)[0] == 422
    assert leader.send("POST", f"/teams/{team.id}/invitations", {"username": "outsider", "role": "member"})[0] == 422


def test_links_die_with_whoever_they_are_for_and_whoever_made_them(people, leader):
    team = Team.objects.get()
    second = get_user_model().objects.create_user("second")
    Membership.objects.create(user=second, team=team, role="leader")
    for who, name in ((leader, "member"), (Person(second), "friend")):
        assert who.send("POST", f"/teams/{team.id}/invitations", {"username": name, "role": "leader"})[0] == 200
    assert leader.send("PUT", f"/teams/{team.id}/members/member", {"role": None})[0] == 200
    assert leader.send("PUT", f"/teams/{team.id}/members/second", {"role": None})[0] == 200
    assert not Invitation.objects.exists()


def test_what_is_private_is_kept_by_no_cache_and_goes_out_small(leader, plan):
    answer = leader.client.get(f"/api/plans/{plan.id}/run", headers={"Accept-Encoding": "gzip"})
    assert answer["Cache-Control"] == "no-store" and answer["Content-Encoding"] == "gzip"
    assert len(answer.content) < 40_000


@pytest.mark.parametrize("count", [1, 30])
def test_the_list_of_plans_asks_no_more_of_the_database_for_many(leader, plan, count, django_assert_max_num_queries):
    for _ in range(count):
        create_plan(plan.team, leader.user, Document.model_validate(demo_document()), uuid.uuid4())
    with django_assert_max_num_queries(8):
        status, rows = leader.get("/plans")
    assert status == 200 and len(rows) == count + 1 and {one["team"]["role"] for one in rows} == {"leader"}


def test_no_cell_of_a_table_begins_a_formula(leader, plan):
    leader.say(plan, '=HYPERLINK("http://elsewhere")', reason="+1", considered="@here")
    rows = list(
        csv.DictReader(
            io.StringIO(b"".join(leader.client.get(f"/api/plans/{plan.id}/log.csv").streaming_content).decode())
        )
    )
    assert [rows[0][name][:2] for name in ("decision", "reason", "considered")] == ["'=", "'+", "'@"]


def test_a_small_file_that_stands_for_a_huge_picture_is_refused(tmp_path):
    out = io.BytesIO()
    Image.new("1", (9000, 9000)).save(out, "PNG")
    assert len(out.getvalue()) < 50_000
    with pytest.raises(Refused):
        photos.keep(out.getvalue(), "lip.png")
    # A camera's is taken, and read small.
    said = photos.keep(picture("JPEG", (8000, 6000)), "lip.jpg")
    assert said["width"] == 8000
    with Image.open(photos.file_of(said, small=True)) as small:
        assert max(small.size) <= 320


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photograph_is_kept_without_where_by_whom_and_with_what_it_was_taken(kind):
    """The same picture to the last point, which way is up said where that is not the usual one."""
    exif = Image.Exif()
    exif[271], exif[315], exif[274] = "A maker", "Somebody", 6
    exif.get_ifd(0x8825)[2] = (47.0, 11.0, 5.0)
    out = io.BytesIO()
    picture_of = Image.effect_noise((120, 80), 60).convert("RGB")
    picture_of.save(out, kind, exif=exif, comment=b"at the lip", quality=90)
    assert b"Somebody" in out.getvalue()
    said = photos.keep(out.getvalue(), "lip.jpg")
    kept = photos.file_of(said).read_bytes()
    assert b"Somebody" not in kept and b"A maker" not in kept and b"at the lip" not in kept
    with Image.open(io.BytesIO(kept)) as one, Image.open(io.BytesIO(out.getvalue())) as before:
        assert one.tobytes() == before.tobytes()
        found = dict(one.getexif())
        assert found == {274: 6} and not one.getexif().get_ifd(0x8825)


# Readings


@pytest.fixture
def cell(leader, plan):
    from django.utils import timezone

    return cell_made(plan, uuid.uuid4(), "Ratchet", "load", "kN", timezone.now())


def batch(first: int, at: str, times_ms: list[float]) -> Batch:
    from datetime import datetime

    return Batch(first, datetime.fromisoformat(at), times_ms, [1.4] * len(times_ms))


def test_a_cell_whose_clock_was_an_hour_ahead_and_is_set_right_loses_nothing(leader, plan, cell):
    take(plan, cell, batch(0, "2026-03-01T11:00:00+00:00", [0, 50, 100]), leader.user)
    assert take(plan, cell, batch(3, "2026-03-01T10:00:00+00:00", [0, 50, 100]), leader.user) == 6
    times, forces = unpacked(cell.blocks.all())
    assert len(times) == 6 and (np.diff(times) > 0).all() and (forces == 1400).all()
    assert leader.get(f"/plans/{plan.id}/readings/{cell.id}")[1]["count"] == 6


def test_sixty_days_between_two_readings_are_kept_as_they_are(leader, plan, cell):
    days = 60 * 86_400_000.0
    take(plan, cell, batch(0, "2026-01-01T10:00:00+00:00", [0, 50, days, days + 50]), leader.user)
    times, _ = unpacked(cell.blocks.all())
    assert np.diff(times).tolist() == [50, days - 50, 50]
    assert leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"] == []


@pytest.mark.parametrize(
    ("field", "value"), [("first", 2**31), ("at", "0001-01-01T00:00:00+05:00"), ("times_ms", [-(10.0**12) * 0.9])]
)
def test_numbers_that_can_not_be_kept_are_refused_at_the_door(leader, plan, cell, field, value):
    body = {"cell": str(cell.id), "first": 0, "at": "2026-03-01T10:00:00Z", "times_ms": [0], "values": [1]} | {
        field: value
    }
    if field == "times_ms":
        body["at"] = "2001-01-01T00:00:00Z"
    status, told = leader.send("POST", f"/plans/{plan.id}/readings", body)
    assert status == 422 and told["faults"][0]["path"].startswith(field)
    assert Cell.objects.get().last_block is None


def test_a_cell_whose_anchor_left_the_plan_is_still_answered_kept_and_watched(leader, plan):

    document = demo_document()
    last = document["anchors"][-1]
    arrangement = {**last["alternatives"][0], "id": "spare-one"}
    spare = {**last, "id": "spare", "name": "Spare", "alternatives": [arrangement], "taken": "spare-one"}
    assert (told := leader.save(plan, 1, changed(document, anchors=[*document["anchors"], spare])))[0] == 200, told
    where = next(one for one in places(Document.model_validate(json.loads(plan.latest.document))) if "spare" in one)
    id = str(uuid.uuid4())
    body = {"id": id, "name": "Far one", "place": where, "unit": "kN"}
    assert leader.send("POST", f"/plans/{plan.id}/cells", body)[0] == 200
    assert leader.save(plan, 2, document)[0] == 200
    status, told = leader.get(f"/plans/{plan.id}/cells")
    assert status == 200 and "no more" in told["cells"][0]["place_text"]
    body = {"cell": id, "first": 0, "at": "2026-03-01T10:00:00Z", "times_ms": [0, 50], "values": [1, 1]}
    assert leader.send("POST", f"/plans/{plan.id}/readings", body)[1]["next"] == 2


@pytest.mark.parametrize(
    "text",
    [
        "time,force (kN)" + " " * 100_000 + "\n0,1\n",
        "time (s),force (kN)\n0," + "1" * 200_000 + "\n",
        "time (s),force (kN)\n" + "0;1\n" * 3,
    ],
)
def test_a_table_made_to_take_long_is_refused_at_once(leader, plan, cell, text):
    file = SimpleUploadedFile("t.csv", text.encode())
    answer = leader.client.post(f"/api/plans/{plan.id}/cells/{cell.id}/table", {"file": file})
    assert answer.status_code == 422 or answer.json()["faults"] or answer.json()["asks"]


def test_eight_thousand_equal_names_are_refused_before_they_are_named(leader):
    text = "name,kind,x_m,y_m\n" + "tree,tree,1,1\n" * 8000
    body = {"team": Team.objects.get().id, "text": text, "document": demo_document(), "settings": {"heights": "level"}}
    status, told = leader.send("POST", "/survey/paste", body)
    assert status == 200 and "8000 places" in told["faults"][0]["problem"] and not told["features"]


@pytest.mark.parametrize("path", [f"log?place={2**63}", "events?after=99999999999", "revisions/99999999999999999999"])
def test_numbers_past_what_the_database_holds_are_refused(leader, plan, path):
    assert leader.get(f"/plans/{plan.id}/{path}")[0] == 422


def test_a_height_of_four_hundred_digits_is_refused(leader):
    text = '{"title": "x", "site": {"drop_m": ' + "9" * 400 + "}}"
    assert leader.send("POST", "/analyse", text)[0] == 422


def test_a_cells_own_key_writes_its_readings_and_nothing_else(people, leader, plan, cell):
    status, told = people["member"].send("POST", f"/plans/{plan.id}/cells/{cell.id}/key", {})
    assert status == 200 and people["observer"].send("POST", f"/plans/{plan.id}/cells/{cell.id}/key", {})[0] == 403
    bridge = Client(headers={"host": "localhost", "Authorization": f"Bearer {told['token']}"})
    other = cell_made(plan, uuid.uuid4(), "Haul", "load", "kN", cell.made_at)

    def sends(id, first=0):
        body = {"cell": str(id), "first": first, "at": "2026-03-01T10:00:00Z", "times_ms": [0, 50], "values": [1, 1]}
        return bridge.post("/api/readings", json.dumps(body), content_type="application/json").status_code

    assert sends(cell.id) == 200 and cell.last_block.following == 2
    assert sends(other.id) == 403 and other.last_block is None
    for path in ("plans", f"plans/{plan.id}", f"plans/{plan.id}/log", f"plans/{plan.id}/readings/{cell.id}"):
        assert bridge.get(f"/api/{path}").status_code == 401, path
    # A fresh key ends the one of before, and whoever made it leaving the team ends it, too.
    people["member"].send("POST", f"/plans/{plan.id}/cells/{cell.id}/key", {})
    assert sends(cell.id, 2) == 401
    told = people["member"].send("POST", f"/plans/{plan.id}/cells/{cell.id}/key", {})[1]
    bridge = Client(headers={"host": "localhost", "Authorization": f"Bearer {told['token']}"})
    Membership.objects.filter(user=people["member"].user).delete()
    assert sends(cell.id, 2) == 401 and cell.last_block.following == 2


# Beginning


def test_an_installation_begins_with_a_team_and_its_first_leader(db):
    out = StringIO()
    call_command("first_leader", "Valley team", "heron", stdout=out)
    name, password = out.getvalue().split("  ")[0].split(" / ")
    user = get_user_model().objects.get(username=name)
    assert user.check_password(password) and len(password) >= 12
    assert Membership.objects.get(user=user).role == "leader"
    with pytest.raises(CommandError):
        call_command("first_leader", "Valley team", "wren", stdout=out)


def test_on_a_network_the_demo_comes_with_passwords_of_its_own(db):
    out = StringIO()
    call_command("load_demo", "--own-passwords", "--only", "alder-gill", stdout=out)
    assert "practice-only" not in out.getvalue()
    first = out.getvalue().split("rowan / ")[1].split()[0]
    assert get_user_model().objects.get(username="rowan").check_password(first)


def test_what_is_written_is_this_accounts_alone_to_read(tmp_path):
    from tests.conftest import environment

    try:
        manage(environment(tmp_path), "migrate", "-v0")
    except subprocess.CalledProcessError as error:
        pytest.fail(str(error.stderr))
    for file in tmp_path.rglob("*"):
        assert file.stat().st_mode & 0o077 == 0, file


def test_a_run_is_asked_of_the_database_in_few_questions(leader, plan):
    from django.db import connection

    act(leader, plan, "begin")
    with CaptureQueriesContext(
        connection,
    ) as asked:
        leader.get(f"/plans/{plan.id}/run")
    assert len(asked) <= 20


# What leaders read of it


def test_leaders_read_who_came_in_who_tried_and_what_was_changed_about_it(people, leader, client):
    team = Team.objects.get()

    def sign_in(name: str, password: str) -> int:
        body = json.dumps({"username": name, "password": password})
        headers = {"host": "localhost"}
        return client.post("/api/session", body, content_type="application/json", headers=headers).status_code

    assert sign_in("member", "not this one") == 422 and sign_in("member", "a long enough one") == 200
    assert sign_in("nobody-at-all", "guess") == 422
    for _ in range(attempts.OF_A_NAME + 5):
        sign_in("observer", "guess")
    leader.send("POST", f"/teams/{team.id}/invitations", {"username": "maple", "role": "member"})
    leader.send("PUT", f"/teams/{team.id}/members/observer", {"role": "member"})
    status, rows = leader.get(f"/teams/{team.id}/security")
    said = [(one["kind"], one["name"]) for one in rows]
    assert status == 200 and said[:2] == [("role changed", "observer"), ("link made", "maple")]
    assert {one["by"] for one in rows[:2]} == {"leader"} and all(one["address"] == "127.0.0.1" for one in rows)
    for row in (("wrong password", "member"), ("signed in", "member"), ("wrong password", "nobody-at-all")):
        assert row in said
    # Who goes on trying is one line.
    assert said.count(("too many attempts", "observer")) == 1
    for who in ("member", "observer", "outsider"):
        assert people[who].get(f"/teams/{team.id}/security")[0] in (401, 403)


def test_what_is_about_another_team_is_not_read_here(people, leader):
    other = Team.objects.create(name="Another team")
    user = get_user_model().objects.create_user("heron", password=LONG)
    Membership.objects.create(user=user, team=other, role="leader")
    Person(user).send("POST", f"/teams/{other.id}/invitations", {"username": "wren", "role": "member"})
    Person(user).send("DELETE", "/session")
    rows = leader.get(f"/teams/{Team.objects.get(name='Team').id}/security")[1]
    assert not {"heron", "wren"} & {one["name"] for one in rows}


def test_whoever_asks_for_what_is_not_theirs_is_written_down_once(people, leader, plan):
    document = demo_document()
    for _ in range(5):
        assert people["observer"].save(plan, 1, document)[0] == 403
    told = leader.get(f"/teams/{plan.team_id}/security")[1]
    mine = [one for one in told if one["kind"] == "asked for what is not theirs"]
    assert [(one["name"], one["said"]) for one in mine] == [("observer", f"PUT /api/plans/{plan.id}")]


def test_however_busy_a_session_ends_after_a_week(leader, plan):
    assert leader.get("/plans")[0] == 200
    session = leader.client.session
    session["since"] -= 8 * 24 * 3600
    session.save()
    assert leader.get("/plans")[0] == 401
    assert leader.get("/session")[1]["username"] == ""


def test_no_script_of_a_page_reads_a_cookie(client):
    client.get("/api/session", headers={"host": "localhost"})
    assert client.cookies and all(one["httponly"] for one in client.cookies.values())


@pytest.mark.parametrize("path", ["/", "/plans", "/api/session", "/api/plans"])
def test_every_answer_tells_the_browser_what_it_may_not_do(leader, path):
    told = leader.client.get(path).headers
    assert told["X-Content-Type-Options"] == "nosniff" and told["Referrer-Policy"] == "same-origin"
    assert told["X-Frame-Options"] == "DENY" and told["Cross-Origin-Opener-Policy"] == "same-origin"
    policy = dict(one.strip().partition(" ")[::2] for one in told["Content-Security-Policy"].split(";"))
    assert (policy["script-src"], policy["object-src"], policy["frame-ancestors"]) == ("'self'", "'none'", "'none'")
    assert "Access-Control-Allow-Origin" not in told


def test_nothing_of_the_project_is_served_and_no_address_is_believed(leader, client):
    for path in ("/.git/config", "/pyproject.toml", "/var/secret-key", "/../server/manage.py"):
        told = leader.client.get(path)
        assert told.headers["Content-Type"].startswith("text/html") and b"[core]" not in told.content
    assert leader.client.generic("TRACE", "/api/session").status_code == 405
    client.post(
        "/api/session", {"username": "leader", "password": "not this one"}, content_type="application/json",
        headers={"host": "localhost", "X-Forwarded-For": "203.0.113.9"},
    )  # fmt: skip
    assert not SecurityEvent.objects.filter(address="203.0.113.9").exists()
