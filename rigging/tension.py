"""Friction statics: tension in every strand per unit of pull at the hand.

At each pass the strand that rope runs from carries η times the strand it runs to; forces balance on each
moving node along its axis. Both are linear in the tensions."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.faults import refuse
from rigging.motion import Motion
from rigging.network import Grip, Network, Vector

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
    """
    return solve_with(network, motion, {p.id: p.keeps(grip) for rope in network.ropes for p in rope.passes}, direction)


def solve_with(network: Network, motion: Motion, keeps: dict[str, float], direction: Direction = 1) -> Tensions:
    """As `solve_tensions`, with the share each pass (by id) passes on given outright."""
    starts = np.cumsum([0] + [len(row) for row in network.strands])
    count = int(starts[-1])
    matrix, right = np.zeros((count, count)), np.zeros(count)
    line = _pass_equations(network, motion, keeps, direction, starts, matrix)
    pulls = _node_pulls(network, starts, count)
    for node in network.of_kind("moving"):
        matrix[line] = pulls[node.id]
        line += 1
    hand = next(iter(network.of_kind("hand"))).id
    matrix[line] = np.abs(pulls[hand])
    right[line] = 1.0
    tensions = _positive(np.linalg.solve(matrix, right))
    rows = tuple(tuple(tensions[starts[i] : starts[i + 1]].tolist()) for i in range(len(network.ropes)))
    return Tensions(rows, float(pulls[network.load.id] @ tensions))


def _pass_equations(
    network: Network,
    motion: Motion,
    keeps: dict[str, float],
    direction: Direction,
    starts: np.ndarray,
    matrix: np.ndarray,
) -> int:
    line = 0
    for number, rope in enumerate(network.ropes):
        for index, one in enumerate(rope.passes):
            run = motion.runs[number][index] * direction
            before, after = starts[number] + index, starts[number] + index + 1
            source, target = (before, after) if run >= 0 else (after, before)
            matrix[line, source] = 1.0
            # A pass that no rope runs through keeps both strands alike: friction there is undecided.
            matrix[line, target] = -(keeps[one.id] if abs(run) > _STILL else 1.0)
            line += 1
    return line


def _node_pulls(network: Network, starts: np.ndarray, count: int) -> dict[str, np.ndarray]:
    """For each travelling node, the share of every tension that acts along its axis."""
    pulls = {name: np.zeros(count) for name, node in network.nodes.items() if node.axis != (0.0, 0.0)}
    for number, row in enumerate(network.strands):
        for strand in row:
            column = starts[number] + strand.index
            for name, sign in ((strand.start, 1.0), (strand.end, -1.0)):
                if name in pulls:
                    axis = network.nodes[name].axis
                    pulls[name][column] += sign * (strand.along[0] * axis[0] + strand.along[1] * axis[1])
    return pulls


def _positive(tensions: np.ndarray) -> np.ndarray:
    if (tensions < -1e-9).any():
        raise refuse("ropes", "a strand would have to push", "order the moving nodes so that every strand pulls")
    return tensions


def node_force(network: Network, strands: tuple[tuple[float, ...], ...], node: str) -> Vector:
    """Vector sum of the strand tensions at `node`, in the unit of the tensions."""
    x = z = 0.0
    for row, values in zip(network.strands, strands, strict=True):
        for strand, tension in zip(row, values, strict=True):
            sign = (strand.start == node) - (strand.end == node)
            x += sign * strand.along[0] * tension
            z += sign * strand.along[1] * tension
    return x, z
