"""No figure is outside what is told: every input drawn inside its range, the whole plan worked out anew, every figure of every
report looked for in the range that was told before any of it was known.

The oracle is the engine itself with every range a point, so it checks the bounds, not the model; that is what the other
checks of this folder are for."""

import random
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError

from rigging.document import Plan
from rigging.lines.solve import LineForces
from rigging.lines.tension_line import along_line
from rigging.lines.whole_way import whole_way
from rigging.mechanics.bounds import chosen_corners, cloud, every_corner, least_size
from rigging.mechanics.motion import solve_motion
from rigging.mechanics.network import Network, Pass, Rope
from rigging.mechanics.tension import corner_rows, solve_rows
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range, exactly
from rigging.telling.anchors.report import study
from rigging.telling.sheet.report import analyse
from tests.drawn import drawn_catalogue, drawn_plan
from tests.engine.test_random_plans import changed_at_random
from tests.plans import demo_document, demo_plan

# The last digits of sums and searches.
SLACK = 2e-4


def figures(told: Any, path: str = "") -> Iterator[tuple[str, float, float]]:
    """Every figure of a report: where it stands, low and high."""
    if isinstance(told, dict):
        if {"low", "expected", "high"} <= set(told):
            yield f"{path}|{told.get('working', '')}", told["low"], told["high"]
            return
        name = told.get("id", "")
        for key, value in told.items():
            yield from figures(value, f"{path}.{name}.{key}" if isinstance(name, str) else f"{path}.{key}")
    elif isinstance(told, list):
        for number, value in enumerate(told):
            key = value.get("id", number) if isinstance(value, dict) else number
            yield from figures(value, f"{path}[{key}]")


def outside(told: dict[str, tuple[float, float]], now: dict[str, tuple[float, float]]) -> list[str]:
    """Figures that are not inside what was told of them."""
    found = []
    for name, (low, high) in now.items():
        if name in told:
            least, most = told[name]
            room = SLACK * max(abs(least), abs(most)) + 0.05
            if low < least - room or high > most + room:
                found.append(f"{name}: {low:.4f} to {high:.4f}, told {least:.4f} to {most:.4f}")
    return found


def everything(plan: Plan) -> dict[str, tuple[float, float]]:
    """Every figure of the sheet, the anchors, the whole way and the tension lines."""
    found: dict[str, tuple[float, float]] = {}

    def add(name: str, rows: Iterator[tuple[str, float, float]]) -> None:
        found.update({f"{name}:{where}": (low, high) for where, low, high in rows})

    report = analyse(plan)
    add("sheet", figures(report.model_dump(mode="json")))
    state = next((one.id for one in report.states if one.available), "held")
    add("anchors", figures(study(plan, state, directions=5).model_dump(mode="json")))
    for line in plan.lines[:1]:
        for place in whole_way(plan, line, 4).places:
            for job in place.jobs:
                pulls = place.pulls(job)
                for name in ("pull_n", "hand_n", "working_point_n"):
                    one = getattr(pulls, name)
                    found[f"way:{place.run_m:.2f}:{job}:{name}"] = (one.low, one.high)
    for line in plan.tension_lines:
        for number, at in enumerate(along_line(plan, line, 5)):
            for name in ("sag_m", "tension_n", "tag_n", "clear_m"):
                if (one := getattr(at, name)) is not None:
                    found[f"line:{line.id}:{number}:{name}"] = (one.low, one.high)
            for name in ("near", "far"):
                size = getattr(at, name).size
                found[f"line:{line.id}:{number}:{name}"] = (size.low, size.high)
    return found


def asked(plan: Plan) -> dict[str, tuple[float, float]] | None:
    try:
        return everything(plan)
    except Refused:
        return None


@pytest.mark.parametrize("seed", range(4))
def test_the_demo_holds_whatever_its_inputs_turn_out_to_be(seed):
    luck, plan = random.Random(seed), demo_plan()
    told = everything(plan)
    assert len(told) > 400
    for _ in range(12):
        with drawn_catalogue(luck):
            now = everything(drawn_plan(luck, plan))
        assert outside(told, now) == []


@pytest.mark.parametrize("seed", range(6))
def test_random_plans_hold_whatever_their_inputs_turn_out_to_be(seed):
    """Lines, slings, joins, frames, tension lines, every scheme: changed at random, each drawn a few times."""
    luck, plans = random.Random(1000 + seed), 0
    while plans < 7:
        try:
            plan = Plan.model_validate(changed_at_random(luck))
        except ValidationError:
            continue
        told = asked(plan)
        if told is None:
            continue
        plans += 1
        for _ in range(3):
            with drawn_catalogue(luck):
                now = asked(drawn_plan(luck, plan))
            assert now is not None and outside(told, now) == []


def test_a_bound_that_is_none_is_found():
    """Three whole cases in place of corners, as once: good or bad luck in all parts alike."""
    luck, plan = random.Random(3), demo_plan()
    told = everything(plan)
    for name, (low, high) in list(told.items()):
        if "anchor:main" in name and "raising" in name:
            middle = (low + high) / 2
            told[name] = (middle - 0.2 * (high - low), middle + 0.2 * (high - low))
    broken = []
    for _ in range(10):
        with drawn_catalogue(luck):
            broken += outside(told, everything(drawn_plan(luck, plan)))
    assert any("anchor:main" in one for one in broken)


def test_the_demo_hauled_by_hand():
    """Lips that drag lift the strand, pulleys that run lower the hand: 614 to 999 N at the start, found by asking every corner."""
    anchor = next(one for one in analyse(demo_plan()).state("raising").anchors if one.anchor == "main")
    assert (anchor.force.low, anchor.force.high) == (pytest.approx(614, abs=1), pytest.approx(999, abs=1))


# The corners themselves, against all of them and against points between them.


def over_a_road(luck: random.Random) -> tuple[Network, Any]:
    """The demo hauled on carabiners round the road, every pass with a range of its own."""
    from tests.plans import haul

    document = demo_document()
    document["lines"][0]["haul"] = haul("z-3", "carabiner", redirects=[{"anchor": "road", "bend": "carabiner"}])
    plan = Plan.model_validate(document)
    from rigging.lines.every_state import solve_all

    line: LineForces = solve_all(plan, frozenset(("raising",)))[1]["raising"].lines[0]
    network = line.network
    passes = iter(
        Pass(f"p{n}", one.node, Range(*sorted(luck.uniform(0.35, 0.97) for _ in range(3))), one.turn_rad)
        for n, one in enumerate(network.passes)
    )
    ropes = tuple(
        Rope(one.route, tuple(next(passes) for _ in one.passes), one.id, one.rope, one.slack_m) for one in network.ropes
    )
    changed = Network(network.nodes, ropes, network.led)
    return changed, solve_motion(changed)


@pytest.mark.parametrize("seed", range(8))
def test_every_force_between_the_corners_is_inside_them(seed):
    luck = random.Random(seed)
    network, motion = over_a_road(luck)
    _, tensions, gains = corner_rows(network, motion, driven=False)
    rows = tensions / gains[:, None]
    low = np.array([one.eta.low for one in network.passes])
    high = np.array([one.eta.high for one in network.passes])
    draws = low + np.random.default_rng(seed).uniform(size=(400, len(low))) * (high - low)
    inside, pulled = solve_rows(network, motion, draws)
    inside = inside / pulled[:, None]
    assert (inside <= rows.max(axis=0) * (1 + 1e-9)).all() and (inside >= rows.min(axis=0) * (1 - 1e-9)).all()
    from rigging.mechanics.tension import strand_ways

    for node in network.of_kind("anchor"):
        ways = strand_ways(
            network, {name for name, one in network.nodes.items() if one.on == node.id or name == node.id}
        )
        told = cloud(rows @ ways, exactly(1.0)).size
        sizes = np.linalg.norm(inside @ ways, axis=1)
        assert told.low * (1 - 1e-9) <= sizes.min() and sizes.max() <= told.high * (1 + 1e-9)


@pytest.mark.parametrize("seed", range(20))
def test_a_corner_chosen_by_slope_is_the_best_of_all_4096(seed):
    """Quotients of products, as strands are, in twelve inputs."""
    luck = np.random.default_rng(seed)
    low, high = luck.uniform(0.3, 0.6, 12), luck.uniform(0.65, 0.98, 12)
    over, under = luck.integers(0, 2, (6, 12)), luck.integers(0, 2, (6, 12))

    def figures(levels):
        values = np.where(levels > 0, high, low)[:, None]
        products = np.where(over, values, 1.0).prod(axis=2)
        sums = 1 + np.where(under, values, 1.0).prod(axis=2) + np.where(over[::-1], values, 1.0).prod(axis=2)
        return products / sums

    every = figures(every_corner(12))
    found = figures(chosen_corners(12, figures))
    assert found.max(axis=0) == pytest.approx(every.max(axis=0), rel=1e-12)
    assert found.min(axis=0) == pytest.approx(every.min(axis=0), rel=1e-12)
    assert len(chosen_corners(12, figures)) < 2000


@pytest.mark.parametrize("seed", range(10))
def test_the_least_size_is_the_distance_to_the_hull(seed):
    """Against CVXPY: the shortest convex combination of the points."""
    import cvxpy

    points = np.random.default_rng(seed).normal(size=(30, 3)) + np.array([1.5, 0.5, 0])
    weights = cvxpy.Variable(30, nonneg=True)
    problem = cvxpy.Problem(cvxpy.Minimize(cvxpy.norm(points.T @ weights)), [cvxpy.sum(weights) == 1])
    problem.solve(solver=cvxpy.CLARABEL)
    told = least_size(points)
    assert told <= problem.value + 1e-7
    assert told >= 0.95 * problem.value - 1e-3
