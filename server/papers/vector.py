"""A drawing as SVG that stands by itself: in millimetres, with its title, what its numbers are, the caution and the plan's print on it."""

from collections.abc import Iterator, Sequence
from xml.etree import ElementTree as ET

from plans.models import Revision
from reportlab.graphics import renderSVG
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm

from papers.drawings import Numbered
from papers.outlines import outline
from rigging.telling.figures.shapes import CAUTION

_SVG = "http://www.w3.org/2000/svg"
_SIZE, _LINE, _EDGE = 8.0, 10.5, 8.0


def svg(drawing: Drawing, title: str, numbered: Sequence[Numbered], revision: Revision) -> str:
    """The drawing over what its numbers are; nothing of it is cut off."""
    foot = [*_rows("  ".join(f"{one.number}\u00a0{one.name}".replace(" ", "\u00a0") for one in numbered), drawing.width), "", *_rows(f"Caution. {CAUTION}", drawing.width),
            *_rows(f"Plan revision {revision.number}, SHA-256 {revision.sha256}", drawing.width)]  # fmt: skip
    head = 2 * _LINE
    height = head + drawing.height + len(foot) * _LINE + _EDGE
    ET.register_namespace("", _SVG)
    root = ET.Element(f"{{{_SVG}}}svg", width=f"{drawing.width / mm:.1f}mm", height=f"{height / mm:.1f}mm", viewBox=f"0 0 {drawing.width:.1f} {height:.1f}", version="1.1", role="img")  # fmt: skip
    ET.SubElement(root, f"{{{_SVG}}}title").text = title
    ET.SubElement(
        root, f"{{{_SVG}}}desc"
    ).text = f"{CAUTION} Plan revision {revision.number}, SHA-256 {revision.sha256}"
    ET.SubElement(root, f"{{{_SVG}}}rect", width=f"{drawing.width:.1f}", height=f"{height:.1f}", fill="#ffffff")
    root.append(_text(title, _EDGE, _LINE + 2, 11))
    root.append(_inner(drawing, head))
    for number, row in enumerate(foot, start=1):
        if row:
            root.append(_text(row, _EDGE, head + drawing.height + number * _LINE, _SIZE))
    return ET.tostring(root, encoding="unicode", xml_declaration=True)


def _inner(drawing: Drawing, down: float) -> ET.Element:
    """What is drawn, moved down under the title, its texts as outlines."""
    text = str(renderSVG.drawToString(drawing))
    drawn = ET.fromstring(text[text.index("<svg") :])
    group = next(one for one in drawn if one.tag == f"{{{_SVG}}}g")
    group.attrib.pop("style", None)
    for parent in list(group.iter()):
        # One renderer of three knows no large letters here, and fills what is not to be filled.
        if "None" in parent.get("style", ""):
            parent.set("style", parent.get("style", "").replace("None", "none"))
        for place, one in enumerate(list(parent)):
            if one.tag == f"{{{_SVG}}}text":
                parent[place] = _outlined(one)
    moved = ET.Element(f"{{{_SVG}}}g", transform=f"translate(0,{down:.1f})")
    moved.append(group)
    return moved


def _outlined(one: ET.Element) -> ET.Element:
    """A text of the drawing, where and as large as it stood."""
    style = dict(part.split(":", 1) for part in one.get("style", "").split(";") if ":" in part)
    path, wide = outline(one.text or "", float(style.get("font-size", "8").strip().removesuffix("px")))
    anchor = style.get("text-anchor", one.get("text-anchor", "start")).strip()
    back = {"middle": wide / 2, "end": wide}.get(anchor, 0.0)
    x, y = float(one.get("x", 0)) - back, float(one.get("y", 0))
    return ET.Element(
        f"{{{_SVG}}}path",
        d=path,
        fill="#000000",
        transform=f"{one.get('transform', '')} translate({x:.2f},{y:.2f})".strip(),
    )


def _text(text: str, x: float, y: float, size: float) -> ET.Element:
    found = ET.Element(
        f"{{{_SVG}}}path", {"d": outline(text, size)[0], "fill": "#000000", "transform": f"translate({x:.1f},{y:.1f})"}
    )
    found.set("aria-label", text)
    return found


def _rows(text: str, width: float) -> Iterator[str]:
    """A text in rows no wider than the drawing."""
    row = ""
    for word in text.split(" "):
        longer = f"{row} {word}" if row else word
        if row and outline(longer, _SIZE)[1] > width - 2 * _EDGE:
            yield row
            row = word
        else:
            row = longer
    yield row
