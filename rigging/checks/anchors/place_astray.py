"""A leg to something that lies where nobody would tie to it: far above the ground, or far inside it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.document import Feature, Plan

# Higher than what is tied to in a tree or on a frame, for what was placed on a map; what somebody placed by hand may lie where no ground was
# drawn. To the side the ground may be as steep as this.
_HIGH_M, _BY_HAND_M, _STEEP = 12.0, 30.0, 1.5
_ON_MAP = ("phone", "barometer", "map", "instrument")


class PlaceAstray(Found, topic="geometry"):
    feature: str
    name: str
    off_m: float


def find_made(made: Made) -> Iterator[PlaceAstray]:
    for about, _, feature in made.tied():
        off = off_ground_m(made.plan, feature)
        if off > 0:
            yield PlaceAstray(
                level="unknown", about=about, key=feature.id, feature=feature.id, name=feature.name, off_m=off
            )


def off_ground_m(plan: Plan, feature: Feature) -> float:
    """How far something lies from the ground from the side; 0 where the ground may well be there, as far as that is known."""
    profile = plan.site.profile
    first, last = profile[0], profile[-1]
    beyond = max(first.x_m - feature.x_m, feature.x_m - last.x_m, 0.0)
    near = min(max(feature.x_m, first.x_m), last.x_m)
    off = min(_from(near, feature.z_m, (a.x_m, a.z_m), (b.x_m, b.z_m)) for a, b in itertools.pairwise(profile))
    high = _HIGH_M if feature.placed and feature.placed.by in _ON_MAP else _BY_HAND_M
    return off if off > high + _STEEP * (beyond + abs(feature.y_m)) else 0.0


def _from(x: float, z: float, start: tuple[float, float], end: tuple[float, float]) -> float:
    """How far a point lies from a straight piece."""
    along = (end[0] - start[0], end[1] - start[1])
    square = along[0] ** 2 + along[1] ** 2
    share = min(1.0, max(0.0, ((x - start[0]) * along[0] + (z - start[1]) * along[1]) / square)) if square else 0.0
    return math.hypot(x - start[0] - share * along[0], z - start[1] - share * along[1])
