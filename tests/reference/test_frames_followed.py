"""Frames under a load that comes on, against a second solver: SciPy's trust-constrained minimisation of the energy, ramped in small
parts from the built state, with its own words for what a leg does. Stands or falls the same, forces within 2 %."""

import json
import math
from pathlib import Path

import numpy as np
import pytest
from scipy.optimize import minimize

from rigging.anchors.states import TRAVEL_M
from rigging.document import Plan
from rigging.mechanics.built import follow
from rigging.telling.check.sheet import check_here
from tests.frames import STANDS

PARTS = 30


def energy(point, to, stiff, rest, acts):
    """Elastic energy, its gradient and Hessian, leg by leg."""
    total, slope, curve = 0.0, np.zeros(3), np.zeros((3, 3))
    for end, k, r, act in zip(to, stiff, rest, acts, strict=True):
        away = point - end
        length = math.sqrt(away @ away)
        over = length - r
        if (act > 0 and over <= 0) or (act < 0 and over >= 0):
            continue
        unit = away / length
        total += 0.5 * k * over**2
        slope += k * over * unit
        curve += k * np.outer(unit, unit) + k * over / length * (np.eye(3) - np.outer(unit, unit))
    return total, slope, curve


def ramped(to, ea, rest, load, acts):
    """Head's place and leg forces after the load has come on, or None for a fall."""
    stiff, point = ea / rest, np.zeros(3)
    held = energy(point, to, stiff, rest, acts)[1]
    asked: dict[bytes, tuple] = {}

    def at(x):
        # Value, slope and curve are asked of one place, one after the other.
        if x.tobytes() not in asked:
            asked.clear()
            asked[x.tobytes()] = energy(x, to, stiff, rest, acts)
        return asked[x.tobytes()]

    for part in np.linspace(0, 1, PARTS + 1)[1:]:
        carried = part * load + (1 - part) * held
        found = minimize(
            lambda x, carried=carried: at(x)[0] - carried @ x, point,
            jac=lambda x, carried=carried: at(x)[1] - carried,
            hess=lambda x: at(x)[2],
            method="trust-exact", options={"initial_trust_radius": 0.01, "max_trust_radius": 0.02, "gtol": 1e-7, "maxiter": 400},
        )  # fmt: skip
        if np.linalg.norm(found.jac) > 1e-4 or np.linalg.norm(found.x) > TRAVEL_M:
            return None
        point = found.x
        if np.linalg.eigvalsh(energy(point, to, stiff, rest, acts)[2])[0] <= 0:
            return None
    lengths = np.linalg.norm(point - to, axis=1)
    tension = stiff * (lengths - rest)
    return point, np.where(acts * tension > 0, tension, 0.0)


def random_frame(rng):
    """Two or three feet under a head, none to three guys any way round, and a pull."""
    count = rng.integers(2, 4)
    turns = np.sort(rng.uniform(0, 2 * np.pi) + np.arange(count) * 2 * np.pi / count + rng.uniform(-0.4, 0.4, count))
    out, down = rng.uniform(0.7, 1.4, count), rng.uniform(1.8, 2.6, count)
    feet = np.stack([out * np.cos(turns), out * np.sin(turns), -down], axis=1)
    guys = rng.integers(0 if count == 3 else 1, 4)
    ways = rng.uniform(0, 2 * np.pi, guys)
    ends = np.stack([5 * np.cos(ways), 5 * np.sin(ways), -rng.uniform(0.5, 2.0, guys)], axis=1)
    to = np.concatenate([feet, ends])
    acts = np.array([-1.0] * count + [1.0] * guys)
    ea = np.where(acts < 0, 30_000.0, rng.uniform(20, 60))
    far = np.linalg.norm(to, axis=1)
    rest = np.where(acts < 0, far, far / (1 + rng.choice([0.0, 0.3]) / ea))
    tilt, way = rng.uniform(0, 1.2), rng.uniform(0, 2 * np.pi)
    load = rng.uniform(0.5, 3) * np.array(
        [math.sin(tilt) * math.cos(way), math.sin(tilt) * math.sin(way), -math.cos(tilt)]
    )
    return to, ea, rest, load, acts


@pytest.mark.parametrize("part", range(4))
def test_a_hundred_random_frames_stand_or_fall_alike(part):
    rng = np.random.default_rng(part)
    stood = fell = 0
    for _ in range(25):
        to, ea, rest, load, acts = random_frame(rng)
        mine = follow(to, ea[None], rest[None], load[None], np.zeros(3), acts)
        other = ramped(to, ea, rest, load, acts)
        near = np.linalg.norm(mine.found.points[0]) <= TRAVEL_M
        assert bool(mine.stands[0] and near) == (other is not None), (to, ea, rest, load, acts)
        if other is not None:
            stood += 1
            assert mine.found.points[0] == pytest.approx(other[0], abs=2e-3)
            size = float(np.linalg.norm(load))
            assert mine.found.tensions[0] == pytest.approx(other[1], rel=0.02, abs=0.02 * size)
        else:
            fell += 1
    assert stood > 3 and fell > 3


def guyed(pretension_n: float, front: bool) -> tuple[np.ndarray, ...]:
    """Two feet and a guy behind, and one before, under the haul's pull of 736 N down the line."""
    to = np.array([[0.2, -1.0, -2.32], [0.2, 1.0, -2.32], [-6.0, 0.0, -0.9], [6.0, 0.0, -2.9]])
    if not front:
        to = to[:3]
    acts = np.array([-1.0, -1.0, 1.0, 1.0])[: len(to)]
    ea = np.where(acts < 0, 30_000.0, 49.0)
    far = np.linalg.norm(to, axis=1)
    rest = np.where(acts < 0, far, far / (1 + pretension_n / 1000 / ea))
    return to, ea, rest, 0.736 * np.array([0.936, 0.0, -0.352]), acts


def test_two_feet_and_a_guy_by_hand():
    """Moments about the line of the feet: the guy bears what leans the frame out. Built geometry, x: .0859 S + .989 G = 689,
    z: .996 S − .148 G = 259, so G = 666 N and each leg 195 N; a little more as it leans."""
    for pretension_n, front in ((0.0, False), (300.0, True)):
        to, ea, rest, load, acts = guyed(pretension_n, front)
        found = follow(to, ea[None], rest[None], load[None], np.zeros(3), acts)
        assert found.stands[0]
        legs, rear = -found.found.tensions[0, :2] * 1000, found.found.tensions[0, 2] * 1000
        assert legs == pytest.approx([195, 195], rel=0.02) and rear == pytest.approx(672, rel=0.02)
        assert np.linalg.norm(found.found.points[0]) < 0.1


def test_a_frame_guyed_only_where_it_leans_to_topples():
    """Nothing behind it: the pull leans it out over its front foot, the guy before it hangs slack."""
    to = np.array([[-0.9, -0.8, -2.05], [-0.9, 0.8, -2.05], [0.6, 0.0, -2.35], [5.0, 0.0, -2.8]])
    acts = np.array([-1.0, -1.0, -1.0, 1.0])
    far = np.linalg.norm(to, axis=1)
    load = 0.736 * np.array([[0.936, 0.0, -0.352]])
    ea = np.where(acts < 0, 30_000.0, 49.0)
    assert not follow(to, ea[None], far[None], load, np.zeros(3), acts).stands[0]


def framed(
    legs: list[dict], feet: list[tuple[float, float, float]], guys: dict[str, tuple[float, float, float]]
) -> Plan:
    """The main anchor of the demo as a frame at the top."""
    document = json.loads((Path(__file__).resolve().parents[2] / "demo" / "alder-gill.json").read_text("utf-8"))
    rated = {"rating_n": {"low": 30000, "expected": 40000, "high": 50000}, "basis": "for the test"}
    document["team"]["heave_n"] = 350
    document["features"] += [
        {"id": f"ft{n}", "name": f"Foot {n}", "kind": "frame-foot", "x_m": x, "y_m": y, "z_m": z,
         "answers": {"ground": "firm", "hobbled": "yes"}, **rated} for n, (x, y, z) in enumerate(feet)]  # fmt: skip
    document["features"] += [
        {"id": name, "name": name, "kind": "other", "x_m": x, "y_m": y, "z_m": z, **rated} for name, (x, y, z) in guys.items()
    ]  # fmt: skip
    frame = {
        "id": "fr", "name": "Frame", "scheme": "frame", "connector": "rigging-plate", "point": {"x_m": 0, "y_m": 0, "z_m": 1.6},
        "legs": [*({"feature": f"ft{n}", "method": "frame-leg", "material": "frame-tube"} for n in range(len(feet))), *legs],
    }  # fmt: skip
    document["anchors"][0] |= {"alternatives": [frame], "taken": "fr"}
    return Plan.model_validate(document)


def said(plan: Plan) -> dict[str, str]:
    return {line.id: line.level for line in check_here(plan).lines if line.id.startswith("frame")}


def guy(feature: str, **more) -> dict:
    return {"feature": feature, "method": "bowline-round", "material": "rope-11", **more}


A_FRAME, TRIPOD = [(0.2, -1.0, -0.72), (0.2, 1.0, -0.72)], [(-0.9, -0.8, -0.45), (-0.9, 0.8, -0.45), (0.6, 0.0, -0.75)]


def test_frames_at_the_top_of_a_haul():
    front = framed([guy("gu0")], TRIPOD, {"gu0": (5, 0, -1.2)})
    assert said(front)["frame-tips:main"] == "stop"
    back = framed([guy("gu0")], A_FRAME, {"gu0": (-6, 0, 0.7)})
    assert "frame-tips:main" not in said(back)
    both = framed(
        [guy("gu0", pretension_n=300), guy("gu1", pretension_n=300)],
        A_FRAME,
        {"gu0": (-6, 0, 0.7), "gu1": (6, 0, -1.3)},
    )
    assert "frame-tips:main" not in said(both)
    two = framed([guy("gu0"), guy("gu1")], TRIPOD, {"gu0": (-5, 3, 0.6), "gu1": (-5, -3, 0.6)})
    assert "frame-tips:main" not in said(two)
    assert said(Plan.model_validate(STANDS)) == {"frame-stands:frame": "note"}
