"""GPX and KML: places, tracks and routes by the names of their elements, whatever prefix or version stands before them.

Entities are refused (defusedxml), so that no small file becomes a large one."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from typing import Any
from xml.etree.ElementTree import Element, ParseError

from rigging.catalogue import catalogue
from rigging.files.letters import letters_of
from rigging.files.places import Content, OnMap, Spot, Track
from rigging.quantities.faults import Fault, Refused, refuse

_LARGEST_INSIDE = 50_000_000
# One step of dilution of precision is so many metres of a receiver's error (from memory).
_DILUTION_M = 5.0


def _root(text: str, kind: str) -> Element:
    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import fromstring

    try:
        # What it says of its letters has been followed: it is text by now.
        root: Element = fromstring(re.sub(r"^\s*<\?xml[^>]*\?>", "", text, count=1))
    except ParseError as error:
        row = error.position[0]
        raise refuse(
            f"row {row}",
            f"not {kind} that can be read ({error.msg if hasattr(error, 'msg') else error})",
            "export it again",
        ) from error
    except DefusedXmlException as error:
        raise refuse(kind, "it declares entities of its own", "export it without them") from error
    except (ValueError, RecursionError) as error:
        raise refuse(kind, f"not {kind} that can be read", "export it again") from error
    return root


def _name(element: Element) -> str:
    """An element's name without its prefix."""
    tag = element.tag if isinstance(element.tag, str) else ""
    return tag.rpartition("}")[2].rpartition(":")[2]


def _all(element: Element, name: str) -> Iterator[Element]:
    return (one for one in element.iter() if _name(one) == name)


def _child(element: Element, name: str) -> Element | None:
    return next((one for one in element if _name(one) == name), None)


def _said(element: Element, name: str) -> str:
    found = _child(element, name)
    return " ".join("".join(found.itertext()).split()) if found is not None else ""


class _Faults(list[Fault]):
    """What is wrong with numbers on the way."""

    def number(self, where: str, text: str, field: str) -> float | None:
        try:
            found = (
                float(text) if re.fullmatch(r"\s*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?\s*", text, re.ASCII) else None
            )
        except ValueError:
            found = None
        if found is None:
            self.append(
                Fault(
                    f"{where}, {field}",
                    f"{text[:40]!r} is no number" if text else "it is missing",
                    "give a number with a point, as 47.25",
                )
            )
        return found


def gpx(text: str) -> Content:
    """Waypoints as places; tracks (their segments joined) and routes as ways.

    Raises
    ------
    Refused
        Every point of it that is none.
    """
    root = _root(text, "GPX")
    if _name(root) != "gpx":
        raise refuse("gpx", f"its outermost element is {_name(root)!r}", "give GPX 1.0 or 1.1")
    faults = _Faults()
    spots = []
    for number, one in enumerate(_all(root, "wpt"), start=1):
        where = f"waypoint {number}"
        at = _gpx_point(where, one, faults)
        if at is not None:
            kind = _said(one, "type")
            fields = {
                "name": _said(one, "name") or f"Waypoint {number}", "kind": kind if kind in catalogue().features else "other",
                "basis": _said(one, "desc") or _said(one, "cmt"),
            }  # fmt: skip
            spots.append(Spot(where, at, fields))
    tracks = []
    for outer, inner in (("trk", "trkpt"), ("rte", "rtept")):
        for number, one in enumerate(_all(root, outer), start=1):
            where = f"{'track' if outer == 'trk' else 'route'} {number}"
            points = [_gpx_point(f"{where}, point {n}", p, faults) for n, p in enumerate(_all(one, inner), start=1)]
            if points:
                tracks.append(
                    Track(where, _said(one, "name") or where.capitalize(), tuple(p for p in points if p is not None))
                )
    if faults:
        raise Refused(faults)
    return Content(tuple(spots), tuple(tracks))


def _gpx_point(where: str, one: Element, faults: _Faults) -> OnMap | None:
    latitude, longitude = (faults.number(where, one.get(name, ""), name) for name in ("lat", "lon"))
    height, dilution = _said(one, "ele"), _said(one, "hdop")
    up = faults.number(where, height, "ele") if height else None
    if latitude is None or longitude is None or (height and up is None):
        return None
    spread = faults.number(where, dilution, "hdop") if dilution else None
    return OnMap(latitude, longitude, up, spread * _DILUTION_M if spread else None)


def kml(text: str) -> Content:
    """Placemarks: points as places, lines and recorded tracks as ways; what is laid over the ground or has a surface is left out and said.

    Raises
    ------
    Refused
        Every place of it that is none.
    """
    root = _root(text, "KML")
    if _name(root) not in ("kml", "Document", "Folder", "Placemark"):
        raise refuse("kml", f"its outermost element is {_name(root)!r}", "give KML 2.1 to 2.3")
    faults = _Faults()
    spots: list[Spot] = []
    tracks: list[Track] = []
    left: list[str] = []
    for number, mark in enumerate(_all(root, "Placemark"), start=1):
        name = _said(mark, "name") or f"Placemark {number}"
        where = f"placemark {number} ({name[:40]})"
        known = _extended(mark)
        fields = {"name": name, "kind": "other", "basis": _said(mark, "description")[:2000]} | known
        points = list(_all(mark, "Point"))
        for n, one in enumerate(points, start=1):
            at = _coordinates(where, one, faults)
            if len(at) == 1:
                spots.append(Spot(where, at[0], fields if len(points) == 1 else fields | {"name": f"{name} {n}"}))
            elif not at:
                left.append(f"{where} has no coordinates")
        for one in [*_all(mark, "LineString"), *_all(mark, "Track")]:
            line = _coordinates(where, one, faults) if _name(one) == "LineString" else _recorded(where, one, faults)
            if line:
                tracks.append(Track(where, name, tuple(line)))
        left += [
            f"{where}: a {_name(one).lower()} is neither a place nor a way"
            for kind in ("Polygon", "Model")
            for one in _all(mark, kind)
        ]
    left += [
        f"{_name(one)}: no place"
        for kind in ("GroundOverlay", "ScreenOverlay", "PhotoOverlay", "NetworkLink")
        for one in _all(root, kind)
    ]
    if faults:
        raise Refused(faults)
    return Content(tuple(spots), tuple(tracks), tuple(dict.fromkeys(left)))


def _extended(mark: Element) -> dict[str, Any]:
    """What this tool wrote beside the place: the kind of feature, and what it was judged by."""
    found = {}
    for one in _all(mark, "Data"):
        name, value = one.get("name", ""), _said(one, "value")
        if name == "kind" and value in catalogue().features:
            found["kind"] = value
        if name == "basis":
            found["basis"] = value
    return found


def _heights_count(element: Element) -> bool:
    """Whether the heights of a geometry are above the sea; else they say nothing of it."""
    return _said(element, "altitudeMode") == "absolute"


def _coordinates(where: str, element: Element, faults: _Faults) -> list[OnMap]:
    found, absolute = [], _heights_count(element)
    text = _child(element, "coordinates")
    for tuple_ in "".join(text.itertext()).split() if text is not None else []:
        parts = tuple_.split(",")
        if len(parts) not in (2, 3):
            faults.append(
                Fault(
                    f"{where}, coordinates",
                    f"{tuple_[:40]!r} is no place",
                    "longitude,latitude or longitude,latitude,height, no blanks within",
                )
            )
            continue
        numbers = [faults.number(where, part, "coordinates") for part in parts if part]
        if len(numbers) >= 2 and None not in numbers:
            longitude, latitude = numbers[0], numbers[1]
            assert longitude is not None and latitude is not None
            found.append(OnMap(latitude, longitude, numbers[2] if absolute and len(numbers) == 3 else None))
    return found


def _recorded(where: str, element: Element, faults: _Faults) -> list[OnMap]:
    """A recorded track: places apart by blanks, each in an element of its own."""
    found, absolute = [], _heights_count(element)
    for one in _all(element, "coord"):
        numbers = [faults.number(where, part, "coord") for part in (one.text or "").split()]
        if len(numbers) >= 2 and None not in numbers:
            longitude, latitude = numbers[0], numbers[1]
            assert longitude is not None and latitude is not None
            found.append(OnMap(latitude, longitude, numbers[2] if absolute and len(numbers) > 2 else None))
    return found


def kmz(content: bytes) -> Content:
    """The first KML of a KMZ, as RFC-less practice has it: `doc.kml`, or whichever comes first."""
    inside = unpacked(content, "kmz")
    name = (
        "doc.kml"
        if "doc.kml" in inside.namelist()
        else next((n for n in inside.namelist() if n.lower().endswith(".kml")), None)
    )
    if name is None:
        raise refuse("kmz", "there is no KML in it", "export it again")
    return kml(letters_of(inside.read(name)).text)


def unpacked(content: bytes, kind: str) -> zipfile.ZipFile:
    """A zip archive, if what is in it is not many times larger than a file of its kind.

    Raises
    ------
    Refused
        If it is none, or too large unpacked.
    """
    try:
        found = zipfile.ZipFile(io.BytesIO(content))
        inside = sum(one.file_size for one in found.infolist())
        if inside <= _LARGEST_INSIDE and found.testzip() is None:
            return found
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, ValueError, OSError, EOFError) as error:
        raise refuse(kind, "it can not be unpacked", "export it again, without a password") from error
    raise refuse(
        kind,
        f"unpacked it has {inside / 1e6:.0f} MB",
        f"at most {_LARGEST_INSIDE / 1e6:.0f} MB: leave the pictures out",
    )
