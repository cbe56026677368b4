"""A leg goes: the way the load falls onto what is left, and the peak there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig
from rigging.anchors.states import States
from rigging.dynamics import Catch, catch
from rigging.legs import Array, hang_all
from rigging.ranges import Range, spanning
from rigging.sliding import slide_all

_GRID = np.concatenate([[0.002], np.linspace(0.1, 2.0, 10), np.geomspace(2.5, 14.0, 7)])


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


def _places(
    rig: AnchorRig, states: States, unit: Array, loads: Array, removals: list[int]
) -> tuple[list[Array], list[Array]]:
    """Where the point lies under each load with each leg gone, and the forces on the legs there in newtons."""
    third = len(loads) // 3
    level = np.repeat(np.arange(3), third)
    points, forces = [], []
    for gone in removals:
        start = np.broadcast_to(states.points[1 + gone, states.straight, 0], (len(loads), 3))
        load = loads[:, None] * unit
        if rig.slides:
            there = np.array([0.0 if index == gone else 1.0 for index in range(rig.count)])
            ea = rig.whole.ea_kn[:, : rig.count].mean(axis=1)[level]
            cord = np.full(len(loads), rig.slack_cord_m(gone))
            slid = slide_all(rig.whole.to[: rig.count], np.tile(there, (len(loads), 1)), ea, cord, load, start)
            points.append(slid.points)
            forces.append(slid.tensions * 1000)
            continue
        one = rig.without(gone)
        reach = rig.front_m if rig.arrangement.scheme == "back-tied" and gone == 0 else 0.0
        rest = np.broadcast_to(one.rest_m + reach, (len(loads), len(one.rest_m)))
        hung = hang_all(one.to, one.ea_kn[level], rest, load, start, one.acts)
        points.append(hung.points)
        forces.append(np.abs(hung.tensions @ one.spread.T) * 1000)
    return points, forces
