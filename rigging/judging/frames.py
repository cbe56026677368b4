"""Frames: what is one, and how far inside its feet the pull on its head goes down."""

from __future__ import annotations

import numpy as np

from rigging.judging.anchors import AnchorState
from rigging.mechanics.vectors import Array
from rigging.site.features import kind_of

# Feet nearer than this stand in one place.
_ONE_PLACE_M = 1e-3


def is_frame(state: AnchorState) -> bool:
    return any(kind_of(leg.line.feature).pushes for leg in state.legs)


def inside_m(head: Array, pull: Array, feet: Array) -> float:
    """How far inside the polygon of its feet a pull on the head meets their plane, in metres; outside it is negative, and a pull
    that never comes down to them is far outside. Two feet make a line: the pull is never inside."""
    middle = feet.mean(axis=0)
    spread = feet - middle
    normal = np.linalg.svd(spread)[2][-1] if len(feet) > 2 else np.array([0.0, 0.0, 1.0])
    if np.linalg.norm(spread, axis=1).max() < _ONE_PLACE_M:
        return -1e3
    down = float(pull @ normal)
    height = float((head - middle) @ normal)
    if abs(down) < 1e-9 or down * height >= 0:
        return -1e3
    meets = head - pull * (height / down)
    longest = spread[np.linalg.norm(spread, axis=1).argmax()]
    axis = longest / np.linalg.norm(longest)
    across = np.cross(normal, axis)
    flat = np.stack([spread @ axis, spread @ across], axis=1)
    spot = np.array([(meets - middle) @ axis, (meets - middle) @ across])
    order = np.argsort(np.arctan2(flat[:, 1], flat[:, 0]))
    corners = flat[order]
    if len(corners) == 2:
        side = corners[1] - corners[0]
        gap = spot - corners[0]
        return -abs(float(side[0] * gap[1] - side[1] * gap[0])) / float(np.linalg.norm(side))
    sides = np.roll(corners, -1, axis=0) - corners
    apart = np.linalg.norm(sides, axis=1) > _ONE_PLACE_M
    sides, gaps = sides[apart], (spot - corners)[apart]
    return float(((sides[:, 0] * gaps[:, 1] - sides[:, 1] * gaps[:, 0]) / np.linalg.norm(sides, axis=1)).min())
