"""Anchors, readings and survey files over the API."""

import json

import pytest
from accounts.models import Team
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.plans import changed, demo_document

READING = {"instrument": "rangefinder 1", "distance_m": 6.2, "inclination_deg": 4.0, "bearing_deg": 30.0}


@pytest.fixture
def team(people):
    return Team.objects.get().id


@pytest.mark.parametrize(
    ("who", "read", "write"),
    [("leader", 200, 200), ("member", 200, 200), ("observer", 200, 403), ("outsider", 403, 403)],
)
def test_an_instrument_posts_readings_that_the_team_sees(people, team, who, read, write):
    assert people[who].send("POST", f"/teams/{team}/readings", READING)[0] == write
    assert people[who].send("POST", f"/teams/{team}/readings/simulated", {})[0] == write
    status, rows = people[who].get(f"/teams/{team}/readings")
    assert status == read
    if write == 200:
        assert [row["instrument"] for row in rows] == ["simulated", "rangefinder 1"]
        assert rows[1]["reading"] == {
            key: READING.get(key) for key in ("distance_m", "inclination_deg", "bearing_deg", "north")
        }
        assert rows[0]["reading"]["north"] == "magnetic"


@pytest.mark.parametrize("wrong", [{"distance_m": -1}, {"bearing_deg": 400}, {"inclination_deg": "up"}, {"colour": 1}])
def test_a_reading_that_can_not_be_is_refused_by_field(leader, team, wrong):
    status, told = leader.send("POST", f"/teams/{team}/readings", READING | wrong)
    assert status == 422
    assert told["faults"][0]["path"] == next(iter(wrong))


def test_no_team_no_readings(leader):
    assert leader.get(f"/teams/{10**30}/readings")[0] in (403, 422)
    assert leader.get("/teams/none/readings")[0] == 422


def test_a_reading_is_placed_and_features_are_written_and_read_again(leader, team):
    document = demo_document()
    measured = {key: READING[key] for key in ("distance_m", "inclination_deg", "bearing_deg")} | {"north": "magnetic"}
    body = {"measured": measured, "frame": document["site"]["frame"]}
    status, placed = leader.send("POST", "/survey/place", body)
    assert (status, placed["doubts"]) == (200, [])
    assert placed["place"]["x_m"] < 0
    assert (
        leader.send("POST", "/survey/place", {"measured": {"level_m": 6, "height_m": 0, "bearing_deg": 30}})[0] == 422
    )
    status, file = leader.send("POST", "/survey/write", {"format": "gpx", "document": document})
    assert (status, file["name"]) == (200, "features.gpx")
    status, back = read_file(leader, team, file["text"], document, placed_by="map")
    assert (status, len(back["features"])) == (200, len(document["features"]))
    assert not {one["id"] for one in back["features"]} & {one["id"] for one in document["features"]}
    status, told = read_file(leader, team, "<gpx", document)
    assert (status, told["faults"][0]["path"]) == (422, "row 1")


def read_file(person, team, text, document, **said):
    file = SimpleUploadedFile("survey.csv", text if isinstance(text, bytes) else text.encode())
    body = {"team": team, "document": json.dumps(document), "settings": json.dumps(said), "file": file}
    answer = person.client.post("/api/survey/read", body)
    return answer.status_code, json.loads(answer.content)


def test_columns_mapped_by_hand_are_known_the_next_time(people, team):
    text = "Pt;Ost;Nord;Q\nA;4,5;1;2\nB;3;1;2\n"
    document = demo_document()
    status, told = read_file(people["leader"], team, text, document)
    assert status == 200 and [one["setting"] for one in told["asks"]] == ["columns"] and not told["features"]
    columns = {"Pt": "name", "Ost": "x", "Nord": "y", "Q": "z"}
    told = read_file(people["leader"], team, text, document, columns=columns)[1]
    assert [one["x_m"] for one in told["features"]] == [4.5, 3]
    told = read_file(people["member"], team, text.replace("4,5", "6,5"), document)[1]
    assert [one["x_m"] for one in told["features"]] == [6.5, 3]
    assert "before" in told["understood"][0]
    assert read_file(people["observer"], team, text, document)[0] == 403
    assert read_file(people["outsider"], team, text, document)[0] == 403


def test_what_was_pasted_reads_as_a_file_would(leader, team):
    body = {"team": team, "text": "name,x_m,y_m,z_m\nLarch,-4,1,0\n", "document": demo_document()}
    status, told = leader.send("POST", "/survey/paste", body)
    assert (status, told["features"][0]["name"]) == (200, "Larch")
    status, told = leader.send("POST", "/survey/paste", body | {"settings": {"decimal": ";"}})
    assert status == 422 and told["faults"][0]["path"].endswith("decimal")


def test_a_settings_field_that_is_none_is_refused_by_its_path(leader, team):
    assert read_file(leader, team, "name,x_m\n", demo_document(), separator="x")[1]["faults"][0]["path"] == "separator"
    wrong = changed(demo_document(), load__items__0__mass_kg="heavy")
    status, told = read_file(leader, team, "name,x_m\n", wrong)
    assert status == 422 and [one["path"] for one in told["faults"]] == ["load.items[0].mass_kg"]


def test_sentences_of_a_rangefinder_are_kept_all_or_none(leader, team):
    good, cut = "$RFSLD,4.83,M,24.5,M,3.2*40", "$RFSLD,4.83,M,24"
    status, told = leader.send(
        "POST", f"/teams/{team}/readings/sentences", {"instrument": "r1", "sentences": [good, cut]}
    )
    assert status == 422 and told["faults"][0]["path"] == "sentences[1]"
    assert leader.get(f"/teams/{team}/readings")[1] == []
    status, told = leader.send("POST", f"/teams/{team}/readings/sentences", {"instrument": "r1", "sentences": [good]})
    assert status == 200 and told[0]["reading"] == {
        "distance_m": 4.83,
        "inclination_deg": 3.2,
        "bearing_deg": 24.5,
        "north": "magnetic",
    }


def test_the_declination_is_told_for_the_day_and_the_place(leader):
    body = {"latitude_deg": 47.0, "longitude_deg": 12.0, "elevation_m": 940, "on": "2026-11-24"}
    status, told = leader.send("POST", "/survey/declination", body)
    assert status == 200 and told["declination_deg"] == 4.38 and told["plus_minus_deg"] < 0.5
    assert leader.send("POST", "/survey/declination", body | {"on": "2031-01-01"})[1]["faults"][0]["path"] == "date"


def test_anchors_are_studied_one_or_all(leader):
    status, report = leader.send("POST", "/anchors?state=jammed", demo_document())
    assert status == 200
    assert len(report["arrangements"]) == sum(len(one["alternatives"]) for one in demo_document()["anchors"])
    status, one = leader.send("POST", "/anchors?only=fixed&force_unit=lbf", demo_document())
    assert [each["id"] for each in one["arrangements"]] == ["fixed"]
    assert "lbf" in one["arrangements"][0]["removals"][0]["text"]
    # Another arrangement that can not be laid out says so in its own report; nothing falls over.
    broken = changed(demo_document(), anchors__0__alternatives__1__legs__0__length_m=1.0)
    status, report = leader.send("POST", "/anchors", broken)
    assert (status, report["arrangements"][1]["available"]) == (200, False)
    assert "can not reach" in report["arrangements"][1]["why_not"]


@pytest.mark.parametrize(
    ("change", "path", "said"),
    [
        ({"anchors__0__alternatives__0__legs__0__length_m": 1.0}, "anchors[0].alternatives[0].legs[0].length_m", "can not reach"),
        ({"anchors__0__alternatives__0__point": {"x_m": -4.3, "y_m": -1.7, "z_m": 0.8}}, "anchors[0].alternatives[0].legs[0].feature", "at the working point itself"),
        ({"anchors__0__alternatives__0__heading_rad": 3.14}, "anchors[0].alternatives[0].heading_rad", "runs away from all legs"),
        ({"anchors__0__alternatives__0__scheme": "two-loop-y"}, "anchors[0].alternatives[0]", "has 3 legs"),
        ({"anchors__0__alternatives__0__legs__0__turns": 30}, "anchors[0].alternatives[0].legs[0].turns", "12"),
        ({"anchors__0__alternatives__0__legs__0__turns": 9}, "anchors[0].alternatives[0].legs[0]", "2 to 6 turns"),
        ({"features__2__verdict": "reject"}, "features[2]", "without a reason"),
        ({"features__0__answers__alive": "maybe"}, "features[0]", "no answer"),
        ({"anchors__0__taken": "line"}, "lines[0].anchor", "a pull of its own"),
        ({"kit__0__length_m": 0}, "kit[0].length_m", "above 0"),
    ],
)  # fmt: skip
def test_what_can_not_be_rigged_is_refused_with_its_field(leader, change, path, said):
    status, told = leader.send("POST", "/analyse", changed(demo_document(), **change))
    assert status == 422
    fault = next((fault for fault in told["faults"] if fault["path"] == path), told["faults"][0])
    assert said in f"{fault['problem']} {fault['right']}"
