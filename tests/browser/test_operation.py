"""The operation as its leader makes it: begun in an arrest, put in order, left for what is done instead, all by touch."""

import re

from playwright.sync_api import expect

from tests.browser.test_run import go_to, key, on_run
from tests.plans import demo_document, on_snow

TABLET = {"viewport": {"width": 1024, "height": 768}, "has_touch": True}


def sections(page) -> list[str]:
    return [
        re.sub(r"^\d+ ", "", one)
        for one in page.locator("main ol > li > details > summary > b:first-child").all_text_contents()
    ]


def begin(page) -> None:
    """Begun with what is unsigned, and why."""
    page.get_by_test_id("begin").tap()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("because").fill("practice")
    sheet.get_by_role("button", name="Begin the run").tap()


def test_after_an_arrest_composed_put_in_order_begun_and_left_for_what_is_done_instead(someone):
    leader = someone(**TABLET)
    leader.page.emulate_media(color_scheme="dark")
    plan = leader.fresh_plan(base=lambda: on_snow().model_dump(mode="json"))
    page = leader.page
    on_run(leader, plan)
    page.get_by_test_id("begins").select_option("arrested")
    expect(page.get_by_text("After an arrest on snow, rope team of three")).to_be_visible()
    composed = [
        "After an arrest on snow, rope team of three",
        "Haul on the drop loop, 2 : 1",
        "Over the lip of the crevasse",
        "Struck",
    ]
    assert sections(page) == composed
    # One more section after the haul, what fits there and nothing else; then an order that can not be, said where it stands.
    haul = page.locator("main li", has=page.get_by_text("2 Haul on the drop loop", exact=False)).first
    haul.locator("summary").first.tap()
    haul.get_by_role("button", name="Add after it").tap()
    fits = page.get_by_role("dialog")
    expect(fits.get_by_role("button", name="Over the lip of the crevasse")).to_be_visible()
    expect(fits.get_by_role("button", name="Lower", exact=True)).to_have_count(0)
    fits.get_by_role("button", name="Over the lip of the crevasse").tap()
    leader.until(lambda: len(sections(page)) == 5)
    first = page.locator("main li", has=page.get_by_text("1 After an arrest", exact=False)).first
    first.locator("summary").first.tap()
    first.get_by_role("button", name="Later").tap()
    expect(page.get_by_text("it begins with a buried anchor and a drop loop", exact=False).first).to_be_visible()
    page.get_by_role("button", name="As composed").tap()
    expect(page.get_by_text("it begins with a buried anchor", exact=False)).to_have_count(0)
    assert sections(page) == composed
    # The run, and in it what is done instead.
    begin(page)
    expect(page.get_by_test_id("step")).to_have_text("Holds, low, feet in; calls.")
    go_to(leader, plan, "drop-haul/2")
    page.get_by_role("button", name="3 : 1 on the haul strand").tap()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("button", name="Go on with this")).to_be_disabled()
    sheet.get_by_label("because").fill("two heaves and it stayed")
    sheet.get_by_role("button", name="Go on with this").tap()
    expect(page.locator("[data-testid=step][data-key='drop-six/1']")).to_be_visible()
    assert key(leader) == "drop-six/1"
    expect(page.get_by_text("instead of: Haul on the drop loop")).to_be_visible()
    go_to(leader, plan, "derig/2")
    page.get_by_test_id("done").tap()
    page.get_by_test_id("end").tap()
    expect(page.get_by_text("The run has ended")).to_be_visible()


def test_a_run_is_begun_in_the_middle_with_a_reason(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan(base=demo_document)
    page = leader.page
    on_run(leader, plan)
    change = page.locator("main li", has=page.get_by_text("Change over, lower to raise", exact=False)).first
    change.locator("summary").first.tap()
    change.get_by_role("button", name="Begin the run here").tap()
    page.get_by_role("dialog").get_by_label("because").fill("lowered by the other team")
    page.get_by_role("dialog").get_by_role("button", name="Begin the run here").tap()
    expect(page.locator("[data-testid=step][data-key='change-over/1']")).to_be_visible()


def test_two_people_do_two_pieces_of_the_set_up_at_once(someone):
    leader, member = someone(**TABLET), someone("ash", viewport={"width": 390, "height": 844}, has_touch=True)
    plan = leader.fresh_plan(base=demo_document)
    on_run(leader, plan)
    begin(leader.page)
    on_run(member, plan)
    beside = member.page.get_by_test_id("beside").get_by_role("button")
    first = beside.first.get_attribute("aria-label")
    beside.first.tap()
    for person in (leader, member):
        expect(person.page.get_by_test_id("beside").get_by_role("button", name=first)).to_have_count(0)
        assert key(person) == "set-up/1"
    leader.page.get_by_test_id("done").tap()
    # On with what nobody has done yet.
    expect(leader.page.get_by_test_id("step")).not_to_have_text(first.removeprefix("Done: "))


def test_the_rig_is_otherwise_said_on_the_drawing_by_night_and_what_brings_the_step_is_done_first(someone):
    leader = someone(**TABLET)
    leader.page.emulate_media(color_scheme="dark")
    plan = leader.fresh_plan(base=demo_document)
    page = leader.page
    go_to(leader, plan, "lower/8")
    page.get_by_text("The rig is otherwise …").tap()
    sheet = page.get_by_role("dialog")
    sheet.locator("[data-mark='main:brake']").tap()
    sheet.get_by_test_id("ways").get_by_role("button", name="Not on").tap()
    expect(sheet.get_by_role("button", name="Brake hitch: not on")).to_be_visible()
    sheet.get_by_label("because").fill("nobody brought the cord")
    sheet.get_by_role("button", name="So it is").tap()
    expect(page.get_by_test_id("lies")).to_have_text("◇ Found: brake hitch not on.")
    expect(page.get_by_test_id("refused")).to_contain_text("there is no brake on the rope")
    expect(page.get_by_test_id("done")).to_be_disabled()
    page.get_by_text("The rig is otherwise …").tap()
    sheet.get_by_test_id("brings").get_by_role("button").first.tap()
    sheet.get_by_label("because").fill("put on now")
    sheet.get_by_role("button", name="Done: go on").tap()
    expect(page.get_by_test_id("refused")).to_have_count(0)
    expect(page.get_by_test_id("done")).to_be_enabled()
    said = [one["decision"] for one in leader.call("GET", f"/plans/{plan}/log")["entries"] if one["kind"] == "run"]
    assert said[-2].startswith("The rig is otherwise: brake hitch not on") and said[-1].startswith("Done besides: ")
