"""A belay in the hand is a clutch: what a gloved hand holds, times what the device makes of it (field values, from memory; that such a
belay does not arrest a fall: common practice, no source)."""

import math

import pytest

from rigging.catalogue import catalogue
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.lines.catch import TEST_FALL_M, TEST_KG, TEST_ROPE_M, Caught, passes_test
from rigging.mechanics.dynamics import arrest, arrests
from rigging.quantities.ranges import Range, exactly, times
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.report import analyse
from tests.plans import demo_plan, one_rope_plan
from tests.reference.test_catch import G, moved

BELAYS = {
    "munter": {"holds": "device", "what": "munter", "minder": "Linden"},
    "tube": {"holds": "device", "what": "tube", "minder": "Linden"},
    "capstan": {"holds": "device", "what": "capstan-trunk", "minder": "Linden"},
    "self-locking": {"holds": "device", "what": "self-locking", "minder": "Linden"},
    "tandem": {"holds": "hitch", "what": "tandem-prusik-8", "minder": "Linden", "releasing_m": 1},
}


def caught(name: str) -> Caught:
    found = judge(demo_plan(lines__1__belay=BELAYS[name])).states["goes:main"]
    assert isinstance(found, Caught)
    return found


@pytest.mark.parametrize("device", ["munter", "tube"])
@pytest.mark.parametrize("hand", [150.0, 200.0, 250.0])
def test_the_competence_fall_on_a_hand_against_the_motion_integrated(device, hand):
    """200 kg falling 1 m on 3 m of rope: the hand slips; it stops where the integration stops, or neither ever does."""
    ratio, ea = catalogue().devices[device].holding(), catalogue().ropes["low-stretch-11"].catch_ea_n
    for slip in (hand * ratio.low, hand * ratio.expected, hand * ratio.high):
        found = arrest(TEST_KG[0] * G, TEST_FALL_M, TEST_ROPE_M, ea.expected, slip)
        if slip <= TEST_KG[0] * G:
            assert found.slid_m is None and found.stops_in_m is None
            continue
        peak, stops = moved(TEST_KG[0], TEST_FALL_M, TEST_ROPE_M, ea.expected, slip)
        assert found.peak_n == pytest.approx(peak, rel=0.01)
        assert found.stops_in_m == pytest.approx(stops, rel=0.02)


@pytest.mark.parametrize("name", ["munter", "tube", "capstan"])
def test_in_the_hand_it_slips_is_said_and_fails_the_test(name):
    found = caught(name)
    assert found.clutch is not None and found.clutch.hand_n == catalogue().people.hand_hold_n
    kind = catalogue().devices[BELAYS[name]["what"]]
    assert found.clutch.slip_n == times(catalogue().people.hand_hold_n, kind.holding())
    assert found.tested and not any(passes_test(one) for _, one in found.tested)
    # What the belay's own strand bears is never more than what makes it slip.
    device = next(
        part for part in judge(demo_plan(lines__1__belay=BELAYS[name])).parts["goes:main"] if part.kind == "belay"
    )
    assert device.force_n.high <= catalogue().people.hand_hold_n.high * (1 + kind.holding().high) * (1 + 1e-9)


def test_side_by_side_on_the_demo():
    """A munter or a tube may not stop the demo's load at all; what grips or locks does."""
    stops = {name: caught(name).stops_in for name in BELAYS}
    assert stops["munter"] is None and stops["tube"] is None
    assert stops["self-locking"] is not None and stops["tandem"] is not None
    ids = {line.id.partition(":")[0]: line for line in check_here(demo_plan(lines__1__belay=BELAYS["tube"])).lines}
    assert ids["does-not-stop"].level == "stop" and "in the hand bears" in ids["does-not-stop"].text
    assert "does-not-stop" not in {line.id.partition(":")[0] for line in check_here(demo_plan()).lines}


def test_no_hitch_bears_more_than_makes_it_slip():
    """A prusik that slips at 5 to 8 kN is told to bear no more than that, however far it falls onto it."""
    plan = demo_plan(lines__1__belay={**BELAYS["tandem"], "what": "prusik-8"}, lines__1__slack_m=6.0)
    parts = judge(plan).parts["goes:main"]
    belay = next(part for part in parts if part.kind == "belay")
    assert belay.strength_n is not None and belay.force_n.high <= belay.strength_n.high + 1e-6


def test_the_soft_end_of_the_same_rope_decides():
    """EA 49 kN, a clutch of 10.2 kN: 0.62 m and passed; the softest rope of that kind stops it in 1.12 m."""
    ea = Range(20_000, 49_000, 60_000)
    assert passes_test(arrests(exactly(200 * G), 1.0, 3.0, exactly(49_000)))
    soft = arrests(exactly(200 * G), 1.0, 3.0, ea)
    assert soft.stops_in_m is not None and soft.stops_in_m.high == pytest.approx(1.12, abs=0.01)
    assert not passes_test(soft)


def test_every_corner_of_a_catch_against_points_between():
    import random

    luck = random.Random(4)
    weight, ea, slip = Range(1500, 1900, 2300), Range(18_000, 40_000, 60_000), Range(2200, 4500, 8000)
    for tied in (None, 0.4):
        told = arrests(weight, 0.7, 12.0, ea, slip, tied)
        for _ in range(2000):
            weighs, stiff, slips = (luck.uniform(r.low, r.high) for r in (weight, ea, slip))
            one = arrest(weighs, 0.7, 12.0, stiff, slips, tied)
            assert told.peak_n.low - 1e-6 <= one.peak_n <= told.peak_n.high + 1e-6
            if told.stops_in_m is not None:
                assert one.stops_in_m is not None
                assert told.stops_in_m.low - 1e-9 <= one.stops_in_m <= told.stops_in_m.high + 1e-9


def test_the_brake_strand_beside_the_load_strand_adds_to_it():
    """The demo on a munter: T at the device and T/r beside it, r = 6 at worst: 1673 N; led back the anchor bears the difference."""
    on = {"device": "munter", "brake_hitch": "french-8", "minder": "Birch"}
    beside, back = (
        next(
            one.force
            for one in analyse(one_rope_plan(lines__0__lowering={**on, "led": led})).state("lowering").anchors
            if one.anchor == "main"
        )
        for led in (None, "back")
    )
    assert beside.high == pytest.approx(1673, abs=2)
    at_device = beside.high / (1 + 1 / 6)
    # Led back it keeps half to all of its ratio, so down to 3: the difference is least where it brakes least.
    assert back.high == pytest.approx(at_device * (1 - 1 / 12), rel=0.01)
    assert back.low < beside.low


@pytest.mark.parametrize(("device", "level"), [("tube", "stop"), ("figure-eight", "stop")])
def test_a_tube_or_an_eight_led_forward_brakes_little_and_is_a_stop(device, level):
    plan = demo_plan(
        lines__0__lowering={"device": device, "brake_hitch": "french-8", "minder": "Birch", "led": "parallel"}
    )
    found = {line.id.partition(":")[0]: line for line in check_here(plan).lines}
    assert found["led-wrong"].level == level
    assert math.isclose(catalogue().devices[device].other_way.high, 0.35)


def test_crowded_at_the_device_it_is_counted():
    """Near the gate a connector may keep 30 %: 0.3 of the 20 kN that the standard asks, over what the device bears, is a stop."""
    plan = demo_plan(lines__0__lowering__crowded=True)
    rung = next(one for one in analyse(plan).state("held").rungs if one.id == "main:device:connector")
    assert rung.strength.low == pytest.approx(0.3 * 20_000)
    assert rung.margin.low == pytest.approx(6000 / rung.force.high) and rung.verdict == "below"


@pytest.mark.parametrize("name", ["munter", "tube"])
def test_what_is_offered_for_a_hand_that_slips_stops_the_load(name):
    """Not less slack: what slips under the load's own weight slips however softly it is caught."""
    plan = demo_plan(lines__1__belay=BELAYS[name])
    line = next(one for one in check_here(plan).lines if one.id.startswith("does-not-stop"))
    assert len(line.mends) == 1
    mended = plan_edited(plan, [Edit(one.op, one.path, one.value) for one in line.mends[0].edits])
    assert not any(one.id.startswith("does-not-stop") for one in check_here(mended).lines)
