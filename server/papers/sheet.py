"""A sheet of paper: black and white, the caution and the plan's print on every page, pages numbered."""

import io
from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from typing import Any

from plans.models import Revision
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import CondPageBreak, Flowable, PageTemplate, Paragraph, Spacer, TableStyle
from reportlab.platypus.doctemplate import BaseDocTemplate
from reportlab.platypus.frames import Frame

from papers.faces import bold, marked, narrow, plain
from papers.tagged import LANGUAGE, Marks, Rows, Words, artifact, finished
from rigging.telling.figures.shapes import CAUTION

_EDGE, _HEAD, _FOOT = 15 * mm, 12 * mm, 19 * mm


@cache
def style(name: str) -> ParagraphStyle:
    """title, heading, text, small, cell."""
    sizes = {"title": (18, 21), "heading": (13, 16), "text": (10.5, 13), "cell": (9.5, 11), "small": (8.5, 10)}
    size, leading = sizes[name]
    return ParagraphStyle(
        name, fontName=_face(name), fontSize=size, leading=leading, spaceBefore=8 if name == "heading" else 0, spaceAfter=3,
        splitLongWords=True,
    )  # fmt: skip


def _face(name: str) -> str:
    return bold() if name in ("title", "heading") else plain() if name == "text" else narrow()


def said(text: str, name: str = "text") -> Paragraph:
    """Words as they are; nothing in them is markup."""
    return Words(marked(text, _face(name)).replace("\n", "<br/>"), style(name))


def heading(text: str) -> Paragraph:
    return said(text, "heading")


def table(head: Sequence[str], rows: Iterable[Sequence[str | Flowable]], widths_mm: Sequence[float]) -> Flowable:
    """Rows under a head that comes again on every page; one taller than a page goes on on the next."""
    cells: list[list[Any]] = [[said(one, "small") for one in head]]
    cells += [[said(one, "cell") if isinstance(one, str) else one for one in row] for row in rows]
    if len(cells) == 1:
        return said("Nothing.", "text")
    found = Rows(cells, colWidths=[one * mm for one in widths_mm], repeatRows=1, splitInRow=1, hAlign="LEFT")
    found.setStyle(
        TableStyle(
            [
                ("FONTNAME", (0, 0), (-1, -1), plain()), ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, 0), 0.8, colors.black),
                ("LINEBELOW", (0, 1), (-1, -1), 0.25, colors.grey), ("LEFTPADDING", (0, 0), (-1, -1), 1.5), ("RIGHTPADDING", (0, 0), (-1, -1), 4),
                ("TOPPADDING", (0, 0), (-1, -1), 1.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
            ]
        )
    )  # fmt: skip
    return found


def gap() -> Flowable:
    return Spacer(1, 3 * mm)


class _Numbered(Canvas):  # type: ignore[misc]
    """Every page with its number of how many, known only at the end."""

    def __init__(self, *arguments: Any, foot: Sequence[str], marks: Marks, **more: Any):
        super().__init__(*arguments, **more)
        self.marks = marks
        self._foot = foot
        self._pages: list[dict[str, Any]] = []

    @property
    def page_index(self) -> int:
        """The page that is drawn on, from 0."""
        return len(self._pages)

    def showPage(self) -> None:
        self._pages.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        for number, page in enumerate(self._pages, start=1):
            self.__dict__.update(page)
            with artifact(self):
                self._footed(number, len(self._pages))
            super().showPage()
        super().save()

    def _footed(self, number: int, count: int) -> None:
        width, _ = A4
        self.setLineWidth(0.5)
        self.line(_EDGE, _FOOT - 2 * mm, width - _EDGE, _FOOT - 2 * mm)
        self.setFont(narrow(), 7.5)
        for place, line in enumerate(self._foot):
            self.drawString(_EDGE, _FOOT - 5.5 * mm - place * 3.2 * mm, line)
        self.drawRightString(
            width - _EDGE, _FOOT - 5.5 * mm - (len(self._foot) - 1) * 3.2 * mm, f"page {number} of {count}"
        )


def pdf(title: str, revision: Revision, story: list[Flowable]) -> bytes:
    """The sheets as a PDF."""
    return counted_pdf(title, revision, story)[0]


def counted_pdf(title: str, revision: Revision | None, story: list[Flowable]) -> tuple[bytes, int]:
    """The sheets as a PDF, and how many they are; with the print of the plan's revision where they are of one."""
    out, marks = io.BytesIO(), Marks()
    width, height = A4
    foot = _broken(f"Caution. {CAUTION}")
    if revision is not None:
        foot.append(f"Plan revision {revision.number}, SHA-256 {revision.sha256}")
    document = BaseDocTemplate(
        out,
        pagesize=A4,
        title=title,
        author="Outrigger",
        lang=LANGUAGE,
        initialFontName=plain(),
        leftMargin=_EDGE,
        rightMargin=_EDGE,
    )
    frame = Frame(_EDGE, _FOOT, width - 2 * _EDGE, height - _FOOT - _HEAD, 0, 0, 0, 0)
    document.addPageTemplates(PageTemplate(frames=[frame]))
    document.build(
        [said(title, "title"), *_with_room(story)],
        canvasmaker=lambda *arguments, **more: _Numbered(*arguments, foot=foot, marks=marks, **more),
    )
    return finished(out.getvalue(), marks, title), document.page


def _with_room(story: list[Flowable]) -> Iterator[Flowable]:
    """No heading at the foot of a page, away from what it heads."""
    for one in story:
        if isinstance(one, Paragraph) and one.style.name == "heading":
            yield CondPageBreak(35 * mm)
        yield one


def _broken(text: str) -> list[str]:
    """In lines that fit the foot of a page."""
    words, lines = text.split(), [""]
    for word in words:
        longer = f"{lines[-1]} {word}".strip()
        if pdfmetrics.stringWidth(longer, narrow(), 7.5) > A4[0] - 2 * _EDGE:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines
