"""A table-top on a tablet: begun, its clock sped up, what happens answered or missed, ended and debriefed; nothing of it in the lists of what is real."""

import re
import uuid

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.plans import demo_document

TABLET = {"viewport": {"width": 1024, "height": 768}, "has_touch": True}


@pytest.fixture
def playing(someone):
    """Somebody who leads, and a table-top of theirs near the end of its raise, begun by a seed."""
    person = someone("rowan", **TABLET)
    team = person.call("GET", "/session")["teams"][0]["id"]
    plan = person.fresh_plan("check", base=demo_document)
    body = {"id": str(uuid.uuid4()), "plan": plan, "seed": 3, "pace": 10, "begins": "raise:4/1"}
    made = person.call("POST", f"/teams/{team}/table-tops", body)
    person.page.goto(f"{person.server.url}/plans/{made['plan']}/run")
    return person, made["plan"]


def test_one_is_begun_by_touch_and_its_clock_set(someone) -> None:
    leader = someone("rowan", **TABLET)
    page, plan = leader.page, leader.fresh_plan("check", base=demo_document)
    title = leader.call("GET", f"/plans/{plan}")["latest"]["document"]["title"]
    page.goto(f"{leader.server.url}/practice")
    page.get_by_role("button", name="New table-top").tap()
    assert violations(page) == []
    page.get_by_role("button", name=re.compile("Which plan")).tap()
    page.get_by_role("option", name=title).tap()
    page.get_by_role("button", name="Begin", exact=True).tap()
    page.wait_for_url("**/run")
    at_table = page.get_by_test_id("table-top")
    expect(at_table.get_by_text("Table-top: nothing of it is real.")).to_be_visible()
    at_table.get_by_role("radio", name="10×").tap()
    expect(at_table.get_by_text(re.compile("^([3-9]|[1-9][0-9]):[0-9]{2} played"))).to_be_visible()
    assert violations(page) == []
    for stage in ("lines", "log"):
        page.goto(page.url.replace("/run", f"/{stage}"))
        expect(page.get_by_test_id("table-top")).to_be_visible()
        page.go_back()


def test_six_things_happen_and_the_debrief_says_what_was_done_about_each(playing) -> None:
    person, plan = playing
    page, at_table = person.page, person.page.get_by_test_id("table-top")
    called = at_table.get_by_role("listitem")
    # A cell reads in it, by its own clock.
    expect(page.get_by_text("simulated cell")).to_be_visible()
    answered = 0
    for _ in range(80):
        if called.count() and answered < 3:
            page.get_by_role("button", name=re.compile("STOP")).first.tap()
            page.get_by_role("button", name="looked at, nothing wrong").tap()
            answered += 1
        now = person.call("GET", f"/plans/{plan}/run/now")["run"]
        top = person.call("GET", f"/plans/{plan}/table-top")
        if now["all_done"] or len(top["happened"]) == 6:
            break
        if len(top["happened"]) > answered or now["at"].startswith(("raise:4", "raise:5", "edge/1")):
            page.wait_for_timeout(100)
        if now["status"] == "going" and now["at"] != "edge/3":
            person.call("POST", f"/plans/{plan}/run", {"id": str(uuid.uuid4()), "act": "done", "at": now["at"], "text": "as planned"})  # fmt: skip
        else:
            page.wait_for_timeout(500)
    assert len(top["happened"]) == 6
    person.call("POST", f"/plans/{plan}/run", {"id": str(uuid.uuid4()), "act": "end"})
    page.goto(f"{person.server.url}/plans/{plan}/debrief")
    score = page.get_by_test_id("score")
    expect(score.get_by_role("row")).to_have_count(7)
    expect(score.get_by_text(re.compile("STOP after"))).not_to_have_count(0)
    expect(score.get_by_text("nobody did anything about it")).not_to_have_count(0)
    expect(score.get_by_role("heading")).to_contain_text("with something behind what held")
    for real in ("Gear", "Hand over"):
        expect(page.get_by_role("navigation").get_by_role("link", name=real)).to_have_count(0)
    expect(page.get_by_role("link", name=re.compile("PDF"))).to_have_count(0)
    assert violations(page) == []
    assert plan not in [one["id"] for one in person.call("GET", "/plans")]
