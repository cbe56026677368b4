"""Haulers who can not walk as far as one haul brings rope."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.checks.work.walk import walks
from rigging.document import Plan
from rigging.study.place import AtPlace


class WayShort(Found, topic="ground", source="virtual-work"):
    line: str
    rise_m: float
    through_m: float
    way_m: float
    hauls: int


def find(here: AtPlace) -> Iterator[WayShort]:
    for one in walks(here):
        if one.way_m is not None and one.way_m < one.through_m - 1e-6:
            hauls = math.ceil(one.through_m / one.way_m - 1e-9)
            yield WayShort(
                level="look", about=f"{one.line}:hands", key=one.line, state="raising", line=one.line, rise_m=one.rise_m,
                through_m=one.through_m, way_m=one.way_m, hauls=hauls,
            )  # fmt: skip


def mends(found: WayShort, plan: Plan) -> Iterator[Mend]:
    """Hauls as short as the way."""
    clear = catalogue().people.clearance_m
    reach = max(2 * clear, clear + found.rise_m * found.way_m / found.through_m)
    path = f"/lines/{line_number(plan, found.line)}/haul/reach_m"
    yield setting("reach", path, round(math.floor(reach * 20) / 20, 2), length_m=reach)
