"""Strands of a haul as they lie, and what crosses: no check, but what two ask."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np

from rigging.lines.rig import LineRig
from rigging.lines.solve import Solved
from rigging.mechanics.vectors import Vector, length, minus

# Strands nearer than this where they cross touch; nearly parallel ones lie side by side on purpose (common practice, no source).
_TOUCH_M, _ASIDE_RAD = 0.15, math.radians(8)
Strand = tuple[str, str, str, Vector, Vector]


def strands(raising: Solved) -> list[Strand]:
    """Every strand as (line, from node, to node, from, to)."""
    return [one for rig in raising.rig.lines for one in _of(rig)]


def _of(rig: LineRig) -> Iterator[Strand]:
    for rope in rig.ropes:
        if rope.id.endswith("cord"):
            continue
        for a, b in itertools.pairwise(rope.route):
            yield rig.line.id, a, b, rig.nodes[a].at, rig.nodes[b].at


def touch(a: Vector, b: Vector, c: Vector, d: Vector) -> bool:
    """Whether two straight strands come within touch between their ends, not running side by side."""
    u, v, w = np.array(minus(b, a)), np.array(minus(d, c)), np.array(minus(a, c))
    uu, vv, uv = u @ u, v @ v, u @ v
    if uu < 1e-9 or vv < 1e-9:
        return False
    sine2 = 1 - uv * uv / (uu * vv)
    if sine2 < math.sin(_ASIDE_RAD) ** 2:
        return False
    # Nearest points of two lines (any text on computational geometry).
    bottom = uu * vv - uv * uv
    s = (uv * (v @ w) - vv * (u @ w)) / bottom
    t = (uu * (v @ w) - uv * (u @ w)) / bottom
    inside = 0.02 < s < 0.98 and 0.02 < t < 0.98
    return inside and float(np.linalg.norm(w + s * u - t * v)) < _TOUCH_M


def cross_in_plan(a: Vector, b: Vector, c: Vector, d: Vector) -> bool:
    """Whether two stretches cross seen from above, strictly between their ends."""

    def side(p: Vector, q: Vector, r: Vector) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    if length(minus(a, b)) < 1e-6:
        return False
    return side(a, b, c) * side(a, b, d) < -1e-9 and side(c, d, a) * side(c, d, b) < -1e-9
