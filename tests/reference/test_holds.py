"""What holds, against other methods: CVXPY with another solver on random rigs in space, a plain linear programme along one
line, sums by hand, and the four rigs whose answers were given with the contract."""

import itertools
import json
import math
from pathlib import Path

import cvxpy as cp
import numpy as np
import pytest
from scipy.optimize import linprog

from rigging.__main__ import main
from rigging.mechanics.holds import HANDS, Lying, LyingRig, Piece, drop, lying, study

GIVEN = json.loads((Path(__file__).parents[1] / "documents" / "holds.json").read_text(encoding="utf-8"))


def same(found: float | None, asked: float | None, within: float = 0.01) -> bool:
    return found is asked if None in (found, asked) else abs(found - asked) <= within


@pytest.mark.parametrize("case", GIVEN, ids=lambda case: case["name"][:30])
@pytest.mark.parametrize("key", ["answer", "hands_off"])
def test_the_given_rigs_answer_as_given(tmp_path, capsys, case, key):
    file = tmp_path / "rig.json"
    file.write_text(json.dumps(case["rig"]))
    assert main(["holds", str(file), *(["--hands-off"] if key == "hands_off" else [])]) == 0
    found, asked = json.loads(capsys.readouterr().out), case[key]
    assert same(found["drop_m"], asked["drop_m"])
    assert set(found["without"]) == set(asked["without"])
    for part, far in asked["without"].items():
        assert same(found["without"][part], far), part
    assert found["single_points"] == asked["single_points"]


def random_rig(rng: np.random.Generator) -> Lying:
    """A load on one to three ropes over edges, through blocks and under hitches, some slack, some in hands."""
    at, kinds = {"L": (8.0 + rng.uniform(-1, 1), rng.uniform(-1, 1), -rng.uniform(5, 30))}, {"L": "load"}
    pieces: list[Piece] = []

    def node(name: str, kind: str, *place: float) -> str:
        at[name], kinds[name] = tuple(map(float, place)), kind
        return name

    def rope(name: str, rope_id: str, route: list[str], slack: float = 0.0) -> None:
        length = sum(math.dist(at[a], at[b]) for a, b in itertools.pairwise(route))
        pieces.append(Piece(name, rope_id, tuple(route), length + slack))

    for number in range(int(rng.integers(1, 4))):
        y = 2.0 * number
        wp = node(f"W{number}", "anchor", rng.uniform(-1, 1), y, rng.uniform(-0.5, 0.5))
        edge = node(f"E{number}", "edge", 7.5, y * 0.8, -0.5)
        kind, slack = int(rng.integers(0, 4)), float(rng.choice([0.0, 0.1, 0.4, 1.0]))
        if kind == 0:
            rope(f"r{number}", f"r{number}", ["L", edge, wp], slack)
        elif kind == 1:
            grab = node(f"G{number}", "grab", rng.uniform(1, 3), y + 0.1, -0.1)
            hands = node(f"H{number}", "hands", -3, y, 0)
            rope(f"r{number}", f"r{number}", ["L", edge, grab], slack)
            rope(f"t{number}", f"r{number}", [grab, hands])
            rope(f"c{number}", f"c{number}", [grab, wp], float(rng.choice([0.0, 0.05, 0.3])))
        elif kind == 2:
            grab = node(f"G{number}", "grab", rng.uniform(3, 5), y, -0.3)
            hitch = node(f"P{number}", "grab", rng.uniform(0.8, 1.6), y, 0)
            hands = node(f"H{number}", "hands", -5, y, 0)
            rope(f"a{number}", f"r{number}", ["L", edge, grab], slack)
            rope(f"b{number}", f"r{number}", [grab, hitch])
            rope(f"d{number}", f"r{number}", [hitch, wp, grab, hands])
            rope(f"c{number}", f"c{number}", [hitch, wp], float(rng.choice([0.0, 0.05, 0.3])))
        else:
            tail = node(f"P{number}", "grab", rng.uniform(0.4, 1.5), y + 0.2, 0)
            rope(f"a{number}", f"r{number}", [wp, edge, "L", edge, tail], slack)
            rope(f"c{number}", f"c{number}", [tail, wp], float(rng.choice([0.0, 0.1])))
    return Lying("L", (0.0, 0.0, -1.0), 2.0, at, kinds, tuple(pieces))


def cvx_drop(rig: Lying) -> float | None:
    """The same question stated for CVXPY as it is said in words, solved by SCS or ECOS's successor in CVXPY."""
    pieces = rig.bearing
    if not any(rig.load in piece.route for piece in pieces):
        return None
    start, way = np.array(rig.at[rig.load]), np.array(rig.along)
    far = cp.Variable()
    free = {
        name: cp.Variable(3)
        for name in {n for p in pieces for n in p.route}
        if rig.kinds[name] in ("grab", "block") and name != rig.load
    }

    def spot(name):
        return start + far * way if name == rig.load else free.get(name, np.array(rig.at[name]))

    limits = [
        sum(cp.norm(spot(a) - spot(b)) for a, b in zip(p.route, p.route[1:], strict=False)) <= p.length_m + 1e-7
        for p in pieces
    ]
    problem = cp.Problem(cp.Maximize(far), [*limits, far <= 500])
    problem.solve(solver=cp.SCS, eps=1e-7, max_iters=60_000)
    return None if far.value is None or far.value > 499 else float(far.value)


def test_two_hundred_random_rigs_against_another_solver():
    """CVXPY with SCS, a first-order method: nothing in common with the interior-point solver but the statement."""
    rng = np.random.default_rng(11)
    for _ in range(200):
        rig = random_rig(rng)
        part = str(rng.choice(rig.parts))
        for asked in (rig, rig.without(part)):
            found = drop(asked).drop_m
            other = cvx_drop(asked)
            assert same(found, None if other is None else max(0.0, other)), (rig, part)


def test_single_points_are_those_whose_removal_leaves_nothing():
    """Brute force: every part taken out by hand and the whole question asked again."""
    rng = np.random.default_rng(5)
    for _ in range(60):
        rig = random_rig(rng)
        for asked in (rig, rig.without(HANDS)):
            found = study(asked)
            brute = {part: drop(asked.without(part)).drop_m for part in asked.parts}
            assert found.single_points == tuple(sorted(part for part, far in brute.items() if far is None))
            for part, far in brute.items():
                further = None if far is None or found.drop_m is None else max(0.0, far - found.drop_m)
                assert same(found.without[part], further, 2e-3), part


def test_along_one_line_it_is_a_linear_programme():
    """Nodes on one vertical line, where lengths are differences: SciPy's HiGHS on x alone, 100 random chains."""
    rng = np.random.default_rng(3)
    for _ in range(100):
        tops = np.sort(rng.uniform(-12, -1, int(rng.integers(1, 5))))[::-1]
        at = {"A": (0.0, 0.0, 0.0), **{f"G{i}": (0.0, 0.0, float(z)) for i, z in enumerate(tops)}}
        at["L"] = (0.0, 0.0, float(tops[-1]) - 5)
        names = ["A", *[f"G{i}" for i in range(len(tops))], "L"]
        kinds = {"A": "anchor", **dict.fromkeys(names[1:-1], "grab"), "L": "load"}
        links = [*list(itertools.pairwise(names)), (names[0], names[-1])]
        slack = rng.uniform(0, 1, len(links))
        pieces = [
            Piece(f"p{i}", f"p{i}", pair, abs(at[pair[0]][2] - at[pair[1]][2]) + float(slack[i]))
            for i, pair in enumerate(links)
        ]
        # x_k: how far down each node is; a piece between two of them lets the lower one be at most its length below.
        rows, right = [], []
        index = {name: i for i, name in enumerate(names)}
        for piece in pieces:
            row = np.zeros(len(names))
            row[index[piece.route[1]]], row[index[piece.route[0]]] = 1.0, -1.0
            rows.append(row)
            right.append(piece.length_m)
        goal = np.zeros(len(names))
        goal[-1] = -1.0
        bounds = [(0, 0), *[(None, None)] * (len(names) - 1)]
        linear = linprog(goal, A_ub=np.array(rows), b_ub=right, bounds=bounds, method="highs")
        found = drop(Lying("L", (0, 0, -1), 2.0, at, kinds, tuple(pieces)))
        assert found.drop_m == pytest.approx(-linear.fun + at["L"][2], abs=1e-3)


RATCHET = {
    "load": {"node": "L"},
    "nodes": {
        "A": {"at": [0, 0, 0]}, "E": {"at": [8, 0, -0.5], "kind": "edge"}, "L": {"at": [8.4, 0, -20], "kind": "load"},
        "G": {"at": [5, 0, -0.3], "kind": "grab"}, "P": {"at": [0.6, 0, 0], "kind": "grab"},
        "crew": {"at": [-6, 0, 0], "kind": "hands"},
    },
    "pieces": [
        {"id": "m1", "rope": "m", "route": ["L", "E", "G"]}, {"id": "m2", "rope": "m", "route": ["G", "P"]},
        {"id": "m3", "rope": "m", "route": ["P", "A", "G", "crew"]}, {"id": "ratchet", "route": ["P", "A"], "slack_m": 0.05},
    ],
}  # fmt: skip


def test_a_minded_ratchet_catches_in_its_slack_and_an_open_one_does_not():
    """Behind a 3:1 the load runs back as far as its hitch gives: 0.05 m; with the ratchet left open it falls."""
    minded = lying(LyingRig.model_validate(RATCHET))
    assert study(minded).without[HANDS] == pytest.approx(0.05, abs=0.002)
    left_open = {**RATCHET, "pieces": RATCHET["pieces"][:3]}
    assert study(lying(LyingRig.model_validate(left_open))).without[HANDS] is None


def on_two(first: dict, *more: dict, nodes: dict | None = None) -> Lying:
    base = {"A": {"at": [0, 0, 0]}, "L": {"at": [0, 0, -10], "kind": "load"}, **(nodes or {})}
    return lying(LyingRig.model_validate({"load": {"node": "L"}, "nodes": base, "pieces": [first, *more]}))


def test_a_hitch_backed_by_a_clove_with_slack():
    """The rope under a hitch, tied off behind it with 0.4 m to spare: the hitch goes, 0.4 m."""
    rig = on_two(
        {"id": "main", "rope": "m", "route": ["L", "H"]}, {"id": "hitch", "route": ["H", "A"]},
        {"id": "clove", "rope": "m", "route": ["H", "A"], "slack_m": 0.4}, nodes={"H": {"at": [0, 0, -1], "kind": "grab"}},
    )  # fmt: skip
    found = study(rig)
    assert found.holds == ("main", "hitch")
    assert found.without["hitch"] == pytest.approx(0.4, abs=1e-3)
    assert found.single_points == ("A", "main")


def test_a_drop_loop_needs_both_ends_unless_the_old_rope_is_still_on():
    nodes = {"crew": {"at": [1, 0, 0], "kind": "hands"}, "B": {"at": [0.5, 0, 0]}}
    loop = {"id": "loop", "route": ["A", "L", "crew"]}
    alone = study(on_two(loop, nodes=nodes))
    assert alone.without["A"] is None
    assert alone.without[HANDS] is None
    old = {"id": "old", "route": ["L", "B"], "slack_m": 0.5}
    backed = study(on_two(loop, old, nodes=nodes))
    for end in ("A", HANDS):
        assert backed.without[end] == pytest.approx(0.5, abs=0.01)
    assert backed.single_points == ()


def test_two_ropes_loaded_alike_share_only_what_both_hang_on():
    """Neither rope is a single point; the plate that both are clipped to is, and what ties it to the load."""
    nodes = {"B": {"at": [1, 0, 0]}, "plate": {"at": [0.5, 0, -9.5], "kind": "block"}}
    ropes = [{"id": "first", "route": ["plate", "A"]}, {"id": "second", "route": ["plate", "B"]}]
    found = study(on_two(*ropes, {"id": "bridle", "route": ["L", "plate"]}, nodes=nodes))
    assert found.single_points == ("bridle", "plate")
    assert found.without["first"] is not None


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"load": {"node": "Q"}}, "'Q', which is not the one node of kind load"),
        ({"load": {"node": "L", "weight_kN": -1}}, "above 0"),
        ({"load": {"node": "L", "along": [0, 0, 0]}}, "along has no length"),
        ({"pieces": [{"id": "m1", "route": ["L", "nowhere"]}]}, "'nowhere', which nodes does not list"),
        ({"pieces": [{"id": "m1", "route": ["L", "A"], "slack_m": -1}]}, "0 or more"),
        ({"pieces": [{"id": "hands", "route": ["L", "A"]}]}, "names two parts"),
        ({"pieces": [{"id": "m1", "route": ["L", "A"]}, {"id": "m1", "route": ["L", "A"]}]}, "names two parts"),
        ({"rope": 1}, "unknown field"),
    ],
)
def test_a_wrong_rig_is_refused_by_its_field(tmp_path, capsys, change, said):
    file = tmp_path / "rig.json"
    file.write_text(json.dumps({**RATCHET, **change}))
    assert main(["holds", str(file)]) == 2
    error = capsys.readouterr().err
    assert said in error
    assert "Traceback" not in error
