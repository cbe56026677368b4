"""Files of other programs, and what is written for them, against libraries of their own: gpxpy, geojson, fastkml, openpyxl, pandas, pyproj, and
another model of the earth's field. The files: test data of gpxpy 1.6.2 (30 GPX), geojson-fixtures 1.0.0 (15 GeoJSON), csvkit 2.2.0 (62 tables,
4 workbooks)."""

import csv
import io
import json
import math
import struct
import warnings
from datetime import datetime
from typing import Any

import geojson as geojson_library
import gpxpy
import pandas
import ppigrf
import pyogrio
import pytest
from fastkml import KML
from fastkml.features import Placemark
from fastkml.utils import find_all
from openpyxl import load_workbook
from pyproj import Geod

from rigging.document import Frame
from rigging.files.geojson import geojson
from rigging.files.letters import letters_of
from rigging.files.marked_up import gpx, kml
from rigging.files.places import OnMap, level_place, to_map
from rigging.files.tables import table_of
from rigging.files.workbooks import sheets_of
from rigging.files.written import write_features
from rigging.quantities.faults import Refused
from rigging.site.north import declination
from tests.plans import one_rope_plan
from tests.reference.samples import of_npm, of_package

FRAME = Frame(bearing_deg=205, north="true", latitude_deg=47.0, longitude_deg=12.0, elevation_m=940, elevation_by="map")


def test_every_gpx_has_the_places_that_gpxpy_finds():
    files = sorted(of_package("gpxpy", "1.6.2").rglob("*.gpx"))
    assert len(files) == 30
    for file in files:
        content = gpx(letters_of(file.read_bytes()).text)
        theirs = gpxpy.parse(letters_of(file.read_bytes()).text)
        points: list[Any] = [point for track in theirs.tracks for segment in track.segments for point in segment.points]
        points += [point for route in theirs.routes for point in route.points]
        assert [(s.at.latitude_deg, s.at.longitude_deg, s.at.height_m) for s in content.spots] == [
            (w.latitude, w.longitude, w.elevation) for w in theirs.waypoints
        ], file.name
        mine = [(p.latitude_deg, p.longitude_deg, p.height_m) for track in content.tracks for p in track.points]
        assert mine == [(p.latitude, p.longitude, p.elevation) for p in points], file.name


def test_every_geojson_has_the_places_that_its_library_finds():
    files = sorted(of_npm("geojson-fixtures", "1.0.0").rglob("*.geojson"))
    assert len(files) >= 15
    for file in files:
        content = geojson(file.read_text())
        given = geojson_library.loads(file.read_text())
        every = (
            list(geojson_library.utils.coords(given))
            if given.get("type") != "GeometryCollection"
            else [c for one in given["geometries"] for c in geojson_library.utils.coords(one)]
        )
        mine = [spot.at for spot in content.spots] + [p for track in content.tracks for p in track.points]
        # What is left out are surfaces, and each of those is named.
        there = {(round(c[0], 9), round(c[1], 9)) for c in every}
        assert all((round(p.longitude_deg, 9), round(p.latitude_deg, 9)) in there for p in mine), file.name
        assert len(mine) == len(every) or (all("Polygon" in one for one in content.left_out) and content.left_out), (
            file.name
        )


# Tables that are refused, and why that is true of them.
REFUSED = {
    "bad.csv": "values under",
    "bad_skip_lines.csv": "values under",
    "empty.csv": "nothing in it",
    "null_byte.csv": "null characters",
}


def test_every_table_has_the_values_that_a_csv_reader_finds():
    files = sorted(
        [*of_package("csvkit", "2.2.0").rglob("examples/*.csv"), *of_package("csvkit", "2.2.0").rglob("examples/*.tsv")]
    )
    assert len(files) >= 60
    for file in files:
        try:
            letters = letters_of(file.read_bytes())
            table = table_of(letters.text)
        except Refused as error:
            assert REFUSED[file.name] in str(error), file.name
            continue
        assert file.name not in REFUSED, file.name
        if len(table.head) == 1:
            continue
        rows = [
            row
            for row in csv.reader(io.StringIO(letters.text, newline=""), delimiter=table.separator)
            if any(cell.strip() for cell in row)
        ]
        body = rows[len(rows) - len(table.rows) :]
        for mine, theirs in zip(table.rows, body, strict=True):
            assert [cell for cell in mine.cells if cell] == [cell for cell in theirs if cell], file.name


def test_plain_tables_have_the_columns_that_pandas_finds():
    for name in (
        "iris.csv",
        "dummy3.csv",
        "foo1.csv",
        "join_a.csv",
        "testfixed_converted.csv",
        "test_geo.csv",
        "sort_ints_nulls.csv",
        "testxls_converted.csv",
    ):
        file = next(of_package("csvkit", "2.2.0").rglob(f"examples/{name}"))
        theirs = pandas.read_csv(file, dtype=str, keep_default_na=False)
        mine = table_of(letters_of(file.read_bytes()).text)
        assert list(mine.head) == [" ".join(one.split()) for one in theirs.columns], name
        assert [row.cells for row in mine.rows] == [tuple(row) for row in theirs.itertuples(index=False)], name


def test_every_workbook_has_the_cells_that_openpyxl_finds():
    files = sorted(of_package("csvkit", "2.2.0").rglob("examples/*.xlsx"))
    assert len(files) >= 4
    for file in files:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = load_workbook(file, data_only=True)
        for name, rows in sheets_of(file.read_bytes()).items():
            theirs = [[cell for cell in row if cell is not None] for row in book[name].iter_rows(values_only=True)]
            mine = [[cell for cell in row if cell] for row in rows]
            assert [len(row) for row in mine] == [len(row) for row in theirs[: len(mine)]], file.name
            numbers = [
                cell for row in theirs for cell in row if isinstance(cell, int | float) and not isinstance(cell, bool)
            ]
            assert {f"{one:.15g}" if isinstance(one, float) else str(one) for one in numbers} <= {
                cell for row in mine for cell in row
            }, file.name


def test_kml_that_fastkml_writes_is_read_and_kml_that_is_written_fastkml_reads():
    features = one_rope_plan().features
    text = write_features(features, "kml", FRAME)
    theirs = KML.from_string(text.partition("?>")[2])
    marks: list[Any] = list(find_all(theirs, of_type=Placemark))
    assert [one.name for one in marks] == [one.name for one in features]
    back = kml(theirs.to_string())
    for mine, mark in zip(back.spots, marks, strict=True):
        longitude, latitude, height = mark.geometry.coords[0]
        assert (mine.at.longitude_deg, mine.at.latitude_deg, mine.at.height_m) == (longitude, latitude, height)


def test_gpx_and_geojson_that_are_written_are_what_their_libraries_read():
    features = one_rope_plan().features
    waypoints = gpxpy.parse(write_features(features, "gpx", FRAME)).waypoints
    collection = geojson_library.loads(write_features(features, "geojson", FRAME))
    assert collection.is_valid
    for one, waypoint, point in zip(features, waypoints, collection["features"], strict=True):
        assert (waypoint.name, waypoint.elevation) == (one.name, pytest.approx(940 + one.z_m))
        assert point["geometry"]["coordinates"] == pytest.approx(
            [waypoint.longitude, waypoint.latitude, waypoint.elevation], abs=1e-6
        )
    table = pandas.read_csv(io.StringIO(write_features(features, "csv", None)))
    assert table["x_m"].tolist() == [one.x_m for one in features]


@pytest.mark.parametrize(("bearing", "far"), [(0, 30), (90, 200), (213.7, 500), (359, 1999)])
def test_places_go_over_the_ellipsoid_as_pyproj_has_it(bearing, far):
    longitude, latitude, _ = Geod(ellps="WGS84").fwd(12.0, 47.0, bearing, far)
    x, y = level_place("here", OnMap(latitude, longitude), FRAME)
    turn = math.radians(bearing - 205)
    assert (x, y) == pytest.approx((far * math.cos(turn), far * math.sin(turn)), abs=1e-5)
    assert to_map(x, y, FRAME) == pytest.approx((latitude, longitude), abs=1e-9)


# World Magnetic Model 2025, the test values that its report gives: year, height in km, latitude, longitude, declination (from memory, to 0.01°).
@pytest.mark.parametrize(
    ("year", "height_km", "latitude", "longitude", "told"),
    [(2025.0, 28, 89, -121, -99.79), (2025.0, 65, 43, 93, 0.47), (2025.0, 51, -33, 109, -5.52)],
)  # fmt: skip
def test_the_declination_is_the_reports_own(year, height_km, latitude, longitude, told):
    assert declination(latitude, longitude, height_km * 1000, year).declination_deg == pytest.approx(told, abs=0.05)


@pytest.mark.parametrize("place", [(47, 12), (64, -22), (-33.9, 18.4), (40, -105), (-41, 174), (60, 25), (35, 139)])
def test_the_declination_is_near_that_of_another_model(place):
    """The International Geomagnetic Reference Field, 14th generation, is made from the same measurements by others."""
    latitude, longitude = place
    east, north, _ = (float(one.squeeze()) for one in ppigrf.igrf(longitude, latitude, 0.5, datetime(2026, 7, 1)))
    told = declination(latitude, longitude, 500, 2026.5)
    assert told.declination_deg == pytest.approx(
        math.degrees(math.atan2(east, north)), abs=max(0.3, told.plus_minus_deg)
    )


def test_numbers_of_json_are_the_same_in_and_out():
    features = one_rope_plan().features
    back = geojson(write_features(features, "geojson", FRAME))
    assert [json.dumps(spot.fields["answers"], sort_keys=True) for spot in back.spots] == [
        json.dumps(one.answers, sort_keys=True) for one in features
    ]


@pytest.mark.parametrize("form", ["gpx", "kml", "geojson", "csv"])
def test_what_is_written_gdal_reads_too(form, tmp_path):
    """A second reader of each form, of another house."""
    features = one_rope_plan().features
    file = tmp_path / f"features.{form}"
    file.write_text(write_features(features, form, FRAME), encoding="utf-8")
    meta, _, shapes, columns = pyogrio.raw.read(file, layer="waypoints" if form == "gpx" else None)
    named = columns[[one.lower() for one in meta["fields"]].index("name")]
    assert list(named) == [one.name for one in features]
    if form == "csv":
        out = columns[list(meta["fields"]).index("x_m")]
        assert [float(one) for one in out] == [one.x_m for one in features]
        return
    for one, shape in zip(features, shapes, strict=True):
        longitude, latitude = struct.unpack_from("<dd", shape, 5)
        assert (latitude, longitude) == pytest.approx(to_map(one.x_m, one.y_m, FRAME), abs=2e-8)
