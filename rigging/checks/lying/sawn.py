"""A rope under tension that moves sideways on a bare edge."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.lying.bare import bare_edges, padded
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.study.place import AtPlace


class Sawn(Found, topic="geometry", source="edge-keeps"):
    number: int
    edge: str
    surface: str


def find(here: AtPlace) -> Iterator[Sawn]:
    for one in bare_edges(here):
        if one.edge.sawn:
            yield Sawn(
                level="stop", about=one.about, key=str(one.number), number=one.number, edge=one.edge.name, surface=one.surface.name
            )  # fmt: skip


def mends(found: Sawn, plan: Plan) -> Iterator[Mend]:
    yield from padded(found.number)
