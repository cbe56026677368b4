"""The Check stage as a leader, a member and an observer use it: by touch and by keyboard, and on paper."""

import io
import json
import re
import uuid

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.plans import changed, demo_document
from tests.reference.test_tension_line import tight_document


def shared() -> dict:
    """The demo with its belay on the main anchor: one thing alone."""
    return changed(demo_document(), lines__1__anchor="main")


SHARED = "[data-check='shared-plate:anchor:main']"


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_a_single_point_is_found_shown_mended_taken_back_and_accepted(someone, touch):
    leader = someone(has_touch=touch)
    leader.fresh_plan("lines", base=shared)
    page, keys = leader.page, leader.page.keyboard

    def press(name: str) -> None:
        if touch:
            page.get_by_role("button", name=name).first.tap()
        else:
            page.get_by_role("button", name=name).first.focus()
            keys.press("Enter")

    if touch:
        page.get_by_role("navigation").get_by_role("link", name=re.compile("^Check")).tap()
    else:
        keys.press("c")
    expect(page.locator(SHARED)).to_contain_text("bears main line and belay")
    expect(page.get_by_role("navigation")).to_contain_text("1 stop")
    press("take it away")
    expect(page.get_by_test_id("gone")).to_contain_text("nothing holds the load, it falls")
    expect(page.get_by_test_id("falls")).to_be_visible()
    press("Own anchor")
    expect(page.locator(SHARED)).to_have_count(0)
    expect(page.get_by_test_id("gone")).to_contain_text("onto the belay")
    press("Take it back")
    expect(page.locator(SHARED)).to_contain_text("One thing alone")
    press("Accept…")
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_label("Accepted by")).to_have_value("Rowan")
    expect(sheet.get_by_role("button", name="Accept with this reason")).to_be_disabled()
    sheet.get_by_label("because").fill("one plate, rated and looked at twice")
    if touch:
        sheet.get_by_role("button", name="Accept with this reason").tap()
    else:
        keys.press("Enter")
    expect(page.get_by_test_id("loud")).to_contain_text("Nothing to stop for")
    leader.saved()
    page.get_by_test_id("rest").click()
    expect(page.locator(SHARED)).to_contain_text("Accepted by Rowan: one plate, rated and looked at twice")
    keys.press("g")
    expect(page.get_by_role("main").get_by_text(re.compile("Accepted by Rowan: One thing alone"))).to_be_visible()


def test_a_part_is_taken_away_by_touching_it_on_the_drawing_or_in_the_list(someone):
    leader = someone(has_touch=True)
    leader.fresh_plan("check", base=demo_document)
    page = leader.page
    page.get_by_role("button", name="Between hauls").tap()
    parts = page.get_by_role("list", name="Every part of this state")
    expect(parts.get_by_role("button", name=re.compile("the ratchet.*its cord"))).to_contain_text("0.30 m")
    parts.get_by_role("button", name=re.compile("the ratchet.*its cord")).tap()
    expect(page.get_by_test_id("gone")).to_contain_text("drops 0.30 m onto the belay")
    expect(page.get_by_test_id("gone")).to_contain_text("at rest")
    page.get_by_role("button", name="Put it back").tap()
    expect(page.get_by_test_id("gone")).to_have_count(0)
    page.locator("aside").get_by_role("button", name=re.compile("stretch")).first.dispatch_event("click")
    expect(page.get_by_test_id("gone")).to_contain_text("goes:")


def test_a_second_person_signs_a_change_opens_what_it_changed_and_it_goes_on_paper(someone):
    leader, member, observer = someone(), someone("ash"), someone("guest")
    plan = leader.fresh_plan("check", base=demo_document)
    expect(leader.page.get_by_test_id("second-look")).to_contain_text("a second person signs")
    assert leader.page.get_by_role("button", name=re.compile("^Sign ")).count() == 0
    member.open(plan, "check")
    look = member.page.get_by_test_id("second-look")
    # One line, then all of them; nothing else is a member's to do here.
    member.page.locator("[data-row=held]").get_by_role("button", name="sign").click()
    expect(look).to_contain_text("1 of ")
    look.get_by_role("button", name=re.compile("^Sign .* as ash$")).click()
    expect(look).to_contain_text("last by ash")
    expect(look.get_by_role("button", name="Everything that can be is signed")).to_be_disabled()
    expect(member.page.get_by_role("navigation")).to_contain_text("all signed")
    assert member.page.get_by_role("button", name="Releasing hitch").count() == 0
    observer.open(plan, "check")
    expect(observer.page.get_by_test_id("second-look")).to_contain_text("Observers read")
    assert observer.call("POST", f"/plans/{plan}/sign", {"id": str(uuid.uuid4()), "revision": 1}).get("faults")
    # The leader ties another knot: the lines it speaks of come open, for everybody, and no others.
    before = {row["line"]: row["answer"] for row in member.call("GET", f"/plans/{plan}/signed")}
    knot = "lines__0__load_knot"
    changed_plan = changed(demo_document(), **{knot: "figure-nine-loop"})
    saved = leader.call("PUT", f"/plans/{plan}", {"base": 1, "id": str(uuid.uuid4()), "document": changed_plan})
    told = leader.call("POST", "/check", changed_plan)
    opened = [one["id"] for one in (*told["rows"], *told["lines"]) if before.get(one["id"]) != one["answer"]]
    member.open(plan, "check")
    expect(look).to_contain_text(f"{len(opened)} lines came open when the plan changed (revision {saved['number']}")
    expect(member.page.locator("[data-row=held]").get_by_role("button", name="◇ sign again")).to_be_visible()
    expect(member.page.locator("[data-row='goes:main']").get_by_role("button", name="sign again")).to_have_count(0)
    look.get_by_role("button", name=f"Sign {len(opened)} lines as ash").click()
    expect(member.page.get_by_role("navigation")).to_contain_text("all signed")
    # On paper: every line of it, the signatures and the caution, and nothing of the application.
    with member.page.expect_download() as waiting:
        look.get_by_role("link", name="Check sheet").click()
    paper = PdfReader(io.BytesIO(waiting.value.path().read_bytes()))
    text = re.sub(r"\s+", " ", " ".join(page.extract_text() for page in paper.pages))
    for wanted in (
        "Check: Alder Gill",
        "Static ratio",
        "Main line goes",
        "brake-side hitch, after 0.10 m",
        "ash, ",
        "replaces no training",
    ):
        assert wanted in text, wanted
    assert f"Revision {saved['number']}" in text
    for stray in ("Decided", "Size-up", "Take a part away"):
        assert stray not in text


def test_what_a_mend_needs_is_refused_to_a_member_and_nothing_is_lost(someone):
    member = someone("ash")
    leader = someone()
    plan = leader.fresh_plan("check", base=shared)
    member.open(plan, "check")
    line = member.page.locator(SHARED)
    expect(line).to_contain_text("One thing alone")
    assert line.get_by_role("button", name="Own anchor").count() == 0
    assert line.get_by_role("button", name="Accept…").count() == 0
    answer = member.call("PUT", f"/plans/{plan}", {"base": 1, "id": str(uuid.uuid4()), "document": shared()})
    assert "does not allow" in answer["faults"][0]["problem"]


def thin() -> dict:
    """The demo on thinner straps: sound where the load starts, below the team's rule under the lip."""
    return json.loads(json.dumps(demo_document()).replace('"rope-12.7"', '"rope-11"'))


THIN = "[data-check='below:anchor:main:attachment:1']"


def test_the_worst_place_is_gone_to_from_its_line_mended_and_signed(someone):
    leader, member = someone(has_touch=True), someone("ash", has_touch=True)
    plan = leader.fresh_plan("check", base=thin)
    page = leader.page
    line = page.locator(THIN)
    expect(line).to_contain_text(re.compile(r"\d+\sm up:\sLarch"))
    line.get_by_role("button", name="look there").tap()
    expect(page).to_have_url(re.compile("/lines"))
    page.get_by_role("navigation").get_by_role("link", name=re.compile("^Check")).tap()
    line.get_by_role("button", name=re.compile("rope")).first.tap()
    expect(line).to_have_count(0)
    leader.saved()
    member.open(plan, "check")
    look = member.page.get_by_test_id("second-look")
    look.get_by_role("button", name=re.compile("^Sign .* as ash$")).tap()
    expect(look.get_by_role("button", name="Everything that can be is signed")).to_be_visible()
    signed = {row["line"] for row in member.call("GET", f"/plans/{plan}/signed")}
    assert "state:raising" in signed and "below:anchor:main:attachment:1" not in signed


def test_a_tension_line_alone_is_checked(someone):
    def alone() -> dict:
        document = tight_document(slips="self-locking", ropes=1)
        return changed(document, lines=[], ropes=[one for one in document["ropes"] if one["id"] == "tight"])

    leader = someone()
    leader.fresh_plan("check", base=alone)
    lines = leader.page.locator("[data-check^='span-single']")
    expect(lines).to_have_count(3)
    expect(lines.first).to_contain_text("If it goes, the load falls")
    rope = leader.page.locator("[data-check='span-single:across:across:rope']")
    rope.get_by_role("button", name="Two ropes side by side").click()
    expect(rope).to_have_count(0)
    expect(lines).to_have_count(2)
