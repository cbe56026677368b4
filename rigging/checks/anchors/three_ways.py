"""A connector made for one direction that is pulled three ways."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.anchors.made import Made, path_of
from rigging.checks.anchors.wide import widest_rad
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan

# Beyond this a connector made for one direction is pulled across (common practice, no source).
ACROSS_RAD = math.radians(75)


class ThreeWays(Found, topic="geometry"):
    arrangement: str
    connector: str
    widest_rad: float


def find_made(made: Made) -> Iterator[ThreeWays]:
    connector = made.arrangement.connector
    if made.rig is None or not made.scheme.gathers or made.connector_three_way or connector is None:
        return
    widest, _ = widest_rad(made.rig)
    if widest > ACROSS_RAD:
        yield ThreeWays(
            level="look", about=f"{made.where}point", key=made.key, arrangement=made.arrangement.id,
            connector=catalogue().connectors[connector].name, widest_rad=widest,
        )  # fmt: skip


def made_for_it(plan: Plan, arrangement: str) -> Iterator[Mend]:
    """A link or plate that takes several directions."""
    for id in ("screw-link-10", "rigging-plate"):
        connector = catalogue().connectors[id]
        yield setting("take", f"{path_of(plan, arrangement)}/connector", id, what=connector.name)


def mends(found: ThreeWays, plan: Plan) -> Iterator[Mend]:
    yield from made_for_it(plan, found.arrangement)
