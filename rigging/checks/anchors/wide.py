"""Legs so wide apart that each carries as much as the pull, and more."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np

from rigging.anchors.rig import AnchorRig, at
from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found, Level
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit

_WIDE_RAD, _TOO_WIDE_RAD = math.radians(90), math.radians(120)
# A leg is against the others from this cosine of its angle with them together (common practice, no source).
_AGAINST = 0.5


class Wide(Found, topic="geometry", source="legs"):
    """`each`: share of the pull on either of the two legs."""

    arrangement: str
    names: tuple[str, str]
    widest_rad: float
    each: float


def find_made(made: Made) -> Iterator[Wide]:
    if made.rig is None or not made.scheme.gathers:
        return
    widest, (one, other) = widest_rad(made.rig)
    if widest > _WIDE_RAD + 1e-9:
        names = made.rig.lines[one].feature.name, made.rig.lines[other].feature.name
        each = 1 / (2 * math.cos(widest / 2)) if widest < math.pi - 0.01 else math.inf
        level: Level = "stop" if widest > _TOO_WIDE_RAD + 1e-9 else "look"
        yield Wide(
            level=level, about=f"{made.where}point", key=made.key, arrangement=made.arrangement.id, names=names, widest_rad=widest, each=each
        )  # fmt: skip


def widest_rad(rig: AnchorRig) -> tuple[float, tuple[int, int]]:
    """Widest angle between two legs at the working point that bear together, and which two; a leg that lies against all the others
    only keeps the point in its place."""
    away = [at(line.feature) - at(rig.arrangement.point) for line in rig.lines]
    unit = [one / np.linalg.norm(one) for one in away]
    ties = {n for n in range(len(unit)) if len(unit) > 2 and _against(n, unit)}
    found = (0.0, (0, 0))
    for i, j in itertools.combinations([n for n in range(len(unit)) if len(ties) > 1 or n not in ties], 2):
        found = max(found, (math.acos(float(np.clip(unit[i] @ unit[j], -1, 1))), (i, j)))
    return found


def _against(number: int, unit: list[np.ndarray]) -> bool:
    rest = np.sum([one for n, one in enumerate(unit) if n != number], axis=0)
    return bool(unit[number] @ rest < -_AGAINST * np.linalg.norm(rest))


def mends(found: Wide, plan: Plan) -> Iterator[Mend]:
    """The working point further from the features: until the widest legs meet at 60°."""
    path = path_of(plan, found.arrangement)
    arrangement = next(one for _, _, one in plan.arrangements() if one.id == found.arrangement)
    ends = [plan.feature(leg.feature) for leg in arrangement.legs]
    wide = max(one.y_m for one in ends) - min(one.y_m for one in ends)
    out = max(one.x_m for one in ends) + max(1.0, wide * 0.87)
    edits = [Edit("replace", f"{path}/point/x_m", round(out, 1))]
    edits += [Edit("replace", f"{path}/legs/{n}/length_m", None) for n in range(len(ends))]
    yield Mend("gather", tuple(edits), {"length_m": out - arrangement.point.x_m})
