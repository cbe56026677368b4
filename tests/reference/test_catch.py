"""Falls onto a rope, held ropes and redirects: sums by hand, SciPy's integration of the motion, SymPy, and a linear programme."""

import json
import math

import numpy as np
import pytest
import sympy
from scipy.integrate import solve_ivp
from scipy.optimize import linprog

from rigging.__main__ import main
from rigging.lines.catch import TEST_KG, TEST_PEAK_N
from rigging.mechanics.bounds import bounded
from rigging.mechanics.dynamics import arrest
from rigging.mechanics.held import least_and_most
from rigging.mechanics.network import Network, Node, Pass, Rope
from rigging.mechanics.tension import strand_ways
from rigging.quantities.ranges import Range, exactly

G = 9.80665


def on_the_command_line(tmp_path, capsys, **given):
    file = tmp_path / "fall.json"
    file.write_text(json.dumps(given))
    status = main(["catch", str(file)])
    told = capsys.readouterr()
    return status, json.loads(told.out) if status == 0 else told.err


def moved(mass: float, fall: float, rope: float, ea: float, slip: float | None) -> tuple[float, float]:
    """Peak force and stop past the fall of the motion itself, integrated: a spring that a clutch lets slide."""

    def speed_up(_, state):
        place, speed, slid = state
        force = max(0.0, (place - slid) * ea / rope)
        slides = 0.0
        if slip is not None and force >= slip and speed > 0:
            force, slides = slip, speed
        return [speed, G - force / mass, slides]

    def stopped(_, state):
        return state[1]

    vars(stopped).update(terminal=True, direction=-1)
    start = [0.0, max(1e-9, math.sqrt(2 * G * fall)), 0.0]
    path = solve_ivp(speed_up, (0, 20), start, events=stopped, rtol=1e-9, atol=1e-10, max_step=2e-3)
    forces = (path.y[0] - path.y[2]) * ea / rope
    return float(min(forces.max(), slip or math.inf)), float(path.y[0, -1])


def test_the_competence_fall_on_eleven_millimetre_rope(tmp_path, capsys):
    """200 kg, 1 m on 3 m of rope, EA 49 kN (3 % at 150 kg): without a clutch F = W(1 + √(1 + 2h·EA/(W·L))) = 10.2 kN."""
    weight = TEST_KG[0] * G
    by_hand = weight * (1 + math.sqrt(1 + 2 * 1.0 * 49_000 / (weight * 3)))
    status, found = on_the_command_line(tmp_path, capsys, mass_kg=200, fall_m=1, rope_m=3, ea_kN=49)
    assert status == 0
    assert found["peak_kN"] == pytest.approx(by_hand / 1000)
    assert found["peak_kN"] == pytest.approx(10.20, abs=0.01)
    assert found["slid_m"] == 0
    assert found["stops_in_m"] == pytest.approx(by_hand * 3 / 49_000)
    assert by_hand < TEST_PEAK_N


def test_the_same_fall_with_a_clutch_at_six_kilonewtons(tmp_path, capsys):
    """The clutch caps it; the energy left slides: y = (W(h + x) − S·x/2) / (S − W), x = S·L/EA = 0.367 m."""
    _, found = on_the_command_line(tmp_path, capsys, mass_kg=200, fall_m=1, rope_m=3, ea_kN=49, slip_kN=6)
    weight, stretch = 200 * G, 6 * 3 / 49
    slid = (weight * (1 + stretch) - 6000 * stretch / 2) / (6000 - weight)
    assert found["peak_kN"] == 6
    assert found["stretch_m"] == pytest.approx(stretch)
    assert found["slid_m"] == pytest.approx(slid)
    assert found["stops_in_m"] == pytest.approx(stretch + slid)
    assert found["stops_in_m"] < 1


@pytest.mark.parametrize(("fall", "rope", "ea", "slip"), [(1, 3, 49e3, None), (1, 3, 49e3, 6e3), (0, 20, 20e3, None), (0.3, 38, 49e3, 9e3), (2, 5, 60e3, 8e3)])  # fmt: skip
def test_arrests_against_the_motion_integrated(fall, rope, ea, slip):
    found, (peak, stops) = arrest(200 * G, fall, rope, ea, slip), moved(200, fall, rope, ea, slip)
    assert found.peak_n == pytest.approx(peak, rel=0.01)
    assert found.stops_in_m == pytest.approx(stops, rel=0.01)


def test_a_clutch_below_the_load_never_stops_it(tmp_path, capsys):
    _, found = on_the_command_line(tmp_path, capsys, mass_kg=200, fall_m=0.5, rope_m=10, ea_kN=49, slip_kN=1.5)
    assert (found["slid_m"], found["stops_in_m"]) == (None, None)


@pytest.mark.parametrize(("field", "value"), [("mass_kg", 0), ("fall_m", -1), ("rope_m", 0), ("ea_kN", -5), ("slip_kN", 0), ("knots", 2)])  # fmt: skip
def test_a_wrong_fall_is_refused_by_its_field(tmp_path, capsys, field, value):
    given = {"mass_kg": 80, "fall_m": 1, "rope_m": 3, "ea_kN": 49, field: value}
    status, error = on_the_command_line(tmp_path, capsys, **given)
    assert status == 2
    assert error.startswith(field)


def turned(angle_deg: float, eta: float = 1.0) -> tuple[Network, float]:
    """A load on the rope's one strand, the other led off at an angle between the strands, round a redirect at the origin."""
    angle = math.radians(angle_deg)
    nodes = {
        "R": Node("R", "anchor", (0, 0, 0)), "L": Node("L", "load", (5, 0, 0), (-1, 0, 0)),
        "H": Node("H", "anchor", (5 * math.cos(angle), 5 * math.sin(angle), 1e-9)),
    }  # fmt: skip
    rope = Rope(("L", "R", "H"), (Pass("R", "R", exactly(eta), math.pi - angle),))
    return Network(nodes, (rope,)), angle


@pytest.mark.parametrize(("angle", "percent"), [(0, 200), (60, 173), (90, 141), (120, 100), (180, 0)])
def test_a_redirect_bears_twice_the_cosine_of_half_the_angle(angle, percent):
    """2T·cos(θ/2) without friction, θ between the strands: field values and SymPy. With friction the two strands differ."""
    theta = sympy.Symbol("theta")
    assert float(100 * 2 * sympy.cos(theta / 2).subs(theta, sympy.pi * angle / 180)) == pytest.approx(percent, abs=0.5)
    network, _ = turned(angle)
    ways = strand_ways(network, {"R"})
    force = np.linalg.norm(np.array([1.0, 1.0]) @ ways)
    assert 100 * force == pytest.approx(percent, abs=0.5)
    keeps = 0.9 ** ((180 - angle) / 180)
    a, b = sympy.Matrix([1, 0]), keeps * sympy.Matrix([sympy.cos(theta), sympy.sin(theta)])
    by_sum = float((a + b).subs(theta, sympy.pi * angle / 180).norm())
    assert np.linalg.norm(np.array([1.0, keeps]) @ ways) == pytest.approx(by_sum, abs=1e-6)


def test_a_rope_held_over_a_right_angle():
    """μ = 0.4 and 90°: the hitch may carry from e^(−0.628) = 0.53 to 1.87 of the load's pull."""
    keeps = math.exp(-0.4 * math.pi / 2)
    nodes = {"A": Node("A", "anchor", (0, 0, 0)), "E": Node("E", "edge", (5, 0, 0)), "L": Node("L", "load", (5, 0, -9), (0, 0, 1))}  # fmt: skip
    rope = Rope(("L", "E", "A"), (Pass("E", "E", exactly(keeps)),))
    found = least_and_most(Network(nodes, (rope,)), exactly(1000.0))
    held = bounded(found.rows[:, 1], found.scale)
    assert (held.low, held.expected, held.high) == (pytest.approx(533, abs=1), 1000, pytest.approx(1874, abs=1))


def test_chains_and_loops_held_against_a_linear_programme():
    """SciPy's HiGHS on the friction set of a loop round a block at the load: the products do not hold there."""
    for eta in (0.5, 0.8, 0.95):
        nodes = {
            "A": Node("A", "anchor", (9, 0, 0)), "P": Node("P", "anchor", (9, 0, 0.1)), "L": Node("L", "load", (0, 0, 0), (1, 0, 0)),
        }  # fmt: skip
        rope = Rope(("A", "L", "P"), (Pass("L", "L", exactly(eta)),))
        held = least_and_most(Network(nodes, (rope,)), Range(900, 1000, 1100))
        found = [bounded(column, held.scale) for column in held.rows.T]
        along = [row.along[0] for row in Network(nodes, (rope,)).strands[0]]
        shares = np.abs(along)
        limits = np.array([[eta, -1.0], [-1.0, eta], [*shares], [*(-shares)]])
        bounds = [0, 0, 1100, -900]
        for index in (0, 1):
            goal = np.eye(2)[index]
            least = linprog(goal, A_ub=limits, b_ub=bounds, method="highs").fun
            most = -linprog(-goal, A_ub=limits, b_ub=bounds, method="highs").fun
            assert (found[index].low, found[index].high) == (
                pytest.approx(least, rel=1e-6),
                pytest.approx(most, rel=1e-6),
            )
        assert found[0].expected == pytest.approx(500, rel=1e-3)
