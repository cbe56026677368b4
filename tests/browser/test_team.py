"""The team's page: somebody new comes in by a link of their own, from another device."""

import re

from playwright.sync_api import expect

from tests.browser.test_access import violations


def test_somebody_new_comes_in_by_a_link_and_out_again(someone, browser):
    leader = someone()
    page = leader.page
    page.get_by_role("link", name="People").click()
    page.get_by_label("Somebody new, by name").fill("maple")
    page.get_by_role("button", name="Make a link").click()
    shown = page.get_by_test_id("link")
    expect(shown).to_contain_text("For maple, once")
    link = re.search(r"http\S+/join/\S+", shown.inner_text()).group(0)
    assert violations(page) == []
    other = browser.new_context(viewport={"width": 390, "height": 844})
    theirs = other.new_page()
    theirs.goto(link)
    expect(theirs.get_by_text("You are maple in Practice team")).to_be_visible()
    assert violations(theirs) == []
    theirs.get_by_label("Password").fill("123456")
    theirs.get_by_role("button", name="Come in").click()
    expect(theirs.get_by_role("alert")).to_contain_text("too short")
    theirs.get_by_label("Password").fill("a rope over the edge")
    theirs.get_by_role("button", name="Come in").click()
    expect(theirs.get_by_role("heading", name="Plans")).to_be_visible()
    theirs.goto(link)
    expect(theirs.get_by_role("alert")).to_contain_text("has been used")
    page.reload()
    row = page.get_by_role("listitem").filter(has_text="maple")
    row.get_by_role("button", name="Out").click()
    expect(page.get_by_role("listitem").filter(has_text="maple")).to_have_count(0)
    own = page.get_by_role("listitem").filter(has_text="rowan")
    own.get_by_role("button", name="Out").click()
    expect(page.get_by_role("alert")).to_contain_text("only leader")
    other.close()
