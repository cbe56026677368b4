"""Surveying features: from distance, bearing and height, from a rangefinder, from and to CSV, GeoJSON and GPX.

Bearings are compass degrees. Map positions go over the WGS 84 ellipsoid by its geodesics (GeographicLib)."""

from __future__ import annotations

import csv
import io
import json
import math
import re
from collections.abc import Iterable
from typing import Annotated, Any, Literal

import gpxpy
import gpxpy.gpx
from geographiclib.geodesic import Geodesic
from pydantic import Field, ValidationError

from rigging.catalogue import catalogue
from rigging.document import Feature, Frame, Place3
from rigging.quantities.faults import Fault, Refused, faults_of, refuse
from rigging.quantities.ranges import Strict

Format = Literal["csv", "geojson", "gpx"]
COLUMNS = (
    "name", "kind", "x_m", "y_m", "z_m", "rating_low_n", "rating_expected_n", "rating_high_n", "basis",
    "verdict", "reason", "judged_by", "guard", "answers",
)  # fmt: skip
_NEEDED = ("name", "kind", "x_m", "y_m")
_FAR_M = 2000.0
_MOST = 50


class Reading(Strict):
    """One reading of a rangefinder: slope distance, inclination (up positive), compass bearing."""

    distance_m: Annotated[float, Field(gt=0, le=5000)]
    inclination_deg: Annotated[float, Field(ge=-90, le=90)]
    bearing_deg: Annotated[float, Field(ge=0, le=360)]


class Taped(Strict):
    """Measured with tape and compass: level distance, height (up positive), compass bearing."""

    # As far at most as a rangefinder reads along the slope.
    level_m: Annotated[float, Field(gt=0, le=4800)]
    height_m: Annotated[float, Field(ge=-1000, le=1000)]
    bearing_deg: Annotated[float, Field(ge=0, le=360)]

    @property
    def reading(self) -> Reading:
        """The same as a rangefinder would read it."""
        return Reading(
            distance_m=math.hypot(self.level_m, self.height_m),
            inclination_deg=math.degrees(math.atan2(self.height_m, self.level_m)),
            bearing_deg=self.bearing_deg,
        )


class Placed(Strict):
    """Where a reading puts a feature, and what about it should be questioned."""

    place: Place3
    doubts: list[str]


def heading_rad(bearing_deg: float, frame: Frame) -> float:
    """Compass bearing as a heading on the sheet: 0 along the fall line, positive to the right looking out."""
    return math.radians((bearing_deg - frame.bearing_deg + 180) % 360 - 180)


def place(reading: Reading, frame: Frame | None, held_at: Place3) -> Placed:
    """The place a reading from `held_at` aims at: x = d·cos i·cos b, y = d·cos i·sin b, z = d·sin i further.

    Raises
    ------
    Refused
        If nobody said which way the fall line runs, or what is read lies further off than a sheet reaches.
    """
    if frame is None:
        raise refuse(
            "site.frame", "bearings can not be placed yet", "give the compass bearing of the fall line, looking out"
        )
    rise, heading = math.radians(reading.inclination_deg), heading_rad(reading.bearing_deg, frame)
    level = reading.distance_m * math.cos(rise)
    along = (level * math.cos(heading), level * math.sin(heading), reading.distance_m * math.sin(rise))
    from_here = zip(("x_m", "y_m", "z_m"), (held_at.x_m, held_at.y_m, held_at.z_m), along, strict=True)
    try:
        spot = Place3.model_validate({name: round(here + further, 2) for name, here, further in from_here})
    except ValidationError as error:
        raise refuse(
            "held_at", "what it reads lies beyond the sheet", "read it from nearer to the working point"
        ) from error
    return Placed(place=spot, doubts=_doubts(reading, heading))


def _doubts(reading: Reading, heading: float) -> list[str]:
    found = []
    if reading.distance_m > 100:
        found.append(f"{reading.distance_m:g} m is far for an anchor: did it read something behind it?")
    if reading.distance_m < 0.5:
        found.append(f"{reading.distance_m:g} m is nearer than such an instrument reads: measure it with a tape.")
    if abs(reading.inclination_deg) > 45:
        found.append(f"{reading.inclination_deg:g}° up or down: was it held still on the feature?")
    if math.cos(heading) > math.cos(math.radians(45)):
        found.append("It lies ahead, towards the edge: is the bearing right?")
    return found


def read_features(text: str, form: Format, frame: Frame | None, taken: Iterable[str] = ()) -> list[Feature]:
    """Features from a file's text. CSV has the columns name, kind, x_m, y_m and any of the others in `COLUMNS`;
    GeoJSON points and GPX waypoints carry name and kind (a GPX waypoint's type) where they know them. Ids are fresh beside those `taken`.

    Raises
    ------
    Refused
        Naming every row, waypoint or column at fault. Nothing of a file at fault is taken.
    """
    rows = {"csv": _csv_rows, "geojson": _geojson_rows, "gpx": _gpx_rows}[form](text, frame)
    found, faults, ids = [], [], set(taken)
    if len(rows) > _MOST:
        raise refuse(form, f"{len(rows)} features in this file", f"give at most {_MOST}")
    for where, row in rows:
        row["id"] = _fresh_id(str(row.get("name") or "feature"), ids)
        try:
            found.append(Feature.model_validate(row))
        except ValidationError as error:
            faults += [Fault(f"{where}, {one.path}", one.problem, one.right) for one in faults_of(error)]
    if not rows:
        faults.append(Fault(form, "no features in this file", "give a file with at least one"))
    if faults:
        raise Refused(faults)
    return found


def _fresh_id(name: str, taken: set[str]) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "feature"
    number, found = 2, stem
    while found in taken:
        found, number = f"{stem}-{number}", number + 1
    taken.add(found)
    return found


Rows = list[tuple[str, dict[str, Any]]]


def _csv_rows(text: str, frame: Frame | None) -> Rows:
    lines = csv.DictReader(io.StringIO(text.lstrip("﻿")), strict=True)
    try:
        names = [name.strip() for name in lines.fieldnames or []]
        lines.fieldnames = names
        table = list(lines)
    except csv.Error as error:
        raise refuse("csv", f"not a table that can be read ({error})", "give comma-separated text") from error
    faults = [
        Fault(f"column {name!r}", "unknown column", f"one of {', '.join(COLUMNS)}")
        for name in names
        if name not in COLUMNS
    ]
    faults += [Fault(f"column {name!r}", "missing", "give this column") for name in _NEEDED if name not in names]
    if faults:
        raise Refused(faults)
    return [(f"row {number}", _csv_row(number, row)) for number, row in enumerate(table, start=2)]


# What people write comes back as they wrote it.
_TEXTS = frozenset(("name", "basis", "reason", "judged_by", "guard"))


def _csv_row(number: int, row: dict[str | None, Any]) -> dict[str, Any]:
    if None in row or None in row.values():
        raise refuse(f"row {number}", "not as many values as columns", "put texts with commas in quotes")
    given = {str(name): value if name in _TEXTS else value.strip() for name, value in row.items() if value.strip()}
    found: dict[str, Any] = {
        name: value
        for name, value in given.items()
        if name in ("name", "kind", "basis", "verdict", "reason", "judged_by", "guard")
    }
    for name in ("x_m", "y_m", "z_m"):
        if name in given:
            found[name] = _number(f"row {number}, {name}", given[name])
    rating = {end: given.get(f"rating_{end}_n") for end in ("low", "expected", "high")}
    if any(rating.values()):
        found["rating_n"] = {
            end: _number(f"row {number}, rating_{end}_n", value or "") for end, value in rating.items()
        }
    if "answers" in given:
        found["answers"] = _answers(given["answers"])
    return found


def _number(where: str, text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError as error:
        raise refuse(where, f"{text!r} is not a number", "give a number, as 2.5") from error


def _answers(text: str) -> dict[str, Any]:
    """`diameter_m=0.31; alive=yes` as a dictionary."""
    found: dict[str, Any] = {}
    for part in filter(None, (one.strip() for one in text.split(";"))):
        name, _, value = part.partition("=")
        number = re.fullmatch(r"\s*\d+(\.\d*)?([eE][+-]?\d+)?\s*", value)
        found[name.strip()] = float(value) if number and not _chooses(name.strip()) else value.strip()
    return found


def _chooses(question: str) -> bool:
    kinds = catalogue().features.values()
    return any(one.id == question and one.kind != "number" for kind in kinds for one in kind.questions)


def _on_map(frame: Frame | None) -> tuple[float, float]:
    if frame is None or frame.latitude_deg is None or frame.longitude_deg is None:
        right = "give the working point's latitude and longitude and the bearing of the fall line"
        raise refuse("site.frame", "map positions can not be placed yet", right)
    return frame.latitude_deg, frame.longitude_deg


def _from_map(where: str, latitude: float, longitude: float, height_m: float | None, frame: Frame) -> dict[str, Any]:
    way = Geodesic.WGS84.Inverse(*_on_map(frame), latitude, longitude)
    if way["s12"] > _FAR_M:
        problem = f"{way['s12'] / 1000:.1f} km from the working point"
        raise refuse(where, problem, "check both places: latitude first, then longitude")
    heading = heading_rad(way["azi1"] % 360, frame)
    z = 0.0 if height_m is None else height_m - frame.elevation_m
    return {
        "x_m": round(way["s12"] * math.cos(heading), 2),
        "y_m": round(way["s12"] * math.sin(heading), 2),
        "z_m": round(z, 2),
    }


def _geojson_rows(text: str, frame: Frame | None) -> Rows:
    _on_map(frame)
    assert frame is not None
    try:
        content = json.loads(text)
        features = content["features"] if content["type"] == "FeatureCollection" else [content]
        points = [
            (one["geometry"]["type"], one["geometry"]["coordinates"], one.get("properties") or {}) for one in features
        ]
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise refuse("geojson", "not a GeoJSON FeatureCollection of points", "give one as RFC 7946 has it") from error
    rows: Rows = []
    for number, (kind, coordinates, properties) in enumerate(points, start=1):
        where = f"feature {number}"
        numbers = (
            isinstance(coordinates, list)
            and len(coordinates) in (2, 3)
            and all(isinstance(c, (int, float)) for c in coordinates)
        )
        if (
            kind != "Point"
            or not numbers
            or not isinstance(properties, dict)
            or abs(coordinates[1]) > 90
            or abs(coordinates[0]) > 360
        ):
            raise refuse(where, "not a point of longitude, latitude and height", "give points only, longitude first")
        longitude, latitude, *height = coordinates
        spot = _from_map(where, latitude, longitude, height[0] if height else None, frame)
        known = {name: value for name, value in properties.items() if name in Feature.model_fields and name != "id"}
        rows.append((where, {"name": f"Point {number}", "kind": "other", **known, **spot}))
    return rows


def _gpx_rows(text: str, frame: Frame | None) -> Rows:
    _on_map(frame)
    assert frame is not None
    try:
        waypoints = gpxpy.parse(text).waypoints
    except (gpxpy.gpx.GPXException, ValueError, TypeError, AttributeError, RecursionError) as error:
        raise refuse("gpx", "not a GPX file that can be read", "give GPX 1.0 or 1.1 with waypoints") from error
    rows: Rows = []
    for number, one in enumerate(waypoints, start=1):
        where = f"waypoint {number}"
        if not (abs(one.latitude) <= 90 and abs(one.longitude) <= 360):
            raise refuse(
                where, f"{one.latitude:g}, {one.longitude:g} is no place", "latitude −90 to 90, longitude −180 to 180"
            )
        kind = one.type if one.type in catalogue().features else "other"
        spot = _from_map(where, one.latitude, one.longitude, one.elevation, frame)
        rows.append(
            (where, {"name": one.name or f"Waypoint {number}", "kind": kind, "basis": one.description or "", **spot})
        )
    return rows


def write_features(features: Iterable[Feature], form: Format, frame: Frame | None) -> str:
    """Features as a file's text; read again it gives the same features (GPX keeps names, kinds and places only).

    Raises
    ------
    Refused
        If a map format is wanted and nobody said where the working point is.
    """
    if form == "csv":
        return _as_csv(features)
    start = _on_map(frame)
    assert frame is not None
    placed = [(one, *_to_map(one, start, frame)) for one in features]
    return _as_geojson(placed) if form == "geojson" else _as_gpx(placed)


def _as_csv(features: Iterable[Feature]) -> str:
    out = io.StringIO()
    table = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    table.writeheader()
    for one in features:
        rating = one.rating_n
        row = {name: getattr(one, name) for name in COLUMNS if name in Feature.model_fields}
        row |= {f"rating_{end}_n": getattr(rating, end) if rating else "" for end in ("low", "expected", "high")}
        row["answers"] = "; ".join(f"{name}={value}" for name, value in one.answers.items())
        table.writerow({name: "" if value is None else value for name, value in row.items()})
    return out.getvalue()


def _to_map(feature: Feature, start: tuple[float, float], frame: Frame) -> tuple[float, float, float]:
    """Latitude, longitude and elevation."""
    bearing = frame.bearing_deg + math.degrees(math.atan2(feature.y_m, feature.x_m))
    there = Geodesic.WGS84.Direct(*start, bearing, math.hypot(feature.x_m, feature.y_m))
    return there["lat2"], there["lon2"], frame.elevation_m + feature.z_m


def _as_geojson(placed: list[tuple[Feature, float, float, float]]) -> str:
    features = [
        {
            "type": "Feature",
            "geometry": {"type": "Point", "coordinates": [round(lon, 8), round(lat, 8), round(height, 2)]},
            "properties": one.model_dump(mode="json", exclude={"id", "x_m", "y_m", "z_m"}),
        }
        for one, lat, lon, height in placed
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False, indent=1)


def _as_gpx(placed: list[tuple[Feature, float, float, float]]) -> str:
    content = gpxpy.gpx.GPX()
    content.creator = "Outrigger"
    for one, latitude, longitude, height in placed:
        content.waypoints.append(
            gpxpy.gpx.GPXWaypoint(
                round(latitude, 8),
                round(longitude, 8),
                round(height, 2),
                name=one.name,
                description=one.basis or None,
                type=one.kind,
            )
        )
    return str(content.to_xml())
