"""What is built stands where it was built: props and guys on one head, followed from the built state as the load comes on.

Props push and never pull, so the elastic energy is not convex: beyond a collapse there are other balances, below the ground or
behind the anchors, that no frame reaches. The head is therefore followed: with the built place held, then let go by parts while the load
comes on by parts, each balance sought from the one before. Where a balance is not firm (the energy curves down in some
direction), or the head has gone further than a frame is braced for, it has come down (any text on stability)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.mechanics.legs import Hangs, descended
from rigging.mechanics.vectors import Array

# Beyond this, and still in balance, it is no longer the frame that was built.
FAR_M = 2.0
_FEW, _STIRS_M = 4, 0.04
_PARTS, _STEPS, _STEP_M = 16, 50, 0.05
_BALANCED_KN = 1e-4


@dataclass(frozen=True)
class Followed:
    """Where the head came to and what each element bears (as in `Hangs`), and which states stand (b,)."""

    found: Hangs
    stands: Array


def follow(to: Array, ea: Array, rest: Array, load: Array, built: Array, acts: Array) -> Followed:
    """Many states of one frame, followed side by side; parameters as in `legs.hang_all`, `built` (3,) the head's place.

    In a few parts first: where the head hardly stirs in any of them, more would find the same.
    """
    found = _followed(to, ea, rest, load, built, acts, _FEW, _STIRS_M)
    again = np.flatnonzero(np.logical_not(found.stands))
    if not len(again):
        return found
    more = _followed(to, ea[again], rest[again], load[again], built, acts, _PARTS, FAR_M)
    found.found.points[again], found.found.tensions[again] = more.found.points, more.found.tensions
    found.stands[again] = more.stands
    return found


def _followed(
    to: Array, ea: Array, rest: Array, load: Array, built: Array, acts: Array, parts: int, stirs_m: float
) -> Followed:
    start = np.broadcast_to(built, (len(ea), 3))
    point, stands = start.copy(), np.ones(len(ea), dtype=bool)
    # What somebody holds the head with while its guys are tightened and the load is not on.
    held = descended(to, ea, rest, np.zeros_like(load), acts, start, steps=0).gradients
    tension = np.zeros(ea.shape)
    for part in np.linspace(0, 1, parts + 1)[1:]:
        rows = np.flatnonzero(stands)
        if not len(rows):
            break
        before, carried = point[rows], part * load[rows] + (1 - part) * held[rows]
        found = descended(to, ea[rows], rest[rows], carried, acts, before, np.full(len(rows), _STEP_M), _STEPS)
        near = np.linalg.norm(found.points - start[rows], axis=1) <= FAR_M
        near &= np.linalg.norm(found.points - before, axis=1) <= stirs_m
        point[rows], tension[rows] = found.points, found.tensions
        stands[rows] = np.all([found.unbalance < _BALANCED_KN, found.firm, near], axis=0)
    return Followed(Hangs(point, tension), stands)
