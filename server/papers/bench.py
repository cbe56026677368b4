"""The bench drawn for paper: one line unfolded, every strand in a lane of its own with its pull, and how far out each thing lies."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby

from reportlab.graphics.shapes import Circle, Drawing, Line, PolyLine, Rect, String
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit

from papers.drawings import name_of
from papers.faces import for_all_of
from papers.tagged import Drawn
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.figures.shapes import LineReport, NodeReport, StateReport, StrandReport

_FONT, _LANE, _SIDE, _FOOT = 7.5, 9.5 * mm, 13 * mm, 12 * mm


@dataclass(frozen=True)
class Laid:
    """A strand in its lane; `turns` to the lane in which its rope goes on from its end, where it bends there."""

    strand: StrandReport
    lane: int
    turns: int | None = None


def laid(strands: Sequence[StrandReport], nodes: dict[str, NodeReport]) -> list[Laid]:
    """The strands of a line in lanes: straight over edges and under what grips the rope, one lane up at every bend."""
    found: list[Laid] = []
    top = -1
    gripped: dict[str, int] = {}
    for _, own in groupby(strands, key=lambda one: one.rope):
        rows = list(own)
        lane = gripped.get(rows[0].start, top + 1)
        top = max(top, lane)
        for number, strand in enumerate(rows):
            last = number == len(rows) - 1
            bends = not last and nodes[strand.end].kind != "edge"
            found.append(Laid(strand, lane, top + 1 if bends else None))
            if bends:
                lane = top = top + 1
            elif last and nodes[strand.end].kind == "grab":
                gripped[strand.end] = lane
    return found


def bench(state: StateReport, line: LineReport, width_mm: float, say: Wording) -> Drawn:
    """One line of a state: what lies behind the working point left, the load right; distances are from the working point along the line."""
    nodes = {one.id: one for one in state.nodes}
    rows = laid([one for one in state.strands if one.line == line.id and not one.rope.endswith("cord")], nodes)
    used = {end: nodes[end] for one in rows for end in (one.strand.start, one.strand.end)}
    order = sorted(used.values(), key=lambda one: one.out_m)
    width, height = width_mm * mm, _FOOT + (1 + max((one.lane for one in rows), default=0)) * _LANE
    step = (width - 2 * _SIDE) / max(1, len(order) - 1)
    at = {one.id: _SIDE + n * step for n, one in enumerate(order)}
    drawing = Drawn(width, height).shows("The line on the bench, unfolded: each strand with its tension")

    def lane_y(lane: int) -> float:
        return float(_FOOT + (lane + 0.4) * _LANE)

    for one in rows:
        start, end, y = at[one.strand.start], at[one.strand.end], lane_y(one.lane)
        pull = one.strand.tension
        drawing.add(Line(start, y, end, y, strokeWidth=1.3, strokeDashArray=None if pull else [3, 2]))
        told = say.force(Range(pull.low, pull.expected, pull.high)) if pull else "slack"
        drawing.add(
            String((start + end) / 2, y + 2.5, told, fontName=for_all_of(told), fontSize=_FONT, textAnchor="middle")
        )
        if one.turns is not None:
            drawing.add(Line(end, y, end, lane_y(one.turns), strokeWidth=1.3))
            drawing.add(Circle(end, (y + lane_y(one.turns)) / 2, 3, fillColor=colors.white, strokeWidth=1))
    for one in rows:
        for end in (one.strand.start, one.strand.end):
            _mark(drawing, nodes[end], at[end], lane_y(one.lane))
    for node in order:
        far_m = line.length.expected if node.kind == "load" else node.out_m
        for number, text in enumerate(_named(node, far_m, step, say)):
            drawing.add(
                String(
                    at[node.id],
                    _FOOT - 7 - 7.5 * number,
                    text,
                    fontName=for_all_of(text),
                    fontSize=_FONT,
                    textAnchor="middle",
                )
            )
    return drawing


def _mark(drawing: Drawing, node: NodeReport, x: float, y: float) -> None:
    """A grip square, an edge a tick below the rope, the load filled, hands round."""
    if node.kind == "grab":
        drawing.add(Rect(x - 2, y - 3, 4, 6, fillColor=colors.white, strokeWidth=1))
    elif node.kind == "edge":
        drawing.add(PolyLine([x - 3, y - 6, x, y - 1, x + 3, y - 6], strokeWidth=1))
    elif node.kind == "load":
        drawing.add(Rect(x - 3, y - 3, 6, 6, fillColor=colors.black))
    elif node.kind == "hands":
        drawing.add(Circle(x, y, 2.6, fillColor=colors.black))


def _named(node: NodeReport, far_m: float, step: float, say: Wording) -> Iterator[str]:
    """Its name in as much room as there is, and its distance from the working point: behind it, where it is."""
    name = "load" if node.kind == "load" else name_of(node)
    yield from simpleSplit(name, for_all_of(name), _FONT, step - 3)[:2]
    if node.kind != "hands":
        yield say.length(far_m) if far_m >= 0 else f"{say.length(-far_m)} behind"
