"""Anchor material that bends over something on its way with nothing between."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found, Level
from rigging.checks.mending import Mend, setting
from rigging.document import Plan


class BareBend(Found, topic="geometry", source="edge-keeps"):
    arrangement: str
    leg: int
    name: str
    material: str
    surface: str
    cuts: bool


def find_made(made: Made) -> Iterator[BareBend]:
    for number, leg in enumerate(made.arrangement.legs):
        if leg.over is None or leg.padding is not None:
            continue
        surface = catalogue().surfaces[leg.over]
        level: Level = "stop" if surface.cuts else "look" if surface.edge_keeps is not None else "note"
        yield BareBend(
            level=level, about=f"{made.where}leg:{number}", key=f"{made.key}:{number}", arrangement=made.arrangement.id, leg=number,
            name=made.plan.feature(leg.feature).name, material=leg.material, surface=surface.name, cuts=surface.cuts,
        )  # fmt: skip


def mends(found: BareBend, plan: Plan) -> Iterator[Mend]:
    pad = catalogue().surfaces["canvas-pad"]
    yield setting("pad", f"{path_of(plan, found.arrangement)}/legs/{found.leg}/padding", pad.id, what=pad.name)
