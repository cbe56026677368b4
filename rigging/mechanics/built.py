"""What is built stands where it was built: props and guys on one head, followed from the built state as the load comes on.

Props push and never pull, so the elastic energy is not convex: beyond a collapse there are other balances, below the ground or
behind the anchors, that no frame reaches. The head is therefore followed: with the built place held, then let go by parts while the load
comes on by parts, each balance sought from the one before. Where a balance is not firm (the energy curves down in some
direction), or the head has gone further than a frame is braced for, it has come down (any text on stability)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rigging.mechanics.legs import BALANCED_KN, FIRM, Hangs
from rigging.mechanics.vectors import Array

# Beyond this, and still in balance, it is no longer the frame that was built.
FAR_M = 2.0
_FEW, _STIRS_M = 4, 0.04
_PARTS, _STEPS, _STEP_M = 16, 50, 0.05
_ENOUGH_KN = 1e-4


@dataclass(frozen=True)
class Followed:
    """Where the head came to and what each element bears (as in `Hangs`), and which states stand (b,)."""

    found: Hangs
    stands: NDArray[np.bool_]


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
    from rigging.mechanics.descent import followed

    stiff, rest, load, acts, built = (
        np.array(one, dtype=float, order="C") for one in (ea / rest, rest, load, acts, built)
    )
    point, tension, stands = followed(
        np.array(to if to.ndim == 3 else to[None], dtype=float, order="C"), stiff, rest, load, acts, built, parts, stirs_m, FAR_M, _STEP_M, _STEPS,
        BALANCED_KN, _ENOUGH_KN, FIRM,
    )  # fmt: skip
    return Followed(Hangs(point, tension), stands)
