"""Properties of what is tied, over all that can be entered; systems out of a piece of their own; what is counted in the bags."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rigging.catalogue import catalogue
from rigging.document import Bags, HitchMade, Plan, Rope
from rigging.lines.hauling import own_reach_m
from rigging.lines.tied import cord_length_m, hitch_hold, knot_holds, rope_holds
from rigging.telling.sheet.choices import choices
from rigging.telling.sheet.report import analyse
from tests.plans import changed, demo_document, demo_plan, hanging, haul

KIT = catalogue()
CORDS = sorted(one.id for one in KIT.slings.values() if one.cord)
HITCHES = sorted(one.id for one in KIT.hitches.values() if one.form == "hitch")
ROPES = sorted(KIT.ropes)


def rope_of(kind: str) -> Rope:
    return Rope(id="r", kind=kind, length_m=50)


made = st.builds(
    HitchMade, cord=st.sampled_from(CORDS) | st.none(), wraps=st.integers(1, 12) | st.none(), glazed=st.booleans(),
    cord_length_m=st.none(), knot_on_rope=st.booleans(),
)  # fmt: skip


@settings(max_examples=200)
@given(st.sampled_from(HITCHES), made, st.sampled_from(ROPES))
def test_a_hitch_as_tied_holds_something_in_order_and_says_what_is_odd(hitch, how, rope):
    held = hitch_hold(KIT.hitches[hitch], how, rope_of(rope))
    assert held.slip_n is not None
    assert 0 < held.slip_n.low <= held.slip_n.expected <= held.slip_n.high < math.inf
    assert 0 < held.breaks_n.low <= held.breaks_n.high
    if how.glazed:
        assert "glazed" in held.name


@settings(max_examples=100)
@given(st.sampled_from(HITCHES), made, st.sampled_from(ROPES))
def test_glaze_never_helps_and_up_to_six_more_wraps_never_hurt(hitch, how, rope):
    kind = rope_of(rope)
    sound, glazed = (
        hitch_hold(KIT.hitches[hitch], how.model_copy(update={"glazed": g}), kind).slip_n for g in (False, True)
    )
    assert glazed.high <= sound.high + 1e-9
    few, more = (hitch_hold(KIT.hitches[hitch], how.model_copy(update={"wraps": n}), kind).slip_n for n in (3, 5))
    assert more.low >= few.low - 1e-9


@given(st.sampled_from(HITCHES), st.integers(1, 11), st.sampled_from(ROPES), st.floats(0.05, 1.0))
def test_each_wrap_takes_twice_once_round(hitch, wraps, rope, reach):
    kind, cord = KIT.ropes[rope], KIT.slings["cord-6"]
    short, longer = (
        cord_length_m(KIT.hitches[hitch], HitchMade(cord="cord-6", wraps=n), kind, reach) for n in (wraps, wraps + 1)
    )
    assert longer - short == pytest.approx(2 * math.pi * (kind.diameter_m + cord.thickness_m))


@given(st.sampled_from(ROPES), st.sampled_from(sorted(KIT.knots)), st.sampled_from(["new", "used", "worn"]))
def test_no_knot_holds_more_than_its_rope_but_a_loop_pulled_apart(kind, knot, wear):
    rope = Rope(id="r", kind=kind, length_m=50, wear=wear)
    whole, _ = rope_holds(rope)
    for pulled in ("loop", "along", "bend"):
        assert knot_holds(KIT.knots[knot], rope, pulled).breaks_n.high <= whole.high


# A system out of one piece


@pytest.mark.parametrize("length", [1.2, 1.8, 2.4])
def test_a_longer_sling_reaches_further_and_a_cord_is_no_loop(length):
    plan = demo_plan(
        lines__0__haul=haul("sling-4", "slick-sling", own={"material": "sewn-sling-22", "length_m": length})
    )
    assert own_reach_m(plan.lines[0].haul) == pytest.approx(max(0.3, (2 * length - 0.95) / 2))
    cord = demo_plan(lines__0__haul=haul("sling-4", "slick-sling", own={"material": "cord-8", "length_m": 2 * length}))
    assert own_reach_m(cord.lines[0].haul) == pytest.approx(own_reach_m(plan.lines[0].haul))


def test_a_sling_takes_none_of_the_lines_rope_and_its_material_is_judged():
    slung = analyse(
        demo_plan(lines__0__haul=haul("sling-4", "slick-sling", own={"material": "sewn-sling-22", "length_m": 2.4}))
    )
    plain = analyse(demo_plan(lines__0__haul=haul("z-3")))
    left = {
        report.haul.name: next(one.left.expected for one in report.budgets if one.job == "raise")
        for report in (slung, plain)
    }
    assert left["4:1 out of one sling"] > left["3:1"]
    assert any(rung.id == "main:own" for rung in slung.state("raising").rungs)
    assert not any(rung.id.startswith("main:grab:B") for rung in slung.state("raising").rungs)


# Choices and bags


def test_what_backs_a_device_up_is_offered_by_whether_it_lets_go():
    found = choices(hanging(2000, lines__0__lowering__device="super-munter"), "brake").choices
    assert found[0].id == "french-8"
    facts = {fact.head: fact.text for fact in found[0].facts}
    assert facts["under load"] == "lets go"
    assert "nothing" in found[-1].name.lower() or found[-1].why_not
    cuts = next(one for one in found if one.id == "toothed-clamp")
    assert any("cuts" in why for why in cuts.why_not)


def test_a_capture_that_minds_itself_needs_nobody():
    report = analyse(demo_plan(lines__0__haul__capture="takes-in", lines__0__haul__capture_minder=""))
    assert not {"unminded", "runs-through-bend"} & {
        one.id.partition(":")[0] for one in report.state("raising").findings
    }
    assert report.state("between-hauls").available


def test_what_the_plan_uses_is_not_in_the_bags_any_more():
    document = changed(demo_document(), bags={"bends": {"ball-bearing-pulley": 2, "carabiner": 2}})
    plan = Plan.model_validate(document)
    # The demo has two pulleys (at A and at the redirect) and one bare carabiner.
    assert not plan.in_bags("bends", "ball-bearing-pulley")
    assert plan.in_bags("bends", "carabiner")
    assert not plan.in_bags("bends", "bushing-pulley")
    assert plan.in_bags("devices", "tube")
    with pytest.raises(ValueError, match="moon-pulley"):
        Bags(bends={"moon-pulley": 1})
