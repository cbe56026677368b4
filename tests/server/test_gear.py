"""The list of what the gear went through: made from the run and its readings, signed by somebody, kept in the chain."""

import io
import uuid

import pytest
from django.core.management import call_command
from django.utils import timezone
from operations.models import LogEntry
from operations.selectors import signed_lines

from tests.plans import changed, demo_document
from tests.server.test_readings import batch, cell, send  # noqa: F401
from tests.server.test_run import act, go_to


@pytest.fixture(autouse=True)
def _own_folder(settings, tmp_path):
    settings.VAR = tmp_path


def listed(person, plan):
    status, told = person.get(f"/plans/{plan.id}/gear")
    assert status == 200, told
    return told, {one["id"]: one for one in told["report"]["pieces"]}


def sign(person, plan, *lines, id=None):
    return person.send("POST", f"/plans/{plan.id}/gear", {"id": id or str(uuid.uuid4()), "lines": list(lines)})


def line(piece, becomes="bag", **more):
    return {"piece": piece, "becomes": becomes, **more}


def test_before_a_run_there_is_no_list(leader, plan):
    status, told = leader.get(f"/plans/{plan.id}/gear")
    assert status == 422 and told["faults"][0]["path"] == "run"


def test_every_rope_sling_hitch_and_connector_of_the_run_is_on_the_list(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:2/1")
    told, pieces = listed(leader, plan)
    assert {one["kind"] for one in pieces.values()} == {"rope", "sling", "hitch", "connector", "device"}
    assert {"rope:main", "rope:belay", "main:capture", "main:load-connector", "anchor:main:leg:0:attachment"} <= set(
        pieces
    )
    assert "m over ravine lip" in pieces["rope:main"]["edges"][0]
    assert told["signed"] == {}


def test_a_revision_that_the_run_could_not_go_on_on_leaves_the_list_as_it_was(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    before = set(listed(leader, plan)[1])
    assert leader.save(plan, 1, changed(demo_document(), lines=[], ropes=[]))[0] == 200
    act(leader, plan, "done", at="raise:1/1")
    assert set(listed(leader, plan)[1]) == before


def test_what_a_cell_read_while_hauling_is_what_the_gear_carried(leader, plan, cell):  # noqa: F811
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    assert (
        send(leader, plan, batch(cell, values=(1.4, 5.2, 1.4), at=timezone.now().isoformat(), times_ms=[0, 1, 2]))[0]
        == 200
    )
    _, pieces = listed(leader, plan)
    assert pieces["main:load-connector"]["highest_n"]["high"] == pytest.approx(5200)
    assert pieces["main:load-connector"]["measured"]
    assert not pieces["rope:belay"]["measured"]


def test_a_list_signed_says_who_when_and_what_was_seen_and_the_chain_holds_it(leader, people, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/2")
    id = str(uuid.uuid4())
    lines = [line("rope:main", "inspect", seen=["mud", "fuzz"], note="2 m from the load"), line("main:capture")]
    status, told = sign(people["member"], plan, *lines, id=id)
    assert status == 200
    signed = told["signed"]["rope:main"]
    assert (signed["by"], signed["becomes"]) == ("member", "inspect")
    assert signed["found"] == ("inspect before it is used again; seen: mud, fuzz; 2 m from the load")
    before = LogEntry.objects.count()
    assert sign(people["member"], plan, *lines, id=id)[0] == 200 and LogEntry.objects.count() == before
    assert leader.get(f"/plans/{plan.id}/signed")[1] == [] and not signed_lines(plan)
    call_command("verify_log", stdout=io.StringIO())
    later = sign(leader, plan, line("rope:main"))[1]["signed"]
    assert later["rope:main"]["by"] == "leader" and later["main:capture"]["by"] == "member"


def test_what_should_be_retired_goes_back_into_the_bag_only_with_a_reason(leader, people, plan):
    leader.save(plan, 1, changed(demo_document(), ropes__0__age_years=11))
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/2")
    rope = demo_document()["ropes"][0]["id"]
    status, told = sign(leader, plan, line("main:capture"), line(f"rope:{rope}"))
    assert status == 422 and told["faults"][0]["path"] == "lines[1].note" and "retire" in told["faults"][0]["right"]
    assert sign(leader, plan, line(f"rope:{rope}", note="kept for training on the ground"))[0] == 200
    assert sign(leader, plan, line("rope:other"))[1]["faults"][0]["path"] == "lines[0].piece"
    assert sign(people["observer"], plan, line("main:capture"))[0] == 403
    assert sign(people["outsider"], plan, line("main:capture"))[0] == 404


def test_a_rope_changed_during_the_run_leaves_both_on_the_list(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/2")
    other = changed(demo_document(), ropes__0__id="spare", lines__0__rope="spare")
    assert leader.save(plan, 1, other)[0] == 200
    go_to(leader, plan, "raise:2/1")
    _, pieces = listed(leader, plan)
    assert {"rope:main", "rope:spare", "rope:belay"} <= set(pieces)
