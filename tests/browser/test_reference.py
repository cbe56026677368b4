"""Reference: a knot gone through stage by stage, its fault seen beside the right form, turned by hand and by keys."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import violations


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_a_knot_is_gone_through_by_stages_and_its_faults(someone, night) -> None:
    leader = someone("ash")
    page = leader.page
    if night:
        leader.left(night=True)
        page.reload()
    page.get_by_role("link", name="Reference").click()
    page.get_by_label("knot, device, system").select_option("prusik-8")
    page.wait_for_url("**/reference/prusik-8")
    drawing = page.get_by_test_id("knot")
    expect(drawing).to_have_attribute("aria-label", "Prusik, stage 3 of 3")
    page.get_by_role("button", name="Back", exact=False).first.click()
    expect(drawing).to_have_attribute("aria-label", "Prusik, stage 2 of 3")
    page.get_by_role("button", name="A wrap crossed").click()
    expect(drawing).to_have_attribute("aria-label", "Prusik, wrong: A wrap crossed")
    expect(page.get_by_role("heading", name="Wrong: A wrap crossed")).to_be_visible()
    page.get_by_role("button", name="The right form").click()
    # Loaded one way and another; what else is chosen from, side by side.
    page.get_by_role("list", name="Loaded").get_by_role("button", name="One strand alone").click()
    expect(drawing).to_have_attribute("aria-label", "Prusik, stage 3 of 3")
    beside = page.get_by_role("region", name="Side by side")
    expect(beside.get_by_role("link", name="Klemheist")).to_be_visible()
    assert page.get_by_role("link", name="Card to print").get_attribute("href") == "/api/knots/prusik-8/card"
    page.get_by_role("button", name="Set tight").click()
    expect(drawing).to_have_attribute("aria-label", "Prusik, set")
    page.get_by_role("button", name="Open", exact=True).click()
    before = drawing.get_attribute("data-turned")
    drawing.focus()
    page.keyboard.press("ArrowLeft")
    expect(drawing).not_to_have_attribute("data-turned", before or "")
    box = drawing.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 100, box["y"] + 100)
    page.mouse.down()
    page.mouse.move(box["x"] + 220, box["y"] + 130)
    page.mouse.up()
    assert drawing.get_attribute("data-turned") != before
    assert violations(page) == []


def test_a_knot_that_is_not_drawn_is_said(someone) -> None:
    page = someone("ash").page
    page.goto(f"{page.url.rsplit('/plans', 1)[0]}/reference/granny")
    expect(page.get_by_text("There is no drawing of “granny”.")).to_be_visible()


def test_a_part_of_the_load_path_leads_to_how_it_is_tied_and_stays_without_a_connection(someone) -> None:
    """From the load knot's rung to its drawing; read once, another one opens with the server gone."""
    leader = someone("rowan")
    page = leader.page
    leader.fresh_plan("lines")
    page.locator("[data-rung*='load-knot']").first.click()
    page.get_by_role("link", name="How it is tied").click()
    expect(page.get_by_test_id("knot")).to_have_attribute("aria-label", "Figure-eight loop, stage 3 of 3")
    leader.context.set_offline(True)
    page.get_by_label("knot, device, system").select_option("munter")
    expect(page.get_by_test_id("knot")).to_have_attribute("aria-label", "Munter hitch, stage 3 of 3")
    leader.context.set_offline(False)


def test_haul_systems_and_anchor_schemes_are_side_by_side(someone) -> None:
    page = someone("ash").page
    page.get_by_role("link", name="Reference").click()
    for choice, name, count in (("systems", "3:1", 16), ("schemes", "Fixed, load-sharing", 8)):
        page.get_by_label("knot, device, system").select_option(choice)
        expect(page.get_by_role("heading", name=re.compile(f"^{re.escape(name)}( |$)"))).not_to_have_count(0)
        expect(page.get_by_role("img", name="As it is rigged")).to_have_count(count)
        assert violations(page) == []
