"""PDF as ISO 32000 has it tagged: what is a heading, a paragraph, a table's cell or a figure is said of it, so that it can be read aloud and taken
over; with language, XMP and colour profile as PDF/A-2u asks (ISO 19005-2)."""

import io
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cache
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name
from PIL import ImageCms
from reportlab.graphics.shapes import STATE_DEFAULTS, Drawing
from reportlab.platypus import Image, LongTable, Paragraph

from papers.faces import narrow

LANGUAGE = "en"
# What reportlab begins a drawing with is a face that is not within the paper.
STATE_DEFAULTS["fontName"] = narrow()
_ROLES = {"title": "H1", "heading": "H2"}


@dataclass(frozen=True)
class Mark:
    """A piece of a page's content: its number there, what it is, the table, row and cell that it stands in, what is said of a figure."""

    page: int
    number: int
    role: str
    inside: tuple[tuple[str, int], ...]
    alt: str


@dataclass
class Marks:
    """What is drawn, in the order in which it is."""

    rows: list[Mark] = field(default_factory=list)
    inside: tuple[tuple[str, int], ...] = ()
    tables: int = 0

    @contextmanager
    def of(self, canvas: Any, role: str, alt: str = "") -> Iterator[None]:
        page = canvas.page_index
        number = sum(one.page == page for one in self.rows)
        self.rows.append(Mark(page, number, role, self.inside, alt))
        canvas._code.append(f"/{role} <</MCID {number}>> BDC")
        yield
        canvas._code.append("EMC")


@contextmanager
def artifact(canvas: Any) -> Iterator[None]:
    """What says nothing: lines, page numbers, what stands on every page alike."""
    canvas._code.append("/Artifact BMC")
    yield
    canvas._code.append("EMC")


class Words(Paragraph):  # type: ignore[misc]
    """A paragraph that is known as one, or as the heading that its style makes it."""

    def draw(self) -> None:
        with self.canv.marks.of(self.canv, _ROLES.get(self.style.name, "P")):
            super().draw()


class Drawn(Drawing):  # type: ignore[misc]
    """A drawing, with what it shows in words."""

    _alt = ""

    def shows(self, alt: str) -> "Drawn":
        self._alt = alt
        return self

    def draw(self, *arguments: Any, **more: Any) -> None:
        with self.canv.marks.of(self.canv, "Figure", self._alt or "Drawing"):
            super().draw(*arguments, **more)


class Picture(Image):  # type: ignore[misc]
    """A photograph, with what is said of it."""

    alt = "Photograph"

    def draw(self) -> None:
        with self.canv.marks.of(self.canv, "Figure", self.alt):
            super().draw()


class Rows(LongTable):  # type: ignore[misc]
    """A table whose rows and cells are known as such; its lines say nothing."""

    def draw(self) -> None:
        marks = self.canv.marks
        marks.tables += 1
        self._of, self._renderCB = marks.tables, self._told
        super().draw()

    def _told(self, _table: Any, event: str, row: int = 0, column: int = 0, *_rest: Any) -> None:
        marks = self.canv.marks
        if event == "startCell":
            cell = "TH" if row < (self.repeatRows or 0) else "TD"
            marks.inside = (("Table", self._of), ("TR", row), (cell, column))
        elif event == "endCell":
            marks.inside = ()
        elif event in ("startBG", "startLines"):
            self.canv._code.append("/Artifact BMC")
        elif event in ("endBG", "endLines"):
            self.canv._code.append("EMC")


@cache
def _profile() -> bytes:
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def finished(content: bytes, marks: Marks, title: str) -> bytes:
    """A PDF with its structure, its metadata and its colours as they are asked for."""
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(content)) as pdf:
        _structured(pdf, marks)
        root = pdf.Root
        root.Lang = pikepdf.String(LANGUAGE)
        root.MarkInfo = Dictionary(Marked=True)
        root.ViewerPreferences = Dictionary(DisplayDocTitle=True)
        profile = pdf.make_stream(_profile(), N=3, Alternate=Name.DeviceRGB)
        intent = Dictionary(
            Type=Name.OutputIntent,
            S=Name.GTS_PDFA1,
            OutputConditionIdentifier=pikepdf.String("sRGB"),
            DestOutputProfile=profile,
        )
        root.OutputIntents = Array([pdf.make_indirect(intent)])
        with pdf.open_metadata(set_pikepdf_as_editor=False, update_docinfo=True) as said:
            said["dc:title"] = title
            said["dc:language"] = [LANGUAGE]
            said["pdfaid:part"], said["pdfaid:conformance"] = "2", "U"
        pdf.save(out, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    return out.getvalue()


def _structured(pdf: pikepdf.Pdf, marks: Marks) -> None:
    """The tree of what is what, and from each piece of a page's content to its place in it."""
    root = pdf.make_indirect(Dictionary(Type=Name.StructTreeRoot))
    whole = pdf.make_indirect(Dictionary(Type=Name.StructElem, S=Name.Document, P=root, K=Array()))
    root.K = Array([whole])
    made: dict[tuple[Any, ...], Any] = {}
    parents: list[list[Any]] = [[] for _ in pdf.pages]
    for one in marks.rows:
        above = whole
        for depth in range(len(one.inside)):
            key = one.inside[: depth + 1]
            if key not in made:
                made[key] = _element(pdf, above, key[-1][0])
            above = made[key]
        element = _element(pdf, above, one.role)
        if one.alt:
            element.Alt = pikepdf.String(one.alt)
        element.Pg, element.K = pdf.pages[one.page].obj, one.number
        parents[one.page].append(element)
    numbers: Any = Array()
    for page, elements in enumerate(parents):
        pdf.pages[page].obj.StructParents = page
        pdf.pages[page].obj.Tabs = Name.S
        numbers.extend([page, pdf.make_indirect(Array(elements))])
    root.ParentTree = pdf.make_indirect(Dictionary(Nums=numbers))
    root.ParentTreeNextKey = len(parents)
    pdf.Root.StructTreeRoot = root


def _element(pdf: pikepdf.Pdf, above: Any, role: str) -> Any:
    found = pdf.make_indirect(Dictionary(Type=Name.StructElem, S=Name(f"/{role}"), P=above, K=Array()))
    above.K.append(found)
    return found
