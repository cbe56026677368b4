"""A tension line with its load, end to end: against a cable library, the mid-span formula, and equilibrium by hand."""

import json
import math
from typing import Any

import moorpy
import numpy as np
import pytest

from rigging.__main__ import main
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.document.edits import plan_edited
from rigging.lines.tension_line import places_at
from rigging.mechanics.legs import unloaded
from rigging.quantities.faults import Refused
from rigging.site.load import GRAVITY, load_mass
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.way import way_report
from tests.plans import changed, demo_document

POST = {
    "rating_n": {"low": 50000, "expected": 60000, "high": 70000},
    "basis": "invented for this test",
    "kind": "structure",
}


def tight_document(far: tuple[float, float, float] = (30.0, 0.0, 4.0), **tension: Any) -> dict[str, Any]:
    """The demo, with a line across the ravine from a post on the road to one beyond."""
    document = demo_document()
    for id, (x, y, z) in (("near", (0.0, 0.0, 4.0)), ("far", far)):
        back = -2 if id == "near" else 2
        document["features"].append(
            {**POST, "id": f"post-{id}", "name": f"Post, {id}", "x_m": x + back, "y_m": y, "z_m": z}
        )
        leg = {"feature": f"post-{id}", "method": "round-turn", "material": "rope-11", "turns": 3}
        document["anchors"].append({
            "id": f"span-{id}", "name": f"{id.capitalize()} end", "taken": f"span-{id}-a",
            "alternatives": [{"id": f"span-{id}-a", "name": "Post", "scheme": "single", "connector": "steel", "legs": [leg], "swing_rad": 0,
                              "point": {"x_m": x, "y_m": y, "z_m": z}}],
        })  # fmt: skip
    document["ropes"].append({"id": "tight", "kind": "low-stretch-11", "length_m": 60})
    line = {
        "id": "across",
        "rope": "tight",
        "anchor": "span-near",
        "far": "span-far",
        "ropes": 2,
        "pretension_n": 1000,
        **tension,
    }
    return changed(document, tension_lines=[line])


def plan_of(**tension: Any) -> Plan:
    return Plan.model_validate(tight_document(**tension))


def by_cables(
    ends: np.ndarray, rest_m: float, ea_n: float, at: np.ndarray, weight_n: float, tag: np.ndarray
) -> tuple[np.ndarray, float, float]:
    """MoorPy: a free point on two lines of the cord's unloaded length on either side of it, the load and the tag lines' pull on it:
    where it comes to rest, and the tension in either line."""
    system = moorpy.System(depth=500)
    system.g, system.rho = 9.81, 0.0
    none = dict.fromkeys(("EAd", "EAd_Lm", "BA", "Cd", "Ca", "CdAx", "CaAx", "cost"), 0)
    system.lineTypes["rope"] = {
        "name": "rope",
        "material": "rope",
        "d_vol": 0.011,
        "d_nom": 0.011,
        "m": 0.005,
        "w": 0.05,
        "EA": ea_n,
        **none,
    }
    down = np.array([0, 0, -100.0])
    away = [float(np.linalg.norm(end - at)) for end in ends]
    shares = [rest_m * one / sum(away) for one in away]
    system.addPoint(1, ends[0] + down)
    system.addPoint(0, at + down + [0, 0, -0.05], m=weight_n / 9.81, v=0)
    system.pointList[1].fExt = np.array(tag)
    system.addPoint(1, ends[1] + down)
    system.addLine(shares[0], "rope", pointA=1, pointB=2)
    system.addLine(shares[1], "rope", pointA=2, pointB=3)
    system.initialize()
    system.solveEquilibrium(tol=1e-6, maxIter=5000)
    return system.pointList[1].r - down, system.lineList[0].TB, system.lineList[1].TA


@pytest.mark.parametrize("far", [(30.0, 0.0, 4.0), (24.0, 0.0, -1.0)])
@pytest.mark.parametrize("share", [0.1, 0.3, 0.5, 0.7, 0.9])
def test_the_load_at_five_places_agrees_with_a_cable_library(share, far):
    plan = plan_of(far=far)
    place = places_at(plan, plan.tension_lines[0], np.array([share]))[0]
    ends = np.array([[0.0, 0, 4], far])
    span, ea = float(np.linalg.norm(ends[1] - ends[0])), 2 * catalogue().ropes["low-stretch-11"].ea_n.expected
    rest = unloaded(span, 1.0, ea / 1000)
    weight = load_mass(plan).expected * GRAVITY
    at = np.array(place.at)
    chord = (ends[1] - ends[0]) / span
    units = [(end - at) / np.linalg.norm(end - at) for end in ends]
    tag = -float((np.array([0, 0, -weight]) + place.tension_n.expected * (units[0] + units[1])) @ chord)
    assert abs(tag) == pytest.approx(place.tag_n.expected, abs=1.0)
    rests, left, right = by_cables(ends, rest, ea, at, weight, tag * chord)
    assert place.tension_n.expected == pytest.approx(left, rel=0.02)
    assert place.tension_n.expected == pytest.approx(right, rel=0.02)
    assert np.linalg.norm(rests - at) < 0.02 * place.sag_m.expected + 0.01


def test_at_mid_span_the_trades_formula():
    """T = W·√(L²/4 + s²)/(2s), between level ends."""
    plan = plan_of()
    place = places_at(plan, plan.tension_lines[0], np.array([0.5]))[0]
    weight, sag = load_mass(plan).expected * GRAVITY, place.sag_m.expected
    assert place.tension_n.expected == pytest.approx(weight * math.hypot(15, sag) / (2 * sag), rel=1e-4)
    assert place.tag_n.expected == pytest.approx(0, abs=0.5)
    assert math.dist((0, 0, 0), place.near.expected) == pytest.approx(place.tension_n.expected, rel=1e-6)


def test_hand_tight_is_enough_more_pretension_lifts_little_and_loads_much():
    loose, tight = (
        places_at(p, p.tension_lines[0], np.array([0.5]))[0]
        for p in (plan_of(pretension_n=300), plan_of(pretension_n=4000))
    )
    assert loose.sag_m.expected - tight.sag_m.expected < 0.45 * loose.sag_m.expected
    assert tight.tension_n.expected > 1.25 * loose.tension_n.expected


def test_a_device_that_slips_caps_the_line_and_feeds_it():
    plan = plan_of(slips="self-locking", ropes=1, pretension_n=6000)
    heavy = Plan.model_validate(
        changed(tight_document(slips="self-locking", ropes=1, pretension_n=6000), load__items__0__mass_kg=900)
    )
    place = places_at(heavy, heavy.tension_lines[0], np.array([0.5]))[0]
    assert place.tension_n.high <= catalogue().devices["self-locking"].strength_n.high * 1.001
    assert place.fed_m > 0
    assert plan.tension_lines[0].slips == "self-locking"


def test_clearance_is_over_the_entered_ground_under_the_hung_load():
    plan = plan_of(hang_m=1.0)
    place = places_at(plan, plan.tension_lines[0], np.array([0.5]))[0]
    # At 15 m out the ground is between 13.5 m (−10.5) and 19 m (−17.5): −12.41 m.
    assert place.clear_m.expected == pytest.approx(place.at[2] - 1.0 + 12.409, abs=0.01)


def said(document: dict[str, Any]) -> dict[str, Any]:
    return {
        line.id.partition(":")[0]: line
        for line in check_here(Plan.model_validate(document)).lines
        if line.id.startswith("span")
    }


def test_the_check_says_what_limits_it_and_where_it_comes_too_low():
    assert said(tight_document())["span-unlimited"].mends[0].label.startswith("Self-locking")
    assert "span-low" not in said(tight_document(hang_m=0.5))
    low = tight_document(hang_m=4.5, pretension_n=0)
    found = said(low)["span-low"]
    assert found.level == "stop"
    plan = Plan.model_validate(low)
    weak = said(changed(tight_document(ropes=1, pretension_n=8000), rules__others_ratio=10))["span-below"]
    assert weak.level == "stop" and weak.mends
    assert plan_edited(plan, found.mends[0].edits).tension_lines[0].hang_m < 4.5


def test_the_way_along_it_is_told_with_its_worst_places():
    report = way_report(plan_of(), "across", 31)
    bands = {band.id: band for band in report.jobs[0].bands}
    assert {"tension", "sag", "clearance", "tag", "near", "far", "margin"} <= set(bands)
    most = max(range(31), key=lambda n: bands["tension"].values[n].high)
    assert report.jobs[0].worst[0].place == most
    assert len(report.ends) == 2


def test_the_command_line_prints_it(tmp_path, capsys):
    file = tmp_path / "plan.json"
    file.write_text(json.dumps(tight_document()))
    assert main(["way", str(file), "--line", "across", "--positions", "5"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [round(one["run_m"], 1) for one in told["positions"]][2] == 15.0
    assert told["positions"][2]["near_n"]["expected"] == pytest.approx(told["positions"][2]["tension_n"]["expected"])


@pytest.mark.parametrize(
    ("tension", "wrong"),
    [({"far": "span-near"}, "both ends of the line are at one anchor"), ({"slips": "munter"}, "is not known to slip"),
     ({"rope": "none"}, "which is not listed"), ({"anchor": "nowhere"}, "which is not there")],
)  # fmt: skip
def test_wrong_lines_are_refused_by_field(tension, wrong):
    document = tight_document()
    document["tension_lines"][0] |= tension
    with pytest.raises((ValueError, Refused), match=wrong):
        Plan.model_validate(document)
