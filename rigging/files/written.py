"""Features written so that others can read them: CSV, GeoJSON, GPX, KML."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable
from typing import Literal
from xml.etree import ElementTree as ET

from rigging.document import Feature, Frame
from rigging.files.places import origin, to_map
from rigging.files.plain import cell, xml_text

WrittenForm = Literal["csv", "geojson", "gpx", "kml"]
COLUMNS = (
    "name", "kind", "x_m", "y_m", "z_m", "rating_low_n", "rating_expected_n", "rating_high_n", "basis",
    "verdict", "reason", "judged_by", "guard", "answers", "placed_by", "off_m", "off_up_m",
)  # fmt: skip
Placed = list[tuple[Feature, float, float, float | None]]


def write_features(features: Iterable[Feature], form: WrittenForm, frame: Frame | None, with_mark: bool = False) -> str:
    """Features as a file's text; read again it gives the same features (GPX keeps names, kinds, places and how they were judged). `with_mark`: a
    byte order mark before a table, by which spreadsheets know its letters.

    Raises
    ------
    Refused
        If a map format is wanted and nobody said where the working point is, or from which north its bearing was taken.
    """
    if form == "csv":
        return ("\ufeff" if with_mark else "") + _csv(features)
    origin(frame)
    assert frame is not None
    placed: Placed = []
    for one in features:
        latitude, longitude = to_map(one.x_m, one.y_m, frame)
        height = None if frame.elevation_m is None else round(frame.elevation_m + one.z_m, 2)
        placed.append((one, round(latitude, 8), round(longitude, 8), height))
    return {"geojson": _geojson, "gpx": _gpx, "kml": _kml}[form](placed)


def _csv(features: Iterable[Feature]) -> str:
    out = io.StringIO()
    table = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    table.writeheader()
    for one in features:
        rating = one.rating_n
        row = {name: getattr(one, name) for name in COLUMNS if name in Feature.model_fields}
        row |= {f"rating_{end}_n": getattr(rating, end) if rating else "" for end in ("low", "expected", "high")}
        row |= (
            {"placed_by": one.placed.by, "off_m": one.placed.off_m, "off_up_m": one.placed.off_up_m}
            if one.placed
            else {}
        )
        row["answers"] = "; ".join(f"{name}={value}" for name, value in one.answers.items())
        table.writerow(
            {
                name: cell(value) if isinstance(value, str) else "" if value is None else value
                for name, value in row.items()
            }
        )
    return out.getvalue()


def _geojson(placed: Placed) -> str:
    features = [
        {
            "type": "Feature",
            "geometry": {
                "type": "Point",
                "coordinates": [longitude, latitude, *([height] if height is not None else [])],
            },
            "properties": one.model_dump(mode="json", exclude={"id", "x_m", "y_m", "z_m"}),
        }
        for one, latitude, longitude, height in placed
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False, indent=1)


def _gpx(placed: Placed) -> str:
    import gpxpy.gpx

    content = gpxpy.gpx.GPX()
    content.creator = "Outrigger"
    for one, latitude, longitude, height in placed:
        content.waypoints.append(
            gpxpy.gpx.GPXWaypoint(
                latitude,
                longitude,
                height,
                name=xml_text(one.name),
                description=xml_text(one.basis) or None,
                type=one.kind,
            )
        )
    return str(content.to_xml())


def _kml(placed: Placed) -> str:
    """KML 2.2: heights above the sea where they are known, else on the ground as whoever shows it has it."""
    root = ET.Element("kml", xmlns="http://www.opengis.net/kml/2.2")
    document = ET.SubElement(root, "Document")
    ET.SubElement(document, "name").text = "Features"
    for one, latitude, longitude, height in placed:
        mark = ET.SubElement(document, "Placemark")
        ET.SubElement(mark, "name").text = xml_text(one.name)
        if one.basis:
            ET.SubElement(mark, "description").text = xml_text(one.basis)
        more = ET.SubElement(mark, "ExtendedData")
        for name, value in (("kind", one.kind), ("basis", xml_text(one.basis))):
            ET.SubElement(ET.SubElement(more, "Data", name=name), "value").text = value
        point = ET.SubElement(mark, "Point")
        if height is not None:
            ET.SubElement(point, "altitudeMode").text = "absolute"
        ET.SubElement(point, "coordinates").text = f"{longitude},{latitude}" + (
            f",{height}" if height is not None else ""
        )
    ET.indent(root)
    return ET.tostring(root, encoding="unicode", xml_declaration=True)
