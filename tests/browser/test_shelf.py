"""The team's own gear and pulls on the screen: entered by table and by hand, its bags filled into a plan, pulls written down and taken, packed by phone."""

import re

import pytest
from playwright.sync_api import expect

from rigging.document import Plan
from tests.browser.conftest import Person
from tests.browser.test_access import violations

ROWS = """label,kind,count,length_m,made,stamp_kn,mass_kg,bag,carried_by
X-1,low-stretch-11,1,80,2023,30,6.2,Long rope,Ash
X-2,carabiner,6,,2021,24,0.09,Clips,Ash
"""


@pytest.fixture
def leader(browser, server):
    person = Person(browser, server)
    yield person
    assert not person.errors
    person.context.close()


@pytest.fixture
def phone(browser, server):
    person = Person(browser, server, "ash", viewport={"width": 390, "height": 844}, has_touch=True)
    yield person
    assert not person.errors
    person.context.close()


def chosen(dialog, label, option):
    dialog.get_by_role("button", name=re.compile(f"^{label}")).click()
    dialog.page.get_by_role("option", name=re.compile(f"^{option}")).first.click()


def table(person, text):
    person.page.get_by_label("Table of gear").set_input_files({"name": "gear.csv", "mimeType": "text/csv", "buffer": text.encode()})  # fmt: skip


def test_a_table_names_its_bad_row_then_brings_its_pieces_and_one_is_retired_by_hand(leader):
    page = leader.page
    page.get_by_role("link", name="Shelf").click()
    table(leader, ROWS.replace("80", "long"))
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("alert")).to_contain_text("row 2, length_m")
    expect(dialog.get_by_role("button", name="Bring them")).to_have_count(0)
    dialog.get_by_role("button", name="Close").click()
    table(leader, ROWS)
    dialog.get_by_role("button", name="Bring them").click()
    row = page.locator("[data-piece='X-1']")
    expect(row).to_contain_text("80 m")
    assert violations(page) == []
    row.get_by_role("button").click()
    assert violations(page) == []
    dialog.get_by_label("Rating on its stamp").fill("12")
    dialog.get_by_role("button", name="Keep it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("below its kind")
    dialog.get_by_label("Rating on its stamp").fill("30")
    dialog.get_by_label("Retired because").fill("core shot")
    dialog.get_by_role("button", name="Keep it").click()
    expect(row).to_contain_text("retired: core shot")


def test_a_plans_bags_are_filled_from_the_shelf(leader):
    plan, page = leader.fresh_plan(), leader.page
    leader.open(plan, "size-up")
    page.get_by_role("tab", name="Bags").click()
    page.get_by_role("button", name="From the shelf").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("pieces of the shelf")
    dialog.get_by_role("button", name="Take it in place of what is counted now").click()
    leader.saved()
    document = Plan.model_validate(leader.call("GET", f"/plans/{plan}")["latest"]["document"])
    carriers = {one.name: one.carried_by for one in document.bags.packed}
    assert carriers["Bag 1"] == "Birch" and document.bags.there("bends")["ball-bearing-pulley"] == 2
    assert {one.material for one in document.kit} == {"tubular-25", "rope-12.7", "cord-8"}


def test_pulls_are_written_down_and_a_plan_goes_by_them_where_its_leader_decides(leader):
    plan, page = leader.fresh_plan(), leader.page
    page.goto(f"{leader.server.url}/pulls")
    page.get_by_role("button", name="Write down a pull").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="Hitch, clamp").check()
    chosen(dialog, "Which", "8 mm French")
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog.get_by_role("alert").first).to_contain_text("force")
    chosen(dialog, "Tied of which cord", "8 mm accessory cord")
    dialog.get_by_label("Wraps").fill("5")
    assert violations(page) == []
    for force in ("3.1", "3.3", "3.2"):
        dialog.get_by_label(re.compile("^At")).fill(force)
        if force == "3.1":
            dialog.get_by_role("button", name="Write it down").click()
            expect(dialog.get_by_role("alert").first).to_contain_text("what came of it is not said")
        dialog.get_by_role("radio", name="Slipped").check()
        dialog.get_by_role("button", name="Write it down").click()
        expect(dialog.get_by_label(re.compile("^At"))).to_have_value("")
    dialog.get_by_role("button", name="Close").click()
    page.goto(f"{leader.server.url}/plans/{plan}/packing")
    ours = page.get_by_role("region", name="By our own pulls").locator("li", has_text="French")
    ours.get_by_role("button", name="Go by ours in this plan").click()
    expect(ours.get_by_role("button")).to_contain_text("This plan goes by ours")
    tested = leader.call("GET", f"/plans/{plan}")["latest"]["document"]["tested"]
    assert [(one["kind"], one["pulls"]) for one in tested] == [("french-8", 3)]


def test_a_plan_is_packed_by_phone_by_list_and_by_label_and_counted_back(phone, leader):
    plan = leader.fresh_plan()
    page = phone.page
    page.goto(f"{phone.server.url}/plans/{plan}/packing")
    expect(page.get_by_test_id("packing-said")).to_be_visible()
    assert violations(page) == []
    rope = page.locator("[data-taken^='R-']").first
    label = rope.get_attribute("data-taken")
    rope.get_by_role("button", name=f"{label} out").tap()
    expect(rope.get_by_role("button", name=f"{label} back")).to_be_visible()
    # Its label read by the phone's camera opens its page, which counts for the plan that is packed here.
    team = phone.call("GET", "/session")["teams"][0]["id"]
    page.goto(f"{phone.server.url}/shelf/{team}/C-1")
    there = page.get_by_role("region", name="Packing")
    expect(there).to_contain_text("the plan does not take it")
    there.get_by_role("button", name="Out").tap()
    expect(there).to_contain_text("1 out")
    page.goto(f"{phone.server.url}/plans/{plan}/packing")
    expect(page.get_by_role("region", name="Out now")).to_contain_text("Load cell")
    page.get_by_role("button", name="All back").tap()
    expect(page.get_by_role("region", name="Out now")).to_have_count(0)
    assert phone.call("GET", f"/plans/{plan}/packing")["out"] == []
