"""Schemes of several legs against sums by hand, a finite element package, a cable library and integrated motion."""

import itertools
import math

import moorpy
import numpy as np
import pytest
from Pynite import FEModel3D
from scipy.integrate import solve_ivp

from rigging.anchors.rig import rig_anchor
from rigging.catalogue import catalogue
from rigging.mechanics.dynamics import catch, peak_of_fall_n
from rigging.mechanics.legs import hang
from rigging.mechanics.sliding import held_on_line, slide_all
from tests.anchors import hung, leg, plan_of, said, tree, tried


def by_finite_elements(to: np.ndarray, ea: np.ndarray, load: np.ndarray) -> np.ndarray:
    """PyNiteFEA: tension-only members from fixed nodes to one free node, small displacements."""
    model = FEModel3D()
    model.add_material("cord", 1.0, 0.4, 0.3, 0.0)
    model.add_node("P", 0, 0, 0)
    model.def_support("P", False, False, False, True, True, True)
    for i, (end, stiffness) in enumerate(zip(to, ea, strict=True)):
        model.add_section(f"s{i}", stiffness, 1e-9 * stiffness, 1e-9 * stiffness, 1e-9 * stiffness)
        model.add_node(f"A{i}", *map(float, end))
        model.def_support(f"A{i}", True, True, True, True, True, True)
        model.add_member(f"M{i}", f"A{i}", "P", "cord", f"s{i}", tension_only=True)
    for direction, value in zip(("FX", "FY", "FZ"), load, strict=True):
        model.add_node_load("P", direction, float(value))
    model.analyze(log=False)
    return np.array([-model.members[f"M{i}"].axial(0.0) for i in range(len(to))])


@pytest.mark.parametrize("seed", range(6))
def test_stiff_taut_legs_agree_with_a_finite_element_package(seed):
    """PyNiteFEA's tension-only members; both in the stiff limit, where small displacements are enough."""
    rng = np.random.default_rng(seed)
    count = int(rng.integers(3, 6))
    to = rng.uniform([-4, -2, -0.6], [-2, 2, 1.6], size=(count, 3))
    inside = rng.uniform(0.3, 1, size=count)
    load = -(inside[:, None] * to / np.linalg.norm(to, axis=1)[:, None]).sum(axis=0)
    ea = rng.uniform(0.5, 2, size=count) * 1e6
    found = hang(to, ea, np.linalg.norm(to, axis=1), load, np.zeros(3)).tensions
    assert found == pytest.approx(by_finite_elements(to, ea, load), rel=0.01, abs=0.01 * np.linalg.norm(load))


def cable(span: float, rest: float, ea: float, load: float) -> tuple[float, float]:
    """MoorPy: two lines of rope from fixed ends to a free point with the load's mass; sag and tension at the ends."""
    system = moorpy.System(depth=500)
    system.g, system.rho = 9.81, 0.0
    none = dict.fromkeys(("EAd", "EAd_Lm", "BA", "Cd", "Ca", "CdAx", "CaAx", "cost"), 0)
    system.lineTypes["rope"] = {
        "name": "rope",
        "material": "rope",
        "d_vol": 0.011,
        "d_nom": 0.011,
        "m": 0.02,
        "w": 0.2,
        "EA": ea,
        **none,
    }
    system.addPoint(1, [-span / 2, 0, -100])
    system.addPoint(0, [0, 0, -100 - 0.03 * span], m=load / 9.81, v=0)
    system.addPoint(1, [span / 2, 0, -100])
    system.addLine(rest / 2, "rope", pointA=1, pointB=2)
    system.addLine(rest / 2, "rope", pointA=2, pointB=3)
    system.initialize()
    system.solveEquilibrium(tol=1e-6, maxIter=5000)
    return -100 - system.pointList[1].r[2], max(system.lineList[0].TA, system.lineList[0].TB)


@pytest.mark.parametrize(("span", "pretension"), [(8, 200), (15, 500), (25, 1000), (40, 2000), (60, 1000)])
@pytest.mark.parametrize("rolls", [False, True])
def test_a_tension_line_agrees_with_a_cable_library(span, pretension, rolls):
    ea, load = 49_000.0, 1500.0
    rest = span / (1 + pretension / ea)
    ends = np.array([[-span / 2, 0.0, 0.0], [span / 2, 0.0, 0.0]])
    down = np.array([[0.0, 0.0, -load / 1000]])
    if rolls:
        found = held_on_line(ends, np.array([ea / 1000]), np.array([rest]), down, np.zeros((1, 3)))
        point, tension = found.points[0], found.tensions[0, 0]
    else:
        one = hang(ends, np.full(2, ea / 1000), np.full(2, rest / 2), down[0], np.zeros(3))
        point, tension = one.point, one.tensions[0]
    sag, pull = cable(span, rest, ea, load)
    assert -point[2] == pytest.approx(sag, rel=0.02)
    assert tension * 1000 == pytest.approx(pull, rel=0.02)
    # T = W·√(L²/4 + s²)/(2s) at mid-span, any text on statics.
    assert tension * 1000 == pytest.approx(load * math.hypot(span / 2, point[2]) / (-2 * point[2]), rel=1e-4)


def line(pretension: float, slips: str | None, ropes: int = 1, **span: str):
    ends = [tree("west", -0.2, -12), tree("east", -0.2, 12)]
    legs = [leg(id, extension="rope-11", pretension_n=pretension) for id in ("west", "east")]
    settings = {"ropes": ropes, "carriage": "rolls", "slips": slips, **span}
    return plan_of(ends, "span", legs, point={"x_m": -0.2}, span=settings, pull=hung(2000, dip=math.pi / 2))


def test_a_device_that_slips_caps_a_tension_line():
    tight, capped = tried(line(6000, None)).span, tried(line(6000, "self-locking")).span
    assert tight.tension.expected > 6000
    assert not tight.slipping
    assert capped.slipping
    assert capped.tension.expected == pytest.approx(6000, rel=1e-3)
    assert capped.sag.expected > tight.sag.expected
    assert capped.fed_m > 0.05
    # At the cap the sag is what the formula has: 6 kN over 24 m under 2 kN, s = 2.028 m by hand.
    assert capped.sag.expected == pytest.approx(2.03, abs=0.03)
    assert "do not tie the device off" in said(tried(line(6000, "self-locking")), "slipping")


def test_pretension_wins_little_height_and_costs_much():
    rows = tried(line(500, None)).span.rows
    assert [row.pretension_n for row in rows] == [0, 500, 1000, 2000, 3000, 4000]
    assert all(b.sag_m < a.sag_m and b.at_anchors_n > a.at_anchors_n for a, b in itertools.pairwise(rows))


def slider(heading: float = 0.0, limit: float | None = None, slides_on: str = "carabiner"):
    """Two legs of 2.5 m to features 1.5 m to either side, 2 m behind: 73.7° between them."""
    features = [tree("left", -2, -1.5), tree("right", -2, 1.5)]
    legs = [leg("left"), leg("right")]
    return plan_of(features, "self-adjusting", legs, slider=slides_on, limit_m=limit, pull=hung(3000, heading))


def test_a_sliding_anchor_never_shares_equally_on_a_carabiner():
    """Turn at the slider 180° − 73.7° = 106.3°; at η = 0.45 the slack side keeps 0.45^(106.3/180) = 0.624 of the other."""
    report = tried(slider())
    straight = report.legs[0].force
    # 3 kN between two legs at ± 36.87°: equal 1.875 each; slid either way they bear 1 : 0.624 of it.
    assert straight.expected == pytest.approx(1875, rel=0.01)
    assert straight.low / straight.high == pytest.approx(0.624, rel=0.04)
    assert "never shares equally" in said(report, "never-equal")
    better = tried(slider(slides_on="ball-bearing-pulley")).legs[0].force
    assert better.low / better.high > straight.low / straight.high


def test_a_two_leg_slider_that_loses_a_leg_drops_by_its_cord():
    """Cord of 2 × 2.5 m hangs on the right leg alone: from (−2, 1.5) straight along the pull to 5 m, (3, 1.5)."""
    report = tried(slider())
    left = report.removals[0]
    start = report.loaded_at
    assert (left.point.x_m, left.point.y_m) == pytest.approx((3.0, 1.5), abs=0.15)
    assert left.moved.expected == pytest.approx(math.hypot(3 - start.x_m, 1.5 - start.y_m), abs=0.15)
    # With limiting knots it drops by what they leave, and the peak is less.
    limited = tried(slider(limit=0.3)).removals[0]
    assert limited.moved.expected < left.moved.expected
    assert limited.peak.expected < left.peak.expected
    # A load that falls at all comes to at least twice its weight.
    assert left.peak.expected > 2 * 3000


def test_the_peak_of_a_fall_onto_one_spring_is_the_textbooks():
    """F = W·(1 + √(1 + 2·h·k/W)): 2 kN falling 0.5 m onto 20 kN/m, 8.63 kN by hand."""
    forces = np.linspace(1, 40_000, 400)
    assert peak_of_fall_n(2000, 0.5, 20_000) == pytest.approx(8633, abs=1)
    assert catch(forces, forces / 20_000 + 0.5, 0.0, 2000).peak_n == pytest.approx(8633, rel=1e-3)
    # Nothing slack, a load let go suddenly: twice its weight. With a clutch at 6 kN: 6 kN, and it slips.
    assert catch(forces, forces / 20_000, 0.0, 2000).peak_n == pytest.approx(4000, rel=1e-3)
    # Drawn back by what is left, it does not fall: the pull itself, and no more.
    assert catch(forces[:50], forces[:50] / 20_000 - 5, 0.0, 2000).peak_n == 2000
    clutch = catch(forces, forces / 20_000 + 0.5, 0.0, 2000, 6000.0)
    spent = 2000 * (0.5 + 6000 / 20_000) - 6000**2 / (2 * 20_000)
    assert (clutch.peak_n, clutch.slips_m) == (6000, pytest.approx(spent / 4000, rel=0.01))


def test_the_peak_as_a_leg_goes_agrees_with_integrated_motion():
    """SciPy integrates the motion of load and working point (a light one, damped) in the plane; no equilibrium is solved there."""
    features = [tree("left", -2, -1.5), tree("right", -2, 1.5), tree("mid", -2.6, 0)]
    plan = plan_of(features, "fixed", [leg("left"), leg("right"), leg("mid", length_m=2.75)], pull=hung(3000))
    rig = rig_anchor(plan, plan.anchors[0].alternatives[1])
    rope, weight = 12_000.0, 3000.0
    to, ea = rig.whole.to[:, :2], rig.whole.ea_kn[1] * 1000
    rest = rig.whole.rest_m[1]

    def legs(point, there):
        away = point - to
        far = np.linalg.norm(away, axis=1)
        return -((there * ea * np.maximum(0, far - rest) / rest) / far) @ away

    def motion(_t, state, there):
        point, load, v_point, v_load = np.array(state[:2]), state[2], np.array(state[3:5]), state[5]
        pull = max(0.0, rope * (load - point[0]))
        point_kg, load_kg = 1.5, weight / 9.80665
        force = legs(point, there) + np.array([pull, 0.0]) - 120.0 * v_point
        return [*v_point, v_load, *(force / point_kg), (weight - pull) / load_kg]

    whole, gone = np.ones(3), np.array([0.0, 1.0, 1.0])
    before = hang(rig.whole.to, ea / 1000, rest, np.array([3.0, 0, 0]), np.zeros(3)).point[:2]
    start = [*before, before[0] + weight / rope, 0, 0, 0]
    assert motion(0, start, whole)[3:] == pytest.approx([0, 0, 0], abs=1)
    run = solve_ivp(motion, (0, 3.0), start, args=(gone,), max_step=5e-4, rtol=1e-6)
    peak = float(np.max(rope * np.maximum(0, run.y[2] - run.y[0])))

    forces = 3.0 * np.concatenate([[0.01], np.linspace(0.1, 3, 40)])
    left = [hang(rig.whole.to, gone * ea / 1000, rest, np.array([f, 0, 0]), np.zeros(3)).point[0] for f in forces]
    found = catch(forces * 1000, np.array(left) + forces * 1000 / rope, before[0] + weight / rope, weight)
    assert found.peak_n > 1.05 * weight
    assert found.peak_n == pytest.approx(peak, rel=0.03)


def test_a_sliding_cord_balances_and_keeps_its_length():
    to = np.array([[-2.0, -1.5, 0], [-2.0, 1.5, 0], [-2.6, 0.2, 0.3]])
    shares = np.array([[1, 1, 1], [1, 0.6, 0.8]], dtype=float)
    load = np.array([[3.0, 0.4, -0.5]] * 2)
    found = slide_all(to, shares, np.full(2, 120.0), np.full(2, 7.7), load, np.zeros((2, 3)))
    away = found.points[:, None] - to
    far = np.linalg.norm(away, axis=2)
    assert np.einsum("bn,bni->bi", found.tensions / far, away) == pytest.approx(load, abs=1e-4)
    assert far.sum(axis=1) == pytest.approx(7.7 * (1 + found.tensions.mean(axis=1) / 120), rel=1e-4)
    assert found.tensions[1] / found.tensions[1, 0] == pytest.approx([1, 0.6, 0.8], rel=1e-6)


def test_stiffness_of_rope_follows_from_its_elongation():
    """3 % from 50 to 150 kg is 33 kN; EN 1891 allows 5 %, 19.6 kN; 3 % at 150 kg from slack, 49 kN, lies within (from memory)."""
    rope = catalogue().slings["rope-11"].ea_n
    assert rope.expected == pytest.approx(100 * 9.80665 / 0.03, rel=0.01)
    assert rope.low == pytest.approx(100 * 9.80665 / 0.05, rel=0.01)
    assert rope.low < 150 * 9.80665 / 0.03 < rope.high
