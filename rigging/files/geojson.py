"""GeoJSON as it comes: features, bare geometries, collections; another coordinate system than the map's own is transformed, or refused."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Iterator
from typing import Any

from rigging.document import Feature
from rigging.files.places import Content, OnMap, Spot, Track
from rigging.quantities.faults import Fault, Refused, refuse

_GEOMETRIES = ("Point", "MultiPoint", "LineString", "MultiLineString", "Polygon", "MultiPolygon", "GeometryCollection")
# Taken as they stand: longitude, latitude on WGS 84.
_PLAIN = ("CRS84", "4326", "CRS84H")
_DEEP = 40

Turn = Callable[[float, float], tuple[float, float, float | None]]


def geojson(text: str) -> Content:
    """Points as places, lines as ways.

    Raises
    ------
    Refused
        Every path in it that is wrong.
    """
    try:
        given = json.loads(text, parse_constant=_no_number)
    except RecursionError as error:
        raise refuse("geojson", "it is too deep in itself", "export it again") from error
    except ValueError as error:
        where = f"row {error.lineno}" if isinstance(error, json.JSONDecodeError) else "geojson"
        raise refuse(where, f"not JSON ({getattr(error, 'msg', error)})", "export it again") from error
    if not isinstance(given, dict) or given.get("type") not in ("FeatureCollection", "Feature", *_GEOMETRIES):
        raise refuse(
            "geojson", "it is no GeoJSON", "a FeatureCollection, a Feature or a geometry, as RFC 7946 has them"
        )
    reader = _Reader(*_turn(given.get("crs")))
    reader.read(given)
    if reader.faults:
        raise Refused(reader.faults)
    return Content(tuple(reader.spots), tuple(reader.tracks), tuple(reader.left), tuple(reader.understood))


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is no number")


def _turn(crs: Any) -> tuple[Turn, list[str]]:
    """How its coordinates become longitude and latitude, and what is said of it."""
    if crs is None:
        return _as_they_are, []
    name = (
        crs.get("properties", {}).get("name")
        if isinstance(crs, dict) and isinstance(crs.get("properties"), dict)
        else None
    )
    if not isinstance(name, str):
        raise refuse(
            "crs", "which coordinate system it means can not be told", "export it in longitude and latitude (WGS 84)"
        )
    if name.rpartition(":")[2].upper() in _PLAIN:
        return _as_they_are, []
    from pyproj.exceptions import CRSError, ProjError
    from pyproj.transformer import TransformerGroup

    try:
        group = TransformerGroup(name, "EPSG:4326", always_xy=True)
        if not group.transformers:
            raise CRSError(name)
        way = group.transformers[0]
    except (CRSError, ProjError) as error:
        raise refuse(
            "crs", f"{name!r} is no coordinate system known here", "export it in longitude and latitude (WGS 84)"
        ) from error
    off = way.accuracy if way.accuracy > 0 else None

    def turned(x: float, y: float) -> tuple[float, float, float | None]:
        longitude, latitude = way.transform(x, y)
        return longitude, latitude, off

    within = f", to within {off:g} m" if off else ", to within nobody knows how much" if way.accuracy < 0 else ""
    return turned, [f"its places are in {name}; they were transformed to WGS 84{within}"]


def _as_they_are(x: float, y: float) -> tuple[float, float, float | None]:
    return x, y, None


class _Reader:
    """Goes through a document, keeping what it finds and everything that is wrong."""

    def __init__(self, turn: Turn, understood: list[str]):
        self._turn = turn
        self.understood = understood
        self.spots: list[Spot] = []
        self.tracks: list[Track] = []
        self.left: list[str] = []
        self.faults: list[Fault] = []

    def read(self, given: dict[str, Any]) -> None:
        kind = given.get("type")
        if kind == "FeatureCollection":
            rows = given.get("features")
            if not isinstance(rows, list):
                self._fault("features", "it is no list", "a list of features")
                return
            for number, one in enumerate(rows):
                self._feature(f"features[{number}]", one, number + 1)
        elif kind == "Feature":
            self._feature("feature", given, 1)
        else:
            self._geometry("geometry", given, {"name": "Point 1", "kind": "other"}, 0)

    def _fault(self, where: str, problem: str, right: str) -> None:
        self.faults.append(Fault(where, problem, right))

    def _feature(self, where: str, one: Any, number: int) -> None:
        if not isinstance(one, dict) or one.get("type") != "Feature":
            self._fault(where, "it is no feature", "an object with type Feature, geometry and properties")
            return
        said = one.get("properties") or {}
        if not isinstance(said, dict):
            self._fault(f"{where}.properties", "they are no object", "names with values, or null")
            return
        fields = {
            name: value
            for name, value in said.items()
            if name in Feature.model_fields and name not in ("id", "x_m", "y_m", "z_m")
        }
        name = next(
            (
                said[key]
                for key in ("name", "title", "Name", "NAME", "label")
                if isinstance(said.get(key), str) and said[key].strip()
            ),
            None,
        )
        if one.get("geometry") is None:
            self.left.append(f"{where} has no geometry")
            return
        self._geometry(
            f"{where}.geometry", one["geometry"], {"kind": "other", **fields, "name": name or f"Point {number}"}, 0
        )

    def _geometry(self, where: str, given: Any, fields: dict[str, Any], depth: int) -> None:
        kind = given.get("type") if isinstance(given, dict) else None
        if kind not in _GEOMETRIES or depth > _DEEP:
            self._fault(where, "it is no geometry", f"one of {', '.join(_GEOMETRIES)}")
            return
        path = f"{where}.coordinates"
        if kind == "GeometryCollection":
            rows = given.get("geometries")
            if not isinstance(rows, list):
                self._fault(f"{where}.geometries", "it is no list", "a list of geometries")
                return
            for number, one in enumerate(rows):
                self._geometry(
                    f"{where}.geometries[{number}]",
                    one,
                    fields | ({"name": f"{fields['name']} {number + 1}"} if len(rows) > 1 else {}),
                    depth + 1,
                )
        elif kind == "Point":
            if given.get("coordinates") == []:
                self.left.append(f"{where} is empty")
                return
            at = self._place(path, given.get("coordinates"))
            if at is not None:
                self.spots.append(Spot(where, at, fields))
        elif kind == "MultiPoint":
            for number, at in enumerate(self._places(path, given.get("coordinates")), start=1):
                self.spots.append(
                    Spot(f"{where}.coordinates[{number - 1}]", at, fields | {"name": f"{fields['name']} {number}"})
                )
        elif kind == "LineString":
            self._way(where, path, given.get("coordinates"), fields)
        elif kind == "MultiLineString":
            rows = given.get("coordinates")
            for number, one in enumerate(rows if isinstance(rows, list) else [rows]):
                self._way(where, f"{path}[{number}]", one, fields)
        else:
            self.left.append(f"{where}: a {kind} is neither a place nor a way")

    def _way(self, where: str, path: str, rows: Any, fields: dict[str, Any]) -> None:
        points = tuple(self._places(path, rows))
        if points:
            self.tracks.append(Track(where, str(fields["name"]), points))

    def _places(self, path: str, rows: Any) -> Iterator[OnMap]:
        if not isinstance(rows, list):
            self._fault(path, "it is no list of places", "a list of longitude, latitude pairs")
            return
        for number, one in enumerate(rows):
            at = self._place(f"{path}[{number}]", one)
            if at is not None:
                yield at

    def _place(self, path: str, given: Any) -> OnMap | None:
        """Longitude, latitude, height where it is said, and whatever stands behind, which says nothing of the place."""
        if not isinstance(given, list) or len(given) < 2:
            self._fault(path, "it is no place", "longitude, latitude and, where it is known, height: longitude first")
            return None
        for number, one in enumerate(given[:3]):
            plain = isinstance(one, (int, float)) and not isinstance(one, bool) and math.isfinite(one)
            if not plain and not (number == 2 and one is None):
                self._fault(f"{path}[{number}]", f"{json.dumps(one)[:40]} is no number", "a number, not in quotes")
                return None
        longitude, latitude, off = self._turn(given[0], given[1])
        if not (math.isfinite(longitude) and math.isfinite(latitude) and abs(latitude) <= 90 and abs(longitude) <= 360):
            right = "longitude first, −180 to 180, then latitude, −90 to 90"
            self._fault(path, f"{given[0]:g}, {given[1]:g} is no longitude and latitude", right)
            return None
        return OnMap(
            latitude,
            (longitude + 180) % 360 - 180 if abs(longitude) > 180 else longitude,
            given[2] if len(given) > 2 else None,
            off,
        )
