"""A strap that closes so wide that its strands carry more than the pull."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.anchors.rig import LegLine
from rigging.anchors.wraps import closes_at_m, closing_rad, method_of
from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit

_TOO_WIDE_RAD = math.radians(120)


class Closing(Found, topic="geometry", source="wrap-geometry"):
    arrangement: str
    leg: int
    name: str
    closing_rad: float


def find_made(made: Made) -> Iterator[Closing]:
    for about, key, line in made.legs():
        closing = strap_rad(line)
        if closing is not None and closing > _TOO_WIDE_RAD:
            yield Closing(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, leg=line.index, name=line.feature.name, closing_rad=closing
            )  # fmt: skip


def strap_rad(line: LegLine) -> float | None:
    """The angle at which a strap round a feature closes; None where it is no strap, or the feature not measured."""
    if line.radius_m is None or method_of(line.leg).path not in ("basket", "wrap-pull"):
        return None
    return closing_rad(line.radius_m, closes_at_m(line.leg, line.radius_m, line.spans_m))


def closes_wide(line: LegLine) -> bool:
    closing = strap_rad(line)
    return closing is not None and closing > _TOO_WIDE_RAD


def mends(found: Closing, plan: Plan) -> Iterator[Mend]:
    """Rope wrapped round, in place of a strap."""
    leg = f"{path_of(plan, found.arrangement)}/legs/{found.leg}"
    edits = (
        Edit("replace", f"{leg}/method", "round-turn"), Edit("replace", f"{leg}/material", "rope-11"), Edit("replace", f"{leg}/turns", 3),
        Edit("replace", f"{leg}/extension", None),
    )  # fmt: skip
    yield Mend("round-turn", edits)
