"""Lines metre by metre on the real interface: the way played to its knot, what buys most, a sling out of nothing, how to lead
the rope, what is tied, a tension line, a frame."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.browser.test_lines import begun
from tests.plans import changed, demo_document
from tests.reference.test_tension_line import tight_document

JOIN = {"at_m": 30, "knot": "double-fisherman", "tail_m": 0.2}


def joined() -> dict:
    """The demo, two ropes joined, the haul redirected along the road."""
    return changed(demo_document(), ropes__0__joins=[JOIN])


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_the_way_is_played_up_and_down_and_stands_where_the_knot_arrives(someone, touch):
    leader = someone(has_touch=touch)
    leader.fresh_plan(base=joined)
    page, keys = leader.page, leader.page.keyboard
    if touch:
        page.get_by_role("button", name="The whole way").tap()
    else:
        keys.press("w")
    events = page.get_by_role("list", name="What comes to what")
    expect(events).to_contain_text("the join in the main line's rope comes to the ratchet")
    expect(events).to_contain_text("Knot pass, raising")
    expect(page.locator("[data-band=haulers]")).to_be_visible()
    page.get_by_role("button", name="Play it up").click()
    expect(events.locator("[aria-current=true]").first).to_be_visible(timeout=20_000)
    expect(page.get_by_role("button", name="Play it up")).to_be_visible()
    here = page.get_by_test_id("way-here")
    assert 5 < float(here.inner_text().split()[0]) < 8
    # The load path is that of the load where it now is.
    before = page.locator("[data-rung='main:rope']").inner_text()
    slider = page.get_by_role("slider", name="Where the load is on its way")
    slider.focus()
    for _ in range(25):
        keys.press("ArrowRight")
    expect(page.locator("[data-rung='main:rope']")).not_to_have_text(before)
    # Down again: the knot comes to the device.
    if touch:
        page.get_by_text("Lower", exact=True).tap()
    else:
        keys.press("Escape")
        slider.blur()
        keys.press("2")
    expect(events).to_contain_text("the join in the main line's rope comes to its device")
    expect(events).to_contain_text("Knot pass, lowering")
    events.get_by_role("button").first.click()
    assert 21 < float(here.inner_text().split()[0]) < 24.5
    # The worst place is one touch away, and the plan itself was not changed by looking.
    page.get_by_role("button", name=re.compile("Hardest")).click()
    plan = leader.call("GET", f"/plans/{page.url.split('/plans/')[1].split('/')[0]}")
    assert plan["latest"]["number"] == 1


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_the_best_change_is_taken_seen_and_logged(someone, touch):
    leader = someone(has_touch=touch)
    plan = leader.fresh_plan(base=demo_document)
    page, keys = leader.page, leader.page.keyboard
    before = leader.answer()
    if touch:
        page.get_by_role("button", name="what buys most").tap()
    else:
        keys.press("b")
    expect(page.get_by_test_id("tried")).to_contain_text(re.compile(r"2\d\d changes tried"))
    expect(page.get_by_test_id("costs")).to_contain_text("Bare carabiner at G")
    page.get_by_role("button", name=re.compile("^for")).click()
    page.get_by_role("option", name="Weakest margin").click()
    first = page.locator("[data-change]").first
    expect(first).to_contain_text("Ball-bearing pulley in place of the bare carabiner at G")
    button = first.get_by_role("button", name=re.compile("^Do it"))
    expect(button).to_be_enabled()
    if touch:
        button.tap()
    else:
        button.focus()
        keys.press("Enter")
    expect(page.get_by_test_id("answer")).not_to_have_text(before)
    page.get_by_role("button", name="Decided").click()
    decided = page.get_by_label("Decided")
    expect(decided).to_have_value(
        re.compile("^Ball-bearing pulley in place of the bare carabiner at G: weakest margin")
    )
    page.get_by_label("because").fill("the litter bag holds one more")
    page.get_by_role("button", name="Record", exact=True).click()
    leader.saved()
    page.get_by_role("link", name=re.compile("^Log")).first.click()
    expect(page.get_by_text("the litter bag holds one more").first).to_be_visible()
    saved = leader.call("GET", f"/plans/{plan}")["latest"]["document"]
    assert saved["lines"][0]["haul"]["bends"]["G"] == "ball-bearing-pulley"


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_a_sling_haul_is_built_from_an_empty_plan(someone, touch):
    leader = someone(has_touch=touch)
    plan = leader.fresh_plan("lines", base=begun)
    page, keys = leader.page, leader.page.keyboard

    def act(name) -> None:
        button = page.get_by_role("button", name=name)
        if touch:
            button.tap()
        else:
            button.focus()
            keys.press("Enter")

    act(re.compile("^11 mm low-stretch rope, type A, breaks"))
    page.get_by_role("radio", name="Raise", exact=True).click()
    act("Haul system: ◆ choose what raises") if page.get_by_role(
        "button", name="Haul system: ◆ choose what raises"
    ).count() else act(re.compile("^Haul system"))
    row = page.get_by_role("row", name=re.compile("4:1 out of one sling"))
    expect(row).to_be_visible()
    if touch:
        row.get_by_role("button").tap()
    else:
        row.get_by_role("button").focus()
        keys.press("Enter")
    expect(page.get_by_test_id("answer")).to_contain_text("2.9 (2.6 to 3.2), ideal 4")
    expect(page.get_by_test_id("answer")).to_contain_text("0.81 m")
    leader.choose("Haul grab:", "Clamp with a smooth cam", tap=touch)
    leader.choose("Progress capture:", "Self-locking device that takes in", tap=touch)
    # Led step by step, as hands see it.
    act("as hands see it")
    steps = page.get_by_role("list").filter(has_text="made fast at")
    expect(steps).to_contain_text("Butterfly loop in the sling")
    expect(steps).to_contain_text("On to the haulers")
    act(re.compile("^Next$"))
    expect(page.get_by_text("step 2 of")).to_be_visible()
    leader.saved()
    haul = leader.call("GET", f"/plans/{plan}")["latest"]["document"]["lines"][0]["haul"]
    assert (haul["own"]["length_m"], haul["grab"], haul["capture"]) == (2.4, "cam-clamp", "takes-in")


def test_what_is_tied_is_entered_and_comes_up_in_the_check(someone):
    leader = someone()
    leader.fresh_plan("size-up", base=demo_document)
    page = leader.page
    page.get_by_role("tab", name="Ropes").click()
    main = page.get_by_role("group", name="Main line")
    main.get_by_role("button", name="Add a join").click()
    main.get_by_label("Tails (empty: not known), m").fill("0.05")
    main.get_by_role("button", name="How its hitches are tied").click()
    ratchet = page.get_by_role("group", name=re.compile("^Ratchet"))
    ratchet.get_by_label("Wraps (empty: 3)").fill("8")
    leader.saved()
    page.get_by_role("navigation").get_by_role("link", name=re.compile("^Check")).click()
    expect(page.locator("[data-check^='tail-short']")).to_contain_text("10 rope diameters")
    wraps = page.locator("[data-check^='wraps-many']")
    expect(wraps).to_contain_text("More than six grip less")
    wraps.get_by_role("button", name="3 wraps").click()
    expect(wraps).to_have_count(0)


def test_only_what_is_counted_in_the_bags_is_tried(someone):
    leader = someone()
    leader.fresh_plan("size-up", base=demo_document, bags={})
    page = leader.page
    page.get_by_role("tab", name="Bags").click()
    page.get_by_role("button", name="Pulleys and carabiners: not counted").click()
    page.get_by_label("Bare carabiner").fill("12")
    leader.saved()
    page.get_by_role("navigation").get_by_role("link", name=re.compile("^Lines")).click()
    page.keyboard.press("b")
    expect(page.locator("[data-change]").first).to_be_visible()
    assert page.locator("[data-change*='Ball-bearing pulley in place']").count() == 0


def test_a_tension_line_is_added_rigged_and_slid_along(someone):
    leader = someone(has_touch=True)
    leader.fresh_plan(base=lambda: tight_document(slips="self-locking"))
    page = leader.page
    page.get_by_role("radio", name="Hold", exact=True).tap()
    page.get_by_role("button", name="Tension line").tap()
    tension = page.locator("[data-band=tension]")
    expect(tension).to_be_visible()
    expect(page.get_by_test_id("tension-line")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Lowest"))).to_contain_text("free")
    before = tension.text_content()
    page.get_by_label("Pulled to, kN").fill("3")
    expect(tension).not_to_have_text(before)
    page.get_by_role("button", name=re.compile("Tightest")).tap()
    expect(page.get_by_test_id("way-here")).to_contain_text("15.0 m along")
    page.get_by_role("button", name="Off: take this tension line out").tap()
    expect(page.get_by_test_id("tension-line")).to_have_count(0)


def test_a_frame_is_stood_up_under_a_redirect_and_its_feet_are_asked_about(someone):
    leader = someone()
    document = demo_document()
    spare = {**document["anchors"][-1], "id": "lip", "name": "At the lip"}
    spare["alternatives"] = [{
        "id": "lip-a", "name": "At the lip", "scheme": "single", "connector": "steel", "point": {"x_m": 9.9, "y_m": 0, "z_m": 0.3},
        "legs": [{"feature": "larch", "method": "round-turn", "material": "rope-11", "turns": 3}],
    }]  # fmt: skip
    spare["taken"] = "lip-a"
    document["anchors"].append(spare)
    document["lines"][0]["redirects"] = [{"anchor": "lip", "bend": "ball-bearing-pulley"}]
    plan = leader.fresh_plan("anchors", base=lambda: document)
    page = leader.page
    page.get_by_role("radio", name="At the lip").first.click()
    page.get_by_role("tab", name="Legs").click()
    page.get_by_role("button", name=re.compile("^Scheme")).click()
    page.get_by_role("option", name="Frame on its feet").click()
    leader.saved()
    saved = leader.call("GET", f"/plans/{plan}")["latest"]["document"]
    feet = [one for one in saved["features"] if one["kind"] == "frame-foot"]
    assert len(feet) == 3
    made = next(one for one in saved["anchors"] if one["id"] == "lip")["alternatives"][0]
    assert made["scheme"] == "frame" and len(made["legs"]) == 4


def test_what_everybody_asks_is_answered_on_one_card_for_the_moment_that_is_shown(someone):
    leader = someone()
    leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    page.keyboard.press("q")
    card = page.get_by_test_id("asked")
    expect(card.locator("[data-asked]")).to_have_count(6)
    expect(card.locator("[data-asked=people]")).to_contain_text("at the hands; 7 there")
    expect(card.locator("[data-asked=anchor]")).to_contain_text("onto the belay")
    assert violations(page) == []
    page.keyboard.press("Escape")
    # At the top of the way it comes over the lip, and that is asked, too.
    page.get_by_role("button", name="The whole way").click()
    slider = page.get_by_label("Where the load is on its way")
    slider.focus()
    page.keyboard.press("End")
    page.get_by_role("button", name="Ask the plan").click()
    expect(page.get_by_test_id("asked").locator("[data-asked=lip]")).to_contain_text(
        "the belay takes in after every pull"
    )
