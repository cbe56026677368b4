"""Files of places: never another number than a person would read; what is not plain is asked, the rest refused by row, column or path."""

import csv
import io
import json
import math
import xml.etree.ElementTree as ET
import zipfile

import pytest
from openpyxl import Workbook

from rigging.catalogue import catalogue
from rigging.checks.anchors import place_astray, place_doubtful
from rigging.checks.anchors.made import Made
from rigging.document import Frame, Plan
from rigging.files.bags import BagSettings, read_bags
from rigging.files.ground import MOST_POINTS, thinned
from rigging.files.reading import FileSettings, read_places
from rigging.files.sightings import sentence
from rigging.files.written import write_features
from rigging.quantities.faults import Refused
from rigging.site.survey import Reading
from tests.plans import changed, one_rope_document, one_rope_plan

FRAME = Frame(bearing_deg=205, north="true", latitude_deg=47.0, longitude_deg=12.0, elevation_m=940, elevation_by="map")
PLAN = Plan.model_validate(changed(one_rope_document(), site__frame=FRAME.model_dump()))


def read(content, name="file", plan=PLAN, **said):
    return read_places(content if isinstance(content, bytes) else content.encode(), name, plan, FileSettings(**said))


def asked(content, **said):
    return [one.setting for one in read(content, **said).asks]


def features(content, **said):
    found = read(content, **said)
    assert not found.asks and not found.faults, (found.asks, found.faults)
    return found.features


def faults(content, **said):
    try:
        return [str(one) for one in read(content, **said).faults]
    except Refused as error:
        return [str(one) for one in error.faults]


def test_features_survive_every_format():
    old = one_rope_plan().features
    for form in ("csv", "geojson", "gpx", "kml"):
        text = write_features(old, form, FRAME)
        new = features(text, **({} if form == "csv" else {"placed_by": "map"}))
        assert [(one.name, one.kind, one.basis) for one in new] == [(one.name, one.kind, one.basis) for one in old]
        for a, b in zip(old, new, strict=True):
            assert (b.x_m, b.y_m, b.z_m) == pytest.approx((a.x_m, a.y_m, a.z_m), abs=0.02)
        if form in ("csv", "geojson"):
            assert [(one.answers, one.verdict, one.rating_n) for one in new] == [
                (one.answers, one.verdict, one.rating_n) for one in old
            ]


def test_the_files_are_what_others_read():
    """A CSV reader, a JSON reader and an XML reader of the standard library; map places by the length of a degree.

    At 47° N a degree of latitude is 111.17 km and one of longitude 76.06 km (WGS 84, from memory)."""
    old = one_rope_plan().features
    assert next(csv.DictReader(io.StringIO(write_features(old, "csv", None))))["name"] == old[0].name
    points = json.loads(write_features(old, "geojson", FRAME))["features"]
    waypoint = ET.fromstring(write_features(old, "gpx", FRAME)).find("{http://www.topografix.com/GPX/1/1}wpt")
    east, north = (points[0]["geometry"]["coordinates"][i] - (12.0, 47.0)[i] for i in (0, 1))
    assert float(waypoint.get("lat")) == pytest.approx(47.0 + north, abs=1e-7)
    bearing, far = math.radians(205) + math.atan2(old[0].y_m, old[0].x_m), math.hypot(old[0].x_m, old[0].y_m)
    assert (east * 76_060, north * 111_170) == pytest.approx(
        (far * math.sin(bearing), far * math.cos(bearing)), abs=0.02
    )


# The head, the rows, and x, y and z of the first one.
TABLES = {
    "as this tool writes": ("name,kind,x_m,y_m,z_m\nA,tree,-4.5,1.25,2\n", (-4.5, 1.25, 2), {}),
    "semicolons and decimal commas": ("name;x_m;y_m;z_m\nA;-4,5;1,25;2\n", (-4.5, 1.25, 2), {}),
    "tabs, trailing columns": ("name\tx_m\ty_m\tz_m\t\nA\t-4.5\t1.25\t2\t\t\n", (-4.5, 1.25, 2), {}),
    "another order, feet": ("z_ft;y_ft;x_ft;name\n6,5617;4,1010;-14,7638;A\n", (-4.5, 1.25, 2), {}),
    "units in a row of their own": ("name,x_m,y_m,z_m\n,m,m,m\nA,-4.5,1.25,2\n", (-4.5, 1.25, 2), {}),
    "comments above, German": (
        "# Baustelle\nPunkt;Horizontaldistanz [m];Azimut [gon];Höhenunterschied [m]\nA;10,0;27,7778;1,5\n", (-10, 0, 1.5), {"north": "true"}),
    "French, along the slope": ("Nom;Distance inclinée (m);Azimut (°);Inclinaison (°)\nA;10;25;30\n", (-8.66, 0, 5), {"north": "true"}),
    "degrees on the map": ("name,lat,lon,ele\nA,47.0001,12.0001,945\n", None, {"placed_by": "phone"}),
    "degrees, minutes, seconds": ("name;Breite;Länge;Meereshöhe\nA;47° 0' 0.36\" N;12° 0' 0.36\" E;945\n", None, {"placed_by": "phone", "columns": {"Länge": "longitude"}}),
    "a unit beside each value": ("name;x_m;y_m;z_m\nA;-450 cm;1,25 m;2 m\n", (-4.5, 1.25, 2), {}),
    "thousands by blanks": ("name;x_m;y_m;z_m\nA;-1 004,5;1,25;2\n", (-1004.5, 1.25, 2), {}),
    "old Mac line ends": ("name,x_m,y_m,z_m\rA,-4.5,1.25,2\r", (-4.5, 1.25, 2), {}),
}  # fmt: skip


@pytest.mark.parametrize("name", TABLES)
def test_tables_as_teams_have_them(name):
    text, place, said = TABLES[name]
    one = features(text, **said)[0]
    if place is None:
        north, east = 0.0001 * 111_170, 0.0001 * 76_060
        turn = math.radians(205)
        place = (north * math.cos(turn) + east * math.sin(turn), east * math.cos(turn) - north * math.sin(turn), 5)
    assert (one.x_m, one.y_m, one.z_m) == pytest.approx(place, abs=0.02)
    assert one.name == "A"


@pytest.mark.parametrize(
    ("text", "setting"),
    [
        ('name,x_m,y_m,z_m\nA,"45,000",1,2\n', "decimal"),
        ("name;x_m;y_m;z_m\nA;1.234;1;2\n", "decimal"),
        ("name,x_m,y_m\nA,1,2\n", "heights"),
        ("name,Distance,bearing,height_m\nA,5,20,1\n", "columns.Distance"),
        ("name,x,y,z\nA,5,20,1\n", "columns.x"),
        ("colour,size\nred,3\nblue,4\n", "columns"),
        ("name,level,bearing,height\nA,5,20,1\n", "north"),
        ("name,lat,lon,ele\nA,47.0001,12.0001,945\n", "placed_by"),
        ("name,x_m,y_m,z_m,rating\nA,1,2,3,5\n", "units.rating"),
        ("name,x_m,y_m,x_m\nA,1,2,3\n", "columns"),
        (b"name;x_m;y_m;z_m\nL\xe4rche;1;2;3\n", "encoding"),
    ],
)
def test_what_is_not_plain_is_asked_and_nothing_is_taken(text, setting):
    found = read(text)
    assert setting in [one.setting for one in found.asks]
    assert not found.features


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("name,kind,x_m,y_m\nA,tree,10,3,5\n", "row 2: 5 values under 4 columns"),
        ("name,kind,x_m,y_m,z_m\nOak,lamp,-3,2,0", "row 2, kind: 'lamp'"),
        ("name,kind,x_m,y_m,z_m\nOak,tree,three,2,0", "row 2, x_m: 'three' is not a number"),
        ("name,kind,x_m,y_m,z_m\nOak,tree,,2,0", "row 2, x_m: it is empty"),
        ("name,kind,x_m,y_m,z_m,answers\nOak,tree,-3,2,0,alive=perhaps", "perhaps"),
        ("name;x_m;y_m;z_m\nA;1,5;2;3\nB;1,25;2;3\nC;1.5;2;3\n", "row 4, x_m: '1.5' has another decimal sign"),
        ("name;x_m;y_m;z_m [furlong]\nA;1;2;3\n", "'furlong' is no unit of length"),
        ("name;level;bearing;height\nA;5;380;0\n", "380° is no bearing"),
        ("name,lat,lon,ele\nA,12.0001,47.0001,945\n", "latitude and longitude exchanged it would lie 13 m away"),
        ("name,lat,lon,ele\nA,95,12,945\n", "is no place"),
        ("<gpx", "row 1: not GPX"),
        ("<gpx><wpt lat='95' lon='12'><ele>5</ele></wpt></gpx>", "latitude 95, longitude 12 is no place"),
        ("<gpx><wpt lat='x' lon='12'/><wpt lat='47' lon=''/></gpx>", "waypoint 2, lon: it is missing"),
        ("<!DOCTYPE a [<!ENTITY b 'c'>]><gpx>&b;</gpx>", "declares entities"),
        ("<kml><Placemark><Point><coordinates>12 47</coordinates></Point></Placemark></kml>", "'12' is no place"),
        ("{", "row 1: not JSON"),
        (
            '{"type":"Feature","geometry":{"type":"Point","coordinates":["12",47]},"properties":{}}',
            'coordinates[0]: "12" is no number',
        ),
        ('{"type":"Feature","geometry":{"type":"Point","coordinates":[true,47]},"properties":{}}', "true is no number"),
        ('{"type":"Point","coordinates":[12,95]}', "longitude first"),
        (
            '{"type":"Point","coordinates":[12,47],"crs":{"type":"name","properties":{"name":"EPSG:999999"}}}',
            "crs: 'EPSG:999999'",
        ),
        ('{"type":"FeatureCollection","features":[]}', "no place in it"),
        ("$RFSLD,4.83,M,24.5,M,3.2*00", "row 1: its checksum is 00"),
        ("$RFSLD,4.83,M,24.5,M,3.2", "row 1: it has no checksum"),
        (b"name\0,x_m,y_m\n", "null characters"),
        ("", "it is empty"),
        ('name,x_m,y_m\n"A,1,2\n', "quotation mark"),
    ],
)
def test_a_bad_file_is_refused_by_row_column_or_path(text, said):
    settings = {"heights": "ground", "placed_by": "map", "north": "true", "columns": {}}
    found = faults(text, **settings)
    assert any(said in one for one in found), found
    assert all(one.partition("; ")[2] for one in found)


def test_all_faults_of_a_table_are_named_at_once_and_mended_in_place():
    text = "name;x_m;y_m;z_m\nA;1,5;2;3\nB;x;2;3\nC;1;;3\nD;1;2;3\n"
    found = read(text)
    assert [one.path for one in found.faults] == ["row 3, x_m", "row 4, y_m"]
    assert [(row.row, row.faulty) for row in found.rows] == [(2, False), (3, True), (4, True), (5, False)]
    mends = [{"row": 3, "column": "x_m", "text": "4,5"}, {"row": 4, "column": "y_m", "text": "2"}]
    assert [one.x_m for one in features(text, mends=mends)] == [1.5, 4.5, 1, 1]


def test_heights_are_not_supposed():
    """A place with no height lay level, and one with a height 941 m up where nobody said how high the working point is."""
    text = "<gpx><wpt lat='47.0001' lon='12'><ele>945</ele></wpt></gpx>"
    bare = Plan.model_validate(
        changed(one_rope_document(), site__frame=FRAME.model_copy(update={"elevation_m": None}).model_dump())
    )
    found = read(text, plan=bare, placed_by="phone")
    assert [one.setting for one in found.asks] == ["heights"]
    ground = read(text, plan=bare, placed_by="phone", heights="ground").features[0]
    assert -1 < ground.z_m < 2 and ground.placed.off_up_m == ground.placed.off_m
    assert features(text, placed_by="phone")[0].z_m == 5


def test_how_far_a_place_may_be_off_is_kept_with_it():
    text = "<gpx><wpt lat='47.0001' lon='12'><ele>945</ele><hdop>2.5</hdop></wpt></gpx>"
    placed = features(text, placed_by="phone")[0].placed
    # 2.5 steps of dilution at 5 m; a phone's height and the map's contour under the working point.
    assert (placed.by, placed.off_m, placed.off_up_m) == ("phone", 12.5, 20)
    line = sentence(Reading(distance_m=5, inclination_deg=0, bearing_deg=25, north="true"))
    assert features(line)[0].placed.by == "rangefinder"


def test_geojson_as_it_comes():
    text = json.dumps({
        "type": "FeatureCollection",
        "features": [
            {"type": "Feature", "geometry": {"type": "Point", "coordinates": [12.0, 47.0001, None]}, "properties": {"title": "Larch"}},
            {"type": "Feature", "geometry": {"type": "Point", "coordinates": [12.0, 47.0001, 945, 7]}, "properties": None},
            {"type": "Feature", "geometry": None, "properties": {}},
            {"type": "Feature", "geometry": {"type": "MultiPoint", "coordinates": [[12, 47.0001, 941], [12, 47.0002, 941]]}, "properties": {"name": "Bolt"}},
            {"type": "Feature", "geometry": {"type": "GeometryCollection", "geometries": [{"type": "Point", "coordinates": [12, 47.0001, 941]}, {"type": "Polygon", "coordinates": []}]}, "properties": {"name": "Rock"}},
        ],
    })  # fmt: skip
    assert asked(text, placed_by="map") == ["heights"]
    found = read(text, placed_by="map", heights="ground")
    assert [one.name for one in found.features] == ["Larch", "Point 2", "Bolt 1", "Bolt 2", "Rock 1"]
    assert any("no geometry" in one for one in found.understood) and any("Polygon" in one for one in found.understood)


def test_a_coordinate_system_is_followed():
    """Swiss coordinates of the old observatory in Bern, 46°57'3.9" N 7°26'19.1" E in CH1903 (from memory): metres, not degrees."""
    bern = changed(
        one_rope_document(),
        site__frame=FRAME.model_copy(update={"latitude_deg": 46.95108, "longitude_deg": 7.43864}).model_dump(),
    )
    text = json.dumps(
        {
            "type": "Point",
            "coordinates": [2600010, 1200000, 945],
            "crs": {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::2056"}},
        }
    )
    found = read(text, plan=Plan.model_validate(bern), placed_by="map")
    assert math.hypot(found.features[0].x_m, found.features[0].y_m) == pytest.approx(10, abs=1.5)
    assert "EPSG::2056" in " ".join(found.understood)


def test_a_track_is_offered_as_the_ground_thinned_by_what_is_said():
    rows = "".join(
        f"<trkpt lat='{47 - 0.9e-5 * n * math.cos(math.radians(25)):.9f}' lon='{12 - 1.316e-5 * n * math.sin(math.radians(25)):.9f}'><ele>{940 - 0.3 * n + math.sin(n / 9):.3f}</ele></trkpt>"
        for n in range(120)
    )
    found = read(
        f"<g:gpx xmlns:g='x'><trk><name>Gully</name><trkseg>{rows}</trkseg></trk></g:gpx>".replace(
            "<trk", "<g:trk"
        ).replace("</trk", "</g:trk")
    )
    assert not found.faults and not found.features
    ground = found.grounds[0]
    assert (ground.name, ground.count) == ("Gully", 120) and "120 points" in found.understood[0]
    assert 5 < len(ground.profile) <= MOST_POINTS and ground.thin_m == 0.25
    assert ground.profile[-1].x_m == pytest.approx(119, abs=1) and ground.side_m < 1
    level = read(
        "<gpx><trk><trkseg><trkpt lat='47' lon='12'/><trkpt lat='47.001' lon='12'/></trkseg></trk></gpx>"
    ).grounds[0]
    assert "say no height" in level.why_not and not level.profile


def test_nothing_that_is_thinned_lies_further_off_than_is_said():
    import numpy as np

    chance = np.random.default_rng(5)
    points = np.column_stack([np.arange(900.0), np.cumsum(chance.normal(0, 1, 900))])
    kept, within = thinned(points)
    assert len(kept) <= MOST_POINTS
    assert np.abs(np.interp(points[:, 0], kept[:, 0], kept[:, 1]) - points[:, 1]).max() <= within * math.hypot(1, 30)


def test_kmz_workbooks_and_sentences():
    kml = write_features(PLAN.features, "kml", FRAME)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("doc.kml", kml)
    assert len(features(packed.getvalue(), placed_by="map")) == len(PLAN.features)
    book, file = Workbook(), io.BytesIO()
    book.active.append(["Name", "x_m", "y_m", "z_m"])
    book.active.append(["Larch", -4.5, 1.25, 2])
    book.create_sheet("More").append(["a", 1])
    book.save(file)
    assert asked(file.getvalue()) == ["sheet"]
    assert features(file.getvalue(), sheet="Sheet")[0].x_m == -4.5
    lines = [sentence(Reading(distance_m=d, inclination_deg=0, bearing_deg=25, north="true")) for d in (5, 6)]
    assert [one.x_m for one in features("\r\n".join([*lines, "$GPGGA,1"]))] == [-5, -6]


def test_cells_of_a_table_become_no_formulas_and_come_back():
    old = [one.model_copy(update={"name": "=1+1", "basis": "'-x"}) for one in PLAN.features[:1]]
    text = write_features(old, "csv", None)
    assert "'=1+1" in text
    assert [(one.name, one.basis) for one in features(text)] == [("=1+1", "'-x")]
    assert write_features(old, "csv", None, with_mark=True).startswith("\ufeff")


def test_no_xml_is_written_that_others_can_not_read():
    odd = [one.model_copy(update={"name": "Lar\x0bch\x00 <&>"}) for one in PLAN.features[:1]]
    for form in ("gpx", "kml"):
        text = write_features(odd, form, FRAME)
        assert "Larch <&>" in {one.text for one in ET.fromstring(text).iter()}


def test_names_that_repeat_get_ids_of_their_own():
    text = "name,x_m,y_m,z_m\nOak,-3,2,0\nOak,-4,2,0\n"
    ids = [one.id for one in features(text)]
    assert len(set(ids)) == 2 and not set(ids) & {one.id for one in PLAN.features}


@pytest.mark.parametrize(
    ("place", "kind"),
    [({"z_m": 941.0}, "place-astray"), ({"placed": {"by": "phone", "off_m": 5, "off_up_m": 15}}, "place-doubtful")],
)
def test_the_check_speaks_of_a_place_where_nobody_would_tie_and_of_one_hardly_known(place, kind):
    used = PLAN.anchors[0].arrangement.legs[0].feature
    document = PLAN.model_dump(mode="json")
    row = next(one for one in document["features"] if one["id"] == used)
    row.update(place)
    plan = Plan.model_validate(document)
    found = [
        one
        for module in (place_astray, place_doubtful)
        for one in module.find_made(Made(plan, plan.anchors[0].arrangement))
    ]
    assert [(one.kind, one.level, one.feature) for one in found] == [(kind, "unknown", used)]
    assert not [
        one
        for module in (place_astray, place_doubtful)
        for one in module.find_made(Made(PLAN, PLAN.anchors[0].arrangement))
    ]


GEAR = "Item;Count;Bag;Length\nBall-bearing pulley;3;Bag 1;\nKarabiner;4;Bag 1;\n8 mm prusik;2;Bag 2;\n25 mm tubular webbing;2;Bag 2;5 m\n"


def test_a_table_of_gear_fills_the_bags_and_what_a_name_means_is_asked():
    found = read_bags(GEAR.encode(), "gear.csv", BagSettings())
    assert [one.setting for one in found.asks] == ["named.Karabiner"] and not found.kit
    found = read_bags(GEAR.encode(), "gear.csv", BagSettings(named={"Karabiner": "bends:carabiner"}))
    assert not found.asks and not found.faults
    assert {one.name: one.bends or one.hitches for one in found.bags.packed} == {
        "Bag 1": {"ball-bearing-pulley": 3, "carabiner": 4},
        "Bag 2": {"prusik-8": 2},
    }
    assert [(one.material, one.length_m, one.count) for one in found.kit] == [("tubular-25", 5, 2)]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("Item;Count\nBall-bearing pulley;many\n", "row 2, Count: 'many' is no count (Ball-bearing pulley)"),
        ("Item;Count\nBall-bearing pulley;2,5\n", "2.5 of 'Ball-bearing pulley'"),
        ("Item;Count\n25 mm tubular webbing;2\n", "how long its pieces of tubular-25 are"),
        ("{}", "geojson, and no table"),
        ("", "it is empty"),
    ],
)
def test_a_table_of_gear_at_fault_is_refused_by_its_row(text, said):
    try:
        found = read_bags(text.encode(), "gear.csv", BagSettings()).faults
    except Refused as error:
        found = list(error.faults)
    assert any(said in str(one) for one in found), found


def test_every_kind_of_the_catalogue_is_known_by_its_name():
    """As the tool's own screens call it, in a workbook of a sheet."""
    book, file = Workbook(), io.BytesIO()
    book.active.append(["What", "Qty", "Bag"])
    names = [one.name for one in catalogue().bends.values()] + [one.name for one in catalogue().ropes.values()]
    for name in names:
        book.active.append([name, 1, "A"])
    book.save(file)
    found = read_bags(file.getvalue(), "gear.xlsx", BagSettings())
    assert not found.faults
    asked = [one.setting.removeprefix("named.") for one in found.asks]
    assert len(asked) <= 2
