"""Frames: legs that push against a finite element package, the pull inside its feet by moments, a frame that tips."""

import numpy as np
import pytest
from Pynite import FEModel3D

from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.frames import inside_m
from rigging.mechanics.legs import hang
from rigging.quantities.faults import Refused
from rigging.telling.anchors.report import study
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.report import analyse
from tests.frames import STANDS, TIPS
from tests.plans import changed


def pinned(to: np.ndarray, load: np.ndarray) -> np.ndarray:
    """PyNiteFEA: pinned members from fixed feet to one free head; tension in each, negative where it pushes."""
    model = FEModel3D()
    model.add_material("tube", 1.0, 0.4, 0.3, 0.0)
    model.add_section("s", 3e4, 1e-5, 1e-5, 1e-5)
    model.add_node("H", 0, 0, 0)
    model.def_support("H", False, False, False, True, True, True)
    for i, end in enumerate(to):
        model.add_node(f"F{i}", *map(float, end))
        model.def_support(f"F{i}", True, True, True, True, True, True)
        model.add_member(f"M{i}", f"F{i}", "H", "tube", "s")
    for direction, value in zip(("FX", "FY", "FZ"), load, strict=True):
        model.add_node_load("H", direction, float(value))
    model.analyze(log=False)
    return np.array([-model.members[f"M{i}"].axial(0.0) for i in range(len(to))])


def tripod(rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """Three feet under a head, and a pull that goes down between them."""
    turns = np.sort(rng.uniform(-0.5, 0.5, 3) + np.array([0, 2.1, 4.2]))
    out = rng.uniform(0.8, 1.6, 3)
    feet = np.stack([out * np.cos(turns), out * np.sin(turns), -rng.uniform(1.8, 2.6, 3)], axis=1)
    inside = rng.dirichlet([2, 2, 2]) @ feet
    return feet, inside / np.linalg.norm(inside) * rng.uniform(1, 8)


@pytest.mark.parametrize("seed", range(12))
def test_a_tripods_legs_agree_with_a_finite_element_package(seed):
    feet, load = tripod(np.random.default_rng(seed))
    found = hang(feet, np.full(3, 3e4), np.linalg.norm(feet, axis=1), load, np.zeros(3), -np.ones(3)).tensions
    assert (found < 0).all()
    assert found == pytest.approx(pinned(feet, load), rel=0.01, abs=0.005 * np.linalg.norm(load))


@pytest.mark.parametrize("seed", range(8))
def test_a_frame_on_two_feet_with_a_guy_agrees_too(seed):
    rng = np.random.default_rng(seed)
    feet = np.array([[0.2, -0.9, -2.2], [0.2, 0.9, -2.2], [-5.0, rng.uniform(-0.6, 0.6), -1.0]])
    load = np.array([rng.uniform(0.5, 2), rng.uniform(-0.1, 0.1), -rng.uniform(2, 5)])
    acts = np.array([-1.0, -1.0, 1.0])
    found = hang(feet, np.full(3, 3e4), np.linalg.norm(feet, axis=1), load, np.zeros(3), acts).tensions
    assert found == pytest.approx(pinned(feet, load), rel=0.01, abs=0.005 * np.linalg.norm(load))


@pytest.mark.parametrize("seed", range(20))
def test_the_pull_is_inside_the_feet_exactly_where_every_leg_pushes(seed):
    rng = np.random.default_rng(seed)
    feet, _ = tripod(rng)
    pull = np.append(rng.uniform(-1.2, 1.2, 2), -2.0)
    # Three unknowns, three equations: a leg that would have to pull means that the pull is outside.
    units = feet / np.linalg.norm(feet, axis=1)[:, None]
    pushes = np.linalg.solve(units.T, pull)
    assert (inside_m(np.zeros(3), pull, feet) > 0) == bool((pushes > 0).all())


def test_by_hand_how_far_inside():
    """Feet on a square of 2 m under a head 2 m up; a pull leaning 1 in 4 comes down 0.5 m off the middle: 0.5 m inside."""
    feet = np.array([[1, 1, -2], [1, -1, -2], [-1, -1, -2], [-1, 1, -2]], dtype=float)
    assert inside_m(np.zeros(3), np.array([0.25, 0, -1]), feet) == pytest.approx(0.5)
    assert inside_m(np.zeros(3), np.array([0.75, 0, -1]), feet) == pytest.approx(-0.5)


def said(document) -> dict[str, str]:
    return {line.id.partition(":")[0]: line.level for line in check_here(Plan.model_validate(document)).lines}


def test_a_frame_that_stands_a_frame_that_tips_and_its_guy():
    assert said(STANDS)["frame-stands"] == "note"
    assert said(TIPS)["frame-tips"] == "stop"
    assert "anchor-fails" not in said(TIPS)
    plan = Plan.model_validate(TIPS)
    line = next(one for one in check_here(plan).lines if one.id == "frame-tips:frame")
    assert "tips" in line.text


def test_its_legs_carry_what_moments_about_its_feet_ask():
    report = analyse(Plan.model_validate(STANDS))
    lowering = report.state("lowering")
    legs = {
        rung.id.rpartition(":")[2]: rung.force.expected
        for rung in lowering.rungs
        if rung.id.startswith("anchor:frame:feature")
    }
    assert legs["1"] == pytest.approx(legs["2"], rel=1e-3)
    pull = next(one for one in lowering.anchors if one.anchor == "frame")
    feet = np.array([[8.4, -0.9, -1.9], [8.4, 0.9, -1.9], [11.0, 0.0, -2.5]]) - np.array([9.9, 0.0, 0.3])
    units = feet / np.linalg.norm(feet, axis=1)[:, None]
    along = np.array([pull.direction.x_m, pull.direction.y_m, pull.direction.z_m])
    by_hand = np.linalg.solve(units.T, along * pull.force.expected)
    assert [legs["1"], legs["2"], legs["3"]] == pytest.approx(by_hand.tolist(), rel=0.02)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"anchors__-1__alternatives__0__scheme": "fixed"}, "stands on two feet or more"),
        ({"anchors__-1__alternatives__0__legs__0__method": "wrap-pull"}, "stands on its foot"),
    ],
)
def test_a_foot_is_not_tied_to_and_a_frame_needs_its_feet(change, said):
    document = changed(
        STANDS, **{path.replace("-1", str(len(STANDS["anchors"]) - 1)): value for path, value in change.items()}
    )
    with pytest.raises((ValueError, Refused), match=said):
        Plan.model_validate(document)


def test_its_mend_is_a_guy_that_then_holds_it():
    """The pull draws the head back towards the anchor: behind it there is nothing to guy to but what lies across the ravine."""
    assert not next(one for one in check_here(Plan.model_validate(TIPS)).lines if one.id == "frame-tips:frame").mends
    across = {
        "id": "across",
        "name": "Boulder across",
        "kind": "boulder",
        "x_m": 17,
        "z_m": -2,
        "rating_n": {"low": 2e4, "expected": 3e4, "high": 4e4},
        "basis": "looked at",
    }
    plan = Plan.model_validate(changed(TIPS, features=[*TIPS["features"], across]))
    line = next(one for one in check_here(plan).lines if one.id == "frame-tips:frame")
    mended = plan_edited(plan, line.mends[0].edits)
    after = {one.id.partition(":")[0]: one for one in check_here(mended).lines}
    assert "frame-tips" not in after
    # One rope of 9 m, drawn hand tight, gives too much for the whole team's heave on a stuck load.
    assert after["frame-may-tip"].level == "stop" and "softest" in after["frame-may-tip"].text
    calm = plan_edited(mended, (Edit("replace", "/team/haulers", 1),))
    assert "frame-by-guys" in {one.id.partition(":")[0] for one in check_here(calm).lines}


def test_the_anchors_study_works_a_frame_out_as_one_thing():
    report = study(Plan.model_validate(STANDS), "lowering")
    frame = next(one for one in report.arrangements if one.id == "frame-a")
    assert frame.available and len(frame.legs) == 3 and frame.removals == []
    assert all(leg.margin is not None for leg in frame.legs)
    tipped = next(one for one in study(Plan.model_validate(TIPS), "lowering").arrangements if one.id == "frame-a")
    assert not tipped.available and "does not stand" in tipped.why_not
