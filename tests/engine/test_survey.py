"""Placing features: by reading, and from and to files that others read too."""

import csv
import io
import json
import math
import random
import xml.etree.ElementTree as ET

import pytest

from rigging.document import Frame, Place3
from rigging.quantities.faults import Refused
from rigging.site.instruments import simulated_rangefinder
from rigging.site.survey import Reading, Taped, place, read_features, write_features
from tests.plans import one_rope_plan

FRAME = Frame(bearing_deg=205, latitude_deg=47.0, longitude_deg=12.0, elevation_m=940)
HERE = Place3()


def test_a_reading_back_up_the_fall_line_lies_behind_and_above():
    """205° − 180° = 25° is straight behind; 10 m at 30° up is 8.66 m level and 5 m up."""
    spot = place(Reading(distance_m=10, inclination_deg=30, bearing_deg=25), FRAME, HERE).place
    assert (spot.x_m, spot.y_m, spot.z_m) == pytest.approx((-8.66, 0, 5), abs=0.01)
    # A quarter turn clockwise from the fall line is to the right, looking out.
    assert place(Reading(distance_m=4, inclination_deg=0, bearing_deg=295), FRAME, HERE).place.y_m == 4


def test_tape_and_rangefinder_place_alike():
    taped = Taped(level_m=4, height_m=3, bearing_deg=25)
    assert taped.reading.distance_m == 5
    assert place(taped.reading, FRAME, HERE).place == Place3(x_m=-4, y_m=0, z_m=3)
    moved = place(taped.reading, FRAME, Place3(x_m=1, y_m=2, z_m=0.5)).place
    assert moved == Place3(x_m=-3, y_m=2, z_m=3.5)


@pytest.mark.parametrize(
    ("reading", "asked"),
    [
        ((400, 0, 25), "far for an anchor"),
        ((0.3, 0, 25), "nearer than"),
        ((6, 70, 25), "held still"),
        ((6, 0, 205), "ahead"),
    ],
)
def test_a_reading_outside_what_is_sensible_is_questioned_not_swallowed(reading, asked):
    distance, rise, bearing = reading
    found = place(Reading(distance_m=distance, inclination_deg=rise, bearing_deg=bearing), FRAME, HERE)
    assert asked in " ".join(found.doubts)


def test_without_the_fall_lines_bearing_nothing_is_guessed():
    with pytest.raises(Refused, match="bearing of the fall line"):
        place(Reading(distance_m=6, inclination_deg=0, bearing_deg=25), None, HERE)


def test_the_simulated_rangefinder_reads_behind_the_point_with_noise():
    readings = [simulated_rangefinder(random.Random(seed), FRAME) for seed in range(50)]
    places = [place(one, FRAME, HERE).place for one in readings]
    assert all(one.x_m < 0 for one in places)
    assert len({one.distance_m for one in readings}) > 40


def test_features_survive_every_format():
    features = one_rope_plan().features
    for form in ("csv", "geojson", "gpx"):
        back = read_features(write_features(features, form, FRAME), form, FRAME)
        assert [one.name for one in back] == [one.name for one in features]
        assert [one.kind for one in back] == [one.kind for one in features]
        for old, new in zip(features, back, strict=True):
            assert (new.x_m, new.y_m, new.z_m) == pytest.approx((old.x_m, old.y_m, old.z_m), abs=0.02)
        if form != "gpx":
            assert [(one.answers, one.verdict, one.rating_n) for one in back] == [
                (one.answers, one.verdict, one.rating_n) for one in features
            ]


def test_the_files_are_what_others_read():
    """A CSV reader, a JSON reader and an XML reader of the standard library; map places by the length of a degree.

    At 47° N a degree of latitude is 111.17 km and one of longitude 76.06 km (WGS 84, from memory)."""
    features = one_rope_plan().features
    rows = list(csv.DictReader(io.StringIO(write_features(features, "csv", None))))
    assert rows[0]["name"] == features[0].name
    points = json.loads(write_features(features, "geojson", FRAME))["features"]
    gpx = ET.fromstring(write_features(features, "gpx", FRAME))
    waypoint = gpx.find("{http://www.topografix.com/GPX/1/1}wpt")
    east, north = (points[0]["geometry"]["coordinates"][i] - (12.0, 47.0)[i] for i in (0, 1))
    assert float(waypoint.get("lat")) == pytest.approx(47.0 + north, abs=1e-7)
    bearing = math.radians(205) + math.atan2(features[0].y_m, features[0].x_m)
    far = math.hypot(features[0].x_m, features[0].y_m)
    assert (east * 76_060, north * 111_170) == pytest.approx(
        (far * math.sin(bearing), far * math.cos(bearing)), abs=0.02
    )


@pytest.mark.parametrize(
    ("form", "text", "said"),
    [
        ("gpx", "<gpx", "gpx: not a GPX file"),
        ("gpx", "", "gpx: "),
        ("gpx", "<gpx><wpt lat='95' lon='12'/></gpx>", "waypoint 1"),
        ("gpx", "<gpx><wpt lat='12.0' lon='47.0'/></gpx>", "km from the working point"),
        ("csv", "name,kind,x_m,hight\nOak,tree,-3,2", "column 'hight': unknown column"),
        ("csv", "name,kind,x_m\nOak,tree,-3", "column 'y_m': missing"),
        ("csv", "name,kind,x_m,y_m\nOak,tree,three,2", "row 2, x_m: 'three' is not a number"),
        ("csv", "name,kind,x_m,y_m\nOak,tree,-3", "row 2: not as many values"),
        ("csv", "name,kind,x_m,y_m\nOak,lamp,-3,2", "row 2, kind"),
        ("csv", "name,kind,x_m,y_m,answers\nOak,tree,-3,2,alive=perhaps", "perhaps"),
        ("csv", "name,kind,x_m,y_m\n", "no features"),
        ("geojson", "{", "geojson: "),
        ("geojson", '{"type":"Feature","geometry":{"type":"LineString","coordinates":[[1,2]]}}', "feature 1"),
        (
            "geojson",
            '{"type":"FeatureCollection","features":[{"geometry":{"type":"Point","coordinates":["a",2]}}]}',
            "feature 1",
        ),
    ],
)
def test_a_bad_file_is_refused_by_row_and_column_and_nothing_of_it_is_taken(form, text, said):
    with pytest.raises(Refused) as caught:
        read_features(text, form, FRAME)
    assert said in str(caught.value)
    assert all(fault.right for fault in caught.value.faults)


def test_names_that_repeat_get_ids_of_their_own():
    text = "name,kind,x_m,y_m\nOak,tree,-3,2\nOak,tree,-4,2\n"
    assert [one.id for one in read_features(text, "csv", None, ["oak"])] == ["oak-2", "oak-3"]
