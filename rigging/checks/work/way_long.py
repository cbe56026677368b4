"""Room enough to walk for one haul."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.work.walk import walks
from rigging.study.place import AtPlace


class WayLong(Found, topic="ground", source="virtual-work"):
    through_m: float
    way_m: float


def find(here: AtPlace) -> Iterator[WayLong]:
    for one in walks(here):
        if one.way_m is not None and one.way_m >= one.through_m - 1e-6:
            yield WayLong(
                level="note", about=f"{one.line}:hands", key=one.line, state="raising", through_m=one.through_m, way_m=one.way_m
            )  # fmt: skip
