"""The team's own times: measured in its runs, taken for a plan by decision, in place of what the catalogue has."""

from datetime import UTC, datetime, timedelta

import pytest
from operations.composing import composed_of
from storing import clock

from rigging.document import Plan as Document
from rigging.procedures.compose import composed
from tests.plans import demo_plan
from tests.server.test_run import act, at, go_to

BEGAN = datetime(2026, 5, 2, 9, 0, tzinfo=UTC)


def run_through(leader, plan, times, until, stop_at=""):
    """A run in which every step takes so many times what the catalogue expects of it; when it was."""
    now = BEGAN
    with clock.told_at(now):
        act(leader, plan, "begin")
    made = composed_of(plan, plan.latest, None)
    while (here := at(leader, plan)) != until:
        now += timedelta(seconds=times * made.planned(here).by_catalogue_s)
        with clock.told_at(now):
            if here == stop_at:
                act(leader, plan, "stop")
                act(leader, plan, "go", text="seen")
                now += timedelta(hours=1)
        with clock.told_at(now):
            assert act(leader, plan, "done", at=here, text="as planned")[0] == 200
    return now


def paces(leader, plan):
    return {one["takes"]: one for one in leader.get(f"/teams/{plan.team_id}/paces")[1]}


def test_what_the_team_took_is_told_once_the_run_has_ended(leader, plan):
    now = run_through(leader, plan, 2.0, "derig/2", stop_at="raise:3/1")
    assert paces(leader, plan) == {}
    with clock.told_at(now):
        act(leader, plan, "end")
    found = paces(leader, plan)
    # The first pull and six hauls, of which one was stopped and counts for nothing; what was done less than three times says nothing of its spread.
    assert found["haul"]["count"] == 6 and "lower" not in found
    assert {"reset", "change-over", "haul"} <= set(found)
    for one in found.values():
        assert (one["low"], one["expected"], one["high"]) == pytest.approx((2, 2, 2), abs=0.02)


def test_they_are_taken_for_a_plan_by_decision_and_given_up_again(leader, people, plan):
    own = [{"takes": "haul", "low": 0.8, "expected": 1.5, "high": 2.0, "count": 12, "practised": 0}]
    body = {"id": "5a0a6a3e-1f5c-4d5e-9c39-4a0d8d9d1c01", "base": 1, "paces": own}
    assert people["member"].send("PUT", f"/plans/{plan.id}/paces", body)[0] == 403
    assert leader.send("PUT", f"/plans/{plan.id}/paces", body) == (200, {"revision": 2})
    report = leader.get(f"/plans/{plan.id}/run")[1]["operation"]["timing"]
    assert report["paces"] == own and "hauling (12)" in report["whose"]
    status, told = leader.send(
        "PUT", f"/plans/{plan.id}/paces", body | {"id": "5a0a6a3e-1f5c-4d5e-9c39-4a0d8d9d1c02", "paces": []}
    )
    assert (status, told["faults"][0]["path"]) == (422, "base")
    again = body | {"id": "5a0a6a3e-1f5c-4d5e-9c39-4a0d8d9d1c03", "base": 2, "paces": []}
    assert leader.send("PUT", f"/plans/{plan.id}/paces", again) == (200, {"revision": 3})
    assert "From memory" in leader.get(f"/plans/{plan.id}/run")[1]["operation"]["timing"]["whose"]


@pytest.mark.parametrize("wrong", [{"takes": "flying"}, {"low": 3.0}, {"expected": 0}, {"count": 0}])
def test_a_time_that_is_none_is_refused_by_its_field(leader, plan, wrong):
    own = {"takes": "haul", "low": 0.8, "expected": 1.5, "high": 2.0, "count": 12} | wrong
    status, told = leader.send(
        "PUT", f"/plans/{plan.id}/paces", {"id": "5a0a6a3e-1f5c-4d5e-9c39-4a0d8d9d1c04", "base": 1, "paces": [own]}
    )
    assert status == 422 and "paces[0]" in told["faults"][0]["path"]
    assert plan.revisions.count() == 1


def test_a_haul_takes_as_long_as_the_team_takes_for_one():
    """By hand: 1.5 times the 8 s a metre of rope that the catalogue expects, from 0.8 to twice; the rest as it was."""
    own = demo_plan(team__paces=[{"takes": "haul", "low": 0.8, "expected": 1.5, "high": 2.0, "count": 12}])
    before, after = composed(demo_plan()), composed(Document.model_validate(own.model_dump()))
    for was, one in zip(before.steps, after.steps, strict=True):
        if not one.up_m:
            assert one.seconds == was.seconds
        # A hand's breadth takes as long as giving the word for it.
        if one.up_m < 1:
            continue
        assert one.takes == "haul" and one.by_catalogue_s == pytest.approx(was.seconds.expected)
        shares = [getattr(one.seconds, name) / was.seconds.expected for name in ("low", "expected", "high")]
        assert shares[1] == pytest.approx(1.5) and shares[0] <= 0.81 and shares[2] >= 2.0 - 1e-9


def test_a_run_that_goes_is_not_counted(leader, plan):
    run_through(leader, plan, 1.0, "change-over/1")
    assert paces(leader, plan) == {}
    go_to(leader, plan, "derig/2")
