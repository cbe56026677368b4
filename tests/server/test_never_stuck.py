"""A run goes on where the plan has it that a step does not go, by name and with a reason; and ends where nothing is left to do."""

import json
import uuid

import pytest
from handover.bundle import parts_of
from operations.composing import composed_of
from operations.models import Run
from plans.services import create_plan

from rigging.document import Plan as Document
from tests.plans import changed, demo_document
from tests.server.test_run import act, at, entries, go_to

LOWERING = demo_document()["lines"][0]["lowering"]


@pytest.fixture
def stuck(leader, plan):
    """A munter leaves its prusik too much to be opened: the change-over does not go. The run stands at that step."""
    document = changed(demo_document(), lines__0__lowering={**LOWERING, "device": "munter", "brake_hitch": "prusik-8"})
    one = create_plan(plan.team, leader.user, Document.model_validate(document), uuid.uuid4())
    act(leader, one, "begin")
    refused = next(step.key for step in composed_of(one, one.latest, None).report.steps if step.refused)
    go_to(leader, one, refused)
    return one


def test_the_leader_takes_a_refused_step_over_by_name_with_a_reason(leader, people, stuck):
    now = at(leader, stuck)
    status, told = act(leader, stuck, "done", at=now)
    assert status == 422 and "take it over with a reason" in told["faults"][0]["right"]
    status, told = act(leader, stuck, "done", at=now, anyway=True)
    assert status == 422 and told["faults"][0]["path"] == "text"
    status, told = act(people["member"], stuck, "done", at=now, text="it slid", anyway=True)
    assert status == 422 and "does not let go under load" in told["faults"][0]["problem"]
    assert at(leader, stuck) == now
    status, told = act(leader, stuck, "done", at=now, text="it slid, two looked", anyway=True)
    assert status == 200 and told["at"] != now
    said = entries(leader, stuck, kind="step")[-1]
    assert said["decision"].startswith(f"Done, taken over by {leader.user.get_username()}: ")
    assert said["reason"] == "it slid, two looked" and "does not let go under load" in said["data"]["over"]


def test_a_step_that_others_need_is_left_out_by_name_with_a_reason(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "lower/4")
    assert act(leader, plan, "skip", at="lower/4", anyway=True)[0] == 422
    status, told = act(leader, plan, "skip", at="lower/4", text="it hangs on another", anyway=True)
    assert status == 200 and told["at"] == "lower/5"
    assert entries(leader, plan)[-1]["decision"].startswith("Skipped, taken over by ")


def test_a_run_that_goes_by_the_plan_takes_nothing_over(leader, plan):
    act(leader, plan, "begin")
    now = at(leader, plan)
    assert act(leader, plan, "done", at=now, text="as planned", anyway=True)[0] == 200
    assert "taken over" not in entries(leader, plan)[-1]["decision"]


def test_the_last_step_is_done_once_and_the_run_then_waits_to_be_ended(leader, plan):
    act(leader, plan, "begin")
    last = composed_of(plan, plan.latest, None).order[-1]
    go_to(leader, plan, last)
    status, told = act(leader, plan, "done", at=last)
    assert status == 200 and told["all_done"] and told["at"] == last
    written = plan.log.count()
    for name in ("done", "skip"):
        status, told = act(leader, plan, name, at=last)
        assert status == 422 and told["faults"][0]["problem"] == "everything is done"
    assert plan.log.count() == written
    assert act(leader, plan, "back", at=last)[1]["all_done"] is False
    go_to(leader, plan, last)
    assert act(leader, plan, "end")[1]["status"] == "ended"


@pytest.fixture
def no_brake(leader, plan):
    """Demo: the load is at the edge, and the brake hitch was never put on."""
    act(leader, plan, "begin")
    go_to(leader, plan, "lower/6")
    return {"edits": [{"take off": "main:brake"}]}


def test_the_rig_is_otherwise_and_the_run_goes_on_from_there(leader, plan, no_brake):
    there = leader.get(f"/plans/{plan.id}/run/otherwise")[1]
    brake = next(one for one in there["things"] if one["part"] == "main:brake")
    assert brake["now"] == "minded" and no_brake["edits"] in [one["edits"] for one in brake["ways"]]
    status, told = act(leader, plan, "otherwise", at="lower/6", text="nobody brought the cord", **no_brake)
    assert (status, told["at"]) == (200, "lower/6")
    said = entries(leader, plan)[-1]
    assert said["decision"].startswith("The rig is otherwise: brake hitch not on; now impossible: ")
    assert said["reason"] == "nobody brought the cord"
    operation = leader.get(f"/plans/{plan.id}/run")[1]["operation"]
    steps = {one["key"]: one for one in operation["steps"]}
    assert steps["lower/6"]["lies"] == ["Found: brake hitch not on."]
    # The load on hands alone, over an edge: refused, and what would bring it is there.
    assert steps["lower/6"]["refused"] or steps["lower/8"]["refused"]
    go_to(leader, plan, "lower/8")
    now = at(leader, plan)
    brings = leader.get(f"/plans/{plan.id}/run/otherwise")[1]["brings"]
    assert any("brake" in json.dumps(one["edits"]) for one in brings), brings
    on = next(one for one in brings if "brake" in json.dumps(one["edits"]))
    status, told = act(leader, plan, "otherwise", at=now, text="put on now", edits=on["edits"], done=True)
    assert status == 200 and entries(leader, plan)[-1]["decision"].startswith("Done besides: brake hitch on")
    assert act(leader, plan, "done", at=now, text="as planned")[0] == 200


def test_what_is_said_of_the_rig_is_the_leaders_about_the_step_now_with_a_reason_and_must_be_possible(
    leader, people, plan, no_brake
):
    for who, sent, path in (
        (people["member"], {"text": "seen", **no_brake}, None),
        (leader, {"text": " ", **no_brake}, "text"),
        (leader, {"text": "seen", "edits": []}, "data.edits"),
        (leader, {"text": "seen", "edits": [{"take off": "main:nothing"}]}, "data.edits"),
        (leader, {"text": "seen", "edits": [{"haul": "", "by_m": 1}]}, "data.edits"),
        (leader, {"text": "seen", "edits": "all"}, "data.edits"),
    ):
        status, told = act(who, plan, "otherwise", at="lower/6", **sent)
        assert status == (403 if path is None else 422)
        assert path is None or told["faults"][0]["path"].startswith(path)
    assert act(leader, plan, "otherwise", at="lower/2", text="seen", **no_brake)[0] == 409
    assert plan.runs.get().otherwise == []


def test_what_was_found_is_handed_over_with_the_run_and_sealed_with_it(leader, plan, no_brake):
    act(leader, plan, "otherwise", at="lower/6", text="nobody brought the cord", **no_brake)
    (said,) = plan.runs.get().otherwise
    assert (said["why"], said["by"]) == ("nobody brought the cord", leader.user.get_username())
    assert parts_of(plan).runs[0].otherwise == [said]
    assert leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"] == []
    Run.objects.filter(plan=plan).update(otherwise=[])
    assert leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"] != []


def test_what_is_nested_without_end_is_refused_by_its_field(leader, plan, no_brake):
    """A hostile client: lists in lists, deeper than anything is read."""
    for deep in (6, 100, 400):
        nested: list = []
        for _ in range(deep):
            nested = [nested]
        for name, data in (
            ("otherwise", {"edits": [{"set": nested}]}),
            ("otherwise", {"edits": [{"set": "main:brake", "cord_m": nested}], "done": True}),
            ("procedure", {"given": {"id": "lower", "name": "x", "steps": [{"who": ["main"], "do": "x", "edits": [{"set": nested}]}]}}),
            ("here", {"role": nested}),
        ):  # fmt: skip
            status, told = act(leader, plan, name, at="lower/6", text="as seen", **data)
            assert status == 422 and told["faults"][0]["path"].startswith("data"), (deep, name, told)
