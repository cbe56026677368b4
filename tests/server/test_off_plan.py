"""A run brought off its plan in ten ways: it goes on from each to its end, and its log tells it."""

import json
import uuid
from collections.abc import Callable
from typing import Any

import pytest
from operations.models import Run
from plans.services import save_revision

from rigging.document import Plan as Document
from tests.plans import changed, haul
from tests.server.test_run import act, at, entries, go_to

ORDER = ["set-up", "check", "lower", "secure", "change-over", "raise", "edge", "derig"]


def revised(leader, plan, **changes: Any) -> None:
    """The plan saved anew while it is run."""
    document = changed(json.loads(plan.latest.document), **changes)
    save_revision(plan, leader.user, Document.model_validate(document), plan.latest.number, uuid.uuid4())


def arranged(leader, plan, sections: list[str]) -> None:
    rows = [{"procedure": one} for one in sections]
    course = {"begins": "ground", "belay": "harness", "sections": rows}
    body = {"id": str(uuid.uuid4()), "base": plan.latest.number, "operation": course}
    assert leader.send("PUT", f"/plans/{plan.id}/operation", body)[0] == 200


def otherwise(leader, plan, *edits: dict[str, Any], done: bool = False) -> None:
    status, told = act(leader, plan, "otherwise", at=at(leader, plan), text="as seen", edits=list(edits), done=done)
    assert status == 200, told


def brought(leader, plan) -> None:
    """The first of what would bring the step that is now, done."""
    (way, *_) = leader.get(f"/plans/{plan.id}/run/otherwise")[1]["brings"]
    otherwise(leader, plan, *way["edits"], done=True)


def no_hitch(leader, plan) -> None:
    go_to(leader, plan, "lower/6")
    otherwise(leader, plan, {"take off": "main:brake"})
    go_to(leader, plan, "lower/8")
    brought(leader, plan)


def earlier_join(leader, plan) -> None:
    go_to(leader, plan, "lower/9")
    arranged(leader, plan, [*ORDER[:3], "knot-pass-lowering", "lower-on", *ORDER[3:]])
    go_to(leader, plan, "lower-on/1")


def somebody_missing(leader, plan) -> None:
    go_to(leader, plan, "lower/7")
    people = json.loads(plan.latest.document)["team"]["people"]
    revised(leader, plan, team__people=[one for one in people if one["role"] != "ratchet"], team__haulers=6)


def wrong_anchor(leader, plan) -> None:
    go_to(leader, plan, "lower/5")
    anchors = json.loads(plan.latest.document)["anchors"]
    taken = next(one["id"] for one in anchors[0]["alternatives"] if one["id"] != anchors[0]["taken"])
    revised(leader, plan, anchors__0__taken=taken)


def stopped_half_way(leader, plan) -> None:
    go_to(leader, plan, "lower/7")
    otherwise(leader, plan, {"lock": "main:device"})
    brought(leader, plan)


def section_left_out(leader, plan) -> None:
    go_to(leader, plan, "secure/2")
    arranged(leader, plan, [one for one in ORDER if one != "secure"])


def device_swapped(leader, plan) -> None:
    go_to(leader, plan, "lower/4")
    revised(leader, plan, lines__0__lowering__device="munter")


def rope_changed(leader, plan) -> None:
    go_to(leader, plan, "lower/4")
    revised(leader, plan, ropes__0__length_m=50)


def in_the_middle(leader, plan) -> None:
    assert act(leader, plan, "end")[0] == 200
    assert act(leader, plan, "begin", text="lowered by the other team", **{"from": "change-over/1"})[0] == 200


def tackle_for_three(leader, plan) -> None:
    go_to(leader, plan, "change-over/4")
    revised(leader, plan, lines__0__haul=haul("simple-5", capture_minder="Ash"))


WAYS: dict[str, tuple[Callable[..., None], str]] = {
    "hitch not put on": (no_hitch, "The rig is otherwise: brake hitch not on"),
    "join earlier than thought": (earlier_join, "Run goes on on revision 2"),
    "somebody missing": (somebody_missing, "Run goes on on revision 2"),
    "wrong anchor used": (wrong_anchor, "Run goes on on revision 2"),
    "load stopped half way": (stopped_half_way, "The rig is otherwise: device locked"),
    "section left out": (section_left_out, "Run goes on on revision 2"),
    "device swapped": (device_swapped, "Run goes on on revision 2"),
    "rope changed": (rope_changed, "Run goes on on revision 2"),
    "begun in the middle": (in_the_middle, "at: Stop. Brake hitch set"),
    "another system": (tackle_for_three, "Run goes on on revision 2"),
}


@pytest.mark.parametrize("way", WAYS)
def test_a_run_brought_off_its_plan_goes_on_to_its_end_and_its_log_tells_it(leader, plan, way):
    brings, tells = WAYS[way]
    act(leader, plan, "begin")
    brings(leader, plan)
    for _ in range(200):
        now = at(leader, plan)
        done, told = act(leader, plan, "done", at=now, text="as planned")
        if done == 422 and "everything is done" in json.dumps(told):
            break
        if done == 422:
            # What does not go as the rig is: brought if anything brings it, else taken over by name.
            step = next(
                one for one in leader.get(f"/plans/{plan.id}/run")[1]["operation"]["steps"] if one["key"] == now
            )
            assert step["refused"], told
            assert act(leader, plan, "done", at=now, text="looked at, goes", anyway=True)[0] == 200
    assert act(leader, plan, "end")[0] == 200
    assert plan.runs.filter(status=Run.Status.ENDED).count() == plan.runs.count()
    decisions = []
    for page in range(0, 400, 100):
        decisions += [one["decision"] for one in entries(leader, plan, place=page)]
    assert any(tells in one for one in decisions), decisions
    assert decisions[-1] == "Run ended"
