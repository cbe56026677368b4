"""Dry, wet and icy: what each may do to figures and margins, on the demo and on random plans (directions: mechanics and common practice)."""

import itertools
import random

import pytest
from pydantic import ValidationError

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.judged import Judged, judge
from rigging.lines.solve import Solved
from rigging.quantities.faults import Refused
from rigging.site.conditions import hand_hold_n, heave_n, sustained_n
from rigging.telling.check.sheet import check_here
from tests.engine.test_random_plans import changed_at_random
from tests.plans import demo_plan

KIT = catalogue()
STATES = ("dry", "wet", "icy")


def by_day(plan: Plan, state: str | None) -> Plan:
    return plan.model_copy(update={"day": plan.day.model_copy(update={"state": state})})


def parts(judged: Judged) -> dict[tuple[str, str], tuple[float, float, str]]:
    """Strength of every part by state and name, and the piece of it that is weakest."""
    return {
        (state, part.id): (part.strength_n.low, part.strength_n.high, part.thing)
        for state, rows in judged.parts.items() for part in rows if part.strength_n is not None
    }  # fmt: skip


def hands(judged: Judged, state: str) -> tuple[float, float] | None:
    found = judged.states.get(state)
    running = found.lines[0].running if isinstance(found, Solved) and found.lines else None
    return (running.hand.low, running.hand.high) if running else None


def asked(plan: Plan) -> list[Judged] | None:
    try:
        return [judge(by_day(plan, state)) for state in STATES]
    except Refused:
        return None


def compared(plan: Plan) -> bool:
    """Whether the plan can be laid out; that wetter never holds, brakes or pulls more is asserted on the way."""
    judged = asked(plan)
    if judged is None:
        return False
    for drier, wetter in itertools.pairwise(judged):
        before, after = parts(drier), parts(wetter)
        for key in before.keys() & after.keys():
            assert after[key][0] <= before[key][0] * (1 + 1e-9), key
            # Of a part of several pieces the weakest is told, which need not be the same one in ice.
            assert after[key][2] != before[key][2] or after[key][1] <= before[key][1] * (1 + 1e-9), key
        lowering = hands(drier, "lowering"), hands(wetter, "lowering")
        raising = hands(drier, "raising"), hands(wetter, "raising")
        if lowering[0] and lowering[1]:
            # Less friction anywhere between load and hand leaves more at the hand.
            assert lowering[1][1] >= lowering[0][1] * (1 - 1e-9)
        if raising[0] and raising[1]:
            assert raising[1][0] <= raising[0][0] * (1 + 1e-9)
    for each in (hand_hold_n, sustained_n, heave_n):
        rows = [each(by_day(plan, state)) for state in STATES]
        assert all(after.low <= before.low and after.high <= before.high for before, after in itertools.pairwise(rows))
    return True


def test_the_demo_wetter_never_holds_or_brakes_more():
    assert compared(demo_plan())
    assert compared(demo_plan(site__edges__1__protection=None))


@pytest.mark.parametrize("seed", range(5))
def test_random_plans_wetter_never_hold_or_brake_more(seed):
    luck, plans = random.Random(4000 + seed), 0
    while plans < 20:
        try:
            plan = Plan.model_validate(changed_at_random(luck))
        except ValidationError:
            continue
        plans += compared(plan)


def test_where_a_hitch_may_not_grip_the_check_stops_and_where_nobody_said_it_asks():
    lines = {
        state: {one.id.partition(":")[0]: one for one in check_here(by_day(demo_plan(), state)).lines}
        for state in (*STATES, None)
    }
    assert lines[None]["day-unsaid"].level == "look" and [one.label for one in lines[None]["day-unsaid"].mends] == [
        "Dry",
        "Wet",
        "Icy",
    ]
    assert not {"day-unsaid", "may-not-grip"} & lines["dry"].keys()
    assert "may-not-grip" not in lines["wet"]
    assert lines["icy"]["may-not-grip"].level == "stop" and "may not grip at all" in lines["icy"]["may-not-grip"].text
    freezing = by_day(demo_plan(day__temperature_c=-2), "wet")
    assert "freezes" in {one.id for one in check_here(freezing).lines}


def test_a_piece_may_be_otherwise_than_the_day():
    """One dry rope out of the bag on a wet day; an icy edge on a dry one."""
    wet = by_day(demo_plan(), "wet")
    kept = wet.model_copy(update={"ropes": [wet.ropes[0].model_copy(update={"state": "dry"}), *wet.ropes[1:]]})
    dry, own = (parts(judge(one))["held", "main:rope"] for one in (by_day(demo_plan(), "dry"), kept))
    assert own == dry
    icy = demo_plan(site__edges__1__protection=None, site__edges__1__state="icy")
    bare = demo_plan(site__edges__1__protection=None)
    assert hands(judge(icy), "raising")[1] < hands(judge(bare), "raising")[1]


def test_polyester_and_slick_cord_lose_nothing_by_water():
    for kind in KIT.ropes.values():
        wet = parts(judge(by_day(demo_plan(ropes__0__kind=kind.id), "wet")))["held", "main:rope"]
        dry = parts(judge(by_day(demo_plan(ropes__0__kind=kind.id), "dry")))["held", "main:rope"]
        assert (wet == dry) == (kind.fibre != "nylon")
