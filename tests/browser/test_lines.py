"""Several lines on the real interface: led from an empty plan, belayed, redirected, hung straight, and a part taken away."""

import re

import pytest
from playwright.sync_api import expect

from tests.plans import changed, demo_document, one_rope_document

TREE = {"alive": "yes", "rooted": "deep", "diameter_m": 0.31, "strap_height_m": 0.35}


def begun() -> dict:
    """Load, ground and trees; nothing inspected that the first anchor hangs on, no line laid."""
    document = changed(one_rope_document(), lines=[], ropes=[])
    document["features"][0] |= {"rating_n": None, "answers": {}, "basis": "", "verdict": None, "reason": ""}
    document["anchors"][0] |= {"alternatives": document["anchors"][0]["alternatives"][:1], "taken": "fixed"}
    document["anchors"][0]["alternatives"][0] |= {
        "scheme": "single",
        "legs": document["anchors"][0]["alternatives"][0]["legs"][:1],
    }
    return document


def next_is(page, text: str):
    return expect(page.get_by_test_id("next")).to_contain_text(text)


def test_an_empty_plan_is_led_from_open_thing_to_open_thing_by_touch(someone):
    leader = someone(has_touch=True)
    leader.fresh_plan("lines", base=begun)
    page = leader.page
    next_is(page, "Inspect the living tree Larch, 310 mm")
    page.get_by_role("button", name="Do it").tap()
    sheet = page.get_by_role("dialog")
    for question, answer in (("Alive, leaves or buds, no rot, no fungus?", "Yes"), ("Roots", "Rooted in depth")):
        sheet.get_by_role("radiogroup", name=question).get_by_text(answer, exact=True).tap()
    sheet.get_by_label("Trunk diameter at the strap, m").fill("0.31")
    sheet.get_by_label("Strap above the ground, m").fill("0.35")
    expect(sheet.get_by_text("the roots decide", exact=False)).to_be_visible()
    sheet.get_by_role("button", name="Close", exact=True).tap()
    # Anchors come before lines: with no line yet a leg is drawn and judged for the load held on it.
    expect(page.locator("[data-leg='0']")).to_contain_text("% of the pull")
    next_is(page, "Lay the main line")
    page.get_by_role("button", name="Do it").tap()
    page.get_by_role("button", name=re.compile("^11 mm low-stretch rope, type A, breaks")).tap()
    next_is(page, "Choose what lowers")
    page.get_by_role("button", name="Do it").tap()
    expect(page.get_by_role("table", name="What lowers")).to_contain_text("at the hand")
    page.get_by_role("dialog").get_by_role("button", name=re.compile("Super munter")).tap()
    next_is(page, "Choose what raises")
    page.get_by_role("button", name="Do it").tap()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^[■◇] 3:1$")).tap()
    next_is(page, "Name who minds the ratchet")
    page.get_by_role("button", name="Do it").tap()
    page.get_by_label("Minded by").fill("Ash")
    next_is(page, "Add a belay")
    page.get_by_role("button", name="Do it").tap()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("Two 8 mm prusiks in line")).tap()
    expect(page.get_by_test_id("holds")).to_contain_text("behind it the brake-side hitch")
    # The belay came with an anchor of its own, on a tree that nobody has looked at yet: that is the next thing.
    expect(page.get_by_test_id("next")).to_have_count(0)
    page.get_by_role("radio", name="A line goes").tap()
    expect(page.get_by_test_id("answer")).to_contain_text("drops")
    leader.saved()


def test_the_belay_and_the_haul_along_the_road_by_keyboard(someone):
    leader = someone()
    leader.fresh_plan("lines", features=demo_document()["features"])
    page, keys = leader.page, leader.page.keyboard
    keys.press("1")
    leader.tab_to("Add a belay")
    keys.press("Enter")
    page.get_by_role("dialog").get_by_role("row").first.wait_for()
    leader.tab_to("■ Two 8 mm prusiks")
    keys.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    keys.press("4")
    expect(page.get_by_test_id("holds")).to_contain_text("the belay (two 8 mm prusiks in line)")
    keys.press("3")
    before = leader.answer()
    leader.tab_to("Strand G to hands", 140)
    keys.press("Enter")
    leader.tab_to("Redirect it at")
    keys.press("Enter")
    keys.type("Old larch")
    keys.press("Enter")
    keys.press("Escape")
    expect(page.get_by_role("group", name="Lines from above")).to_be_visible()
    expect(page.get_by_role("group", name="Bench")).to_contain_text("redirect")
    expect(page.get_by_test_id("answer")).not_to_have_text(before)
    # The haulers' way is turned by the arrow keys.
    turned = leader.answer()
    leader.tab_to("Lead the haul", 160)
    for _ in range(4):
        keys.press("ArrowRight")
    expect(page.get_by_test_id("answer")).not_to_have_text(turned)
    leader.saved()


def test_the_haul_is_led_to_a_feature_by_dragging(someone):
    leader = someone()
    leader.fresh_plan("lines", base=demo_document, lines__0__haul__redirects=[], lines__0__haul__walk_rad=None)
    page = leader.page
    haulers = page.get_by_test_id("haulers").bounding_box()
    page.mouse.move(haulers["x"] + haulers["width"] / 2, haulers["y"] + haulers["height"] / 2)
    page.mouse.down()
    page.mouse.move(haulers["x"] + haulers["width"] / 2 + 10, haulers["y"] - 60, steps=6)
    page.mouse.up()
    expect(page.get_by_role("group", name="Lines from above")).to_contain_text("haulers")
    leader.saved()


def test_touching_the_ratchet_shows_what_its_going_does(someone):
    leader = someone()
    leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    page.get_by_role("radio", name="Between hauls").click()
    page.locator("[data-rung='main:capture']").click()
    page.get_by_role("button", name="What if it goes?").click()
    gone = page.get_by_test_id("gone")
    expect(gone).to_contain_text("The ratchet (8 mm prusik) goes: the load drops 0.30 m onto the belay")
    expect(page.get_by_test_id("dropped")).to_contain_text("0.30 m further")
    gone.get_by_role("button", name="Put it back").click()
    expect(page.get_by_test_id("dropped")).to_have_count(0)
    # The rope itself: nothing is left but the belay.
    page.get_by_role("radio", name="A line goes").click()
    page.locator("[data-rung='belay:belay']").click()
    page.get_by_role("button", name="What if it goes?").click()
    expect(gone).to_contain_text("it falls")
    expect(page.get_by_test_id("falls")).to_be_visible()


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_a_straight_lift_is_begun_from_nothing(someone, touch):
    leader = someone(has_touch=touch)
    page, keys = leader.page, leader.page.keyboard
    leader.begin_straight_lift()
    expect(page.get_by_test_id("next")).to_be_visible()
    if touch:
        page.get_by_role("radio", name="Raise").tap()
        page.get_by_role("button", name="Haul system").tap()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("4:1 block and tackle, pulled down")).tap()
    else:
        keys.press("3")
        leader.tab_to("Haul system")
        keys.press("Enter")
        found = page.get_by_role("dialog").get_by_role("button", name=re.compile("4:1 block and tackle, pulled down"))
        found.focus()
        keys.press("Enter")
    page.get_by_role("button", name=re.compile("^Attached")).click()
    page.get_by_role("option", name="at the load").click()
    page.get_by_label("Minded by").fill("Ash")
    expect(page.get_by_test_id("answer")).to_contain_text("ideal 4")
    # Hung, no edge: every strand between beam and load is drawn, and the hitch holds when the hands let go.
    expect(page.get_by_role("button", name=re.compile("^Hung strand"))).to_have_count(6)
    expect(page.get_by_test_id("holds")).to_contain_text("hands off: the ratchet (8 mm prusik)")
    assert page.locator("[data-rung*=':edge:']").count() == 0
    leader.saved()
