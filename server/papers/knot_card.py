"""A card of a knot, hitch, bend or wrap: how it is tied stage by stage, what to look at, how it goes wrong, drawn as on the screen."""

from collections.abc import Iterator, Sequence

import numpy as np
from reportlab.graphics.shapes import Line, PolyLine, String
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Table, TableStyle

from papers.faces import for_all_of
from papers.sheet import counted_pdf, gap, heading, said
from papers.tagged import Drawn
from rigging.learning.curves import THICK, Strand
from rigging.learning.knots import Knot, smoothed
from rigging.quantities.units import Wording
from rigging.telling.learning.knots import keeps_text

# A drawing takes so much; so many stand beside one another.
_HIGH_MM, _WIDE_MM = 46, 178
_ACROSS = 3
_POST, _PIECE, _NAME, _SHORT = 0.55, 3, 7, 7.0


def knot_card(one: Knot, say: Wording) -> bytes:
    """The card as a PDF."""
    return counted_pdf(one.name, None, list(_story(one, say)))[0]


def _story(one: Knot, say: Wording) -> Iterator[Flowable]:
    keeps = keeps_text(one, say)
    yield said(f"{one.used} Not: {one.not_used}" + (f" {keeps}" if keeps else ""))
    stages = [(one.at(stage), f"{number}. {stage.do}") for number, stage in enumerate(one.stages, start=1)]
    yield from _rows(one, stages)
    yield heading("Look at")
    for text in one.look:
        yield said(f"■ {text}")
    for load in one.loads:
        yield said(f"{'■' if load.meant else '◆ Not so:'} {load.then}")
    yield said(f"Undone: {one.undone}")
    yield heading("Goes wrong")
    yield from _rows(one, [(one.drawn(fault.id), f"◇ {fault.name}. {fault.tell}") for fault in one.faults])


def _rows(one: Knot, drawn: Sequence[tuple[tuple[Strand, ...], str]]) -> Iterator[Flowable]:
    wide = _WIDE_MM / _ACROSS
    for first in range(0, len(drawn), _ACROSS):
        some = drawn[first : first + _ACROSS]
        cells = [[drawing(one, strands, wide - 4, _HIGH_MM, text) for strands, text in some], [said(text, "cell") for _, text in some]]  # fmt: skip
        found = Table(cells, colWidths=[wide * mm] * len(some), hAlign="LEFT")
        found.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))
        yield found
        yield gap()


def drawing(one: Knot, strands: Sequence[Strand], wide_mm: float, high_mm: float, said_of: str) -> Drawn:
    """A knot from in front, what lies over hiding what lies under; as large as all of it fits, whatever of it is drawn."""
    width, height = wide_mm * mm, high_mm * mm
    found = Drawn(width, height).shows(said_of)
    whole = np.concatenate([strand.path for strand in smoothed(one.drawn()) if not strand.solid or _short(strand)])
    low, high = whole[:, :2].min(axis=0), whole[:, :2].max(axis=0)
    scale = min((width - 16) / (high[0] - low[0] + 0.6), (height - 26) / (high[1] - low[1] + 0.6))
    middle = (low + high) / 2
    pieces = []
    for strand in smoothed(tuple(strands)):
        at = (strand.path[:, :2] - middle) * scale + np.array([width / 2, height / 2])
        # A post or rope that goes on is drawn as far as there is room.
        inside = (np.abs(at - np.array([width / 2, height / 2])) < np.array([width / 2, height / 2 - 1])).all(axis=1)
        at, depths = at[inside], strand.path[inside, 2]
        for n in range(0, len(at) - 1, _PIECE - 1):
            piece, depth = at[n : n + _PIECE + 1], float(depths[n : n + _PIECE + 1].mean())
            pieces.append((depth, strand.solid, piece, n == 0 or n + _PIECE >= len(at)))
    for _, solid, piece, ends in sorted(pieces, key=lambda row: row[0]):
        thick = scale * (_POST if solid else THICK)
        for colour, by in ((colors.black, thick), (colors.Color(0.8, 0.8, 0.8) if solid else colors.white, max(0.4, thick - 1.2))):  # fmt: skip
            cap = 1 if by < thick and not ends else 0
            found.add(PolyLine(piece.ravel().tolist(), strokeColor=colour, strokeWidth=by, strokeLineCap=cap, strokeLineJoin=1, fillColor=None))  # fmt: skip
    _named(found, strands, middle, scale)
    found.add(Line(0, 0, width, 0, strokeColor=colors.lightgrey, strokeWidth=0.4))
    return found


def _short(strand: Strand) -> bool:
    """Whether all of what a rope goes round is drawn, not as much as there is room for."""
    return bool(np.ptp(strand.path[:, :2], axis=0).max() < _SHORT)


def _named(found: Drawn, strands: Sequence[Strand], middle: np.ndarray, scale: float) -> None:
    """What each end is, within the drawing."""
    taken: list[tuple[float, float]] = []
    for strand in strands:
        for label, place in zip(strand.ends, (strand.path[0], strand.path[-1]), strict=True):
            if not label:
                continue
            x, y = (place[:2] - middle) * scale + np.array([found.width / 2, found.height / 2])
            half = 1.8 * len(label)
            x = float(np.clip(x, half + 2, found.width - half - 2))
            y = float(np.clip(y + (4 if place[1] > middle[1] else -9), 3, found.height - 9))
            while any(abs(x - u) < 2 * half and abs(y - v) < _NAME for u, v in taken):
                y += _NAME if y < found.height / 2 else -_NAME
            taken.append((x, y))
            found.add(String(x, y, label, fontName=for_all_of(label), fontSize=_NAME, textAnchor="middle"))
