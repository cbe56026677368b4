"""A leg goes: the way the load falls onto what is left, and the peak there."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import LEVELS, AnchorRig
from rigging.mechanics.bounds import UNASKED
from rigging.mechanics.built import follow
from rigging.mechanics.dynamics import catch
from rigging.mechanics.legs import Hangs, hang_all
from rigging.mechanics.sliding import slide_all
from rigging.mechanics.vectors import Array
from rigging.quantities.kept import kept
from rigging.quantities.ranges import Range

_GRID = np.concatenate([[0.01], np.linspace(0.1, 2.0, 10), np.geomspace(2.5, 14.0, 7)])


@dataclass(frozen=True)
class Peak:
    """Peak pull as a leg goes, the free drop, how far a clutch slips at most, and what comes on each leg (n)."""

    force_n: Range
    drop_m: Range
    slips_m: float
    on_legs: tuple[Range, ...]


@kept(2_000)
def peaks(rig: AnchorRig, pulling: Pulling) -> dict[int, Peak]:
    """The peak for each leg that may go, over every corner of pull, rope and slip, and legs soft or stiff together or one against
    the others.

    Raises
    ------
    Refused
        If what is left finds no balance.
    """
    levels = _levels(rig)
    weights = [max(1.0, getattr(pulling.force_n, end)) for end in ("expected", "low", "high")]
    curve = weights[2] * _GRID
    before = _places(rig, None, levels, np.array(weights), pulling.unit)[0]
    answer = {}
    for gone in rig.removable:
        points, forces = _places(rig, gone, levels, curve, pulling.unit)
        # What pushes and comes down under more is no stay: up to there it is asked, and if that is less than the pull, not at all.
        comes_down = np.isnan(forces).any(axis=(0, 2))
        up_to = int(comes_down.argmax()) if comes_down.any() else len(curve)
        if up_to < 2 or curve[up_to - 1] < weights[2] or np.isnan(before).any():
            continue
        here = curve[:up_to]
        catches, on_legs = [], []
        for number, weight, soft, slip in _cases(pulling, len(levels)):
            start = before[number, weight]
            along = (points[number] - start) @ pulling.unit
            found = catch(here, along[:up_to] + here * soft, weights[weight] * soft, weights[weight], slip)
            catches.append(found)
            on_legs.append(_at(here, forces[number, :up_to], found.peak_n))
        answer[gone] = Peak(
            _range([one.peak_n for one in catches]), _range([one.drop_m for one in catches]),
            max(one.slips_m for one in catches), tuple(_range(list(row)) for row in np.array(on_legs).T),
        )  # fmt: skip
    return answer


def _levels(rig: AnchorRig) -> Array:
    """Stiffness of each leg (p, n), 0 low to 2 high: as expected, all soft, all stiff, and each by itself against the others."""
    if rig.slides:
        return np.repeat([[1], [0], [2]], rig.count, axis=1)
    alone = np.eye(rig.count, dtype=int) * 2
    together = np.repeat([[0], [2]], rig.count, axis=1)
    corners = np.unique(np.concatenate([together, alone, 2 - alone]), axis=0)
    return np.concatenate([np.ones((1, rig.count), dtype=int), corners])


def _cases(pulling: Pulling, count: int) -> Iterator[tuple[int, int, float, float | None]]:
    """Legs' levels, weight, give of the rope in metres a newton, and slip: as expected, then every corner."""
    stiff, slip = pulling.rope_n_per_m, pulling.slip_n
    yield 0, 0, 1 / stiff.expected if stiff else 0.0, slip.expected if slip else None
    softs = (1 / stiff.low, 1 / stiff.high) if stiff else (0.0,)
    slips = (slip.low, slip.high) if slip else (None,)
    yield from itertools.product(range(1, count), (1, 2), softs, slips)


def _at(curve: Array, forces: Array, peak_n: float) -> Array:
    """What the legs bear (n,) when a peak comes on the point."""
    over = max(1.0, peak_n / float(curve[-1]))
    return over * np.array([np.interp(peak_n / over, curve, row) for row in forces.T])


def _range(values: list[float]) -> Range:
    """The first as expected; the least may lie between what was asked, a little lower; the most is at a corner, and no more than what slips."""
    low, high = min(values), max(values)
    little = UNASKED * (high - low) if math.isfinite(high - low) else 0.0
    return Range(max(0.0, low - little), values[0], high)


def _places(rig: AnchorRig, gone: int | None, levels: Array, loads_n: Array, unit: Array) -> tuple[Array, Array]:
    """Where the point lies (p, k, 3) under each load and the forces (p, k, n) on the legs in newtons, for each set of stiffnesses,
    with a leg gone or none."""
    patterns, each = len(levels), len(loads_n)
    every = np.tile(loads_n[:, None] * unit / 1000, (patterns, 1))
    if rig.slides:
        there = np.array([0.0 if index == gone else 1.0 for index in range(rig.count)])
        ea = rig.strand_ea_kn[np.repeat(levels[:, 0], each)]
        at = [LEVELS[level] for level in levels[:, 0]]
        cord = np.repeat([rig.slack_cord_m(gone, level) for level in at], each)
        knots = np.repeat([rig.knots_m(level) for level in at], each, axis=0)
        start = np.broadcast_to(rig.point, (len(every), 3))
        slid = slide_all(
            rig.whole.to[: rig.count],
            np.tile(there * rig.strands, (len(every), 1)),
            ea,
            cord,
            every,
            start,
            np.array(rig.strands, dtype=float),
            knots,
        )
        return slid.points.reshape(patterns, each, 3), slid.tensions.reshape(patterns, each, rig.count) * 1000
    left = rig.without(gone)
    owned = left.owner >= 0
    level = np.ones((patterns, len(left.owner)), dtype=int)
    level[:, owned] = levels[:, left.owner[owned]]
    columns = np.arange(len(left.owner))
    ea = np.repeat(left.ea_kn[level, columns], each, axis=0)
    rest = np.repeat(left.rest_m[level, columns] + rig.reaches_on_m(gone), each, axis=0)
    if np.any(left.acts < 0):
        followed = follow(left.to, ea, rest, every, rig.point, left.acts)
        hung, down = followed.found, np.logical_not(followed.stands)[:, None]
        hung = Hangs(np.where(down, np.nan, hung.points), np.where(down, np.nan, hung.tensions))
    else:
        hung = hang_all(left.to, ea, rest, every, np.broadcast_to(rig.point, (len(every), 3)), left.acts)
    tensions = hung.tensions.reshape(patterns, each, -1)
    return hung.points.reshape(patterns, each, 3), rig.bears(left, tensions)
