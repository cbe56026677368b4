"""Edges that a rope bends over with nothing between: no check, but what three ask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rigging.catalogue import Surface, catalogue
from rigging.checks.mending import Mend, setting
from rigging.document import Edge
from rigging.judging.line_parts import TURNS_RAD
from rigging.study.place import AtPlace


@dataclass(frozen=True)
class Bare:
    """An edge by its number in the plan, the first rope over it, and how far that turns."""

    number: int
    edge: Edge
    surface: Surface
    about: str
    turn_rad: float


def bare_edges(here: AtPlace) -> Iterator[Bare]:
    """Every unprotected edge that a rope turns over."""
    for number, edge in enumerate(here.plan.site.edges):
        met = [
            (f"{line}:edge:{index}", turn.turn_rad)
            for line, way in here.ways.items()
            for index, turn in enumerate(way.over.turns, start=1)
            if turn.edge == edge and turn.turn_rad > TURNS_RAD
        ]
        if met and edge.protection is None:
            yield Bare(number, edge, catalogue().surfaces[edge.surface], *met[0])


def padded(number: int) -> Iterator[Mend]:
    """An edge with a pad, or with a roller."""
    for id in ("canvas-pad", "edge-roller"):
        yield setting("pad", f"/site/edges/{number}/protection", id, what=catalogue().surfaces[id].name)
