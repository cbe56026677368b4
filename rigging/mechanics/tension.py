"""Friction statics: tension in every strand per unit of pull at the hand.

At each pass the strand that rope runs from carries η times the strand it runs to; forces balance on each
moving node along its axis. Along one piece of rope that leaves one unknown, its first strand; what is left are as many
balances as there are pieces."""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.bounds import Box, corners_of
from rigging.mechanics.motion import Motion
from rigging.mechanics.network import Network
from rigging.mechanics.vectors import STILL, Array, dot
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range

Direction = int  # +1 while the load rises, -1 while it goes down
_STILL = 1e-9


@dataclass(frozen=True)
class Tensions:
    """`strands[rope][index]` and `load` per unit of pull at the hand (dimensionless)."""

    strands: tuple[tuple[float, ...], ...]
    load: float


def solve_tensions(network: Network, motion: Motion, direction: Direction = 1) -> Tensions:
    """Tensions for a unit pull at the hand, every pass as expected.

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
    >>> found = solve_tensions(network, solve_motion(network))
    >>> round(found.load, 3), [round(t, 3) for t in found.strands[0]]
    (1.9, [0.9, 1.0])
    """
    return solve_with(network, motion, [{}], direction)[0]


def solve_with(
    network: Network, motion: Motion, keeps: Sequence[dict[str, float]], direction: Direction = 1
) -> list[Tensions]:
    """As `solve_tensions`, with the share that some passes (by id) pass on given outright, for several rows at once."""
    rows = [[row.get(one.id, one.eta.expected) for one in network.passes] for row in keeps]
    tensions, load = solve_rows(network, motion, np.array(rows).reshape(len(keeps), -1), direction)
    found = []
    for row, at_load in zip(tensions.tolist(), load.tolist(), strict=True):
        values = iter(row)
        strands = tuple(tuple(itertools.islice(values, len(one))) for one in network.strands)
        found.append(Tensions(strands, at_load))
    return found


def shares(network: Network, motion: Motion) -> list[Range]:
    """What each pass passes on; an edge over which no rope runs may carry part of the strand beyond it, or add to it."""
    return [
        Range(one.eta.low, 1.0, 1 / one.eta.low) if still and network.nodes[one.node].kind == "edge" else one.eta
        for one, still in zip(network.passes, still_passes(motion), strict=True)
    ]


def still_passes(motion: Motion) -> list[bool]:
    """Through which passes no rope runs."""
    return [abs(run) <= _STILL for runs in motion.runs for run in runs]


def solve_rows(
    network: Network, motion: Motion, keeps: Array, direction: Direction = 1, grips: Array | None = None
) -> tuple[Array, Array]:
    """Tensions for a unit pull at the hand, for many rows at once.

    Parameters
    ----------
    keeps : (c, k) the share that each pass passes on, rope by rope in order
    grips : (c, k) where no rope runs over an edge, what the strand after it is of the one before (left out, they are alike)

    Returns
    -------
    Tensions (c, s) of all strands, rope by rope in order, and the pull (c,) on the load along its axis.

    Raises
    ------
    Refused
        If a strand would have to push.
    """
    balance, load = network.once(_balance)
    rows = len(keeps)
    first = _over_first(network, motion, keeps, direction, grips)
    matrix = np.add.reduceat(balance[None] * first[:, None, :], network.starts, axis=2)
    if matrix.shape[1] != matrix.shape[2]:
        problem = "its pieces bear side by side: balance alone does not say what each of them bears"
        raise refuse("ropes", problem, "leave one of two that run alike out, or lead them to nodes of their own")
    right = np.zeros((rows, len(balance), 1))
    right[:, -1] = 1.0
    try:
        ends = np.linalg.solve(matrix, right)[..., 0]
    except np.linalg.LinAlgError:
        ends = np.full((rows, len(balance)), -1.0)
    tensions = first * np.repeat(ends, [len(row) for row in network.strands], axis=1)
    if not (tensions >= -1e-9).all():
        raise refuse("ropes", "a strand would have to push", "order the moving nodes so that every strand pulls")
    return tensions, tensions @ load


def _over_first(network: Network, motion: Motion, keeps: Array, direction: Direction, grips: Array | None) -> Array:
    """What each strand carries over the first strand of its piece (c, s)."""
    found = np.ones((len(keeps), sum(len(row) for row in network.strands)))
    column = taken = 0
    for rope, runs in zip(network.ropes, motion.runs, strict=True):
        for one, run in zip(rope.passes, runs, strict=True):
            share = keeps[:, taken]
            if abs(run) > _STILL:
                more = 1 / share if run * direction >= 0 else share
            else:
                # Friction is undecided where no rope runs: along a lip it may go either way.
                lip = network.nodes[one.node].kind == "edge"
                more = grips[:, taken] if grips is not None and lip else np.ones(len(keeps))
            found[:, column + 1] = found[:, column] * more
            column, taken = column + 1, taken + 1
        column += 1
    return found


def _balance(network: Network) -> tuple[Array, Array]:
    """Force-balance rows of the moving nodes and of the hand; the load's row."""
    count = sum(len(row) for row in network.strands)
    pulls = {name: np.zeros(count) for name, node in network.nodes.items() if node.axis != STILL}
    for column, strand in enumerate(itertools.chain.from_iterable(network.strands)):
        for name, sign in ((strand.start, 1.0), (strand.end, -1.0)):
            if name in pulls:
                pulls[name][column] += sign * dot(strand.along, network.nodes[name].axis)
    moving = [pulls[name] for name in network.travellers if network.nodes[name].kind != "hands"]
    hand = [np.abs(pulls[node.id]) for node in network.of_kind("hands")]
    return np.vstack([*moving, *hand]), pulls[network.load.id]


def corner_rows(
    network: Network, motion: Motion, direction: Direction = 1, driven: bool = True
) -> tuple[Array, Array, Array]:
    """Tensions at the corners of the passes' ranges that bound every force of what runs; the first row as expected.

    Edges in series from the load turn together: what lies beyond them knows only what they pass on in all, and what lies between
    rises and falls with each.

    Parameters
    ----------
    driven : whether the hands' pull is what is given, as against a stuck load; else the load's

    Returns
    -------
    Levels (c, k) of the passes, −1 low and 1 high; tensions (c, s) per unit of pull at the hand; the pull (c,) on the load then.
    """
    box = Box.of(shares(network, motion))
    still = dict(zip((one.id for one in network.passes), still_passes(motion), strict=True))
    together = {id for id, _ in network.series if not still[id]}
    groups = [0 if one.id in together else 1 + number for number, one in enumerate(network.passes)]
    place = np.unique(groups, return_inverse=True)[1].astype(int)
    opened = np.zeros(place.max(initial=-1) + 1, dtype=bool)
    np.logical_or.at(opened, place, box.open)

    def figures(levels: Array) -> Array:
        values = box.at(levels[:, place])
        tensions, gains = solve_rows(network, motion, values, direction, values)
        rows = tensions if driven else tensions / gains[:, None]
        return np.column_stack([rows, gains, *(_sizes(network, rows))])

    levels = corners_of(opened, figures)[:, place]
    values = box.at(levels)
    return levels, *solve_rows(network, motion, values, direction, values)


def _sizes(network: Network, rows: Array) -> Iterator[Array]:
    """Force (c,) on what a rope goes round, pass by pass."""
    for begin, strands in zip(network.starts, network.strands, strict=True):
        for index, (before, after) in enumerate(itertools.pairwise(strands)):
            a, b = rows[:, begin + index], rows[:, begin + index + 1]
            yield np.sqrt(np.maximum(0.0, a * a + b * b - 2 * a * b * dot(before.along, after.along)))


def strand_ways(network: Network, names: Collection[str]) -> Array:
    """The direction (s, 3) in which each strand pulls on several nodes taken as one, zero where it does not."""
    found = np.zeros((sum(len(row) for row in network.strands), 3))
    for column, strand in enumerate(itertools.chain.from_iterable(network.strands)):
        for name, sign in ((strand.start, 1.0), (strand.end, -1.0)):
            if name in names:
                found[column] += sign * np.array(strand.along)
    return found
