"""Nobody said how far the haulers can walk."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.work.walk import walks
from rigging.study.place import AtPlace


class WayUnsaid(Found, topic="ground", source="virtual-work"):
    through_m: float


def find(here: AtPlace) -> Iterator[WayUnsaid]:
    for one in walks(here):
        if one.way_m is None:
            yield WayUnsaid(
                level="unknown", about=f"{one.line}:hands", key=one.line, state="raising", through_m=one.through_m
            )
