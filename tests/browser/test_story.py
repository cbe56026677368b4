"""A leader's way from a load on a slope to a decision in the log, on the real interface."""

import json
import re

import pytest
from playwright.sync_api import expect


def test_the_whole_story_by_touch(someone, tmp_path):
    leader = someone(has_touch=True)
    page = leader.page
    leader.begin(
        "Cliff", "Smooth rock", "Hangs clear of the ground", "Living tree", "11 mm low-stretch rope, type A", tap=True,
        What_and_where="Weir bank, walker with ankle", Casualty="80", Attendants="85", Litter="25", Working_point="9", Drop="22",
        Rope_length="60", People="6",
    )  # fmt: skip
    expect(page.get_by_text("190 kg")).to_be_visible()

    # The anchor is rated with its basis; until then its strength is unknown and said.
    rung = page.locator("[data-rung='anchor:main:feature']")
    page.get_by_text("Hold", exact=True).tap()
    expect(rung).to_contain_text("unknown")
    page.get_by_role("link", name="Anchors").tap()
    page.get_by_role("button", name=re.compile("^Living tree, 2.0 m away")).tap()
    page.get_by_text("Enter a rating in place of the estimate").tap()
    page.get_by_label("Basis of that").fill("Alive, 400 mm, strap low")
    page.get_by_label("Holds, low, kN").fill("40")
    page.get_by_label("Holds, high, kN").fill("60")
    page.get_by_label("Holds, expected, kN").fill("50")
    page.get_by_role("button", name="Close", exact=True).tap()
    expect(rung).not_to_contain_text("unknown")

    # A plain munter under two people is too much for one hand; the doubled one fits.
    page.get_by_role("link", name="Lines").tap()
    page.get_by_text("Lower", exact=True).tap()
    page.get_by_role("button", name="Lowering device").tap()
    offered = page.get_by_role("row", name=re.compile("Munter hitch"))
    expect(offered).to_contain_text("too much for one hand")
    offered.get_by_role("button").tap()
    leader.choose("Brake-side hitch", "Nothing", tap=True)
    expect(page.locator("[data-finding=hands-off-lower]")).to_be_visible()
    leader.choose("Brake-side hitch", "8 mm French hitch", tap=True)
    expect(page.locator("[data-finding=hands-off-lower]")).to_have_count(0)

    # 3:1, then what sits at its bends, by touching them.
    page.get_by_text("Raise", exact=True).tap()
    leader.choose("Haul system", "3:1", tap=True)
    for bend in ("A", "G"):
        page.get_by_role("button", name=f"Not said yet at {bend}", exact=True).tap()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Bare carabiner")).tap()
        page.get_by_role("button", name="Close", exact=True).tap()
    expect(page.get_by_test_id("answer")).to_contain_text("1.8 (1.7 to 2.1), ideal 3")
    leader.change("Add a change of direction", tap=True)
    page.get_by_role("button", name="Not said yet at R", exact=True).tap()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Bare carabiner")).tap()
    page.get_by_role("button", name="Close", exact=True).tap()
    worse = page.locator("[data-finding=worse-than-straight]")
    expect(worse).to_contain_text("worse than pulling the rope straight")
    expect(worse).to_contain_text("Taking the last redirect out gives 1.75")
    leader.change("Stack a 2:1 on the haul strand", tap=True)
    expect(page.get_by_test_id("answer")).to_contain_text("ideal 6")
    expect(page.get_by_test_id("before")).to_contain_text("Before, 3:1 + redirect: advantage 0.88")
    leader.choose("Haul system", "3:1", tap=True)

    # The decision is kept with the plan as it is, and is still there after a reload.
    leader.saved()
    page.get_by_role("button", name="Decided").tap()
    page.get_by_label("Decided").fill("Straight 3:1, no redirect")
    page.get_by_label("because").fill("the redirect made it worse than a straight pull")
    page.get_by_role("button", name="Record", exact=True).tap()
    expect(page.get_by_role("link", name="Log 1 entry")).to_be_visible()
    page.reload()
    expect(page.get_by_test_id("answer")).to_contain_text("ideal 3")
    page.get_by_role("link", name="Log 1 entry").tap()
    expect(page.get_by_text("because the redirect made it worse than a straight pull", exact=True)).to_be_visible()

    # Out to a file, and back in as a plan of its own.
    with page.expect_download() as caught:
        page.get_by_role("button", name="Export plan and log").tap()
    file = tmp_path / "plan.json"
    caught.value.save_as(file)
    assert json.loads(file.read_text())["log"][0]["decision"] == "Straight 3:1, no redirect"
    page.get_by_role("link", name="Plans").tap()
    page.get_by_label("Plan file").set_input_files(file)
    page.wait_for_url("**/lines")
    expect(page.get_by_role("link", name="Log 1 entry")).to_be_visible()


def test_the_story_by_keyboard_alone(someone):
    leader = someone()
    plan = leader.fresh_plan()
    page, keys = leader.page, leader.page.keyboard
    keys.press("2")
    expect(page.get_by_test_id("answer")).to_contain_text("at the brake hand")
    keys.press("3")
    before = leader.answer()
    leader.tab_to("Bare carabiner at G")
    keys.press("Enter")
    leader.tab_to("Ball-bearing pulley")
    keys.press("Enter")
    keys.press("Escape")
    expect(page.get_by_test_id("answer")).to_contain_text("2.7 (2.6 to 2.9), ideal 3")
    assert leader.answer() != before
    leader.tab_to("Change it")
    keys.press("Enter")
    for _ in range(2):
        keys.press("ArrowDown")
    keys.press("Enter")
    expect(page.get_by_role("button", name="Not said yet at R", exact=True)).to_be_visible()
    leader.tab_to("Move the load along the ground", 140)
    at = page.get_by_test_id("load").get_attribute("aria-valuetext")
    for _ in range(3):
        keys.press("ArrowUp")
        keys.press("ArrowLeft")
    expect(page.get_by_test_id("load")).not_to_have_attribute("aria-valuetext", at)
    keys.press("d")
    keys.type("Redirect for room to pull")
    keys.press("Tab")
    keys.type("the road is narrow")
    keys.press("Enter")
    expect(page.get_by_role("link", name="Log 1 entry")).to_be_visible()
    keys.press("Escape")
    keys.press("g")
    expect(page.get_by_text("Redirect for room to pull", exact=True)).to_be_visible()
    keys.press("l")
    keys.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    keys.press("Escape")
    keys.press("s")
    page.wait_for_url(f"**/{plan}/size-up")


def test_every_strand_edge_and_part_opens_with_its_working(someone):
    leader = someone(viewport={"width": 1024, "height": 768})
    leader.fresh_plan()
    page = leader.page
    for label, said in {
        "Edge Ravine lip, rope turns 41°": "η^(θ/π)",
        "Strand ratchet to A": "T = t · P",
        "Main line, stretch 3": "m·g·(sin θ + μ·cos θ)",
        "Ball-bearing pulley at A": "P − P′",
    }.items():
        page.get_by_role("button", name=label).first.click(force=True)
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("heading").first.wait_for()
        closed = dialog.locator("section > button[aria-expanded=false]")
        while closed.count():
            closed.first.click()
        expect(dialog).to_contain_text(said)
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
    page.locator("[data-rung='main:grab:G']").click()
    expect(page.get_by_role("dialog")).to_contain_text(
        "A three-wrap 8 mm prusik on one 11 to 12.7 mm rope slips at 5 to 8 kN"
    )
    page.keyboard.press("Escape")
    overflow = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
    assert overflow <= 0


def test_a_system_is_stacked_on_the_strand_that_was_touched(someone):
    leader = someone()
    leader.fresh_plan()
    page = leader.page
    page.get_by_role("button", name="Strand G to hands").click(force=True)
    page.get_by_role("button", name="Stack a 2:1 on this strand").click()
    expect(page.get_by_test_id("answer")).to_contain_text("ideal 6")
    expect(page.get_by_test_id("before")).to_contain_text("Before, 3:1: advantage 2.0")


def test_padding_an_edge_changes_the_pull_at_once(someone):
    leader = someone()
    leader.fresh_plan()
    page = leader.page
    page.get_by_role("button", name="Edge Road kerb log").first.dispatch_event("click")
    page.get_by_role("button", name=re.compile("^Edge roller")).click()
    page.keyboard.press("Escape")
    leader.saved()
    page.get_by_role("button", name="Edge Road kerb log").first.dispatch_event("click")
    expect(page.get_by_role("dialog")).to_contain_text("Edge roller")


def test_dragging_the_load_is_followed_by_the_figures(someone):
    leader = someone()
    leader.fresh_plan()
    page = leader.page
    before = leader.answer()
    box = page.get_by_test_id("load").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    for step in range(8):
        page.mouse.move(box["x"] + box["width"] / 2 - 9 * step, box["y"] + box["height"] / 2 - 14 * step)
    page.mouse.up()
    expect(page.get_by_test_id("answer")).not_to_have_text(before)
    leader.saved()


def test_units_and_night_follow_the_reader(someone):
    leader = someone()
    leader.fresh_plan()
    page = leader.page
    leader.set("kgf, m")
    expect(page.get_by_test_id("answer")).to_contain_text("kgf")
    leader.set("lbf, ft")
    expect(page.get_by_test_id("answer")).to_contain_text("lbf")
    page.get_by_role("link", name="Size-up").click()
    expect(page.get_by_test_id("rope-left")).to_contain_text("ft")
    leader.set("Night")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "night")


@pytest.mark.parametrize("name", ["ash", "guest"])
def test_members_and_observers_read_only(someone, name):
    leader = someone()
    plan = leader.fresh_plan()
    other = someone(name)
    other.open(plan)
    page = other.page
    expect(page.get_by_text("you read only")).to_be_visible()
    expect(page.get_by_role("button", name="Change it")).to_be_disabled()
    page.get_by_role("button", name="Decided").click()
    decided = page.get_by_label("Decided")
    expect(decided).to_be_enabled() if name == "ash" else expect(decided).to_be_disabled()
