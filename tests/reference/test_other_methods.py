"""The solver against methods other than its own: limit analysis by SciPy's linear programme, algebra by SymPy,
the rope's differential equation by SciPy, shortest ways by networkx, and a vector equilibrium by root finding."""

import itertools
import math

import networkx as nx
import numpy as np
import pytest
import sympy
from scipy.integrate import solve_ivp
from scipy.optimize import brentq, linprog

from rigging.catalogue import catalogue
from rigging.catalogue.haul import advantage, bends, settled
from rigging.document import Site
from rigging.quantities.ranges import Range, exactly
from rigging.site.ground import height_at, rope_way
from rigging.site.load import Resting, pull_n

SYSTEMS = sorted(catalogue().systems)


@pytest.mark.parametrize("name", SYSTEMS)
@pytest.mark.parametrize("eta", [0.5, 0.8, 0.95])
def test_raising_is_the_largest_pull_friction_can_resist(name, eta):
    """Limit analysis: of all states in equilibrium with every bend's ratio between η and 1/η, the hand needs at
    most what it takes to start the load upward. Solved by SciPy's linear programme (HiGHS)."""
    system = catalogue().systems[name]
    network, _ = settled(system, {b.id: exactly(eta) for b in bends(system)})
    columns = {(s.rope, s.index): i for i, s in enumerate(itertools.chain.from_iterable(network.strands))}
    balance, held = [], []
    for node in network.nodes.values():
        row = np.zeros(len(columns))
        for strand in itertools.chain.from_iterable(network.strands):
            direction = strand.along[0]
            row[columns[strand.rope, strand.index]] += direction * ((strand.start == node.id) - (strand.end == node.id))
        if node.kind in ("grab", "block", "load"):
            balance.append(row)
            held.append(1.0 if node.kind == "load" else 0.0)
    limits = []
    for number, rope in enumerate(network.ropes):
        for index in range(len(rope.passes)):
            a, b = columns[number, index], columns[number, index + 1]
            for more, less in ((a, b), (b, a)):
                row = np.zeros(len(columns))
                row[more], row[less] = eta, -1.0
                limits.append(row)
    hand = next(
        columns[s.rope, s.index] for s in itertools.chain.from_iterable(network.strands) if "hand" in (s.start, s.end)
    )
    goal = np.zeros(len(columns))
    goal[hand] = -1.0
    found = linprog(
        goal,
        A_ub=np.array(limits) if limits else None,
        b_ub=np.zeros(len(limits)) if limits else None,
        A_eq=np.array(balance),
        b_eq=held,
    )
    actual = advantage(system, {b.id: exactly(eta) for b in bends(system)}).actual.expected
    assert found.success
    assert 1 / actual == pytest.approx(-found.fun, rel=1e-7)


def test_symbolic_sums_of_the_strands():
    """SymPy: the geometric sums that a rope walked from the hand gives, differentiated systems multiplied."""
    x = sympy.Symbol("x", positive=True)
    three, two = 1 + x + x**2, 1 + x
    expected = {
        "z-3": three,
        "z-3-redirect": sympy.expand(x * three),
        "simple-7": sum(x**i for i in range(7)),
        "two-on-three-6": sympy.expand(two * three),
        "three-on-three-9": sympy.expand(three**2),
        # The hand moves towards the load: grab H gathers three strands, G that strand and two more.
        "complex-5": sympy.expand(x**2 + x + x * (1 + x + x**2)),
    }
    for name, formula in expected.items():
        system = catalogue().systems[name]
        for eta in (0.5, 0.77, 1.0):
            found = advantage(system, {b.id: exactly(eta) for b in bends(system)}).actual.expected
            assert found == pytest.approx(float(formula.subs(x, eta))), name


def test_capstan_against_its_differential_equation():
    """dT/dβ = μT integrated by SciPy over a right angle at μ = 0.4: 1.874 times the pull."""
    path = solve_ivp(lambda _, tension: 0.4 * tension, (0, math.pi / 2), [1.0], rtol=1e-10, atol=1e-12)
    assert path.y[0, -1] == pytest.approx(math.exp(0.4 * math.pi / 2), rel=1e-8)
    assert path.y[0, -1] == pytest.approx(1.874, abs=0.0005)


def test_pull_on_a_slope_against_root_finding():
    """Forces on the load as vectors; the tension at which it just starts is found by SciPy's bisection."""
    mass, slope, lift, mu = 190.0, math.radians(50), math.radians(8), 0.35

    def unbalanced(tension: float, sign: int) -> float:
        up, out = np.array([math.cos(slope), math.sin(slope)]), np.array([-math.sin(slope), math.cos(slope)])
        rope = tension * np.array([math.cos(slope + lift), math.sin(slope + lift)])
        both = rope + np.array([0, -mass * 9.80665])
        return float(both @ up) - sign * mu * float(-both @ out)

    load = Resting(exactly(mass), slope, lift, exactly(mu), False)
    for rising, sign in ((True, 1), (False, -1)):
        root = brentq(unbalanced, 0, 5000, args=(sign,))
        assert pull_n(load, mass, mu, rising) == pytest.approx(root, rel=1e-9)


def test_rope_way_is_the_shortest_way_over_the_ground():
    """networkx: shortest path through the points that see each other over the ground."""
    rng = np.random.default_rng(7)
    for _ in range(25):
        xs = np.cumsum(rng.uniform(1, 6, 7))
        zs = -np.cumsum(rng.uniform(-1.5, 6, 7))
        profile = [{"x_m": -3, "z_m": -0.5}, {"x_m": 0, "z_m": -0.5}]
        profile += [{"x_m": float(x), "z_m": float(z)} for x, z in zip(xs, zs, strict=True)]
        to = (float(xs[-1]), float(zs[-1]))
        site = Site.model_validate(
            {"profile": profile, "surface": "rough-rock", "load_at": {"x_m": to[0], "z_m": to[1]}}
        )
        points = [(0.0, 0.0), *zip(xs.tolist(), zs.tolist(), strict=True)]
        graph = nx.Graph()
        for a, b in itertools.combinations(points, 2):
            share = np.linspace(0, 1, 200)
            line = [(a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])) for t in share]
            if all(z >= (height_at(site, x) or -1e9) - 1e-6 for x, z in line):
                graph.add_edge(a, b, weight=math.dist(a, b))
        shortest = nx.shortest_path_length(graph, (0.0, 0.0), to, weight="weight")
        assert rope_way(site, (0.0, 0.0, 0.0), (to[0], 0.0, to[1])).length_m == pytest.approx(shortest, rel=1e-6)


def test_published_strengths_are_in_the_catalogue():
    """EN 564, EN 566, EN 12275, EN 1891 and NFPA 1983, all quoted from memory."""
    shelf = catalogue()
    assert shelf.slings["cord-8"].strand_n.low == 0.2 * 8**2 * 1000
    assert 2 * shelf.slings["sewn-sling-22"].strand_n.low == 22_000
    assert shelf.connectors["alloy-b"].strength_n.low == 20_000
    assert shelf.ropes["low-stretch-11"].strength_n.low == 22_000
    assert shelf.ropes["general-use-12.7"].strength_n.low == 40_000
    # EN 1891: 15 kN with a knot; the expected figure-eight keeps more than that of the least rope.
    knotted = shelf.ropes["low-stretch-11"].strength_n.low * shelf.knots["figure-eight-loop"].keeps.low
    assert knotted == pytest.approx(15_000, rel=0.03)


def test_sling_factors():
    """Basket 2.0 of the straight pull, a choker 0.75 to 0.80 where it is drawn at 120° and more (ASME B30.9 / OSHA 1926.251, from memory);
    drawn back against itself it keeps less."""
    shelf = catalogue().attachments
    straight = 2
    choker = shelf["girth-hitch"]
    assert choker.keeps.low < 0.75 < choker.keeps.high == 0.80
    assert choker.strands == straight
    assert shelf["basket-loop"].strands / straight == 2.0


def test_a_range_is_refused_out_of_order():
    with pytest.raises(ValueError, match="out of order"):
        Range(low=2, expected=1, high=3)


def test_the_sources_page_is_made_from_the_catalogue():
    from pathlib import Path

    from rigging.catalogue.__main__ import page

    written = (Path(__file__).resolve().parents[2] / "docs" / "sources.md").read_text(encoding="utf-8")
    assert written.strip() == page(catalogue()).strip()
