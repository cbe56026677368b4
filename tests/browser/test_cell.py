"""A load cell on a run: its strip, a jam caught by its alarm, silence said, friction learnt and taken over."""

import json
import re
import urllib.request

from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.browser.test_run import PHONE, TABLET, go_to, on_run
from tests.plans import demo_document


def start_cell(person, place: str | None = None) -> None:
    page = person.page
    page.get_by_role("button", name="Load cells").click()
    dialog = page.get_by_role("dialog")
    if place:
        dialog.get_by_role("button", name=re.compile("^Where it hangs")).click()
        page.get_by_role("option", name=place).click()
    dialog.get_by_role("button", name="Start a simulated cell").click()
    expect(dialog.get_by_role("button", name="Take it off")).to_be_visible()
    page.keyboard.press("Escape")


def happens(person, what: str) -> None:
    person.page.get_by_role("button", name="Load cells").click()
    person.page.get_by_role("dialog").get_by_role("button", name=what).click()
    person.page.keyboard.press("Escape")


def test_a_jam_is_caught_by_its_alarm_on_every_screen_and_friction_is_learnt_and_taken_over(someone):
    leader, phone = someone(**TABLET), someone("ash", **PHONE)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    go_to(leader, plan, "raise:1/1")
    on_run(phone, plan)
    start_cell(leader)
    for person in (leader, phone):
        strip = person.page.get_by_test_id("strip")
        expect(strip).to_contain_text("at the load")
        expect(strip).to_contain_text("worked out for this step")
        expect(person.page.get_by_test_id("reads")).to_have_text(re.compile(r"^1\.\d kN$"))
    # Two pulls and what lies between them were read before it was in reach; enough to learn from.
    leader.until(lambda: bool(leader.call("GET", f"/plans/{plan}/learnt").get("found")))
    expect(page.get_by_test_id("alarm")).to_have_count(0)
    happens(leader, "load jams")
    for person in (leader, phone):
        alarm = person.page.get_by_test_id("alarm")
        expect(alarm).to_contain_text("As if the load stood still")
        assert violations(person.page) == []
    page.get_by_test_id("alarm").get_by_role("button", name="STOP").click()
    expect(phone.page.get_by_test_id("stopped")).to_contain_text("STOP, rowan")
    happens(leader, "put right")
    page.get_by_role("button", name="looked at, nothing wrong").click()
    page.get_by_test_id("alarm").get_by_role("button", name="Seen").click()
    happens(leader, "falls silent")
    expect(page.get_by_test_id("reads")).to_have_text("◆ silent")
    expect(page.get_by_test_id("alarm")).to_contain_text("has said nothing for")
    page.get_by_role("button", name="Load cells").click()
    page.get_by_role("button", name="What the readings say").click()
    lesson = page.get_by_test_id("lesson")
    expect(lesson).to_contain_text("Weight of the load")
    expect(lesson).to_contain_text("times narrower")
    assert violations(page) == []
    page.get_by_role("button", name="Take it over into the plan").click()
    expect(page.get_by_test_id("heard")).to_contain_text("Friction learnt from readings taken over")
    expect(page.get_by_text("all sent")).to_be_visible()
    told = leader.call("GET", f"/plans/{plan}")
    assert told["latest"]["number"] == 2 and any(one["of"] == "load" for one in told["latest"]["document"]["found"])
    entries = leader.call("GET", f"/plans/{plan}/log")["entries"]
    # On a busy machine the cell may have been silent before, too, and the jam have lasted until it was outside for long; nothing else was said.
    alarms = [one["data"]["alarm"] for one in entries if one["kind"] == "alarm"]
    assert alarms.count("rise") == 1 and alarms[-1] == "silence" and set(alarms) <= {"rise", "outside", "silence"}
    assert entries[-1]["kind"] == "decision"


def test_a_cell_of_ones_own_is_given_a_key_and_sends_by_it(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    leader.page.get_by_role("button", name="Load cells").click()
    dialog = leader.page.get_by_role("dialog")
    dialog.get_by_role("button", name="Hang up a cell of your own").click()
    dialog.get_by_role("button", name="Make a key for its bridge").click()
    told = dialog.get_by_test_id("cell-key").inner_text()
    assert violations(leader.page) == []
    key, cell = re.search(r"Bearer (\S+)", told), re.search(r'"cell": "([^"]+)"', told)
    assert key and cell
    body = {
        "cell": cell[1],
        "first": 0,
        "at": "2026-03-01T10:00:00Z",
        "times_ms": [0, 50, 100],
        "values": [1.1, 1.2, 1.3],
    }
    sent = urllib.request.Request(
        f"{leader.server.url}/api/readings", json.dumps(body).encode(),
        {"Authorization": f"Bearer {key[1]}", "Content-Type": "application/json"},
    )  # fmt: skip
    with urllib.request.urlopen(sent) as answer:
        assert answer.status == 200
    leader.page.keyboard.press("Escape")
    leader.page.get_by_role("button", name="Load cells").click()
    expect(leader.page.get_by_role("dialog")).to_contain_text("3 readings")
