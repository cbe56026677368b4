"""Ids that a client chooses are bound: where one stands already, of another plan, person, kind or team, it is refused; nothing is changed and
nothing of what stands there is shown."""

import json
import uuid

import pytest
from accounts.models import Membership, Team
from django.contrib.auth import get_user_model
from operations.models import LogEntry, Run
from plans.models import Revision
from plans.services import create_plan
from readings.models import Cell

from rigging.document import Plan as Document
from tests.pictures import picture
from tests.plans import demo_document
from tests.server.conftest import Person
from tests.server.test_run import act

SECRET = "what only they know"


@pytest.fixture
def others(people, leader, plan):
    """A plan of another team, with an entry, a run, a signature, a photograph and a cell; and the same in a second plan of one's own team."""
    team = Team.objects.create(name="Another team")
    user = get_user_model().objects.create_user("stranger")
    Membership.objects.create(user=user, team=team, role="leader")
    stranger = Person(user)
    theirs = create_plan(team, user, Document.model_validate(demo_document()), uuid.uuid4())
    second = create_plan(plan.team, leader.user, Document.model_validate(demo_document()), uuid.uuid4())
    ids = {}
    for name, who, where in (("theirs", stranger, theirs), ("second", leader, second)):
        ids[f"entry of {name}"] = say(who, where, SECRET)
        ids[f"run of {name}"] = begun(who, where)
        ids[f"cell of {name}"] = hung(who, where)
        ids[f"revision of {name}"] = str(where.latest.client_id)
    # In one's own plan, by somebody else, and of another kind.
    ids["entry of the member"] = say(people["member"], plan, SECRET)
    ids["own entry"] = say(leader, plan, SECRET)
    return ids


def say(who, plan, words):
    id = str(uuid.uuid4())
    assert who.say(plan, words, id=id)[0] == 200
    return id


def begun(who, plan):
    id = str(uuid.uuid4())
    assert act(who, plan, "begin", id=id)[0] == 200
    return id


def hung(who, plan):
    id = str(uuid.uuid4())
    assert (
        who.send("POST", f"/plans/{plan.id}/cells", {"id": id, "name": SECRET, "place": "load", "unit": "kN"})[0] == 200
    )
    return id


def photographed(who, plan, id):
    body = {"id": id, "file": picture_file(), "text": "here"}
    answer = who.client.post(f"/api/plans/{plan.id}/photographs", body)
    return answer.status_code, answer.json()


def picture_file():
    from django.core.files.uploadedfile import SimpleUploadedFile

    return SimpleUploadedFile("lip.png", picture(), content_type="image/png")


def new_plan(leader, plan, id, **more):
    return leader.send("POST", "/plans", {"team": plan.team_id, "id": id, "document": demo_document()})


WAYS = {
    "an entry": lambda who, plan, id: who.say(plan, "here", id=id),
    "an entry that corrects": lambda who, plan, id: who.say(plan, "here", kind="correction", corrects=id),
    "an act that begins": lambda who, plan, id: act(who, plan, "begin", id=id),
    "an act": lambda who, plan, id: (act(who, plan, "begin"), act(who, plan, "stop", id=id))[1],
    "a signature": lambda who, plan, id: who.send("POST", f"/plans/{plan.id}/sign", {"id": id, "revision": 1, "lines": None}),
    "a save": lambda who, plan, id: who.save(plan, 1, demo_document(), id),
    "a plan": new_plan,
    "a plan from a file": lambda who, plan, id: who.send(
        "POST", "/plans/import", {"team": plan.team_id, "id": id, "content": demo_document()}
    ),
    "a photograph": photographed,
    "a cell": lambda who, plan, id: who.send("POST", f"/plans/{plan.id}/cells", {"id": id, "name": "mine", "place": "load", "unit": "kN"}),
    "readings": lambda who, plan, id: who.send(
        "POST", f"/plans/{plan.id}/readings", {"cell": id, "first": 0, "at": "2026-03-01T10:00:00Z", "times_ms": [0], "values": [1]}
    ),
    "a photograph read": lambda who, plan, id: who.get(f"/plans/{plan.id}/photographs/{id}"),
    "readings read": lambda who, plan, id: who.get(f"/plans/{plan.id}/readings/{id}"),
    "what happens to a cell": lambda who, plan, id: who.send("POST", f"/plans/{plan.id}/cells/{id}/event", {"event": "off"}),
}  # fmt: skip


WRITES = [WAYS[name] for name in ("an entry", "an act that begins", "an act", "a photograph")]


def state(plan):
    """Everything that stands, but for one's own run."""
    entries = {str(one.pk): one.content_hash() for one in LogEntry.objects.select_related("revision")}
    runs = {str(one.pk): (str(one.plan_id), one.at, one.status) for one in Run.objects.exclude(plan=plan)}
    cells = {str(one.pk): (str(one.plan_id), one.name, one.blocks.count()) for one in Cell.objects.all()}
    revisions = {str(one.client_id): (str(one.plan_id), one.sha256, one.author_id) for one in Revision.objects.all()}
    return entries, runs, cells, revisions


@pytest.mark.parametrize("way", WAYS.values(), ids=WAYS)
def test_an_id_that_stands_elsewhere_is_refused(leader, plan, others, way):
    for name, id in others.items():
        if name == "own entry":
            continue
        before = state(plan)
        status, told = way(leader, plan, id)
        after = state(plan)
        # Everything that stood stands as it was, and nothing of it is told.
        for old, new in zip(before, after, strict=True):
            assert old.items() <= new.items(), name
        assert SECRET not in json.dumps(told), name
        if name.startswith(("entry", "run")) and way in WRITES:
            # Among entries there is no second of an id.
            assert status >= 400, name


def test_the_same_id_of_ones_own_is_the_same_thing_sent_again_and_of_another_kind_is_refused(leader, plan, others):
    id = others["own entry"]
    count = plan.log.count()
    assert leader.say(plan, "again", id=id)[1]["decision"] == SECRET
    assert act(leader, plan, "begin", id=id)[0] == 422
    assert photographed(leader, plan, id)[0] == 422
    assert plan.log.count() == count and not plan.runs.exists()


def test_what_one_did_is_not_sent_under_anothers_name(leader, people, plan):
    """Somebody else has signed in in this browser since."""
    id = str(uuid.uuid4())
    body = {"id": id, "kind": "observation", "decision": "seen by the member", "revision": 1}
    headers = {"X-Signed-In-As": "member"}
    answer = leader.client.post(
        f"/api/plans/{plan.id}/log", json.dumps(body), content_type="application/json", headers=headers
    )
    assert answer.status_code == 401 and not plan.log.exists()
    answer = people["member"].client.post(
        f"/api/plans/{plan.id}/log", json.dumps(body), content_type="application/json", headers=headers
    )
    assert answer.status_code == 200 and plan.log.get().author == people["member"].user
