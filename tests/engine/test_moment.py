"""What everybody asks the leader: the same figures as on the sheet, for every state and every place of the way."""

import pytest

from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.lines.people import haulers_range
from rigging.lines.whole_way import Travel, at_work
from rigging.quantities.faults import Refused
from rigging.quantities.units import Wording
from rigging.site.conditions import sustained_n
from rigging.telling.sheet.moment import moment_report
from tests.plans import demo_plan, one_rope_plan

SAY = Wording()


def asked(plan: Plan, state: str = "raising", run_m: float = 0.0) -> dict[str, str]:
    return {one.id: one.text for one in moment_report(plan, state, run_m).answers}


def test_people_rope_leg_and_bend_are_the_sheets_own():
    plan = demo_plan()
    judged, found = judge(plan), asked(plan)
    hand = judged.hauling.running.hand
    need = haulers_range(hand, sustained_n(plan))
    assert found["people"].startswith(f"{need.low:.0f} to {need.high:.0f} with {SAY.force(hand)}")
    for one in judged.budgets:
        assert SAY.length(one.left_m) in found["rope"]
    legs = [one for one in judged.parts["raising"] if one.kind == "feature"]
    most = max(legs, key=lambda one: one.force_n.high)
    assert found["leg"].startswith(f"{most.thing}: {SAY.force(most.force_n)}")
    # The carabiner at the grab costs more than any pulley or the padded lip.
    assert found["bend"].startswith("Bare carabiner")


def test_the_anchor_gone_is_held_by_the_belay_or_by_nothing():
    assert "onto the belay" in asked(demo_plan())["anchor"]
    alone = moment_report(one_rope_plan(), "raising").answers
    gone = next(one for one in alone if one.id == "anchor")
    assert gone.loud and "it falls" in gone.text


def test_a_knot_is_told_by_the_metres_until_it_comes_and_they_grow_fewer_as_the_load_comes_up():
    plan = demo_plan(ropes__0__joins=[{"at_m": 20, "knot": "double-fisherman", "tail_m": 0.2}])
    assert "the join in the main line's rope comes to" in asked(plan)["knot"]
    first, later = (float(asked(plan, run_m=run_m)["knot"].split()[0]) for run_m in (0.0, 4.0))
    assert first - later == pytest.approx(4.0, abs=0.1)
    assert asked(demo_plan())["knot"] == "None comes to anything on the way up."


def test_over_the_lip_is_a_moment_of_its_own():
    plan = demo_plan()
    far = Travel(plan, at_work(plan)).far_m
    assert "lip" not in asked(plan)
    last = moment_report(plan, "raising", far - 0.5).answers[-1]
    # Whoever is at the edge lifts; the belay takes in.
    assert (
        last.id == "lip" and last.text.startswith("Hazel lifts") and "the belay takes in" in last.text and not last.loud
    )
    nobody = moment_report(one_rope_plan(), "raising", far - 0.5).answers[-1]
    assert nobody.id == "lip" and nobody.loud


def test_every_state_of_every_place_is_answered_or_refused_by_name():
    plan = demo_plan()
    for state in judge(plan).states:
        for run_m in (0.0, 7.0, 15.0):
            assert len(asked(plan, state, run_m)) >= 6
    with pytest.raises(Refused, match="no state"):
        moment_report(plan, "flying")
