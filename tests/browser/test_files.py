"""Files as teams have them, on the real interface: a track as the ground, a table mapped by hand and mended in place, a logger's table after a run,
a KML for another program."""

import math
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.browser.test_run import TABLET, act, go_to, on_run
from tests.plans import demo_document


@pytest.fixture
def survey(someone):
    leader = someone(**TABLET, has_touch=True)
    leader.fresh_plan("anchors", base=demo_document)
    leader.page.get_by_role("tab", name="Survey").tap()
    return leader


def send(page, name, text):
    page.get_by_label("Features file").set_input_files(
        {"name": name, "mimeType": "text/plain", "buffer": text.encode()}
    )


def track() -> str:
    """A way walked out along the demo's fall line, 209.4° from true north, falling a third."""
    turn = math.radians(209.4)
    rows = "".join(
        f"<trkpt lat='{47 + n * math.cos(turn) / 111_170:.8f}' lon='{12 + n * math.sin(turn) / 76_060:.8f}'><ele>{940 - n / 3:.2f}</ele></trkpt>"
        for n in range(80)
    )
    return f"<gpx version='1.1' xmlns='http://www.topografix.com/GPX/1/1'><trk><name>Down the gully</name><trkseg>{rows}</trkseg></trk></gpx>"


def test_a_track_becomes_the_ground_from_the_side(survey):
    page, sheet = survey.page, survey.page.get_by_role("dialog")
    send(page, "gully.gpx", track())
    expect(sheet).to_contain_text("1 track with 80 points, 79 m: Down the gully")
    expect(sheet).to_contain_text("none of those left out lies further than 0.25 m from it")
    assert violations(page) == []
    sheet.get_by_role("button", name="Take it as the ground").tap()
    expect(page.get_by_role("alert", name="Survey faults")).to_contain_text(
        "The ground from the side is now Down the gully, 2 points"
    )


def test_a_table_is_mapped_by_hand_mended_in_place_and_known_the_next_time(survey):
    page, sheet = survey.page, survey.page.get_by_role("dialog")
    text = "Pt;A;B;C\nLarch low;-4,5;1;0,4\nBlock;3o;1;0,2\nPost;-6;2,5;0,6\n"
    send(page, "strange.csv", text)
    expect(sheet).to_contain_text("No columns say where things lie")
    for column, means in (
        ("Pt", "Name"),
        ("A", "Out along the fall line"),
        ("B", "To the right, looking out"),
        ("C", "Up from the working point"),
    ):
        sheet.get_by_role("button", name=f"What {column} says").tap()
        page.get_by_role("option", name=means, exact=True).tap()
    expect(sheet.get_by_role("alert")).to_contain_text("row 3, A: '3o' is not a number: 'o' is no unit of length")
    expect(sheet.get_by_role("button", name="Take")).to_have_count(0)
    assert violations(page) == []
    cell = sheet.get_by_label("Row 3, A")
    cell.fill("-3,0")
    cell.press("Enter")
    sheet.get_by_role("button", name="Take 3 features").tap()
    expect(page.get_by_role("alert", name="Survey faults")).to_contain_text(
        "3 taken from strange.csv: Larch low, Block, Post"
    )
    send(page, "again.csv", text.replace("3o", "3"))
    expect(sheet).to_contain_text("somebody of your team said of such a table before")
    expect(sheet.get_by_role("button", name="Take 3 features")).to_be_visible()


def test_a_logger_s_table_is_read_in_after_the_run_and_alarms_nobody(someone):
    leader = someone(**TABLET, has_touch=True)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    go_to(leader, plan, "lower/5")
    act(leader, plan, "end")
    page.reload()
    page.get_by_role("link", name="Debrief").click()
    rows = "\n".join(f"{n / 10:.1f};{'OL' if n == 7 else f'1,{40 + n % 9}'}".replace(".", ",", 1) for n in range(300))
    table = f"# logger 4\nZeit [s];Kraft [kN]\n{rows}\nEnde;der Messung\n"
    page.get_by_label("Table of a logger").set_input_files(
        {"name": "zelle.csv", "mimeType": "text/csv", "buffer": table.encode()}
    )
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("'Zeit [s]' in s from the beginning")
    sheet.get_by_role("button", name="when the run began").tap()
    expect(sheet.get_by_role("alert")).to_contain_text("row 303: 'der Messung' is no force")
    sheet.get_by_role("button", name="Leave row 303 out").tap()
    sheet.get_by_role("button", name="the run of").tap()
    assert violations(page) == []
    sheet.get_by_role("button", name="Take 299 readings").tap()
    expect(sheet.get_by_role("status")).to_contain_text("299 readings are kept, the highest 1.48 kN")
    sheet.get_by_role("button", name="Close").tap()
    assert leader.call("GET", f"/plans/{plan}/log?kind=alarm")["entries"] == []
    page.get_by_label("Moment of the run").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("read")).to_contain_text("Read at the load: 1.4")


def test_a_kml_is_handed_to_another_program(survey):
    page = survey.page
    with page.expect_download() as saved:
        page.get_by_role("button", name="Write KML").tap()
    names = [
        one.text
        for one in ET.fromstring(Path(saved.value.path()).read_bytes()).iter("{http://www.opengis.net/kml/2.2}name")
    ]
    assert [one["name"] for one in demo_document()["features"]] == names[1:]


def test_the_declination_is_looked_up_and_north_is_asked(survey):
    page = survey.page
    page.get_by_role("button", name="Look up the declination").tap()
    expect(page.get_by_text("World Magnetic Model 2025 for today: magnetic north")).to_be_visible()
    page.get_by_role("group", name="Taken from which north").get_by_text("true").tap()
    page.get_by_label("Lines of a table or a rangefinder").fill("$RFSLD,4.83,M,24.5,M,3.2*40")
    page.get_by_role("button", name="Read them").tap()
    expect(page.get_by_role("dialog").get_by_role("button", name="Take 1 feature")).to_be_visible()


def test_a_table_of_gear_is_read_into_the_bags(someone):
    leader = someone(**TABLET, has_touch=True)
    leader.fresh_plan("size-up", base=demo_document)
    page, sheet = leader.page, leader.page.get_by_role("dialog")
    rows = "Item;Count;Bag\nBall-bearing pulley;3;Blue\nKarabiner;4;Blue\n8 mm prusik;2;Red\n"
    page.get_by_role("tab", name="Bags").tap()
    page.get_by_label("Table of what is in the bags").set_input_files(
        {"name": "gear.csv", "mimeType": "text/csv", "buffer": rows.encode()}
    )
    expect(sheet).to_contain_text("What is 'Karabiner'?")
    assert violations(page) == []
    sheet.get_by_role("button", name="Bare carabiner").tap()
    expect(sheet).to_contain_text("9 pieces in 2 bags: Blue, Red")
    sheet.get_by_role("button", name="Take it in place of what is counted now").tap()
    expect(page.get_by_role("group", name="Which bag").get_by_text("Blue")).to_be_visible()
