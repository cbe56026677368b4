"""Anchors of several legs against another method and against the trade's own table."""

import json
import math

import numpy as np
import pytest
from scipy.optimize import minimize

from rigging.__main__ import main
from rigging.mechanics.legs import LegsProblem, hang, solve_legs


def random_anchor(rng: np.random.Generator) -> dict:
    """2 to 6 legs, some slack, some pretensioned, with a load off their plane."""
    count = int(rng.integers(2, 7))
    legs = []
    for _ in range(count):
        to = rng.uniform([-4, -3, -0.5], [-0.5, 3, 2.5]).tolist()
        leg = {"to": to, "ea": float(rng.uniform(40, 600))}
        if rng.random() < 0.3:
            leg["pretension"] = float(rng.uniform(0, 2))
        else:
            leg["rest"] = float(np.linalg.norm(to) * rng.uniform(0.85, 1.25))
        legs.append(leg)
    load = rng.uniform([0.5, -2, -6], [6, 2, 0]).tolist()
    return {"legs": legs, "load": load, "point": [0.0, 0.0, 0.0]}


@pytest.mark.parametrize("seed", range(50))
def test_equilibrium_agrees_with_energy_minimisation_by_scipy(seed):
    """SciPy's Nelder–Mead on the energy alone, refined by Powell: neither uses a derivative, as the solver does."""
    given = random_anchor(np.random.default_rng(seed))
    problem = LegsProblem.model_validate(given)
    to = np.array([leg.to for leg in problem.legs])
    ea = np.array([leg.ea for leg in problem.legs])
    load = np.array(problem.load)
    rest = np.array([g.get("rest") or np.linalg.norm(g["to"]) / (1 + g["pretension"] / g["ea"]) for g in given["legs"]])

    def energy(point):
        stretch = np.maximum(0, np.linalg.norm(point - to, axis=1) - rest)
        return float((ea * stretch**2 / (2 * rest)).sum() - load @ point)

    found = solve_legs(problem).whole
    best = minimize(
        energy, np.zeros(3), method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-14, "maxiter": 9000}
    )
    for _ in range(3):
        best = minimize(energy, best.x, method="Powell", options={"xtol": 1e-12, "ftol": 1e-15})
    tensions = ea * np.maximum(0, np.linalg.norm(best.x - to, axis=1) - rest) / rest
    assert energy(found.point) <= best.fun + 1e-9
    assert found.tensions == pytest.approx(tensions, rel=0.01, abs=0.01 * np.linalg.norm(load))
    unit = (found.point - to) / np.linalg.norm(found.point - to, axis=1)[:, None]
    assert np.linalg.norm(found.tensions @ unit - load) < 0.001


@pytest.mark.parametrize(("angle", "share"), [(0, 50), (30, 52), (60, 58), (90, 71), (120, 100), (150, 193)])
def test_two_legs_share_by_their_angle_in_the_rigid_limit(angle, share):
    """Share of the load on each of two legs: common practice of the trade, no source; 1 / (2·cos(angle/2)) by hand."""
    half = math.radians(angle / 2)
    to = np.array([[-math.cos(half), math.sin(half), 0], [-math.cos(half), -math.sin(half), 0]])
    found = hang(to, np.full(2, 1e6), np.ones(2), np.array([1.0, 0, 0]), np.zeros(3))
    assert found.tensions * 100 == pytest.approx([share, share], abs=0.6)
    # Elastic legs give and come closer together: each carries less where the angle is wide.
    soft = hang(to, np.full(2, 5.0), np.ones(2), np.array([1.0, 0, 0]), np.zeros(3))
    assert all(soft.tensions <= found.tensions + 1e-6)


def test_a_removed_leg_leaves_its_share_to_the_others(tmp_path, capsys):
    file = tmp_path / "legs.json"
    legs = [{"to": [-2, y, 0], "ea": 100, "rest": math.hypot(2, y)} for y in (-1, 0, 1)]
    file.write_text(json.dumps({"legs": legs, "load": [3, 0, 0], "point": [0, 0, 0]}))
    assert main(["legs", str(file)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert [one["removed"] for one in answer["without"]] == [0, 1, 2]
    assert answer["without"][1]["tensions"][1] == 0
    # With the middle one gone the two outer ones carry it all, and the point moves out.
    assert answer["without"][1]["point"][0] > answer["point"][0]
    file.write_text(json.dumps({"legs": legs[:1], "load": [3, 0, 0], "point": [0, 0, 0]}))
    assert main(["legs", str(file)]) == 0
    assert json.loads(capsys.readouterr().out)["without"] == [{"removed": 0, "point": None, "tensions": None}]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"legs": []}, "legs: "),
        ({"legs": [{"to": [0, 0, 0], "ea": 100, "pretension": 1}]}, "at the working point itself"),
        ({"legs": [{"to": [1, 0, 0], "ea": 100}]}, "exactly one of rest and pretension"),
        ({"legs": [{"to": [1, 0, 0], "ea": -1, "rest": 1}]}, "legs[0].ea"),
        ({"load": [1, 0]}, "load"),
        ({"wind": 3}, "wind: unknown field"),
    ],
)
def test_wrong_legs_are_refused_by_name(tmp_path, capsys, change, said):
    file = tmp_path / "legs.json"
    good = {"legs": [{"to": [-2, 0, 0], "ea": 100, "rest": 2}], "load": [1, 0, 0], "point": [0, 0, 0]}
    file.write_text(json.dumps(good | change))
    assert main(["legs", str(file)]) == 2
    error = capsys.readouterr().err
    assert said in error
    assert "Traceback" not in error
