"""What is built stands where it was built: props and guys on one head, followed from the built state as the load comes on.

Props push and never pull, so the elastic energy is not convex: beyond a collapse there are other balances, below the ground or
behind the anchors, that no frame reaches. The head is therefore followed: with the built place held, then let go by parts while the load
comes on by parts, each balance sought from the one before. Where a balance is not firm (the energy curves down in some
direction), or the head has gone further than a frame is braced for, it has come down (any text on stability)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.mechanics.legs import Hangs, Legs, descended
from rigging.mechanics.vectors import Array

# Beyond this, and still in balance, it is no longer the frame that was built.
FAR_M = 2.0
_PARTS, _STEPS, _STEP_M = 16, 50, 0.05
_BALANCED_KN, _FIRM = 1e-4, 1e-9


@dataclass(frozen=True)
class Followed:
    """Where the head came to and what each element bears (as in `Hangs`), and which states stand (b,)."""

    found: Hangs
    stands: Array


def follow(to: Array, ea: Array, rest: Array, load: Array, built: Array, acts: Array) -> Followed:
    """Many states of one frame, followed side by side; parameters as in `legs.hang_all`, `built` (3,) the head's place."""
    start = np.broadcast_to(built, (len(ea), 3))
    point, stands = start.copy(), np.ones(len(ea), dtype=bool)
    # What somebody holds the head with while its guys are tightened and the load is not on.
    held = Legs(to, ea, rest, np.zeros_like(load), acts).measure(point).gradient
    tension = np.zeros(ea.shape)
    for part in np.linspace(0, 1, _PARTS + 1)[1:]:
        rows = np.flatnonzero(stands)
        if not len(rows):
            break
        state = Legs(to, ea[rows], rest[rows], part * load[rows] + (1 - part) * held[rows], acts)
        point[rows], at = descended(state, point[rows], np.full(len(rows), _STEP_M), _STEPS)
        firm = np.linalg.eigvalsh(at.hessian)[:, 0] > _FIRM * state.stiff.max(axis=1)
        near = np.linalg.norm(point[rows] - start[rows], axis=1) <= FAR_M
        tension[rows] = at.tension
        stands[rows] = (at.unbalance < _BALANCED_KN) & firm & near
    return Followed(Hangs(point, tension), stands)
