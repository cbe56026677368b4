"""What a drill or the reference shows, as it is drawn: a rig or anchor as lines between named places, a strip of readings, a knot."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.learning.drills.drill import Sketch
from rigging.learning.knots import knot
from rigging.telling.learning.knots import KnotStrand, drawn

# Parts of a small rig as people say them.
PARTS = {
    "device": "the locked device", "brake": "the brake hitch", "ratchet": "the ratchet hitch", "belay": "the belay's hitch", "hands": "the hands", "anchor": "the anchor",
    "second-anchor": "the second anchor", "main-rope": "the main rope", "belay-rope": "the belay rope", "plate": "the plate", "load-connector": "the connector at the load",
}  # fmt: skip


@dataclass(slots=True)
class DrillSpot:
    """A named place of a drawing; across and up."""

    id: str
    name: str
    kind: str
    x: float
    y: float


@dataclass(slots=True)
class DrillLaid:
    """What lies between places; `cord`: it is no rope of the rig."""

    id: str
    points: list[list[float]]
    slack: bool
    cord: bool


@dataclass(slots=True)
class DrillShown:
    """What a drill shows beside its question; each part empty where it shows nothing of that."""

    spots: list[DrillSpot]
    laid: list[DrillLaid]
    to_scale: bool
    strip: list[list[float]]
    band_n: list[float]
    strands: list[KnotStrand]
    behind: bool
    mirrored: bool


def sketched(sketch: Sketch) -> DrillShown:
    """A sketch as it is drawn."""
    at = {one.id: [round(one.x_m, 3), round(one.y_m, 3)] for one in sketch.spots}
    return DrillShown(
        [DrillSpot(one.id, _spot_name(one.id, one.kind), one.kind, *at[one.id]) for one in sketch.spots],
        [DrillLaid(one.id, [at[name] for name in one.through], one.slack, not one.rope) for one in sketch.laid],
        sketch.to_scale, [list(one) for one in sketch.strip], list(sketch.band_n or ()), drawn(knot(sketch.knot).drawn(sketch.fault)) if sketch.knot else [], sketch.behind, sketch.mirrored,
    )  # fmt: skip


def _spot_name(id: str, kind: str) -> str:
    """A place as it is written in the drawing; what only bends a line has no name."""
    if kind == "point" or kind == "edge":
        return ""
    if kind == "load":
        return "load"
    return PARTS.get(id, {"crew": "hands", "ring": "connector", "hand": "hands"}.get(id, id)).removeprefix("the ")
