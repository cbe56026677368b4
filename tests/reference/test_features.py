"""What features hold, against handbook values and sums by hand. Sources from memory, as named in each test."""

import math

import pytest

from rigging.catalogue import catalogue
from rigging.document import Feature
from rigging.quantities.units import Wording
from rigging.site.features import estimate, roots_hold_n, trunk_bending_n, verdict

SOUND = {
    "tree": {"alive": "yes", "rooted": "deep", "diameter_m": 0.3, "strap_height_m": 0.3, "wood": "white-oak"},
    "boulder": {"lies": "lying", "sharp": "no", "length_m": 2, "width_m": 1.5, "height_m": 1, "strap_height_m": 0.2},
    "vehicle": {"mass_kg": 2000, "stands_on": "dry-tarmac", "braked": "all", "parked": "across", "keys_out": "yes", "strapped_to": "frame"},
    "bolt": {"rock": "yes", "corroded": "no", "spins": "no", "pulled": "radial"},
    "picket": {"line": "1", "soil": "dry-loam", "driven_m": 0.9, "lean_deg": 15},
    "deadman": {"depth_m": 0.9, "slope": "1-1", "face_length_m": 1.0, "face_height_m": 1.0, "front": "yes"},
    "snow-deadman": {"snow": "firm", "trench_m": 0.4, "low_pull": "yes", "front": "yes"},
    "snow-picket": {"snow": "firm", "lean_deg": 12, "sling": "yes", "driven": "yes"},
    "ice-axe": {"snow": "firm", "lean_deg": 20, "sling": "yes"},
    "person": {"mass_kg": 80, "footing": "braced"},
    "structure": {"section": "steel", "fixed": "yes", "corroded": "no"},
}  # fmt: skip


def feature(kind: str, **answers: object) -> Feature:
    return Feature.model_validate({"id": kind, "name": kind, "kind": kind, "x_m": -3, "answers": SOUND[kind] | answers})


def kn(kind: str, **answers: object) -> tuple[float, float, float]:
    found = estimate(feature(kind, **answers)).strength_n
    return found.low / 1000, found.expected / 1000, found.high / 1000


@pytest.mark.parametrize(("wood", "mpa"), [("douglas-fir", 53), ("white-pine", 34), ("white-oak", 57), ("aspen", 35)])
def test_a_trunk_bends_as_the_modulus_of_rupture_of_its_green_wood_has_it(wood, mpa):
    """FPL Wood Handbook GTR-190, table 5-3; M = σ·W with the section modulus W = π·d³/32, here with W looked up: 300 mm → 2.651e-3 m³."""
    assert trunk_bending_n(mpa * 1e6, 0.3, 0.3) == pytest.approx(mpa * 1e6 * 2.6507e-3 / 0.3, rel=1e-3)
    sigma = next(o.value for q in catalogue().features["tree"].questions for o in q.options if o.id == wood)
    assert sigma.expected == mpa * 1e6


def test_a_strap_moved_up_a_thin_trunk_loses_as_one_over_height():
    # 130 mm of Douglas-fir with the strap at 1 m: 53 MPa · 2.157e-4 m³ / 1 m, by hand.
    assert trunk_bending_n(53e6, 0.13, 1.0) == pytest.approx(11_430, abs=10)
    assert trunk_bending_n(53e6, 0.13, 0.25) == pytest.approx(4 * 11_430, abs=40)


@pytest.mark.parametrize(("cm", "holds"), [(13, 5.6), (18, 10.8), (24, 19.2), (31, 32.0)])
def test_roots_hold_by_the_square_of_the_diameter(cm, holds):
    """A rule of cable logging, d²/30 kN with d in cm, ÷ 2 to × 2 with soil and depth (from memory)."""
    deep, shallow = roots_hold_n(cm / 100, True), roots_hold_n(cm / 100, False)
    assert deep.expected / 1000 == pytest.approx(holds, abs=0.1)
    assert (deep.low, deep.high) == (pytest.approx(deep.expected / 2), pytest.approx(deep.expected * 2))
    assert shallow.high == pytest.approx(deep.expected)


def test_a_tree_holds_the_lesser_of_trunk_and_roots_and_says_which():
    """180 mm with the strap low: the trunk would bend at 103 kN, the roots hold 10.8. Thin and high, the trunk decides."""
    rooted = estimate(feature("tree", diameter_m=0.18, strap_height_m=0.3, wood="douglas-fir"))
    assert rooted.strength_n.expected == pytest.approx(10_800)
    assert rooted.limit.startswith("the roots decide")
    high = estimate(feature("tree", diameter_m=0.10, strap_height_m=2.4, wood="white-pine"))
    assert high.strength_n.expected == pytest.approx(trunk_bending_n(34e6, 0.10, 2.4))
    assert high.limit.startswith("the trunk decides")
    assert estimate(feature("tree", rooted="washed")).strength_n is None


def test_bad_roots_reject_a_tree_and_a_thin_one_wants_others():
    assert verdict(feature("tree", rooted="washed"), 10_000, Wording()).verdict == "reject"
    thin = verdict(feature("tree", diameter_m=0.1), 1000, Wording())
    assert thin.verdict == "with-others"
    assert "trunk 0.10 m, below the 0.13 m" in thin.reasons[0]


@pytest.mark.parametrize(
    ("line", "soil", "holds"),
    [("1", "dry-loam", 3.1), ("1-1", "dry-loam", 6.2), ("1-1-1", "dry-loam", 8.0), ("2-1", "dry-loam", 8.9),
     ("3-2-1", "dry-loam", 17.8), ("3-2-1", "wet-clay-gravel", 16.02), ("1-1", "river-clay-sand", 3.1)],
)  # fmt: skip
def test_pickets_hold_as_the_field_manual_has_them(line, soil, holds):
    """US Army FM 5-125, from memory: pounds of the table in kilonewtons, × 0.9 and × 0.5 by soil."""
    assert kn("picket", line=line, soil=soil)[1] == pytest.approx(holds)


def test_a_picket_driven_half_as_deep_holds_between_a_half_and_a_quarter():
    low, _, high = kn("picket", driven_m=0.45)
    assert (low, high) == pytest.approx((3.1 / 4, 3.1 / 2))


@pytest.mark.parametrize(("slope", "kpa"), [("vertical", 29), ("1-1", 46), ("1-2", 62), ("1-3", 69), ("1-4", 72)])
def test_earth_holds_a_deadman_by_depth_and_slope(slope, kpa):
    """US Army FM 5-125, from memory: at 0.9 m, 600/950/1300/1450/1500 lb per square foot."""
    psf = {29: 600, 46: 950, 62: 1300, 69: 1450, 72: 1500}[kpa]
    assert kn("deadman", slope=slope)[1] == pytest.approx(kpa)
    assert kn("deadman", slope=slope)[1] == pytest.approx(psf * 4.4482 / 0.3048**2 / 1000, rel=0.012)
    # Half the face holds half; deeper holds more.
    assert kn("deadman", slope=slope, face_height_m=0.5)[1] == pytest.approx(kpa / 2)
    assert kn("deadman", slope=slope, depth_m=1.35)[1] > kpa
    assert estimate(feature("deadman", slope=slope, depth_m=0.6)).strength_n is None


def test_a_lying_boulder_slides_or_tips_whichever_comes_first():
    """2 × 1.5 × 1 m: 3 m³ of box, 0.7 of it rock of 2600 kg/m³: 5460 kg, 53.5 kN. Sliding 0.6 of it."""
    assert kn("boulder")[1] == pytest.approx(0.6 * 5460 * 9.80665 / 1000, rel=1e-3)
    # Strapped at 1.9 m of height it tips about its front edge first: W·l/2 ÷ h, by hand.
    assert kn("boulder", strap_height_m=1.9)[1] == pytest.approx(53.54 * 1.0 / 1.9, rel=1e-3)


def test_an_upward_pull_takes_weight_off_a_boulder():
    """Balance along the ground: F·cos a = μ·(W − F·sin a), as F = μ·W / (cos a + μ·sin a)."""
    level, rising = estimate(feature("boulder")).strength_n, estimate(feature("boulder"), math.radians(30)).strength_n
    f, w, a = rising.expected, 5460 * 9.80665, math.radians(30)
    assert f * math.cos(a) == pytest.approx(0.6 * (w - f * math.sin(a)), rel=1e-3)
    assert rising.expected < level.expected


@pytest.mark.parametrize(("ground", "mu"), [("dry-tarmac", 0.7), ("gravel", 0.5), ("wet-grass", 0.3)])
def test_a_vehicle_holds_by_its_locked_wheels(ground, mu):
    assert kn("vehicle", stands_on=ground)[1] == pytest.approx(mu * 2000 * 9.80665 / 1000)
    assert kn("vehicle", stands_on=ground, braked="one-axle")[1] == pytest.approx(mu * 1000 * 9.80665 / 1000)


def test_bolts_and_snow():
    """EN 959, from memory: 25 kN radial, 15 kN axial. Snow pickets 2–8 and 1–5 kN: engineering values."""
    assert kn("bolt")[1] == 25
    assert kn("bolt", pulled="axial")[1] == 15
    assert kn("snow-deadman", snow="soft")[0] == 2
    assert kn("snow-deadman")[2] == 8
    assert kn("snow-picket", snow="soft")[0] == 1
    assert kn("snow-picket")[2] == 5


@pytest.mark.parametrize(
    ("kind", "answer", "word", "why"),
    [
        ("tree", {"alive": "no"}, "reject", "dead"),
        ("boulder", {"lies": "undercut"}, "reject", "undercut"),
        ("boulder", {"sharp": "yes"}, "with-others", "sharp"),
        ("vehicle", {"braked": "none"}, "reject", "wheels"),
        ("vehicle", {"parked": "in-line"}, "with-others", "roll"),
        ("bolt", {"spins": "yes"}, "reject", "spins"),
        ("structure", {"fixed": "no"}, "reject", "nobody can see"),
        ("snow-deadman", {"front": "no"}, "reject", "broken"),
        ("snow-deadman", {"low_pull": "no"}, "reject", "lifts"),
        ("ice-axe", {}, "temporary", "guarded by a person"),
        ("person", {}, "temporary", "never the last thing holding"),
        ("person", {"footing": "standing"}, "reject", "pulled off"),
        ("tree", {}, "sound-alone", "your rule asks"),
    ],
)
def test_each_kind_is_judged_in_the_trades_words(kind, answer, word, why):
    found = verdict(feature(kind, **answer), 5000, Wording())
    assert found.verdict == word
    assert why in " ".join(found.reasons)


def test_an_unanswered_inspection_gives_no_figure_and_says_what_is_missing():
    blank = Feature.model_validate({"id": "a", "name": "Ash", "kind": "tree", "x_m": -3, "answers": {"alive": "yes"}})
    assert estimate(blank).strength_n is None
    assert "roots" in estimate(blank).why_not
    assert verdict(blank, 1000, Wording()).verdict is None


def test_too_weak_to_stand_alone_is_for_use_with_others():
    found = verdict(feature("picket"), 15_000, Wording())
    assert found.verdict == "with-others"
    assert "your rule asks 15.0 kN" in found.reasons[-1]
