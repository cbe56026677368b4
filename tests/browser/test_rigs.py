"""The best rigs out of the bags, as a leader takes one: asked, taken, checked, taken back; without a bag."""

import re

from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.plans import demo_document

WORKED_OUT_MS = 150_000


def test_a_rig_out_of_the_bags_is_taken_and_taken_back(someone) -> None:
    """A bag is counted, the best rigs worked out, one taken: it is in the plan, the check is asked, and one touch takes it back."""
    leader = someone("rowan")
    page = leader.page
    leader.fresh_plan("size-up", base=demo_document)
    page.get_by_role("tab", name="Bags").click()
    for bag in ("Bag 2", "Bag 3"):
        page.get_by_text(bag, exact=True).click()
        page.get_by_role("button", name="This bag is not there").click()
    expect(page.get_by_text("Bag 2", exact=True)).to_have_count(0)
    page.get_by_role("link", name="Best").click()
    expect(page.get_by_test_id("tried")).to_contain_text(
        re.compile(r"rigs tried in .* worth a look"), timeout=WORKED_OUT_MS
    )
    first = page.locator("[data-rig]")
    expect(first).to_contain_text("weakest margin")
    marks = page.get_by_role("button", name=re.compile("^Rig "))
    assert marks.count() >= 2
    marks.last.click()
    expect(marks.last).to_have_attribute("aria-pressed", "true")
    assert violations(page) == []
    page.get_by_role("button", name="Take this one").click()
    expect(page.get_by_test_id("taken")).to_contain_text("is in the plan now")
    expect(page.get_by_text("The plan has changed since these were worked out.")).to_be_visible()
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_test_id("taken")).to_have_count(0)
    expect(page.get_by_role("button", name="Take this one")).to_be_enabled()
