"""The whole way against other computations: the taut line as the upper hull found by SciPy's Qhull, the pull from equilibrium
of the load solved as two equations, edges by the capstan equation; events by sums along the rope."""

import itertools
import json
import math
import random

import numpy as np
import pytest
from scipy.spatial import ConvexHull

from rigging.__main__ import main
from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends
from rigging.document import Plan
from rigging.lines.whole_way import Travel, whole_way
from rigging.site.load import GRAVITY
from tests.plans import DEMO, changed, demo_plan, one_rope_document

MU_GROUND = catalogue().surfaces["soil-grass"].mu.expected


def convex_plan(seed: int) -> Plan:
    """Ground that gets steeper all the way, the rope pulled straight by hand, no edge entered."""
    luck = random.Random(seed)
    x, z, slope = 0.0, -0.6, 0.05
    profile = [{"x_m": -6.0, "z_m": -0.3}, {"x_m": 0.0, "z_m": -0.6}]
    for _ in range(luck.randint(3, 7)):
        step = luck.uniform(2, 8)
        x, z = x + step, z - slope * step
        profile.append({"x_m": x, "z_m": z})
        slope += luck.uniform(0.08, 0.35)
    direct = catalogue().systems["direct"]
    document = changed(
        one_rope_document(),
        site={"profile": profile, "surface": "soil-grass", "edges": [], "load_at": {"x_m": x, "z_m": z}},
        lines__0__haul={"system": direct.model_dump(), "bends": {place.id: "carabiner" for place in bends(direct)}},
        ropes__0__length_m=200,
    )
    return Plan.model_validate(document)


def taut(plan: Plan, x: float, z: float) -> tuple[float, list[tuple[float, float, float]], float]:
    """Length of the taut line from the working point, its turns, and the angle of its last stretch below level."""
    points = [(0.0, 0.0), *((p.x_m, p.z_m) for p in plan.site.profile if 0 < p.x_m < x), (x, z)]
    if len(points) == 2:
        corners = points
    else:
        # The upper hull, over the chord: closed below by a point far down.
        cloud = np.array([*points, (x / 2, -1e4)])
        hull = set(ConvexHull(cloud).vertices.tolist()) - {len(points)}
        corners = [points[i] for i in sorted(hull)]
    pieces = np.diff(np.array(corners), axis=0)
    angles = np.arctan2(-pieces[:, 1], pieces[:, 0])
    turns = [(*corners[i + 1], float(angles[i + 1] - angles[i])) for i in range(len(pieces) - 1)]
    return float(np.linalg.norm(pieces, axis=1).sum()), [t for t in turns if t[2] > 1e-6], float(angles[-1])


def asked(plan: Plan, x: float, z: float, rope: float) -> float:
    """Pull that just raises the load: two equations, along and square to the ground, for the tension and what the ground bears."""
    at = [p for p in plan.site.profile]
    a, b = next((a, b) for a, b in itertools.pairwise(at) if a.x_m < x <= b.x_m + 1e-9)
    slope = math.atan2(a.z_m - b.z_m, b.x_m - a.x_m)
    mu = catalogue().contacts["carried"].mu.expected
    weight = sum(item.mass_kg for item in plan.load.items) * GRAVITY
    lift = slope - rope
    matrix = np.array([[math.cos(lift), -mu], [-math.sin(lift), 1.0]])
    pull, _ = np.linalg.solve(matrix, [weight * math.sin(slope), weight * math.cos(slope)])
    return float(pull)


@pytest.mark.parametrize("seed", range(12))
def test_fifty_places_on_a_random_convex_slope(seed):
    plan = convex_plan(seed)
    for place in whole_way(plan, plan.lines[0], 50).places:
        long, turns, rope = taut(plan, place.x_m, place.z_m)
        assert place.line_m == pytest.approx(long, rel=0.01)
        assert [t[2] for t in place.turns] == pytest.approx([t[2] for t in turns], rel=0.01, abs=2e-3)
        pull = asked(plan, place.x_m, place.z_m, rope)
        assert place.pulls("raising").pull_n.expected == pytest.approx(pull, rel=0.01)
        gripped = math.exp(MU_GROUND * sum(t[2] for t in turns))
        assert place.pulls("raising").hand_n.expected == pytest.approx(pull * gripped, rel=0.01)
        assert place.pulls("raising").working_point_n.low <= place.pulls("raising").working_point_n.high


@pytest.mark.parametrize("seed", range(4))
def test_the_worst_place_is_the_one_that_four_hundred_find(seed):
    plan = convex_plan(seed)
    few = max(whole_way(plan, plan.lines[0], 50).places, key=lambda one: one.pulls("raising").hand_n.high)
    many = max(whole_way(plan, plan.lines[0], 400).places, key=lambda one: one.pulls("raising").hand_n.high)
    assert few.pulls("raising").hand_n.high == pytest.approx(many.pulls("raising").hand_n.high, rel=0.02)


def test_where_the_demo_stands_it_is_what_the_report_says():
    from rigging.telling.sheet.report import analyse

    plan = demo_plan()
    report = analyse(plan)
    here = Travel(plan, plan.lines[0]).place(0.0)
    for state, pulls in (("raising", here.pulls("raising")), ("lowering", here.pulls("lowering"))):
        assert report.state(state).hand.expected == pytest.approx(pulls.hand_n.expected)


def test_a_join_of_two_ropes_comes_to_device_redirect_and_edge_by_sums_along_the_rope():
    """Joined 30 m from the load, damage tied out at 22 m: rope out from the load to the device, lip and log, down and up."""
    plan = demo_plan(ropes__0__joins=[{"at_m": 30, "knot": "double-fisherman", "tail_m": 0.2}],
                     ropes__0__damage=[{"at_m": 22, "taken_out": "butterfly-loop"}])  # fmt: skip
    way = whole_way(plan, plan.lines[0], 50)
    bottom, top = way.places[0].line_m, way.places[-1].line_m
    to_log = math.dist((0, 0), (7.5, -1.5))
    to_lip = to_log + math.dist((7.5, -1.5), (11, -2.5))
    met = {(one.kind, one.job, one.comes_to): one.metre for one in way.events}
    for kind, at in (("join", 30.0), ("damage", 22.0)):
        for place, from_point in (("device", 0.5), ("Road kerb log", to_log), ("Ravine lip", to_lip)):
            out = at + from_point
            if top < out < bottom:
                assert met[kind, "lowering", place] == pytest.approx(out - top, abs=1e-6)
                if place != "device":
                    assert met[kind, "raising", place] == pytest.approx(bottom - out, abs=1e-6)
            else:
                assert (kind, "lowering", place) not in met
    assert met["join", "raising", "ratchet"] == pytest.approx(bottom - 30.4, abs=1e-6)
    assert met["join", "raising", "block"] == pytest.approx(bottom - 30, abs=1e-6)
    # Every event is where the rope then out says.
    for one in way.events:
        if one.kind != "reset":
            there = Travel(plan, plan.lines[0]).place(one.run_m)
            out = top + one.metre if one.job == "lowering" else bottom - one.metre
            assert there.line_m == pytest.approx(out, abs=0.05)


def test_a_rope_that_ends_before_the_load_is_down_says_at_which_metre():
    plan = demo_plan(ropes__0__length_m=30)
    way = whole_way(plan, plan.lines[0], 50)
    end = next(one for one in way.events if one.kind == "rope-end")
    assert end.metre == pytest.approx(30.5 - way.places[-1].line_m, abs=1e-6)


def test_the_command_line_prints_it(capsys):
    assert main(["way", str(DEMO), "--positions", "5"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert len(told["positions"]) == 5
    assert set(told["positions"][0]) == {"x_m", "z_m", "line_m", "turns", "raising", "lowering"}
    assert set(told["positions"][0]["turns"][0]) == {"x_m", "z_m", "turn_rad"}
    assert set(told["positions"][0]["raising"]) == {"pull_n", "hand_n", "working_point_n"}
    assert {one["kind"] for one in told["events"]} == {"reset"}
    assert main(["way", str(DEMO), "--line", "third"]) == 2
    assert "one of main, belay" in capsys.readouterr().err
    assert main(["way", str(DEMO), "--line", "belay"]) == 0
    assert json.loads(capsys.readouterr().out)["positions"][0]["raising"] is None


def cliff(join_m: float, drop_m: float = 80.0) -> Plan:
    """The working point 15 m back from a cliff's edge on level ground, two 60 m ropes joined; a redirect 6 m out, square over the edge."""
    profile = [{"x_m": -6, "z_m": 0}, {"x_m": 15, "z_m": 0}, {"x_m": 15, "z_m": -90}, {"x_m": 30, "z_m": -90}]
    anchor = {**demo_plan().model_dump(mode="json")["anchors"][0]}
    document = changed(
        one_rope_document(),
        site={
            "profile": profile, "surface": "rough-rock", "load_at": {"x_m": 15.0, "z_m": -drop_m},
            "edges": [{"name": "Edge", "x_m": 15, "z_m": 0, "surface": "rough-rock", "protection": "edge-roller"}],
        },
        load__contact="hangs",
        ropes__0__length_m=120,
        ropes__0__joins=[{"at_m": join_m, "knot": "double-fisherman", "tail_m": 0.2}],
        ropes__0__damage=[{"at_m": 22, "taken_out": "butterfly-loop", "in_loop": "connector"}],
        anchors__0__alternatives=[{**one, "point": {"x_m": 0, "y_m": 0, "z_m": 0}} for one in anchor["alternatives"]],
    )  # fmt: skip
    return Plan.model_validate(document)


def test_two_sixty_metre_ropes_joined_fifteen_metres_back_from_the_edge():
    """The load 80 m down: 95 m of rope out at the bottom, 15.3 m at the top, where it stops a hand's breadth under the edge. By hand: a mark
    60 m from the load comes to the device (0.5 m out) with 60.5 m out, to the edge with 75 m; one at 22 m with 22.5 and 37 m."""
    plan = cliff(60)
    way = whole_way(plan, plan.lines[0], 60)
    assert way.places[0].line_m == pytest.approx(95.0)
    assert way.places[-1].line_m == pytest.approx(15.3, abs=0.01)
    met = {(one.kind, one.job, one.comes_to): one.metre for one in way.events}
    for kind, mark in (("join", 60.0), ("damage", 22.0)):
        assert met[kind, "lowering", "device"] == pytest.approx(mark + 0.5 - 15.3, abs=0.02)
        assert met[kind, "lowering", "Edge"] == pytest.approx(mark + 15 - 15.3, abs=0.02)
        assert met[kind, "raising", "Edge"] == pytest.approx(95 - mark - 15, abs=0.02)
        assert met[kind, "raising", "ratchet"] == pytest.approx(95 - mark - 0.4, abs=0.02)


def test_somebody_who_joins_on_the_way_hangs_only_below():
    """The attendant joins 20 m under the edge: above it the load is that much lighter, below it whole."""
    plan = cliff(60)
    document = plan.model_dump(mode="json")
    document["load"]["items"] = [
        {"name": "Casualty", "mass_kg": 80},
        {"name": "Attendant", "mass_kg": 80, "joins_below_m": 20},
    ]
    joined = Plan.model_validate(document)
    travel = Travel(joined, joined.lines[0])
    below, above = travel.place(80 - 30.0), travel.place(80 - 10.0)
    assert below.pulls("lowering").pull_n.expected == pytest.approx(160 * GRAVITY)
    assert above.pulls("lowering").pull_n.expected == pytest.approx(80 * GRAVITY)


def test_a_load_that_drags_turns_to_hanging_where_the_ground_falls_away():
    """On the slope part of its weight is on the ground; clear of it, all of it is on the rope."""
    plan = convex_plan(3)
    spot = plan.site.load_at
    on_ground = whole_way(plan, plan.lines[0], 2).places[0]
    lifted = plan.model_copy(
        update={"site": plan.site.model_copy(update={"load_at": type(spot)(x_m=spot.x_m, z_m=spot.z_m + 2.0)})}
    )
    weight = sum(item.mass_kg for item in plan.load.items) * GRAVITY
    assert on_ground.pulls("raising").pull_n.expected < weight
    assert Travel(lifted, lifted.lines[0]).place(0.0).pulls("raising").pull_n.expected == pytest.approx(weight)
