"""A bare edge that a rope bends over."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.checks.lying.bare import bare_edges, padded
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.study.place import AtPlace


class BareEdge(Found, topic="geometry", source="edge-mu"):
    number: int
    edge: str
    surface: str
    turn_rad: float


def find(here: AtPlace) -> Iterator[BareEdge]:
    for one in bare_edges(here):
        if not one.edge.sawn and not one.surface.cuts:
            level: Level = "look" if one.surface.edge_keeps is not None else "note"
            yield BareEdge(
                level=level, about=one.about, key=str(one.number), number=one.number, edge=one.edge.name, surface=one.surface.name,
                turn_rad=one.turn_rad,
            )  # fmt: skip


def mends(found: BareEdge, plan: Plan) -> Iterator[Mend]:
    yield from padded(found.number)
