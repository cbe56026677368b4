"""Friction statics: tension in every strand per unit of pull at the hand.

At each pass the strand that rope runs from carries η times the strand it runs to; forces balance on each
moving node along its axis. Both are linear in the tensions."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.motion import Motion
from rigging.mechanics.network import Grip, Network
from rigging.mechanics.vectors import STILL, Array, Vector, dot
from rigging.quantities.faults import refuse

Direction = int  # +1 while the load rises, -1 while it goes down
_STILL = 1e-9


@dataclass(frozen=True)
class Tensions:
    """`strands[rope][index]` and `load` per unit of pull at the hand (dimensionless)."""

    strands: tuple[tuple[float, ...], ...]
    load: float


def solve_tensions(network: Network, motion: Motion, grip: Grip, direction: Direction = 1) -> Tensions:
    """Tensions for a unit pull at the hand.

    Raises
    ------
    Refused
        If a strand would have to push.

    Examples
    --------
    A 2:1 whose block passes on 0.9: the hand's 1 goes round it, 0.9 of it would run on if the end were not tied. The
    tied strand carries 0.9 of the hand's, so 1.9 arrives at the load.

    >>> from rigging.mechanics.motion import solve_motion
    >>> from rigging.mechanics.network import Node, Pass, Rope
    >>> from rigging.quantities.ranges import exactly
    >>> nodes = [Node("A", "anchor", (9, 0, 0)), Node("L", "load", (0, 0, 0), (1, 0, 0)),
    ...          Node("H", "hands", (20, 0, 0), (1, 0, 0))]
    >>> rope = Rope(("A", "L", "H"), (Pass("L", "L", exactly(0.9)),))
    >>> network = Network({n.id: n for n in nodes}, (rope,))
    >>> found = solve_tensions(network, solve_motion(network), "expected")
    >>> round(found.load, 3), [round(t, 3) for t in found.strands[0]]
    (1.9, [0.9, 1.0])
    """
    return solve_cases(network, motion, (grip,), direction)[0]


def solve_cases(network: Network, motion: Motion, grips: Sequence[Grip], direction: Direction = 1) -> list[Tensions]:
    """As `solve_tensions`, for several throws of luck at once."""
    passes = [one for rope in network.ropes for one in rope.passes]
    keeps = np.array([[one.keeps(grip) for one in passes] for grip in grips]).reshape(len(grips), len(passes))
    return _solved(network, motion, keeps, direction)


def solve_with(
    network: Network, motion: Motion, keeps: Sequence[dict[str, float]], direction: Direction = 1
) -> list[Tensions]:
    """As `solve_tensions`, with the share each pass (by id) passes on given outright, for several rows at once."""
    rows = [[row[one.id] for rope in network.ropes for one in rope.passes] for row in keeps]
    return _solved(network, motion, np.array(rows).reshape(len(keeps), -1), direction)


def _solved(network: Network, motion: Motion, keeps: Array, direction: Direction) -> list[Tensions]:
    """One linear system for each row of `keeps` (c, passes), worked out side by side."""
    balance, load = network.once(_balance)
    matrix = np.repeat(balance[None], len(keeps), axis=0)
    sources, targets, still = [], [], []
    column = 0
    for runs in motion.runs:
        for run in runs:
            ahead = run * direction >= 0
            sources.append(column if ahead else column + 1)
            targets.append(column + 1 if ahead else column)
            # A pass that no rope runs through keeps both strands alike: friction there is undecided.
            still.append(abs(run) <= _STILL)
            column += 1
        column += 1
    lines = np.arange(len(sources))
    matrix[:, lines, sources] = 1.0
    matrix[:, lines, targets] = -np.where(still, 1.0, keeps)
    right = np.zeros((len(keeps), len(balance), 1))
    right[:, -1] = 1.0
    try:
        tensions = np.linalg.solve(matrix, right)[..., 0]
    except np.linalg.LinAlgError:
        tensions = np.full((len(keeps), len(balance)), -1.0)
    if (tensions < -1e-9).any():
        raise refuse("ropes", "a strand would have to push", "order the moving nodes so that every strand pulls")
    found = []
    for row, at_load in zip(tensions.tolist(), (tensions @ load).tolist(), strict=True):
        values = iter(row)
        rows = tuple(tuple(itertools.islice(values, len(strands))) for strands in network.strands)
        found.append(Tensions(rows, at_load))
    return found


def _balance(network: Network) -> tuple[np.ndarray, np.ndarray]:
    """Force-balance rows of the moving nodes and of the hand below empty rows for the passes; the load's row."""
    passes = sum(len(rope.passes) for rope in network.ropes)
    count = passes + len(network.ropes)
    pulls = {name: np.zeros(count) for name, node in network.nodes.items() if node.axis != STILL}
    for column, strand in enumerate(itertools.chain.from_iterable(network.strands)):
        for name, sign in ((strand.start, 1.0), (strand.end, -1.0)):
            if name in pulls:
                pulls[name][column] += sign * dot(strand.along, network.nodes[name].axis)
    moving = [pulls[name] for name in network.travellers if network.nodes[name].kind != "hands"]
    hand = [np.abs(pulls[node.id]) for node in network.of_kind("hands")]
    return np.vstack([np.zeros((passes, count)), *moving, *hand]), pulls[network.load.id]


def node_forces(network: Network, strands: tuple[tuple[float, ...], ...]) -> dict[str, Vector]:
    """Vector sum of the strand tensions at every node, in the unit of the tensions: the strands gone through once."""
    found = {name: [0.0, 0.0, 0.0] for name in network.nodes}
    for row, values in zip(network.strands, strands, strict=True):
        for strand, tension in zip(row, values, strict=True):
            x, y, z = strand.along
            start, end = found[strand.start], found[strand.end]
            start[0] += x * tension
            start[1] += y * tension
            start[2] += z * tension
            end[0] -= x * tension
            end[1] -= y * tension
            end[2] -= z * tension
    return {name: (x, y, z) for name, (x, y, z) in found.items()}
