"""A bare edge that cuts."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.lying.bare import bare_edges, padded
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.study.place import AtPlace


class SharpEdge(Found, topic="geometry", source="edge-keeps"):
    number: int
    edge: str
    surface: str
    turn_rad: float


def find(here: AtPlace) -> Iterator[SharpEdge]:
    for one in bare_edges(here):
        if not one.edge.sawn and one.surface.cuts:
            yield SharpEdge(
                level="stop", about=one.about, key=str(one.number), number=one.number, edge=one.edge.name, surface=one.surface.name,
                turn_rad=one.turn_rad,
            )  # fmt: skip


def mends(found: SharpEdge, plan: Plan) -> Iterator[Mend]:
    yield from padded(found.number)
