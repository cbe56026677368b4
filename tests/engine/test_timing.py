"""How long the demo takes, by hand, and what the order, the people and the day make of it."""

import itertools

import pytest

from rigging.document import Plan
from rigging.procedures.compose import composed
from rigging.procedures.course import SET_UP
from rigging.procedures.operation import Operation
from rigging.procedures.timing import Timing, timing
from rigging.telling.work.operation import operation_report
from tests.plans import demo_plan


@pytest.fixture(scope="module")
def demo() -> tuple[Plan, Operation, Timing]:
    plan = demo_plan()
    operation = composed(plan)
    return plan, operation, timing(plan, operation)


def test_the_demo_by_hand(demo: tuple[Plan, Operation, Timing]):
    _, operation, found = demo
    # Seconds, as expected: three gathered legs 720 and the rope on its device 240, one person after the other; all else fits beside it.
    set_up = 720 + 240
    # A step by hand takes 40; lowering 15 a metre, a step of it at least 15. Seven steps of a lower are by hand, four of the stop.
    lower = 7 * 40 + 15 + 15 * 28.8
    secure, check, change_over, edge = 4 * 40, 300, 420 + 15, 360
    # 3 : 1: 3 m of rope at 8 s for each metre up, and a reset of 90 s for each of six hauls.
    way_m = sum(one.up_m for one in operation.steps)
    raising = 3 * 8 * (way_m - 0.2) + 6 * 90
    by_hand = set_up + check + lower + secure + change_over + raising + edge
    assert found.until_s.expected == pytest.approx(by_hand, rel=0.02)
    assert found.until_s.low < found.until_s.expected < found.until_s.high
    # Not every step is as slow as it can be at once, nor as quick.
    assert found.until_s.high < sum(one.seconds.high for one in operation.steps)
    assert found.set_up_s.expected == set_up


def test_nothing_on_the_longest_way_can_be_late_without_all_being_late(demo: tuple[Plan, Operation, Timing]):
    _, operation, found = demo
    longest = [one for one in operation.steps if one.key in found.longest]
    assert sum(one.seconds.expected for one in longest) == pytest.approx(found.all_s.expected)
    tasks = {one.task.id for one in longest if one.task}
    assert tasks == {"anchor:main", "rope:main"}


def test_nobody_goes_to_the_lip_before_what_they_are_tied_to_is_there(demo: tuple[Plan, Operation, Timing]):
    _, operation, found = demo
    steps = {one.task.id: one for one in operation.steps if one.task}
    belay = steps["anchor:belay"]
    for id in ("edge:0", "edge:1"):
        assert found.begins_s[steps[id].key] >= found.begins_s[belay.key] + belay.seconds.expected


def test_who_minds_a_part_builds_it_and_nobody_builds_two_at_once(demo: tuple[Plan, Operation, Timing]):
    plan, operation, found = demo
    roles = {one.name: one.role for one in plan.team.people}
    building = [one for one in found.busy if one.section == SET_UP]
    tasks = {one.key: one.task.id for one in operation.steps if one.task}
    assert {roles[one.who] for one in building if tasks[one.keys[0]] == "anchor:belay"} == {"belay"}
    assert "leader" not in {roles.get(one.who) for one in building}
    for who in {one.who for one in building}:
        mine = sorted((one.begins_s, one.ends_s) for one in building if one.who == who)
        assert all(first[1] <= second[0] + 1e-6 for first, second in itertools.pairwise(mine))


def test_fewer_people_take_longer_and_hear_what_one_more_would_buy():
    few = demo_plan(team__people=[{"name": "Birch", "role": "main"}], team__haulers=0)
    found = timing(few, composed(few))
    # One after another: 720, 300, 300, 60, 360, 240, 240.
    assert found.set_up_s.expected == 2220
    # Two: 1110 would be half of it each.
    assert found.one_more_s == pytest.approx(1140, abs=60)


def test_cold_and_wet_take_longer_and_a_day_that_nobody_spoke_of_may():
    dry, cold, unsaid = (
        demo_plan(day=day)
        for day in ({"state": "dry", "temperature_c": 15}, {"state": "wet", "temperature_c": 3}, {"state": None, "temperature_c": None})
    )  # fmt: skip
    one, other, third = (timing(plan, composed(plan)).until_s for plan in (dry, cold, unsaid))
    assert other.expected == pytest.approx(1.6 * one.expected)
    assert third.expected == pytest.approx(one.expected)
    assert third.high > 1.3 * one.high


def test_the_report_says_it_for_each_step_and_section(demo: tuple[Plan, Operation, Timing]):
    plan, operation, found = demo
    told = operation_report(plan, operation)
    assert told.timing.text.startswith(f"up in {round(found.until_s.expected / 60)} min (")
    steps = {one.key: one for one in told.steps}
    assert steps["set-up/1"].begins_min == 0 and steps["set-up/1"].left_min == told.timing.until_min
    # Once it is up nothing is left.
    assert steps["derig/1"].left_min is None
    lefts = [one.left_min.expected for one in told.steps if one.left_min and not one.key.startswith("set-up")]
    assert lefts == sorted(lefts, reverse=True)
    assert {one.name for one in told.timing.people if one.never_free} == set(found.never_free)


def test_what_is_struck_before_the_end_is_waited_for() -> None:
    """A leader who strikes first and ties off after that: the time until the load is up counts both, and nothing waits for what nobody does."""
    plan = demo_plan(operation={"sections": [{"procedure": "derig"}, {"procedure": "tie-off"}]})
    made = composed(plan)
    found = timing(plan, made)
    rows = [one for section in made.sections if section.id != SET_UP for one in section.steps]
    assert found.until_s.expected == pytest.approx(found.set_up_s.expected + sum(one.seconds.expected for one in rows))
