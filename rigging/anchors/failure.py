"""A leg goes: the way the load falls onto what is left, and the peak there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig
from rigging.anchors.states import States
from rigging.mechanics.dynamics import Catch, catch
from rigging.mechanics.legs import hang_all
from rigging.mechanics.sliding import slide_all
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, spanning

_GRID = np.concatenate([[0.01], np.linspace(0.1, 2.0, 10), np.geomspace(2.5, 14.0, 7)])


@dataclass(frozen=True)
class Peak:
    """Peak pull as a leg goes, the free drop, and how far a clutch slips; the share of the peak on each leg (n,)."""

    force_n: Range
    drop_m: Range
    slips_m: float
    shares: Array


def peaks(rig: AnchorRig, states: States, pulling: Pulling, removals: list[int]) -> dict[int, Peak]:
    """The peak for each leg that may go, at good, expected and bad luck: soft and light to stiff and heavy."""
    unit = states.unit[states.straight]
    weights = (pulling.force_n.low, pulling.force_n.expected, pulling.force_n.high)
    loads = np.concatenate([np.maximum(weight, 1.0) * _GRID for weight in weights]) / 1000
    found = _places(rig, states, unit, loads, removals)
    answer = {}
    for row, gone in enumerate(removals):
        points, forces = found[0][row], found[1][row]
        before = states.points[0, states.straight, 0]
        along = ((points - before) @ unit).reshape(3, -1)
        catches = [_catch(along[level], weights[level], level, pulling) for level in range(3)]
        share = forces.reshape(3, len(_GRID), -1)[1]
        at = int(np.searchsorted(_GRID, catches[1].peak_n / max(weights[1], 1.0)).clip(0, len(_GRID) - 1))
        answer[gone] = Peak(
            spanning(*(one.peak_n for one in catches)),
            spanning(*(one.drop_m for one in catches)),
            max(one.slips_m for one in catches),
            share[at] / (max(weights[1], 1.0) * _GRID[at]),
        )
    return answer


def _catch(along_m: Array, weight_n: float, level: int, pulling: Pulling) -> Catch:
    weight = max(weight_n, 1.0)
    force = weight * _GRID
    stiff = pulling.rope_n_per_m
    soft = 1 / (stiff.low, stiff.expected, stiff.high)[level] if stiff else 0.0
    slip = pulling.slip_n
    slips_at = (slip.low, slip.expected, slip.high)[level] if slip else None
    return catch(force, along_m + force * soft, weight * soft, weight, slips_at)


def _places(rig: AnchorRig, states: States, unit: Array, loads: Array, removals: list[int]) -> tuple[Array, Array]:
    """Where the point lies (r, k, 3) with each leg gone under each load, and the forces on the legs there (r, k, n) in newtons."""
    level = np.repeat(np.arange(3), len(loads) // 3)
    each, load = len(loads), loads[:, None] * unit
    start = np.repeat(states.points[[1 + gone for gone in removals], states.straight, 0], each, axis=0)
    every = np.tile(load, (len(removals), 1))
    if rig.slides:
        there = 1.0 - np.eye(rig.count)[removals]
        ea = np.tile(rig.whole.ea_kn[:, : rig.count].mean(axis=1)[level], len(removals))
        cord = np.repeat([rig.slack_cord_m(gone) for gone in removals], each)
        slid = slide_all(rig.whole.to[: rig.count], np.repeat(there, each, axis=0), ea, cord, every, start)
        return slid.points.reshape(-1, each, 3), slid.tensions.reshape(-1, each, rig.count) * 1000
    left = [rig.without(gone) for gone in removals]
    to = np.repeat(np.stack([one.to for one in left]), each, axis=0)
    ea = np.concatenate([one.ea_kn[level] for one in left])
    rest = np.concatenate(
        [one.rest_m[level] + rig.reaches_on_m(gone) for gone, one in zip(removals, left, strict=True)]
    )
    hung = hang_all(to, ea, rest, every, start, left[0].acts)
    tensions = hung.tensions.reshape(len(removals), each, -1)
    forces = np.stack([rig.bears(one, tensions[row]) for row, one in enumerate(left)])
    return hung.points.reshape(-1, each, 3), forces
