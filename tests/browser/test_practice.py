"""Practice on a phone: ten questions by touch, some of them without a connection; a knot ticked for somebody else; what the team can do."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import violations

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "device_scale_factor": 2}


@pytest.fixture
def practising(someone):
    """Somebody at practice, and the drills as they come."""
    person = someone("ash", **PHONE)
    page, rounds = person.page, []
    page.on("response", lambda one: rounds.append(one.json()["drills"]) if "/practice/round" in one.url else None)
    page.get_by_role("link", name="Practise").tap()
    expect(page.get_by_text("Practice: nothing here touches a plan, a log, gear or readings.")).to_be_visible()
    return person, rounds


def answer(page, drill: dict, right: bool = True) -> None:
    options = page.get_by_role("list", name="Answers").get_by_role("button")
    numbers = drill["right"] if right else [(number + 1) % len(drill["options"]) for number in drill["right"]]
    for number in numbers:
        options.nth(number).tap()
    expect(page.get_by_test_id("marked")).to_have_text("■ Right" if right else "◆ Wrong")


def test_ten_questions_some_of_them_without_a_connection(practising) -> None:
    person, rounds = practising
    page = person.page
    assert violations(page) == []
    page.get_by_role("button", name="Ten now").tap()
    page.get_by_role("list", name="Answers").wait_for()
    # What was fetched ahead came by itself; the round is the one of ten.
    drills = next(one for one in rounds if len(one) == 10)
    expect(page.get_by_text("1 of 10")).to_be_visible()
    for number, drill in enumerate(drills):
        if number == 4:
            person.context.set_offline(True)
        answer(page, drill, right=number != 2)
        if number in (0, 2):
            assert violations(page) == []
        page.get_by_role("button", name="Next").tap()
    expect(page.get_by_role("heading", name="9 of 10 right")).to_be_visible()
    expect(page.get_by_text("6 not sent yet")).to_be_visible()
    page.get_by_role("button", name="Done").tap()
    # Without a connection there is a round still, of what was fetched ahead.
    page.get_by_role("button", name="Ten now").tap()
    expect(page.get_by_text("1 of 10")).to_be_visible()
    person.context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0)
    page.get_by_role("button", name="Leave the round").tap()
    page.reload()
    wrong = page.get_by_role("button", name=re.compile(f"^{re.escape(drills[2]['name'])}"))
    expect(wrong).to_contain_text("0 of 1 right")
    kept = person.call("GET", "/practice")
    assert sum(one["done"] for one in kept["skills"]) == 10


def test_a_knot_is_ticked_for_somebody_and_the_leader_sees_what_the_team_can_do(practising, someone) -> None:
    page = practising[0].page
    row = page.get_by_role("listitem").filter(has=page.get_by_role("link", name="Clove hitch"))
    row.get_by_role("button", name="Tick somebody's").tap()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name=re.compile("^Who ties")).tap()
    page.get_by_role("option", name="rowan").tap()
    assert violations(page) == []
    sheet.get_by_role("button", name="Go").tap()
    sheet.get_by_role("button", name="Tied").tap()
    sheet.get_by_role("checkbox").last.uncheck()
    sheet.get_by_role("button", name="Keep it: not right").tap()
    expect(sheet).to_have_count(0)
    leader = someone("rowan").page
    leader.goto(f"{page.url.split('/practice')[0]}/practice/team")
    expect(leader.get_by_text("rowan: clove hitch, 0 of 1 right")).to_be_visible()
    expect(leader.get_by_role("columnheader", name="ash")).to_be_visible()
    assert violations(leader) == []
    leader.get_by_role("button", name="An evening of what is due").click()
    expect(leader.get_by_text("1 of 10")).to_be_visible()
