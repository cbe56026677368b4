"""Forces where nothing runs: friction may help or hurt, so each part has a least and a most.

At each pass η·T₁ ≤ T₂ ≤ T₁/η either way, forces balance on everything free, and nothing pushes. Over that set, with the
load's pull between two bounds, the least and the most of every strand are linear programmes (limit analysis; any text
on plasticity or on friction locks). Along a single chain they are products: T·∏η to T/∏η."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.bounds import corners_of
from rigging.mechanics.network import Network
from rigging.mechanics.vectors import STILL, Array, dot
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range, exactly

_UNASKED = (float("nan"),) * 3


@dataclass(frozen=True)
class Held:
    """Strands where nothing runs: `rows` (c, s), the first without friction, per unit of `scale`, with the `levels` (c, k) of the
    passes behind them: −1 where friction carries part of the load, +1 where it adds to it. `passed`, by pass: what the strand after
    is of the one before, where the rows are least and most of each strand by itself."""

    rows: Array
    scale: Range
    levels: Array
    passed: dict[str, Range]


def least_and_most(network: Network, pull: Range, only: Collection[int] | None = None) -> Held:
    """Tension of every strand: least, without friction, most.

    Parameters
    ----------
    network : taut ropes only, with the load among its nodes
    pull : what the load asks along its axis in newtons: least, without friction, most
    only : strands that are asked, by their place among all, where tension can divide; of the others nothing is said (nan)

    Raises
    ------
    Refused
        If nothing can balance the load.

    Examples
    --------
    A rope over an edge that passes on one half, made fast: what holds it carries half to double the load's pull.

    >>> from rigging.mechanics.network import Node, Pass, Rope
    >>> from rigging.quantities.ranges import exactly
    >>> nodes = [Node("A", "anchor", (0, 0, 0)), Node("E", "edge", (5, 0, 0)), Node("L", "load", (5, 0, -9), (0, 0, 1))]
    >>> rope = Rope(("L", "E", "A"), (Pass("E", "E", exactly(0.5)),))
    >>> found = least_and_most(Network({n.id: n for n in nodes}, (rope,)), exactly(1.0))
    >>> found.rows.tolist()
    [[1.0, 1.0], [1.0, 0.5], [1.0, 2.0]]
    """
    chain = _chain(network)
    return _products(network, chain, pull) if chain else _programmes(network, pull, only)


def _chain(network: Network) -> list[tuple[int, bool]] | None:
    """The ropes in the order in which one strand follows the other from the load, each with whether it is turned
    round; None where tension can divide."""
    load = network.load.id
    visits = Counter(name for rope in network.ropes for name in rope.route)
    ends = Counter(name for rope in network.ropes for name in (rope.route[0], rope.route[-1]))
    free = [name for name, node in network.nodes.items() if node.travels and visits[name]]
    if visits[load] != 1 or any(visits[name] != 2 or ends[name] != 2 for name in free):
        return None
    at, left, found = load, set(range(len(network.ropes))), []
    while at == load or at in free:
        here = [n for n in left if at in (network.ropes[n].route[0], network.ropes[n].route[-1])]
        if len(here) != 1:
            return None
        route = network.ropes[here[0]].route
        found.append((here[0], route[0] != at))
        left.remove(here[0])
        at = route[0] if route[0] != at else route[-1]
    return None if left else found


def _products(network: Network, chain: list[tuple[int, bool]], pull: Range) -> Held:
    """Along a chain each pass adds or takes its share by itself; edges in series from the load do so together, as where a rope runs."""
    places = {one: number for number, one in enumerate(network.passes)}
    first = network.ropes[chain[0][0]]
    strand = network.strands[chain[0][0]][0 if first.route[0] == network.load.id else -1]
    share = abs(dot(strand.along, network.load.axis)) or 1.0
    order = [(number, turned, list(network.ropes[number].passes[:: -1 if turned else 1])) for number, turned in chain]
    together = dict(network.series)
    lost = np.array([one.eta.low for one in network.passes])
    groups = [0 if one.id in together else 1 + number for number, one in enumerate(network.passes)]
    group = np.unique(groups, return_inverse=True)[1].astype(int)
    opened = np.zeros(group.max(initial=-1) + 1, dtype=bool)
    np.logical_or.at(opened, group, lost < 1)

    def rows_at(levels: Array) -> Array:
        more = lost ** -levels[:, group]
        found = np.zeros((len(levels), sum(len(row) for row in network.strands)))
        carried = np.full(len(levels), 1 / share)
        for number, turned, passes in order:
            row = [carried]
            for one in passes:
                row.append(row[-1] * more[:, places[one]])
            carried, begin = row[-1], network.starts[number]
            found[:, begin : begin + len(row)] = np.column_stack(row[::-1] if turned else row)
        return found

    levels = corners_of(opened, rows_at)
    return Held(rows_at(levels), pull, levels[:, group], {})


def _programmes(network: Network, pull: Range, only: Collection[int] | None) -> Held:
    from scipy.optimize import linprog

    firm, rough, rows = _conditions(network)
    count = firm.shape[1]
    load = rows[network.load.id]
    bounds = (np.vstack([rough, load, -load]), np.concatenate([np.zeros(len(rough)), [pull.high, -pull.low]]))

    def end(goal: Array) -> float:
        found = linprog(goal, A_ub=bounds[0], b_ub=bounds[1], A_eq=firm if len(firm) else None,
                        b_eq=np.zeros(len(firm)) if len(firm) else None, bounds=(0, None), method="highs")  # fmt: skip
        if found.status != 0:
            raise refuse("ropes", "nothing here can balance the load", "set a hitch, lock a device, or tie an end")
        return float(goal @ found.x)

    middle = _smooth(network, firm, load, pull.expected)
    flat: list[tuple[float, float, float]] = []
    for index in range(count):
        if only is not None and index not in only:
            flat.append(_UNASKED)
            continue
        goal = np.zeros(count)
        goal[index] = 1.0
        low, high = end(goal), -end(-goal)
        flat.append((min(max(float(middle[index]), low), max(low, high)), low, max(low, high)))
    passed = {one.id: Range(one.eta.low, 1.0, 1 / one.eta.low) for one in network.passes} or {"": exactly(1.0)}
    ends = np.array(flat).T
    return Held(ends, exactly(1.0), np.zeros((len(ends), len(network.passes))), passed)


def _smooth(network: Network, firm: Array, load: Array, pull: float) -> Array:
    """Tensions without friction, shared as evenly as balance allows (least squares)."""
    equal, column = [], 0
    for rope, row in zip(network.ropes, network.strands, strict=True):
        for index in range(len(rope.passes)):
            line = np.zeros(firm.shape[1])
            line[column + index], line[column + index + 1] = 1.0, -1.0
            equal.append(line)
        column += len(row)
    matrix = np.vstack([*equal, *firm, load])
    right = np.concatenate([np.zeros(len(matrix) - 1), [pull]])
    return np.asarray(np.linalg.lstsq(matrix, right, rcond=None)[0])


def _conditions(network: Network) -> tuple[Array, Array, dict[str, Array]]:
    """Balance of free nodes (rows = 0), friction at passes (rows ≤ 0), and each node's pull along its axis."""
    count = sum(len(row) for row in network.strands)
    pulls = {name: np.zeros(count) for name, node in network.nodes.items() if node.axis != STILL}
    rough, column = [], 0
    for rope, row in zip(network.ropes, network.strands, strict=True):
        for index, strand in enumerate(row):
            for name, sign in ((strand.start, 1.0), (strand.end, -1.0)):
                if name in pulls:
                    pulls[name][column + index] += sign * dot(strand.along, network.nodes[name].axis)
        for index, one in enumerate(rope.passes):
            for here, there in ((index, index + 1), (index + 1, index)):
                line = np.zeros(count)
                line[column + here], line[column + there] = one.eta.low, -1.0
                rough.append(line)
        column += len(row)
    firm = [pulls[name] for name in network.travellers if np.abs(pulls[name]).any()]
    empty = np.zeros((0, count))
    return np.vstack([empty, *firm]), np.vstack([empty, *rough]), pulls
