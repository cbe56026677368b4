"""The papers' type, which ships with them."""

from functools import cache
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

_FONTS = Path(__file__).parent / "fonts"


@cache
def _face(name: str, file: str) -> str:
    pdfmetrics.registerFont(TTFont(name, str(_FONTS / file)))
    return name


def plain() -> str:
    """The name of the upright face, which is there from then on."""
    return _face("Sheet", "DejaVuSans.ttf")


def bold() -> str:
    return _face("Sheet-Bold", "DejaVuSans-Bold.ttf")
