"""The papers' type, which ships with them: the sheet's own, and another for what that has no letters for."""

from functools import cache
from itertools import groupby
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FONTS = Path(__file__).parent / "fonts"


@cache
def _face(name: str, file: str) -> str:
    pdfmetrics.registerFont(TTFont(name, str(FONTS / file)))
    return name


def plain() -> str:
    """The name of the upright face, which is there from then on."""
    return _face("Sheet", "Barlow-Regular.ttf")


def bold() -> str:
    return _face("Sheet-Bold", "Barlow-SemiBold.ttf")


def narrow() -> str:
    """Of tables and of what stands on drawings."""
    return _face("Sheet-Narrow", "BarlowSemiCondensed-Regular.ttf")


def _rest(heavy: bool) -> str:
    """What has letters for what the others have none."""
    return _face("Rest-Bold", "DejaVuSans-Bold.ttf") if heavy else _face("Rest", "DejaVuSans.ttf")


@cache
def _has(face: str) -> frozenset[int]:
    return frozenset(pdfmetrics.getFont(face).face.charToGlyph)


def spelled(text: str) -> str:
    """A text with what no face here has letters for by its code, so that nothing of it is lost."""
    there = _has(narrow()) | _has(_rest(False))
    return "".join(one if one.isspace() or ord(one) in there else f"[U+{ord(one):04X}]" for one in text)


def for_all_of(text: str) -> str:
    """The face in which the whole of a text can be written."""
    return narrow() if all(ord(one) in _has(narrow()) for one in text) else _rest(False)


def marked(text: str, face: str) -> str:
    """A text as it is, nothing in it markup, with what a face has no letters for in the other."""
    there, rest = _has(face), _rest(face == bold())
    runs = groupby(spelled(text), lambda one: one.isspace() or ord(one) in there)
    return "".join(
        escape(part) if written else f'<font name="{rest}">{escape(part)}</font>'
        for written, part in ((written, "".join(run)) for written, run in runs)
    )
