"""Debrief: the run gone through again, the rig as it stood, what was read, lessons, papers."""

import io
import time
import uuid
from datetime import UTC, datetime

from playwright.sync_api import expect
from pypdf import PdfReader

from tests.browser.conftest import Person
from tests.browser.test_access import violations
from tests.browser.test_run import TABLET, act, go_to, on_run
from tests.plans import demo_document


def readings(person: Person, plan: str, count: int, batch: int = 100) -> None:
    """A cell at the load that reads 1.4 kN for so many readings from now on, and 1.9 in the middle of them."""
    cell = str(uuid.uuid4())
    person.call("POST", f"/plans/{plan}/cells", {"id": cell, "name": "Cell", "place": "load"})
    began = datetime.fromtimestamp(time.time(), UTC).isoformat()
    for first in range(0, count, batch):
        numbers = range(first, min(first + batch, count))
        body = {
            "cell": cell, "first": first, "at": began, "times_ms": [50 * n for n in numbers],
            "values": [1.9 if n == count // 2 else 1.4 for n in numbers],
        }  # fmt: skip
        assert person.call("POST", f"/plans/{plan}/readings", body)["next"] == numbers[-1] + 1


def test_a_run_is_scrubbed_read_and_learnt_from(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    go_to(leader, plan, "lower/5")
    readings(leader, plan, 400)
    act(leader, plan, "stop")
    act(leader, plan, "go", text="looked at, nothing wrong")
    go_to(leader, plan, "change-over/3")
    act(leader, plan, "end")
    page.reload()
    page.get_by_role("link", name="Debrief").click()
    stood = page.get_by_test_id("stood")
    expect(stood).to_have_attribute("data-key", "set-up/1")
    slider = page.get_by_label("Moment of the run")
    slider.focus()
    page.keyboard.press("End")
    expect(stood).to_have_attribute("data-key", "change-over/3")
    expect(stood).to_contain_text("Holds on hands, device and brake hitch")
    # Straight to when a step was done: the one after it is under way then.
    row = page.get_by_test_id("planned").get_by_role("row").filter(has_text="Belay rope on its hitches")
    row.get_by_role("button").click()
    expect(stood).to_have_attribute("data-key", "lower/6")
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("read")).to_contain_text("Read at the load: 1.40 kN")
    expect(page.get_by_test_id("read")).to_contain_text("worked out")
    expect(page.get_by_test_id("planned").get_by_text("not done").first).to_be_visible()
    assert violations(page) == []
    lessons = ["Belay minded by two from the start", "Pad longer at the lip"]
    for number, lesson in enumerate(lessons, 1):
        page.get_by_label("Learnt").fill(lesson)
        with page.expect_response(lambda answer: answer.request.method == "POST" and answer.url.endswith("/log")):
            page.get_by_role("button", name="Write it").click()
        # Sent, it stands there as it did while it waited.
        page.wait_for_timeout(300)
        expect(page.get_by_role("region", name="Lessons").get_by_role("listitem")).to_have_text(lessons[:number])
    # Without a connection it waits, and says so.
    leader.context.set_offline(True)
    page.get_by_label("Learnt").fill("Radio spoken slower")
    page.get_by_role("button", name="Write it").click()
    last = page.get_by_role("region", name="Lessons").get_by_role("listitem").last
    expect(last).to_have_text("Radio spoken slower not sent yet")
    leader.context.set_offline(False)
    expect(last).to_have_text("Radio spoken slower")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Run report, PDF").click()
    text = "".join(one.extract_text() for one in PdfReader(io.BytesIO(waiting.value.path().read_bytes())).pages)
    assert "looked at, nothing wrong" in text
