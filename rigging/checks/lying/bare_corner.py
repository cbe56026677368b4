"""Corners of the ground that a rope bends over and nobody entered as an edge."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.lying.swing import SAID_RAD
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.study.place import AtPlace


class BareCorner(Found, topic="geometry", source="edge-mu"):
    x_m: float
    z_m: float
    turn_rad: float
    surface: str


def find(here: AtPlace) -> Iterator[BareCorner]:
    seen: set[tuple[float, float]] = set()
    for line, way in here.ways.items():
        for number, turn in enumerate(way.over.turns, start=1):
            place = (turn.at[0], turn.at[2])
            if turn.edge is None and turn.turn_rad > SAID_RAD and place not in seen:
                seen.add(place)
                yield BareCorner(
                    level="look", about=f"{line}:edge:{number}", key=f"{len(seen)}", x_m=place[0], z_m=place[1], turn_rad=turn.turn_rad,
                    surface=here.plan.site.surface,
                )  # fmt: skip


def mends(found: BareCorner, plan: Plan) -> Iterator[Mend]:
    x, z = found.x_m, found.z_m
    edge = {"name": f"Edge {x:.0f} m out", "x_m": x, "z_m": z, "surface": plan.site.surface, "protection": "canvas-pad"}
    yield Mend("enter-edge", (Edit("add", "/site/edges/-", edge),), {"what": catalogue().surfaces["canvas-pad"].name})
