"""The rig drawn for paper: from the side and from above, black on white, what is on it numbered."""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import pairwise

from reportlab.graphics.shapes import Circle, Drawing, Line, PolyLine, Rect, String
from reportlab.lib import colors
from reportlab.lib.units import mm

from papers.faces import narrow
from papers.tagged import Drawn
from rigging.document import Plan as Document
from rigging.lines.way import place_of
from rigging.telling.figures.shapes import NodeReport, Report, StateReport

_MARK, _FONT = 4.8, 7.5
Point = tuple[float, float]


@dataclass(frozen=True)
class Numbered:
    """Something on the drawing, by its number."""

    number: int
    name: str
    at: Point


class _Frame:
    """Metres to points of paper: the same scale both ways, everything inside."""

    def __init__(self, points: Iterable[Point], width: float, height: float):
        xs, ys = zip(*points, strict=True)
        room_x, room_y = width - 8 * mm, height - 12 * mm
        self.scale = min(room_x / max(max(xs) - min(xs), 0.5), room_y / max(max(ys) - min(ys), 0.5))
        self.x0 = (width - (max(xs) - min(xs)) * self.scale) / 2 - min(xs) * self.scale
        self.y0 = (height + 4 * mm - (max(ys) - min(ys)) * self.scale) / 2 - min(ys) * self.scale

    def __call__(self, at: Point) -> Point:
        return self.x0 + at[0] * self.scale, self.y0 + at[1] * self.scale


def _marks(drawing: Drawing, frame: _Frame, rows: list[Numbered]) -> None:
    """Numbers in circles beside their places, each moved until it touches no other and lies on none of the places."""
    taken: list[Point] = []
    places = [frame(one.at) for one in rows]
    for one in rows:
        x, y = frame(one.at)
        spot = next(
            (x + dx, y + dy)
            for dx, dy in _spiral()
            if all(math.hypot(x + dx - a, y + dy - b) > 2.4 * _MARK for a, b in taken)
            and all(math.hypot(x + dx - a, y + dy - b) > 1.8 * _MARK for a, b in places)
        )
        taken.append(spot)
        drawing.add(Line(x, y, *spot, strokeWidth=0.3))
        drawing.add(Circle(*spot, _MARK, fillColor=colors.white, strokeWidth=0.6))
        drawing.add(
            String(spot[0], spot[1] - 2.2, str(one.number), fontName=narrow(), fontSize=_FONT, textAnchor="middle")
        )


def _spiral() -> Iterable[Point]:
    """Places around a spot, the nearest first: above it before beside it, below it last."""
    for ring in range(1, 60):
        for turn in (90, 60, 120, 30, 150, 0, 180, -30, -150, -60, -120, -90):
            far = 7.0 + 3.0 * ring
            yield far * math.cos(math.radians(turn)), far * math.sin(math.radians(turn))
    raise AssertionError("no room for a number")


def _scalebar(drawing: Drawing, frame: _Frame, width: float) -> None:
    """So many metres, at the foot."""
    metres = next((one for one in (20, 10, 5, 2, 1, 0.5) if one * frame.scale < width / 3), 0.5)
    length = metres * frame.scale
    drawing.add(Line(4, 5, 4 + length, 5, strokeWidth=1.2))
    drawing.add(String(8 + length, 3, f"{metres:g} m", fontName=narrow(), fontSize=_FONT))


def section(
    document: Document, report: Report, state: StateReport, width_mm: float, height_mm: float
) -> tuple[Drawn, list[Numbered]]:
    """From the side: ground, ropes, and what is on the line at work."""
    width, height = width_mm * mm, height_mm * mm
    ground = [(one.x_m, one.z_m) for one in document.site.profile]
    ways = [(line.role, [(spot.x_m, spot.z_m) for spot in line.way]) for line in report.lines]
    on = [one for one in state.nodes if one.kind != "hands" and _own(one, state.hand_line)]
    places = [(one.at.x_m, one.at.z_m) for one in on]
    inside = [*places, *(spot for _, way in ways for spot in way)]
    frame = _Frame(inside, width, height)
    drawing = Drawn(width, height).shows("The rig from the side; what its numbers are stands beside it")
    for start, end in pairwise(ground):
        part = _clipped(frame(start), frame(end), width, height)
        if part is not None:
            drawing.add(Line(*part, strokeWidth=0.8, strokeColor=colors.grey))
    for role, way in ways:
        points = [one for spot in way for one in frame(spot)]
        drawing.add(
            PolyLine(
                points, strokeWidth=1.4 if role == "main" else 0.9, strokeDashArray=None if role == "main" else [3, 2]
            )
        )
    rows = _numbered(on, lambda one: (one.at.x_m, one.at.z_m))
    _shapes(drawing, frame, on, lambda one: (one.at.x_m, one.at.z_m))
    _marks(drawing, frame, rows)
    _scalebar(drawing, frame, width)
    return drawing, rows


def crossing(
    document: Document, spans: list[list[Point]], width_mm: float, height_mm: float
) -> tuple[Drawn, list[Numbered]]:
    """From the side: the ground under tension lines, each as it hangs with its load where it hangs lowest (near end, load, far end)."""
    width, height = width_mm * mm, height_mm * mm
    ground = [(one.x_m, one.z_m) for one in document.site.profile]
    anchors = [(one.name, place_of(document, one.id)) for one in document.anchors]
    places = [(at[0], at[2]) for _, at in anchors]
    frame = _Frame([*places, *ground, *(spot for span in spans for spot in span)], width, height)
    drawing = Drawn(width, height).shows("The tension lines from the side, each with its load where it hangs lowest")
    for start, end in pairwise(ground):
        drawing.add(Line(*frame(start), *frame(end), strokeWidth=0.8, strokeColor=colors.grey))
    for number, span in enumerate(spans):
        points = [one for spot in span for one in frame(spot)]
        drawing.add(PolyLine(points, strokeWidth=1.4, strokeDashArray=[3, 2] if number % 2 else None))
        x, y = frame(span[1])
        drawing.add(Rect(x - 3.2, y - 3.2, 6.4, 6.4, fillColor=colors.black))
    for place in places:
        x, y = frame(place)
        drawing.add(Rect(x - 2.5, y - 2.5, 5, 5, fillColor=colors.black))
    rows = [Numbered(n, name, (at[0], at[2])) for n, (name, at) in enumerate(anchors, start=1)]
    _marks(drawing, frame, rows)
    _scalebar(drawing, frame, width)
    return drawing, rows


def _clipped(start: Point, end: Point, width: float, height: float) -> tuple[float, float, float, float] | None:
    """The part of a line that lies on the drawing (Liang and Barsky's clipping); None where nothing of it does."""
    (x, y), (dx, dy) = start, (end[0] - start[0], end[1] - start[1])
    enters, leaves = 0.0, 1.0
    for step, room in ((-dx, x), (dx, width - x), (-dy, y - 10.0), (dy, height - y)):
        if step == 0:
            if room < 0:
                return None
            continue
        at = room / step
        enters, leaves = (max(enters, at), leaves) if step < 0 else (enters, min(leaves, at))
    if enters >= leaves:
        return None
    return x + enters * dx, y + enters * dy, x + leaves * dx, y + leaves * dy


def from_above(document: Document, width_mm: float, height_mm: float, first: int) -> tuple[Drawn, list[Numbered]]:
    """From above: anchors with their legs to the features; out along the fall line is to the right."""
    width, height = width_mm * mm, height_mm * mm
    legs = [(anchor, document.feature(leg.feature)) for anchor in document.anchors for leg in anchor.arrangement.legs]
    points = {anchor.id: _point(document, anchor.id) for anchor in document.anchors}
    features = {one.id: (one.x_m, -one.y_m) for _, one in legs}
    frame = _Frame([*points.values(), *features.values()], width, height)
    drawing = Drawn(width, height).shows(
        "The anchors from above, with their legs; what its numbers are stands beside it"
    )
    for anchor, feature in legs:
        drawing.add(Line(*frame(points[anchor.id]), *frame(features[feature.id]), strokeWidth=1.0))
    rows: list[Numbered] = []
    for anchor in document.anchors:
        x, y = frame(points[anchor.id])
        drawing.add(Rect(x - 2.5, y - 2.5, 5, 5, fillColor=colors.black))
        rows.append(Numbered(first + len(rows), anchor.name, points[anchor.id]))
    for id, at in features.items():
        drawing.add(Circle(*frame(at), 2.5, fillColor=colors.white, strokeWidth=1))
        rows.append(Numbered(first + len(rows), document.feature(id).name, at))
    _marks(drawing, frame, rows)
    _scalebar(drawing, frame, width)
    return drawing, rows


def _point(document: Document, anchor: str) -> Point:
    x, y, _ = place_of(document, anchor)
    return x, -y


def _own(node: NodeReport, line: str) -> bool:
    """Whether something belongs to the line at work, or to all of them."""
    return ":" not in node.id or node.id.startswith(("anchor:", f"{line}:"))


def name_of(node: NodeReport) -> str:
    """What something on the rope is called beside the drawing."""
    if node.kind != "block":
        return node.name
    return "redirect" if ":haul:" in node.id or node.id.partition(":")[2].isdigit() else f"block {node.name}"


def _numbered(nodes: list[NodeReport], at: Callable[[NodeReport], Point]) -> list[Numbered]:
    return [Numbered(number, name_of(one), at(one)) for number, one in enumerate(nodes, start=1)]


def _shapes(drawing: Drawing, frame: _Frame, nodes: list[NodeReport], at: Callable[[NodeReport], Point]) -> None:
    """Anchors square, edges a tick, the load filled, what is on the rope round."""
    for one in nodes:
        x, y = frame(at(one))
        if one.kind in ("anchor", "load"):
            size = 3.2 if one.kind == "load" else 2.5
            drawing.add(Rect(x - size, y - size, 2 * size, 2 * size, fillColor=colors.black))
        elif one.kind == "edge":
            drawing.add(PolyLine([x - 3, y - 5, x, y, x + 3, y - 5], strokeWidth=1))
        else:
            drawing.add(Circle(x, y, 2.2, fillColor=colors.white, strokeWidth=1))
