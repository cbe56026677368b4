"""The rig as it is found in a run, where that is not what the plan has: the steps go on from there, and say what does not go."""

import random

import pytest

from rigging.document import Plan
from rigging.procedures.compose import composed
from rigging.procedures.operation import Planned
from rigging.procedures.otherwise import Otherwise, found
from rigging.quantities.faults import Refused
from rigging.telling.work.operation import operation_report
from rigging.telling.work.otherwise import otherwise_report, step_of
from tests.plans import demo_plan, one_rope_plan


def lies(at: str, *edits: dict, done: bool = False) -> Otherwise:
    return Otherwise(at=at, edits=list(edits), done=done)


def refused(plan: Plan, *said: Otherwise) -> dict[str, str]:
    steps = composed(plan, otherwise=said).steps
    return {one.key: made.refused[0].problem for one in steps for made in one.step.made[::-1] if made.refused}


def step(plan: Plan, key: str, *said: Otherwise) -> Planned:
    return next(one for one in composed(plan, otherwise=said).steps if one.key == key)


NO_BRAKE = lies("lower/5", {"take off": "main:brake"})


def test_a_hitch_that_was_never_put_on_is_missed_wherever_it_is_needed_from_then_on():
    """Demo: the brake hitch. It is on the road before; whatever asks for it says that it is not there."""
    missed = refused(demo_plan(), NO_BRAKE)
    assert list(missed) == ["lower/8", "secure/1", "secure/4", "change-over/1", "change-over/5", "change-over/9"]
    assert set(missed.values()) == {"there is no brake on the rope"}
    # Hands alone on the main line, the belay behind them, from the edge on.
    assert step(demo_plan(), "lower/7", NO_BRAKE).step.after.on == ("hands",)
    assert "belay:belay" in step(demo_plan(), "lower/7", NO_BRAKE).step.after.behind.onto


def test_put_on_later_it_is_there_from_then_on():
    on = lies("secure/1", {"put on": "brake", "kind": "hitch", "what": "french-8", "to": "main", "out_m": 0.25, "cord_m": 0.05, "engaged": True, "behind": "device"}, done=True)  # fmt: skip
    assert list(refused(demo_plan(), NO_BRAKE, on)) == ["lower/8"]
    report = operation_report(demo_plan(), composed(demo_plan(), otherwise=[NO_BRAKE, on]))
    told = {one.key: one.lies for one in report.steps if one.lies}
    assert told == {"lower/5": ["Found: brake hitch not on."], "secure/1": ["Done besides: brake hitch on."]}


def test_what_is_done_first_so_that_a_step_goes_is_offered_and_then_it_goes():
    """The ratchet left open before the haulers ease; a device that nobody unlocked."""
    for key, edit in (
        ("lower/6", {"take out": "main:device"}),
        ("change-over/6", {"let go": "main:hands"}),
        ("secure/2", {"take off": "main:brake"}),
    ):
        there = composed(demo_plan(), otherwise=[lies(key, edit)])
        at = next((one.key for one in there.steps if one.step.refused), None)
        assert at is not None, key
        for one in otherwise_report(there, at).brings:
            after = composed(demo_plan(), otherwise=[lies(key, edit), lies(at, *one.edits, done=True)])
            assert not next(row for row in after.steps if row.key == at).step.refused


@pytest.mark.parametrize(
    ("key", "edit", "problem"),
    [
        ("lower/8", {"take off": "main:ratchet"}, "there is no main:ratchet on the rope"),
        ("lower/8", {"haul": "", "by_m": 1}, "there is no"),
        ("lower/8", {"ease": "main:device"}, "says nothing of how it lies"),
        ("raise:1/4", {"take off": "main:ratchet"}, "nothing would hold"),
    ],
    ids=["a thing that is not there", "no thing at all", "something that is done", "nothing left that holds"],
)
def test_what_can_not_be_so_is_refused_with_its_reason(key, edit, problem):
    plan = one_rope_plan() if key.startswith("raise") else demo_plan()
    here = next(one for one in composed(plan).steps if one.key == key).step.found
    with pytest.raises(Refused) as told:
        found(here, lies(key, edit))
    assert problem in told.value.faults[0].problem


def test_whatever_may_be_said_of_a_rig_can_be_and_the_operation_goes_on_from_it():
    """Things and ways in which they may lie, by lot, over the demo: composed with the same steps, and none before it is otherwise."""
    plan, luck = demo_plan(), random.Random(23)
    whole = composed(plan)
    keys = [one.key for one in whole.steps]
    said = 0
    while said < 20:
        key = luck.choice(keys[8:])
        ways = [way for thing in otherwise_report(whole, key).things for way in thing.ways]
        one = lies(key, *luck.choice(ways).edits)
        try:
            found(step_of(whole, key)[1].step.found, one)
        except Refused as error:
            assert "nothing would hold" in error.faults[0].problem
            continue
        after, place = composed(plan, otherwise=[one]), keys.index(key)
        assert [row.key for row in after.steps][:place] == keys[:place]
        assert not [row.key for row in after.steps[:place] if row.step.refused]
        assert any(row.lies and not row.lies[0].faults for row in after.steps)
        said += 1
