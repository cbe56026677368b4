"""Labels for a team's gear: a square code that a phone's camera reads as the piece's own page, with its label and what it is in words."""

from collections.abc import Callable, Iterator, Sequence

import segno
from reportlab.graphics.shapes import Rect, String
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Table, TableStyle

from papers.faces import bold, for_all_of, narrow
from papers.sheet import counted_pdf, said
from papers.tagged import Drawn
from rigging.shelf.pieces import Piece

# A label is so large, and so many stand in a row; so many letters of what it is fit beside the code.
_WIDE_MM, _HIGH_MM, _ACROSS, _LETTERS = 59, 26, 3, 26
_CODE_MM, _LABEL_PT, _NAME_PT = 22, 13, 7.5


def labels(pieces: Sequence[Piece], address: Callable[[str], str], alone: bool) -> bytes:
    """Labels as a PDF to cut out; `address` gives the page of a label, which where it is `alone` no other machine opens."""
    return counted_pdf("Labels", None, list(_story(pieces, address, alone)))[0]


def _story(pieces: Sequence[Piece], address: Callable[[str], str], alone: bool) -> Iterator[Flowable]:
    yield said("Cut out, cover, tie on. A phone's camera opens the piece: what it is, where it belongs, out or back.")
    if alone:
        yield said("◆ These lead to this very machine and to no phone: print them from its name on the team's network.")
    for first in range(0, len(pieces), _ACROSS):
        some = [_label(one, address(one.label)) for one in pieces[first : first + _ACROSS]]
        found = Table([some], colWidths=[_WIDE_MM * mm] * len(some), rowHeights=[_HIGH_MM * mm], hAlign="LEFT")
        found.setStyle(
            TableStyle([("BOX", (0, 0), (-1, -1), 0.3, colors.grey), ("INNERGRID", (0, 0), (-1, -1), 0.3, colors.grey)])
        )
        yield found


def _label(piece: Piece, address: str) -> Drawn:
    found = Drawn((_WIDE_MM - 5) * mm, (_HIGH_MM - 3) * mm).shows(f"Label {piece.label}: {piece.name}")
    rows = [list(row) for row in segno.make(address, error="m", micro=False).matrix_iter(border=2)]
    one = _CODE_MM * mm / len(rows)
    for down, row in enumerate(rows):
        for across, dark in enumerate(row):
            if dark:
                found.add(
                    Rect(
                        across * one,
                        found.height - (down + 1) * one,
                        one,
                        one,
                        fillColor=colors.black,
                        strokeColor=None,
                    )
                )
    left, top = _CODE_MM * mm + 3, found.height
    found.add(String(left, top - 20, piece.label, fontName=bold(), fontSize=_LABEL_PT))
    for number, text in enumerate(_lines(piece)):
        short = text if len(text) <= _LETTERS else text[: _LETTERS - 1] + "…"
        found.add(String(left, top - 32 - number * 9, short, fontName=for_all_of(short) or narrow(), fontSize=_NAME_PT))
    return found


def _lines(piece: Piece) -> list[str]:
    long = f"{piece.length_m:g} m" if piece.length_m else ""
    many = f"{piece.count} of them" if piece.count > 1 else ""
    made = str(piece.made) if piece.made else ""
    return [piece.name, " · ".join(one for one in (long, many, made) if one), piece.bag]
