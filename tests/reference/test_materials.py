"""What ropes, connectors, knots and devices hold, against standards as quoted (from memory where nothing else is said)."""

import itertools
import math
from typing import Any

import pytest

from rigging.anchors.chain import leg_chain
from rigging.anchors.rig import rig_anchor
from rigging.catalogue import Section, Sourced, Turns, catalogue, sources
from rigging.catalogue.__main__ import TABLES, numbers
from rigging.document import Plan, Rope
from rigging.lines.catch import TEST_FALL_M, TEST_KG, TEST_ROPE_M
from rigging.lines.tied import device_holding, device_strength_n, knot_holds
from rigging.mechanics.dynamics import arrest, arrests
from rigging.quantities.ranges import Range, exactly
from tests.frames import STANDS

KIT = catalogue()
G = 9.80665


def every() -> list[tuple[str, Sourced]]:
    """Every entry that carries numbers, with a name to find it by."""
    rows = [(f"{table}/{id}", entry) for table in TABLES for id, entry in getattr(KIT, table).items()]
    return [*rows, ("tying", KIT.tying), ("people", KIT.people)]


def ranges(value: Any) -> list[Range]:
    if isinstance(value, Range):
        return [value]
    if isinstance(value, dict):
        return [one for each in value.values() for one in ranges(each)]
    return [value.modulus_pa, value.second_moment_m4] if isinstance(value, Section) else []


@pytest.mark.parametrize(("name", "entry"), every(), ids=lambda one: one if isinstance(one, str) else "")
def test_no_number_is_without_an_origin_and_none_is_known_to_the_digit_but_by_a_standard_or_by_what_it_is(name, entry):
    exact = {"S", "C", "P"}
    for number, value in numbers(entry):
        ids = entry.origin(number).split()
        assert ids, f"{name}.{number} has no origin"
        assert set(ids) <= set(sources()), f"{name}.{number}: {ids}"
        for one in ranges(value):
            kinds = {sources()[id].kind for id in ids}
            # A share of one, "as new": nothing changes, and nothing is claimed.
            assert one.low < one.high or one == exactly(1.0) or kinds & exact, f"{name}.{number}"
        if len(ids) == 2:
            assert sources()[ids[0]].kind != sources()[ids[1]].kind or not isinstance(value, (int, Turns))


@pytest.mark.parametrize(
    ("standard", "found", "asked"),
    [
        ("EN 1891 type A: 22 kN", KIT.ropes["low-stretch-11"].strength_n.low, 22_000),
        ("EN 1891 type B: 18 kN", KIT.ropes["low-stretch-10-b"].strength_n.low, 18_000),
        ("EN 1891: 5 % from 50 to 150 kg", KIT.ropes["low-stretch-11"].ea_n.low, 100 * G / 0.05),
        ("NFPA 2500 general use: 40 kN", KIT.ropes["general-use-12.7"].strength_n.low, 40_000),
        ("NFPA 2500 technical use: 20 kN", KIT.ropes["technical-use-11"].strength_n.low, 20_000),
        ("EN 892: 10 % under 80 kg, single", KIT.ropes["dynamic-single-9.8"].ea_n.low, 80 * G / 0.10),
        ("EN 892: 12 % under 80 kg, half", KIT.ropes["dynamic-half-8.5"].ea_n.low, 80 * G / 0.12),
        ("EN 564: 0.2 d², 5 mm", KIT.slings["cord-5"].strand_n.low, 5_000),
        ("EN 564: 0.2 d², 6 mm", KIT.slings["cord-6"].strand_n.low, 7_200),
        ("EN 564: 0.2 d², 7 mm", KIT.slings["cord-7"].strand_n.low, 9_800),
        ("EN 564: 0.2 d², 8 mm", KIT.slings["cord-8"].strand_n.low, 12_800),
        ("EN 565: three threads, 15 kN", KIT.slings["flat-tape-26"].strand_n.low, 15_000),
        ("EN 566: 22 kN, two strands", 2 * KIT.slings["sewn-sling-22"].strand_n.low, 22_000),
        ("EN 12275 B: 20 kN along", KIT.connectors["alloy-b"].strength_n.low, 20_000),
        ("EN 12275 B: 7 kN across", KIT.connectors["alloy-b"].loaded("across")[0].low, 7_000),
        ("EN 12275 B: 7 kN gate open", KIT.connectors["alloy-b"].loaded("gate-open")[0].low, 7_000),
        ("EN 12275 Q: 25 kN along", KIT.connectors["screw-link-10"].strength_n.low, 25_000),
        ("EN 12277: 15 kN", KIT.connectors["harness-point"].strength_n.low, 15_000),
        ("EN 567: 4 kN", KIT.hitches["toothed-clamp"].breaks_n.low, 4_000),
    ],
)
def test_the_least_is_what_the_standard_asks(standard, found, asked):
    assert found == pytest.approx(asked, rel=2e-3), standard


@pytest.mark.parametrize(
    ("kind", "kg", "peak_n"),
    [("dynamic-single-9.8", 80, 12_000), ("dynamic-half-8.5", 55, 8_000), ("dynamic-twins-8", 80, 12_000)],
)
def test_the_stiffest_dynamic_rope_gives_the_impact_force_that_en_892_allows(kind, kg, peak_n):
    """EN 892's first fall: 4.8 m on 2.7 m of rope, factor 1.77; most impact force 12, 8 and 12 kN (from memory)."""
    stiff = KIT.ropes[kind].catch_ea_n.high
    assert arrest(kg * G, 1.77 * 2.7, 2.7, stiff).peak_n == pytest.approx(peak_n, rel=0.02)


def test_low_stretch_rope_stays_near_en_1891s_peak():
    """100 kg, factor 0.3, under 6 kN: EA 41 kN with its knots still to be drawn tight, a third more for the rope alone at most half."""
    peak_ea = ((6000 / (100 * G) - 1) ** 2 - 1) * 100 * G / (2 * 0.3)
    assert peak_ea == pytest.approx(41_000, rel=0.01)
    assert (
        KIT.ropes["low-stretch-11"].catch_ea_n.expected
        < peak_ea
        < KIT.ropes["low-stretch-11"].catch_ea_n.high
        <= 1.5 * peak_ea
    )


@pytest.mark.parametrize("kind", ["general-use-12.7", "technical-use-11"])
def test_nfpa_elongation_back_computed(kind):
    """NFPA 2500: 1 to 10 % longer at a tenth of the strength (from memory)."""
    rope = KIT.ropes[kind]
    tenth = 0.1 * rope.strength_n.low
    assert tenth / rope.ea_n.high >= 0.01 and tenth / rope.ea_n.low <= 0.10


@pytest.mark.parametrize(
    "kind", ["low-stretch-11", "general-use-12.7", "technical-use-11", "dynamic-single-9.8", "low-stretch-8"]
)
@pytest.mark.parametrize("kg", TEST_KG)
def test_the_competence_fall_by_five_ropes(kind, kg):
    """Without a clutch F = W(1 + √(1 + 2·h·EA/(W·L))) at either end of the rope's stiffness; the softest stops it last."""
    ea = KIT.ropes[kind].catch_ea_n
    told = arrests(exactly(kg * G), TEST_FALL_M, TEST_ROPE_M, ea)
    by_hand = [
        kg * G * (1 + math.sqrt(1 + 2 * TEST_FALL_M * one / (kg * G * TEST_ROPE_M))) for one in (ea.low, ea.high)
    ]
    assert (told.peak_n.low, told.peak_n.high) == pytest.approx(tuple(by_hand))
    assert told.stops_in_m is not None
    assert told.stops_in_m.high == pytest.approx(by_hand[0] * TEST_ROPE_M / ea.low)


def rope(kind: str = "low-stretch-11", **more: Any) -> Rope:
    return Rope(id="r", kind=kind, length_m=50, **more)


@pytest.mark.parametrize("device", ["tube", "munter", "super-munter", "rack-5", "figure-eight", "self-locking"])
def test_a_device_brakes_less_on_thinner_newer_wetter_rope_and_slips_sooner(device):
    kind = KIT.devices[device]
    rows = [rope(), rope("dynamic-single-9.8"), rope("dynamic-half-8.5")]
    for thick, thin in itertools.pairwise(rows):
        assert device_holding(kind, thin).high < device_holding(kind, thick).high or kind.holding().high == 1
        assert device_strength_n(kind, thin).low <= device_strength_n(kind, thick).low
    # On 8 to 9 mm a half to seven tenths of it (from memory).
    assert device_holding(kind, rows[2]).low == pytest.approx(max(1.0, 0.5 * kind.holding().low))
    for other in (rope(wear="new"), rope(state="wet"), rope(state="icy"), rope(glazed=True)):
        assert device_holding(kind, other).expected < device_holding(kind, rope()).expected
    assert device_holding(kind, rope(wear="worn")).high > device_holding(kind, rope()).high


def test_a_self_locking_device_slips_from_three_and_a_half_on_thin_rope_and_its_cap_is_its_high_end():
    kind = KIT.devices["self-locking"]
    assert device_strength_n(kind, rope("dynamic-half-8.5")).low == pytest.approx(3500, rel=0.01)
    assert device_strength_n(kind, rope()).high == 10_000


def test_a_flat_overhand_is_always_judged_by_where_it_rolls_and_by_its_own_tails():
    flat, other = KIT.knots["flat-overhand"], KIT.knots["double-fisherman"]
    assert knot_holds(flat, rope(), "bend", tail_m=1.0).slips_n == Range(2000, 6000, 10_000)
    assert knot_holds(other, rope(), "bend", tail_m=1.0).slips_n is None
    unlike = knot_holds(flat, rope(), "bend", tail_m=1.0, onto="dynamic-half-8.5")
    assert unlike.slips_n is not None and unlike.slips_n.high <= 10_000 and unlike.slips_n.low < 2000
    # A join is as strong as the weaker of its ropes.
    assert unlike.breaks_n.high == pytest.approx(KIT.ropes["dynamic-half-8.5"].strength_n.high * flat.keeps.high)


def test_a_leg_of_a_frame_buckles_by_its_length_and_section():
    """Euler's load of a strut pinned at both ends, π²·E·I/L² (any text on strength of materials)."""
    plan = Plan.model_validate(STANDS)
    rig = rig_anchor(plan, plan.anchor("frame").arrangement)
    tube = KIT.slings["frame-tube"].section
    assert tube is not None
    for line in rig.lines:
        link = next(one for one in leg_chain(plan.anchor("frame").arrangement, line) if one.id == "buckles")
        low = math.pi**2 * tube.modulus_pa.low * tube.second_moment_m4.low / line.spans_m**2
        assert link.strength_n.low == pytest.approx(low)
    # A 50 mm tube of 3 mm, 3 m long, by hand: I = π·(0.05⁴ − 0.044⁴)/64 = 0.123·10⁻⁶ m⁴, 9.4 kN.
    by_hand = math.pi**2 * 70e9 * math.pi * (0.05**4 - 0.044**4) / 64 / 3.0**2
    ends = [
        math.pi**2 * e * i / 9
        for e, i in (
            (tube.modulus_pa.low, tube.second_moment_m4.low),
            (tube.modulus_pa.high, tube.second_moment_m4.high),
        )
    ]
    assert by_hand == pytest.approx(9_400, rel=0.02) and ends[0] < by_hand < ends[1]


def test_every_rope_has_a_ceiling_of_people_and_the_weaker_the_lower():
    order = sorted(
        KIT.ropes.values(), key=lambda one: one.strength_n.low * (KIT.tying.slick_keeps.low if one.slick else 0.7)
    )
    ceilings = [one.people_ceiling for one in order]
    assert all(low <= high + 2 for low, high in itertools.pairwise(ceilings)) and min(ceilings) >= 3
