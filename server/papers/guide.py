"""The leader's guide on paper, from the page that stands in docs/."""

import re
from collections.abc import Iterator

from django.conf import settings
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, PageBreak

from papers.sheet import counted_pdf, gap, heading, said
from papers.tagged import Picture

# Four pages with a picture each: as wide as leaves the words their room.
_WIDE_MM = 168
_SHOWN = re.compile(r"!\[(?P<alt>.*)\]\((?P<file>.*)\)")


def guide() -> bytes:
    """The guide as a PDF."""
    title, *rest = (settings.ROOT / "docs" / "leaders-guide.md").read_text(encoding="utf-8").split("\n\n")
    return counted_pdf(title.removeprefix("# ").strip(), None, list(_story(rest)))[0]


def _story(blocks: list[str]) -> Iterator[Flowable]:
    begun = False
    for block in (one.strip() for one in blocks):
        if shown := _SHOWN.fullmatch(block):
            yield from _picture(shown["file"], shown["alt"])
        elif block.startswith("## "):
            # Each part has a page of its own.
            yield from [PageBreak()] if begun else []
            begun = True
            yield heading(block.removeprefix("## "))
        elif block.startswith("### "):
            yield heading(block.removeprefix("### "))
        else:
            for text in block.split("\n"):
                yield said(_plain(f"– {text[2:]}" if text.startswith("- ") else text))


def _plain(text: str) -> str:
    """What the page marks as a name on the screen stands in quotes; nothing else is marked."""
    return re.sub(r"\*\*(.+?)\*\*", r"“\1”", text).replace("*", "")


def _picture(file: str, alt: str) -> Iterator[Flowable]:
    picture = Picture(settings.ROOT / "docs" / file)
    picture.drawHeight *= _WIDE_MM * mm / picture.drawWidth
    picture.drawWidth, picture.hAlign, picture.alt = _WIDE_MM * mm, "CENTER", alt
    yield picture
    yield gap()
