"""What ropes, hitches, knots and lowering devices are worth, against the figures that teams carry (common practice, no source,
unless a standard is named), and against sums by hand."""

import math

import pytest

from rigging.catalogue import catalogue
from rigging.document import HitchMade, Rope
from rigging.judging.anchors import anchor_states
from rigging.judging.margins import Part
from rigging.judging.parts import parts_in_load_order
from rigging.lines.every_state import solve
from rigging.lines.solve import Solved, Solver, ways_of
from rigging.lines.states import moments
from rigging.lines.tied import cord_length_m, hitch_hold, knot_holds, rope_holds
from rigging.quantities.ranges import Range
from rigging.telling.check.sheet import check_here
from tests.plans import demo_plan, hanging, one_rope_plan

KIT = catalogue()
ROPE_11 = Rope(id="r", kind="low-stretch-11", length_m=50)


def made(**how) -> HitchMade:
    return HitchMade(**how)


def parts(plan, state: str) -> dict[str, Part]:
    solver = Solver(plan, ways_of(plan))
    solved = solve(solver, next(one for one in moments(plan) if one.id == state))
    assert isinstance(solved, Solved)
    return {one.id: one for one in parts_in_load_order(plan, solved, anchor_states(plan, [solved]))}


# Hitches


def test_an_8_mm_prusik_slips_on_one_rope_and_breaks_round_two():
    held = hitch_hold(KIT.hitches["prusik-8"], None, ROPE_11)
    assert (held.slip_n.low, held.slip_n.high) == (5000, 8000)
    assert (held.breaks_n.low, held.breaks_n.high) == (13000, 20000)
    for kind in ("low-stretch-11", "general-use-12.7"):
        assert (
            hitch_hold(KIT.hitches["prusik-8"], None, ROPE_11.model_copy(update={"kind": kind})).slip_n == held.slip_n
        )


def test_round_two_ropes_together_it_is_judged_by_its_cord_alone():
    one = parts(demo_plan(), "goes:main")
    two = parts(demo_plan(lines__1__belay__round_ropes=2), "goes:main")
    assert one["belay:belay"].gives == "slips"
    assert "belay:belay" not in two
    assert (two["belay:belay:cord"].gives, two["belay:belay:cord"].strength_n.low) == ("breaks", 13000)


@pytest.mark.parametrize(
    ("how", "less"),
    [({"glazed": True}, True), ({"cord": "cord-11"}, True), ({"wraps": 2}, True), ({"cord": "slick-cord-6"}, True),
     ({"wraps": 4}, False), ({"cord": "cord-7"}, None)],
)  # fmt: skip
def test_what_makes_a_hitch_grip_less_or_more(how, less):
    usual, here = (hitch_hold(KIT.hitches["prusik-8"], one, ROPE_11).slip_n.expected for one in (None, made(**how)))
    assert (here < usual) if less else (here > usual) if less is False else here == pytest.approx(usual)


def test_beyond_six_wraps_it_grips_less_again():
    grips = [hitch_hold(KIT.hitches["french-8"], made(wraps=n), ROPE_11).slip_n.expected for n in range(3, 10)]
    assert max(range(7), key=lambda n: grips[n]) + 3 == 6


def test_eight_wraps_and_cord_of_the_ropes_own_thickness_are_questioned():
    plan = one_rope_plan(lines__0__haul__capture_made={"cord": "cord-11", "wraps": 8})
    said = {line.id: line for line in check_here(plan).lines}
    assert said["wraps-many:main:capture"].level == "look"
    assert said["cord-thick:main:capture"].level == "stop"
    assert said["cord-thick:main:capture"].mends


def test_a_brake_hitch_of_5_mm_takes_a_loop_of_about_1_4_m():
    for rope, reach in (("low-stretch-11", 0.25), ("general-use-12.7", 0.3)):
        took = cord_length_m(KIT.hitches["french-8"], made(cord="cord-5"), KIT.ropes[rope], reach)
        assert took == pytest.approx(1.4, abs=0.15)


@pytest.mark.parametrize("mm", [5, 6, 7, 8])
def test_accessory_cord_has_the_least_strength_of_en_564(mm):
    """EN 564: 0.2 d² kN (from memory)."""
    assert KIT.slings[f"cord-{mm}"].strand_n.low == pytest.approx(200 * mm * mm)


def test_order_of_grip_and_what_lets_go_under_load():
    grips = [KIT.hitches[id].slip_n.expected for id in ("french-8", "klemheist-8", "prusik-8", "tandem-prusik-8")]
    assert grips == sorted(grips)
    assert [one.id for one in KIT.hitches.values() if one.releases_under_load and one.form == "hitch"] == ["french-8"]
    assert [one.id for one in KIT.hitches.values() if not one.both_ways and one.form == "hitch"] == ["klemheist-8"]


def test_a_clamp_with_teeth_cuts_instead_of_slipping():
    here = parts(one_rope_plan(lines__0__haul__grab="toothed-clamp"), "raising")
    clamp = here["main:grab:G:cord"]
    assert (clamp.kind, clamp.gives) == ("clamp", "breaks")
    assert "main:grab:G" not in here


# Knots


def test_a_butterfly_pulled_three_ways():
    """On a rope that gives 17 to 19 kN tied with figure-eights: along the line about 16, its loop pulled apart 18 to 28, and on its
    loop it outlasted the figure-eights."""
    rope, knot = Rope(id="r", kind="technical-use-11", length_m=50), KIT.knots["butterfly-loop"]
    eight = knot_holds(KIT.knots["figure-eight-loop"], rope, "loop").breaks_n
    scale = 18000 / eight.expected
    along, apart = (knot_holds(knot, rope, way).breaks_n for way in ("along", "apart"))
    assert along.expected * scale == pytest.approx(16000, rel=0.05)
    straight = 18000 / KIT.knots["figure-eight-loop"].keeps.expected
    assert (knot.apart.low * straight, knot.apart.high * straight) == pytest.approx((18000, 28000), rel=0.02)
    assert apart.expected > along.high
    loop = knot_holds(knot, rope, "loop").breaks_n
    assert loop.low < eight.expected < loop.high * 1.05


def test_a_butterfly_bend_with_three_diameters_of_tail_runs_at_9_to_12():
    rope = Rope(id="r", kind="low-stretch-11", length_m=50)
    bend = KIT.knots["butterfly-bend"]
    assert knot_holds(bend, rope, "bend", tail_m=0.033).slips_n == Range(9000, 10500, 12000)
    assert knot_holds(bend, rope, "bend", tail_m=0.11).slips_n is None
    plan = one_rope_plan(ropes__0__joins=[{"at_m": 10, "knot": "butterfly-bend", "tail_m": 0.033}])
    assert parts(plan, "raising")["main:join:0:runs"].gives == "slips"
    assert "tail-short:rope-1:0" in {line.id.replace(plan.ropes[0].id, "rope-1") for line in check_here(plan).lines}


def test_in_5_mm_slick_cord_a_knot_keeps_little_and_runs_at_2_to_3():
    rope = Rope(id="r", kind="slick-5", length_m=50)
    held = knot_holds(KIT.knots["butterfly-loop"], rope, "along")
    eight = knot_holds(KIT.knots["figure-eight-loop"], rope, "loop")
    assert eight.breaks_n.low == pytest.approx(0.3 * KIT.ropes["slick-5"].strength_n.low)
    assert held.breaks_n.low < eight.breaks_n.low
    assert (held.slips_n.low, held.slips_n.high) == (2000, 3000)
    thick = knot_holds(KIT.knots["butterfly-loop"], Rope(id="r", kind="slick-6", length_m=50), "along")
    assert thick.slips_n.expected == 9000
    bit = knot_holds(KIT.knots["butterfly-loop"], rope, "along", in_loop="overhand")
    assert bit.slips_n.expected == 12000


def test_a_clove_runs_in_slick_cord_before_other_knots_do():
    """Common practice, no source."""
    rope = Rope(id="r", kind="slick-5", length_m=50)
    clove, eight = (knot_holds(KIT.knots[one], rope, "loop") for one in ("clove", "figure-eight-loop"))
    assert clove.slips_n.low < eight.slips_n.low and clove.breaks_n.expected < eight.breaks_n.expected


@pytest.mark.parametrize("material", ["slick-cord-5", "cord-5"])
def test_an_anchor_of_slick_cord_holds_what_its_knot_lets_run(material):
    """Two strands of 5 mm slick cord on a figure-eight: they would keep 9 kN and more, and run at 4 to 6."""
    plan = one_rope_plan(anchors__0__alternatives__0__legs__0__extension=material)
    link = next(one for one in parts(plan, "raising").values() if one.kind == "attachment")
    assert link.thing.endswith("runs") == (material == "slick-cord-5")


def test_a_loop_with_nothing_in_it_rolls_before_the_rope_breaks():
    """A butterfly turned over held 12 to 14 (field guide, common practice)."""
    rope = Rope(id="r", kind="low-stretch-11", length_m=50)
    empty, full = (
        knot_holds(KIT.knots["butterfly-loop"], rope, "along", in_loop=one) for one in ("nothing", "connector")
    )
    assert full.slips_n is None and empty.slips_n.expected == 12000 < full.breaks_n.low
    across = knot_holds(KIT.knots["bowline"], rope, "along", in_loop="connector")
    assert across.breaks_n.low < full.breaks_n.low


def test_a_weathered_rope_with_its_damage_tied_out_gives_8_to_9():
    """Where a new rope gives 17 to 19 kN tied with figure-eights."""
    old = Rope(id="r", kind="technical-use-11", length_m=50, wear="worn")
    scale = (
        18000
        / knot_holds(KIT.knots["figure-eight-loop"], old.model_copy(update={"wear": None}), "loop").breaks_n.expected
    )
    held = knot_holds(KIT.knots["butterfly-loop"], old, "along").breaks_n
    assert held.low * scale < 8500 < held.high * scale
    assert rope_holds(old)[0].expected < 0.6 * KIT.ropes["technical-use-11"].strength_n.expected


def test_damage_tied_out_in_the_pull_is_a_part_and_beyond_it_is_not():
    def said(at_m: float) -> set[str]:
        damage = [{"at_m": at_m, "taken_out": "butterfly-loop", "in_loop": "connector"}]
        return set(parts(one_rope_plan(ropes__0__damage=damage), "lowering"))

    assert "main:tied-out:0" in said(22)
    assert "main:tied-out:0" not in said(55)


def test_dynamic_ropes_knotted_and_stretched():
    """EN 892: 10 % at most under 80 kg, single strand: EA 7.85 kN at least; knotted 15 to 18 kN (from memory)."""
    kind = KIT.ropes["dynamic-single-9.8"]
    knotted = knot_holds(KIT.knots["figure-eight-loop"], Rope(id="r", kind=kind.id, length_m=50), "loop").breaks_n
    assert knotted.expected == pytest.approx(16500, rel=0.05)
    assert kind.ea_n.low == pytest.approx(80 * 9.81 / 0.10, rel=1e-3)


# Lowering devices

RATIOS = {
    "tube": (4, 6, 9), "figure-eight": (3, 5, 8), "munter": (6, 9, 12), "super-munter": (15, 25, 35), "rack-4": (6, 8, 10),
    "rack-5": (10, 15, 20), "rack-6": (18, 25, 32),
}  # fmt: skip


@pytest.mark.parametrize("device", RATIOS)
@pytest.mark.parametrize("load_kn", [1, 2])
def test_hand_force_of_every_device_is_the_tension_over_its_ratio(device, load_kn):
    plan = hanging(load_kn * 1000, lines__0__lowering__device=device)
    solver = Solver(plan, ways_of(plan))
    hand = solver.solve(next(one for one in moments(plan) if one.id == "lowering")).lines[0].running.hand
    low, expected, high = RATIOS[device]
    assert hand.low == pytest.approx(load_kn * 1000 / high, rel=0.01)
    assert hand.expected == pytest.approx(load_kn * 1000 / expected, rel=0.01)
    assert hand.high == pytest.approx(load_kn * 1000 / low, rel=0.01)


def lowering_kinds(load_n: float, **lowering) -> set[str]:
    paths = {f"lines__0__lowering__{name}": value for name, value in lowering.items()}
    return {line.id.partition(":")[0] for line in check_here(hanging(load_n, **paths)).lines}


def test_the_plain_munter_is_too_little_for_two_and_the_doubled_one_too_much_for_one():
    """One hand holds 0.15 to 0.25 kN."""
    assert "hand-too-much" in lowering_kinds(2000, device="munter")
    assert not {"hand-too-much", "may-not-run"} & lowering_kinds(2000, device="super-munter")
    assert "may-not-run" in lowering_kinds(1000, device="super-munter")
    assert "hand-too-much" not in lowering_kinds(850, device="munter")


def test_two_people_on_one_device_hold_twice_as_much():
    assert "hand-too-much" in lowering_kinds(1700, device="munter", hands=1)
    assert "hand-too-much" not in lowering_kinds(1700, device="munter", hands=2)


@pytest.mark.parametrize("turns", [1, 2, 3])
def test_turns_round_a_trunk_by_the_capstan_equation(turns):
    held = KIT.devices["capstan-trunk"].holding(turns)
    assert held.low == pytest.approx(math.exp(0.3 * 2 * math.pi * turns))
    assert held.high == pytest.approx(math.exp(0.4 * 2 * math.pi * turns))


def test_a_munter_twists_over_a_long_lower_and_the_doubled_one_does_not():
    down = {"x_m": 0.01, "z_m": -30}
    for device, far_m, twists in (("munter", -30, True), ("munter", -12, False), ("super-munter", -30, False)):
        plan = hanging(800, lines__0__lowering__device=device, site__load_at={**down, "z_m": far_m})
        assert ("twists:main" in {line.id for line in check_here(plan).lines}) is twists
