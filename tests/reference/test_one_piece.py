"""Anchors out of one piece: lengths by hand, cuts by brute force with the solver of what holds, legs by a finite element package, a sliding piece by its
energy and by sums along the way."""

import itertools
import math
import random
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq, minimize

from rigging.anchors.material import piece_m, piece_parts, taken_by
from rigging.anchors.one_piece import course_of
from rigging.anchors.pull import Asked
from rigging.anchors.rig import AnchorRig, rig_anchor
from rigging.anchors.states import STEADY, all_states
from rigging.anchors.tightening import order_of, tightened_kn
from rigging.catalogue import catalogue
from rigging.document import Arrangement, Plan
from rigging.mechanics.holds import LyingRig, drop, lying
from rigging.mechanics.legs import hang_all
from rigging.mechanics.sliding import shares_along, slide_all
from rigging.quantities.ranges import exactly
from tests.anchors import hung, plan_of, tree
from tests.reference.test_anchor_schemes import by_finite_elements

R = 0.15
ROPE = "rope-11"


def way(to: str, method: str = "passed", **more: Any) -> dict[str, Any]:
    return {"feature": to, "method": method, "material": ROPE, **more}


def made(
    legs: list[dict[str, Any]],
    scheme: str = "fixed",
    trees: Any = (("a", -4, 0), ("b", -3, 2), ("c", -3, -2)),
    **piece: Any,
) -> tuple[Plan, AnchorRig]:
    more = {name: piece.pop(name) for name in ("limit_m", "pull", "slider", "tightened") if name in piece}
    plan = plan_of(
        [tree(*one) for one in trees],
        scheme,
        legs,
        piece={"closed": "one-knot", "knot": "overhand-loop", **piece},
        **{"pull": hung(50), **more},
    )
    arrangement = next(one for _, _, one in plan.arrangements() if one.id == "tried")
    return plan, rig_anchor(plan, arrangement)


def once(far: float) -> float:
    """Out to a 0.3 m trunk whose middle is so far away, half round it and back: two tangents and the arc between where they touch."""
    return 2 * math.sqrt(far**2 - R**2) + R * (2 * math.pi - 2 * math.acos(R / far))


NEAR, FAR = math.hypot(3, 2), 4.0
# By build: scheme, legs, how it is closed; then its length summed by hand. Knots from the catalogue's table (from memory): overhand 0.4, eight 0.6, clove 0.2,
# long-bight overhand 0.85, double fisherman 0.4; a bowline with its tail 0.9, an eight tied round 1.0.
BUILDS: dict[str, tuple[str, list[dict[str, Any]], dict[str, Any], float]] = {
    "two trees, long bights in one overhand": (
        "two-loop-y", [way("b"), way("c")], {"knot": "long-bight-overhand"}, 2 * once(NEAR) + 3 * 0.85,
    ),
    "three trees, a closed cord, bights gathered in an eight": (
        "fixed", [way("a"), way("b"), way("c")], {"knot": "figure-eight-loop", "joined": "double-fisherman"},
        once(FAR) + 2 * once(NEAR) + 3 * 0.6 + 0.4,
    ),
    "six wraps on one tree, three pulled": (
        "single", [way("a", "wrap-pull", turns=6, pulled=3)], {"knot": "overhand-loop"}, 3 * once(FAR) + 3 * 2 * math.pi * R + 4 * 0.4,
    ),
    "from a bowline to a bowline, a wrapped tree between": (
        "fixed", [way("a", "bowline-round"), way("b", "wrap-pull", turns=3), way("c", "bowline-round")], {"knot": "overhand-loop"},
        (once(0.3) + FAR - 0.3 + 0.9) + (2 * once(NEAR) + 2 * math.pi * R) + (once(0.3) + NEAR - 0.3 + 0.9) + 4 * 0.4 - 0.4,
    ),
    "each leg closed by its own clove, a clove round the middle tree": (
        "floating", [way("a"), way("b", "clove-round"), way("c")], {"closed": "leg-by-leg", "knot": "clove"},
        once(FAR) + once(NEAR) + 2 * math.pi * R + 0.2 + once(NEAR) + 4 * 0.2,
    ),
    "adjusting, its ends joined": (
        "self-adjusting", [way("b"), way("c")], {"closed": "slides", "knot": None, "joined": "double-fisherman"}, 2 * once(NEAR) + 0.4,
    ),
}  # fmt: skip


@pytest.mark.parametrize("build", BUILDS)
def test_a_piece_is_as_long_as_its_ways_its_knots_and_what_is_gathered(build):
    scheme, legs, piece, by_hand = BUILDS[build]
    plan, rig = made(legs, scheme, **piece)
    assert piece_m(rig.arrangement, rig.lines) == pytest.approx(by_hand, abs=1e-9)
    (taken,) = taken_by(plan, rig)
    assert (taken.use, taken.length_m) == ("piece", pytest.approx(by_hand))


def test_a_bowline_between_two_wraps_gathers_one_bight_for_each_time_it_comes_back():
    """Bowline, two bights pulled, bowline: the piece comes to the point three times."""
    _, rig = made(BUILDS["from a bowline to a bowline, a wrapped tree between"][1], "fixed")
    gathered = next(one for one in piece_parts(rig.arrangement, rig.lines) if one.what == "gathered")
    assert (gathered.times, gathered.length_m) == (3, pytest.approx(1.2))


def anything(luck: random.Random) -> Arrangement:
    """Any anchor out of one piece."""
    count = luck.randint(1, 5)
    closed = luck.choice(["one-knot", "leg-by-leg", "slides"]) if count > 1 else "one-knot"
    joined = luck.choice([None, "double-fisherman"])
    legs = [way(f"t{n}", luck.choice(["passed", "clove-round"])) for n in range(count)]
    for leg in legs:
        if luck.random() < 0.3:
            leg.update(method="wrap-pull", turns=(turns := luck.randint(2, 6)), pulled=luck.randint(1, min(4, turns)))
    if count > 1 and not joined:
        for end in (0, -1):
            if closed == "slides" or luck.random() < 0.4:
                legs[end] = way(legs[end]["feature"], "bowline-round")
    scheme = "single" if count == 1 else "self-adjusting" if closed == "slides" else "fixed"
    return Arrangement.model_validate({
        "id": "x", "name": "X", "scheme": scheme, "legs": legs, "connector": "steel", "limit_m": luck.choice([None, 0.2]) if closed == "slides" else None,
        "piece": {"closed": closed, "knot": None if closed == "slides" else "clove", "joined": joined},
    })  # fmt: skip


def still_held(arrangement: Arrangement, cut: int, leg: int) -> bool:
    """Whether a leg's feature is still held to the point after a cut, by the solver of what holds: what does not touch it taken away, pulled straight off."""
    course = course_of(arrangement)
    count = len(course.strands)
    nodes: dict[str, Any] = {"P": {"at": [0, 0, 0]}}
    for n, _ in enumerate(arrangement.legs):
        turned = math.pi + 0.3 * (n - 2)
        nodes[f"F{n}"] = {"at": [3 * math.cos(turned), 3 * math.sin(turned), 0]}
    name = ["P" if at.leg is None else f"F{at.leg}" for at in course.stations]
    # Strand by strand; those that meet where nothing holds them are one piece, those that a cut parts end in the air.
    pieces: list[list[str]] = []
    for strand in range(count):
        here, on = strand, (strand + 1) % len(name)
        ends = [[name[here], name[on]]] if strand != cut else [[name[here], "cut1"], ["cut2", name[on]]]
        joins = bool(pieces) and not course.stations[here].holds and strand > 0
        if joins:
            pieces[-1] += ends[0][1:]
        else:
            pieces.append(ends[0])
        pieces += ends[1:]
    if course.loop and not course.stations[0].holds:
        first = pieces.pop(0)
        pieces[-1] += first[1:] if pieces else []
        pieces = pieces or [first]
    nodes |= {end: {"at": [-1, 0, 0], "kind": "block"} for end in ("cut1", "cut2")}
    mine = [one for one in pieces if f"F{leg}" in one]
    nodes[f"F{leg}"]["kind"] = "load"
    away = np.array(nodes[f"F{leg}"]["at"], dtype=float)
    if not mine:
        return False
    rows = [{"id": f"p{n}", "route": route} for n, route in enumerate(mine)]
    used = {one for route in mine for one in route}
    rig = LyingRig.model_validate({
        "load": {"node": f"F{leg}", "weight_kN": 1, "along": list(away / np.linalg.norm(away))},
        "nodes": {id: one for id, one in nodes.items() if id in used}, "pieces": rows,
    })  # fmt: skip
    return drop(lying(rig)).drop_m is not None


@pytest.mark.parametrize("seed", range(60))
def test_a_cut_anywhere_leaves_the_legs_that_the_solver_still_finds_holding(seed):
    """Every strand cut in turn; a loop that no knot holds anywhere is cut open and asked as a piece with two free ends."""
    arrangement = anything(random.Random(seed))
    course = course_of(arrangement)
    for cut in range(len(course.strands)):
        lost = {leg for leg in range(course.legs) if not still_held(arrangement, cut, leg)}
        assert lost == set(course.lost(cut)), (arrangement.model_dump_json(), cut)


def test_one_knot_for_all_is_one_thing_that_everything_hangs_on_but_for_ends_tied_at_features():
    _, rig = made([way("a"), way("b"), way("c")])
    assert [rig.course.lost(undone=one) for one in rig.course.knots] == [(0, 1, 2)]
    _, tied = made([way("a", "bowline-round"), way("b"), way("c", "bowline-round")])
    point, first, last = tied.course.knots
    # From bowline to bowline the piece then runs over the point: it holds on all three, as a slider does.
    assert tied.course.lost(undone=point) == ()
    assert (tied.course.lost(undone=first), tied.course.lost(undone=last)) == ((0,), (2,))
    _, closed = made([way("a"), way("b"), way("c")], closed="leg-by-leg", knot="clove")
    # An end comes free and takes its leg; between two legs they then share their strands.
    assert [closed.course.lost(undone=one) for one in closed.course.knots] == [(0,), (), (), (2,)]


@pytest.mark.parametrize("seed", range(6))
def test_gathered_legs_share_by_their_strands_as_a_finite_element_package_has_it(seed):
    """PyNiteFEA, small displacements; EA of each leg is that of a strand by how many strands it has."""
    luck = random.Random(seed)
    trees = [(id, luck.uniform(-6, -3), y + luck.uniform(-0.4, 0.4)) for id, y in (("a", 0), ("b", 2), ("c", -2))]
    legs = [way("a", "wrap-pull", turns=6, pulled=luck.randint(1, 4)), way("b"), way("c", "clove-round")]
    _, rig = made(legs, trees=trees)
    strands = [2 * legs[0]["pulled"], 2, 2]
    one_n = catalogue().slings[ROPE].ea_n.expected / 1000
    to = np.array([[x, y, 0] for _, x, y in trees])
    force = np.array([0.05, 0.0, 0.0])
    there = by_finite_elements(to, np.array(strands) * one_n, force)
    asked = Asked(exactly(50.0), np.array([1.0, 0, 0]), np.array([[50.0, 0, 0]]))
    assert all_states(rig, asked, STEADY, [None]).expected_n[0] / 1000 == pytest.approx(there, rel=0.02, abs=2e-4)


@pytest.mark.parametrize("seed", range(8))
def test_a_piece_that_slides_lies_where_its_energy_is_least(seed):
    """Without friction a cord of which n strands go to each leg has the energy EA·(Σ n·L − R)²/(2R) − F·p: its least, by a minimiser of SciPy's."""
    luck = np.random.default_rng(seed)
    count = int(luck.integers(2, 5))
    to = luck.uniform([-4, -2, -0.5], [-2, 2, 0.5], size=(count, 3))
    strands = luck.integers(1, 5, size=count).astype(float)
    rest = float(strands @ np.linalg.norm(to, axis=1))
    load, ea = np.array([1.0, *luck.uniform(-0.2, 0.2, 2)]), 60.0

    def energy(point: np.ndarray) -> float:
        long = float(strands @ np.linalg.norm(point - to, axis=1))
        return float(ea * max(0.0, long - rest) ** 2 / (2 * rest) - load @ point)

    found = slide_all(to, strands[None], np.array([ea]), np.array([rest]), load[None], np.zeros((1, 3)), strands)
    least = minimize(
        energy,
        np.zeros(3),
        method="Nelder-Mead",
        options={"xatol": 1e-9, "fatol": 1e-14, "maxiter": 20000, "maxfev": 20000},
    )
    assert energy(found.points[0]) == pytest.approx(least.fun, rel=1e-6)
    assert found.points[0] == pytest.approx(least.x, abs=2e-3)
    one = found.tensions[0] / strands
    assert one == pytest.approx(one[0])


@pytest.mark.parametrize("seed", range(12))
def test_a_slider_on_its_knots_is_in_balance_with_cord_shared_out_by_another_solver(seed):
    """At the point found, cord is shared out again: each leg n·L/(1 + T/EA) or what its knot keeps, T by SciPy's `brentq` so that it comes
    to the whole; n·EA·(n·L/c − 1) of each leg then balances the pull."""
    luck = np.random.default_rng(seed)
    count = int(luck.integers(2, 5))
    to = luck.uniform([-4, -2, -0.5], [-2, 2, 0.5], size=(count, 3))
    strands = luck.integers(1, 3, size=count).astype(float)
    tied = strands * np.linalg.norm(to, axis=1)
    rest, ea, least = float(tied.sum()), 60.0, tied - luck.uniform(0.05, 0.3)
    # Pulls well to a side, where knots are met.
    loads = np.array([[1.0, side, 0.1] for side in (-2.0, -0.8, 0.8, 2.0)])
    found = slide_all(
        to,
        np.tile(strands, (4, 1)),
        np.full(4, ea),
        np.full(4, rest),
        loads,
        np.zeros((4, 3)),
        strands,
        np.tile(least, (4, 1)),
    )
    met = 0
    for point, tensions, load in zip(found.points, found.tensions, loads, strict=True):
        away = point - to
        length = np.linalg.norm(away, axis=1)

        def cord(tension: float, long: np.ndarray = strands * length) -> np.ndarray:
            return np.maximum(least, long / (1 + tension / ea))

        shared = cord(brentq(lambda t: cord(t).sum() - rest, 0.0, 50.0, xtol=1e-14))
        pulls = strands * ea * np.maximum(0.0, strands * length / shared - 1)
        met += int((shared == least).any())
        assert pulls == pytest.approx(tensions, abs=1e-5)
        assert pulls @ (away / length[:, None]) == pytest.approx(load, abs=1e-5)
    assert met


def test_a_slider_pulled_past_its_knot_is_borne_as_two_legs_of_those_lengths():
    """Pulled far to a side, one leg keeps what its knot does and the other has the rest: two legs by themselves, by the legs' solver."""
    to = np.array([[-3.0, 1, 0], [-3, -1, 0]])
    tied = np.linalg.norm(to, axis=1)
    load, least = np.array([[1.0, 1.0, 0]]), tied[None] - 0.1
    found = slide_all(
        to, np.ones((1, 2)), np.array([60.0]), np.array([tied.sum()]), load, np.zeros((1, 3)), least=least
    )
    by_legs = hang_all(to, np.full((1, 2), 60.0), np.array([[tied[0] - 0.1, tied[1] + 0.1]]), load, np.zeros((1, 3)))
    free = slide_all(to, np.ones((1, 2)), np.array([60.0]), np.array([tied.sum()]), load, np.zeros((1, 3)))
    assert found.points[0] == pytest.approx(by_legs.points[0], abs=1e-6)
    assert found.tensions[0] == pytest.approx(by_legs.tensions[0], abs=1e-6)
    # Without knots they would share it evenly; on its knot the one that was let out takes nearly all.
    assert free.tensions[0] == pytest.approx(free.tensions[0, 0])
    assert found.tensions[0, 1] > 3 * found.tensions[0, 0]


def test_two_tight_legs_with_short_knots_still_slide_from_where_they_were_tied():
    """Knots are tied into cord, not into how far it is pulled: 3 kN of pretension takes more out of it than 2 cm of knots leave, and yet neither
    knot is met by a pull straight between the two, which both bear alike."""
    legs = [way(one, pretension_n=3000) for one in "ab"]
    trees = [("a", -4, -1.5), ("b", -4, 1.5)]
    _, rig = made(
        legs,
        "self-adjusting",
        trees,
        closed="slides",
        knot=None,
        joined="double-fisherman",
        limit_m=0.02,
        pull=hung(2000),
    )
    stretched = sum(n * line.tied_m for n, line in zip(rig.strands, rig.lines, strict=True)) - rig.cord_m()
    assert stretched > 2 * 0.02
    asked = Asked(exactly(2000.0), np.array([1.0, 0, 0]), np.array([[2000.0, 0, 0]]))
    one, other = all_states(rig, asked, STEADY, [None]).expected_n[0]
    assert one == pytest.approx(other) and one > 1000


def test_along_the_way_each_pass_takes_its_share_in_the_order_of_the_piece():
    """Two strands to each of three features, the first leg shortens and the last grows: rope runs on over all five passes, features .4, slider .5; the last strand
    is pulled most, the first has .4 · .5 · .4 · .5 · .4 of it."""
    passes = np.array([[0.4, 0.5, 0.4, 0.5, 0.4]])
    grows, there = np.array([[-0.1, 0.0, 0.1]]), np.ones(3)
    k = np.cumprod([1, 0.4, 0.5, 0.4, 0.5, 0.4])[::-1]
    # The middle leg stays: what the first gives runs through both of its strands.
    assert shares_along(grows, (0, 0, 1, 1, 2, 2), passes, there)[0] == pytest.approx(
        [k[0] + k[1], k[2] + k[3], k[4] + k[5]]
    )
    # The other way round, and with a leg in between gone: its strands are pulled through, over the same passes.
    assert shares_along(-grows, (0, 0, 1, 1, 2, 2), passes, there)[0] == pytest.approx([1.4, 0.2 + 0.08, 0.04 + 0.016])
    assert shares_along(grows, (0, 0, 1, 1, 2, 2), passes, np.array([1.0, 0, 1]))[0] == pytest.approx(
        [k[0] + k[1], 0, k[4] + k[5]]
    )


def test_a_piece_round_trees_never_shares_equally_and_its_order_says_how():
    """Bark holds e^(−μβ) back: a closed cord passed round two trees and clipped in one connector shares far less than one on two connectors does."""
    slides = {"closed": "slides", "knot": None, "joined": "double-fisherman"}
    _, rig = made([way("b"), way("c")], "self-adjusting", **slides)
    asked = Asked(exactly(50.0), np.array([1.0, 0, 0]), np.array([[50.0, 0, 0]]))
    held = all_states(rig, asked, STEADY, [None])
    mu = catalogue().surfaces["timber"].mu
    turn = 2 * math.pi - 2 * math.acos(R / NEAR)
    assert rig.passed_on[0].low == pytest.approx(math.exp(-mu.high * turn))
    shares = held.high_n[0] / held.low_n[0]
    assert shares.min() > 2.5
    spread = held.high_n[0].max()
    assert spread < 50


def test_pulled_tight_one_after_another_legs_in_line_end_alike_and_crossed_pairs_do_not_touch_each_other():
    """Two legs in one line pull each other: whichever is pulled last, both bear that. A second pair square to it is as it would be alone."""
    cross = [("a", -3, 0), ("b", 3, 0), ("c", 0, 3), ("d", 0, -3)]
    legs = [way(id, pretension_n=newtons) for (id, _, _), newtons in zip(cross, (900, 900, 500, 500), strict=True)]
    _, rig = made(legs, "floating", cross)
    order = order_of(rig, np.array([1.0, 0, 0]))
    assert order[:2] == (0, 1) and set(order[2:]) == {2, 3}
    once_round, again = tightened_kn(rig, order, 2)
    assert once_round == pytest.approx([0.9, 0.9, 0.5, 0.5], rel=0.03)
    assert again == pytest.approx([0.9, 0.9, 0.5, 0.5], rel=0.03)


def test_going_round_again_brings_legs_that_balance_each_other_to_what_they_were_pulled_to():
    """One rear leg at 600 N is balanced by two front ones 32.6° off it at 600 / (2 · cos 32.6°) = 356 N. Rear before front leaves them so at once; a side
    first leaves a tenth off, less each time round."""
    star = [("a", -3, 0), ("b", 2.5, 1.6), ("c", 2.5, -1.6)]
    side = 600 / (2 * 2.5 / math.hypot(2.5, 1.6))
    wanted = np.array([600, side, side]) / 1000
    legs = [way(id, pretension_n=1000 * newtons) for (id, _, _), newtons in zip(star, wanted, strict=True)]
    _, rig = made(legs, "floating", star)
    off = {
        order: np.abs(tightened_kn(rig, order, 4) / wanted - 1).max(axis=1)
        for order in itertools.permutations(range(3))
    }
    assert order_of(rig, np.array([1.0, 0, 0]))[0] == 0
    assert max(off[(0, 1, 2)].max(), off[(0, 2, 1)].max()) < 0.01
    assert off[(1, 0, 2)][0] > 0.1 and all(np.diff(off[(1, 0, 2)]) < 0)
