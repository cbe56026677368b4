"""Texts of a drawing as the outlines of their letters, so that whoever shows it needs no type of ours."""

from functools import cache
from pathlib import Path
from typing import Any

from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

from papers.faces import FONTS, spelled

_FACES = ("BarlowSemiCondensed-Regular.ttf", "DejaVuSans.ttf")


@cache
def _face(name: str) -> tuple[Any, dict[int, str], Any, float]:
    """Its glyphs, which letter is which, how wide each is, and how many units a size is."""
    font = TTFont(Path(FONTS) / name)
    return font.getGlyphSet(), font.getBestCmap(), font["hmtx"], float(font["head"].unitsPerEm)


def outline(text: str, size: float) -> tuple[str, float]:
    """The path of a text from its start at 0, 0, y down, and how wide it is; a letter that no face has stands there by its code."""
    path: list[str] = []
    x = 0.0
    for letter in spelled(text):
        glyphs, letters, widths, units = next(
            (face for face in map(_face, _FACES) if ord(letter) in face[1]), _face(_FACES[0])
        )
        name = letters.get(ord(letter), "space")
        scale = size / units
        pen = SVGPathPen(glyphs, ntos=lambda value: f"{value:.2f}".rstrip("0").rstrip("."))
        glyphs[name].draw(TransformPen(pen, (scale, 0, 0, -scale, x, 0)))
        path.append(pen.getCommands())
        x += widths[name][0] * scale
    return "".join(path), x
