"""A run that is entered upon in the middle, leaves its plan by what is done instead, and keeps its place when its sections are put in order."""

import json
import re
import uuid

import pytest
from operations.composing import composed_of
from operations.models import Run
from plans.models import Plan
from plans.services import create_plan, save_revision

from rigging.document import Plan as Document
from tests.plans import demo_plan, on_snow
from tests.server.test_run import act, at, entries, go_to
from tests.server.test_signing import sign


@pytest.fixture
def crevasse(leader, plan) -> Plan:
    """Somebody holds the rope of one who fell in; the run stands where the load is to be hauled 2 : 1."""
    document = on_snow().model_dump(mode="json") | {"operation": {"begins": "arrested", "sections": None}}
    one = create_plan(plan.team, leader.user, Document.model_validate(document), uuid.uuid4())
    act(leader, one, "begin")
    go_to(leader, one, "drop-haul/2")
    return one


def test_what_is_done_instead_is_entered_and_the_run_goes_on_from_it_to_its_end(leader, crevasse):
    status, told = act(
        leader, crevasse, "enter", at="drop-haul/2", text="two heaves and it stayed", branch="drop-haul/or:1"
    )
    assert (status, told["at"], told["changed"]) == (200, "drop-six/1", "")
    # The plan says so from now on, in a revision of its own; nothing that was done is done again.
    assert crevasse.latest.number == 2 and told["revision"] == 2
    said = entries(leader, crevasse, kind="contingency")[-1]
    assert said["decision"] == "3 : 1 on the haul strand, 6 : 1, instead of: Haul on the drop loop, 2 : 1"
    assert said["reason"] == "two heaves and it stayed"
    last = composed_of(crevasse, crevasse.latest, None).order[-1]
    go_to(leader, crevasse, last)
    assert act(leader, crevasse, "done", at=last)[1]["all_done"] is True
    assert act(leader, crevasse, "end")[1]["status"] == "ended"


def test_it_is_entered_once_however_often_it_is_sent(leader, crevasse):
    id = uuid.uuid4()
    first = act(leader, crevasse, "enter", at="drop-haul/2", branch="drop-haul/or:1", id=str(id))
    again = act(leader, crevasse, "enter", at="drop-haul/2", branch="drop-haul/or:1", id=str(id))
    assert first[0] == again[0] == 200 and again[1]["at"] == "drop-six/1"
    assert crevasse.revisions.count() == 2


@pytest.mark.parametrize("branch", ["", "drop-haul/or:2", "raise/or:1"])
def test_what_is_not_there_to_be_entered_is_refused_with_what_is(leader, crevasse, branch):
    status, told = act(leader, crevasse, "enter", at="drop-haul/2", branch=branch)
    assert (status, told["faults"][0]["path"], told["faults"][0]["right"]) == (
        422,
        "data.branch",
        "one of drop-haul/or:1",
    )
    assert crevasse.revisions.count() == 1 and at(leader, crevasse) == "drop-haul/2"


def test_only_the_leader_enters_it_and_only_from_its_own_section(leader, people, crevasse):
    assert act(people["member"], crevasse, "enter", branch="drop-haul/or:1")[0] == 403
    go_to(leader, crevasse, "drop-lip/1")
    status, told = act(leader, crevasse, "enter", branch="drop-haul/or:1")
    assert status == 422 and "not the one now" in told["faults"][0]["problem"]
    act(people["member"], crevasse, "stop")
    assert act(leader, crevasse, "enter", branch="drop-haul/or:1")[0] == 422
    assert crevasse.revisions.count() == 1


def test_a_run_that_is_entered_in_the_middle_stands_there_and_its_log_says_why(leader, plan):
    for sent, path in (({"from": "raise:1/1"}, "text"), ({"from": "lower/77"}, "data.from")):
        status, told = act(leader, plan, "begin", text=" ", **sent)
        assert (status, told["faults"][0]["path"]) == (422, path)
    assert not Run.objects.filter(plan=plan).exists()
    status, told = act(leader, plan, "begin", text="lowered by the other team", **{"from": "raise:1/1"})
    assert (status, told["at"]) == (200, "raise:1/1")
    said = entries(leader, plan)[-1]
    assert (
        said["decision"].startswith("Run begun on revision 1, at: Haul")
        and said["reason"] == "lowered by the other team"
    )


def test_a_run_keeps_its_place_when_its_sections_are_put_in_another_order(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "secure/2")
    sections = ["set-up", "check", "lower", "secure", "change-over", "raise", "derig"]
    document = demo_plan().model_dump(mode="json") | {
        "operation": {"begins": "ground", "sections": [{"procedure": one} for one in sections]}
    }
    save_revision(plan, leader.user, Document.model_validate(document), 1, uuid.uuid4())
    assert at(leader, plan) == "secure/2"
    # Its own section left out: on after the last that was done and still is there.
    rest = [{"procedure": one} for one in sections if one != "secure"]
    document["operation"]["sections"] = rest
    save_revision(plan, leader.user, Document.model_validate(document), 2, uuid.uuid4())
    assert at(leader, plan) == "change-over/1"


def test_a_run_begun_with_lines_open_or_unsigned_has_a_reason_by_name(leader, people, plan):
    """Demo: nothing to stop for, and nobody but its author has looked at it."""
    told = leader.get(f"/plans/{plan.id}/run/before")[1]["text"]
    assert "that nobody else has signed" in told and "stop" not in told
    status, refused = act(leader, plan, "begin", text=" ")
    assert (status, refused["faults"][0]["path"]) == (422, "text") and told in refused["faults"][0]["problem"]
    assert not Run.objects.filter(plan=plan).exists()
    sign(people["member"], plan)
    assert leader.get(f"/plans/{plan.id}/run/before")[1]["text"] == ""
    # A stop that nobody accepted is told by number, signed or not.
    document = json.loads(plan.latest.document)
    document["lines"][0]["lowering"].pop("brake_hitch")
    save_revision(plan, plan.latest.author, Document.model_validate(document), 1, uuid.uuid4())
    told = leader.get(f"/plans/{plan.id}/run/before")[1]["text"]
    assert re.match(r"\d+ stops? open", told)
    status, _ = act(leader, plan, "begin", text="the hitch goes on at the rim")
    said = entries(leader, plan)[-1]
    assert status == 200 and told in said["decision"] and said["reason"] == "the hitch goes on at the rim"
    assert said["data"]["open"]["stops"] >= 1 and said["author"] == "leader"
