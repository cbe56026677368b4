"""A run on several devices: from the signed check to struck, STOP on every screen, nothing twice and no gap."""

import io
import re
import uuid

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.plans import demo_document

STONES = "abcdefghijkl"
TABLET = {"viewport": {"width": 1024, "height": 768}}
PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True}


def on_run(person, plan: str) -> None:
    person.page.goto(f"{person.server.url}/plans/{plan}/run")
    person.page.locator("[data-testid=step], [data-testid=begin], main h2").first.wait_for()


def key(person) -> str:
    return person.page.get_by_test_id("step").get_attribute("data-key")


def act(person, plan: str, name: str, at: str = "", text: str = "", **data) -> dict:
    text = text or ("practice" if name == "begin" else "")
    body = {"id": str(uuid.uuid4()), "act": name, "at": at, "text": text, "data": data}
    return person.call("POST", f"/plans/{plan}/run", body)


def go_to(person, plan: str, to: str) -> None:
    """The run at a step, with its page open there. No page follows it on the way."""
    person.page.goto(f"{person.server.url}/api/caution")
    run = person.call("GET", f"/plans/{plan}/run")["run"] or act(person, plan, "begin")
    while run["at"] != to:
        run = act(person, plan, "done", run["at"], "as planned")
    on_run(person, plan)
    expect(person.page.locator(f"[data-testid=step][data-key='{to}']")).to_be_visible()


@pytest.mark.parametrize("touch", [True, False], ids=["touch", "keyboard"])
def test_the_demo_from_the_signed_check_to_struck(someone, touch):
    leader = someone(**TABLET, has_touch=touch)
    plan = leader.fresh_plan("check", base=demo_document)
    page, keys = leader.page, leader.page.keyboard
    on_run(leader, plan)

    def press(target) -> None:
        if touch:
            target.tap()
        else:
            target.focus()
            keys.press("Enter")

    press(page.get_by_test_id("begin"))
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_text("that nobody else has signed")).to_be_visible()
    expect(sheet.get_by_role("button", name="Begin the run")).to_be_disabled()
    sheet.get_by_label("because").fill("read aloud at the rim")
    press(sheet.get_by_role("button", name="Begin the run"))
    expect(page.get_by_test_id("step")).to_have_text("Main anchor built.")
    for _ in range(100):
        now = key(leader)
        if now == "derig/2":
            break
        if touch:
            page.get_by_test_id("done").tap()
        else:
            page.locator("main").focus()
            keys.press("Enter")
        expect(page.get_by_test_id("step")).not_to_have_attribute("data-key", now)
        if now == "raise:1/1":
            # What stops it, from a phone; what goes on, from here.
            phone = someone("guest", **PHONE)
            on_run(phone, plan)
            phone.page.get_by_test_id("stop").tap()
            expect(page.get_by_test_id("stopped")).to_contain_text("STOP, guest")
            phone.page.get_by_role("button", name="rope over a sharp edge").tap()
            expect(page.get_by_test_id("stopped")).to_contain_text("rope over a sharp edge")
            expect(page.get_by_test_id("done")).to_be_disabled()
            expect(phone.page.get_by_text("The leader says when it goes on")).to_be_visible()
            press(page.get_by_role("button", name="looked at, nothing wrong"))
            expect(phone.page.get_by_test_id("stopped")).to_have_count(0)
            # Something else happened, and back.
            if touch:
                page.get_by_role("button", name="Something else happened").tap()
            else:
                keys.press("e")
            press(page.get_by_role("dialog").get_by_role("button", name=re.compile("^Suddenly heavy")))
            expect(page.locator("[data-testid=step][data-key='heavy/1']")).to_be_visible()
            for _ in range(3):
                at = key(leader)
                assert at.startswith("heavy/")
                press(page.get_by_test_id("done"))
                expect(page.get_by_test_id("step")).not_to_have_attribute("data-key", at)
    assert now == "derig/2"
    press(page.get_by_role("button", name="End the run"))
    expect(page.get_by_role("heading", name="The run has ended")).to_be_visible()
    log = leader.call("GET", f"/plans/{plan}/log?kind=step")
    assert log["total"] >= 67


def test_a_step_stop_and_entry_reach_every_device_and_after_no_network_nothing_is_missing_or_twice(someone):
    leader, member, phone = someone(), someone("ash", **TABLET), someone("guest", **PHONE)
    plan = leader.fresh_plan("check", base=demo_document)
    for person in (leader, member, phone):
        on_run(person, plan)
    act(leader, plan, "begin")
    expect(member.page.get_by_test_id("step")).to_be_visible()
    for person in (member, phone):
        person.context.set_offline(True)
    for letter in STONES:
        entry = {"id": str(uuid.uuid4()), "kind": "observation", "decision": f"Stone {letter}", "revision": 1}
        leader.call("POST", f"/plans/{plan}/log", entry)
    expect(member.page.locator("[data-live=waiting]")).to_be_visible()
    expect(member.page.get_by_test_id("heard").get_by_text("Stone")).to_have_count(0)
    # What this device did meanwhile waits on it, and goes out once.
    member.page.get_by_test_id("done").click()
    expect(member.page.get_by_text("1 not sent yet")).to_be_visible()
    for person in (member, phone):
        person.context.set_offline(False)
        expect(person.page.locator("[data-live=sent]")).to_be_visible(timeout=30_000)
    for person in (leader, member, phone):
        heard = person.page.get_by_test_id("heard")
        for letter in STONES:
            expect(heard.get_by_text(f"Stone {letter}")).to_have_count(1)
        expect(heard.get_by_text("Done: Main anchor built")).to_have_count(1)


def test_a_touch_that_the_network_swallowed_is_sent_again_and_done_once(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    page = leader.page
    leader.context.set_offline(True)
    page.get_by_test_id("done").click()
    leader.context.set_offline(False)
    expect(page.get_by_test_id("step")).to_have_attribute("data-key", "lower/4")
    expect(page.locator("[data-live=sent]")).to_be_visible(timeout=30_000)
    assert leader.call("GET", f"/plans/{plan}/log?kind=step&step=lower/3")["total"] == 1


def test_a_session_that_ends_in_the_middle_of_a_step_loses_nothing_and_lets_nobody_in(someone):
    member = someone("ash", **TABLET)
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    on_run(member, plan)
    page = member.page
    member.context.clear_cookies(name="sessionid")
    page.get_by_test_id("done").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    assert leader.call("GET", f"/plans/{plan}/run")["run"]["at"] == "lower/3"
    page.get_by_label("Name").fill("ash")
    page.get_by_label("Password").fill("practice-only")
    page.get_by_role("button", name="Sign in").click()
    expect(leader.page.get_by_test_id("step")).to_have_attribute("data-key", "lower/4")
    assert leader.call("GET", f"/plans/{plan}/log?kind=step&step=lower/3")["total"] == 1


def test_a_decision_is_logged_with_two_touches_and_no_typing(someone):
    leader = someone(**TABLET, has_touch=True)
    plan = leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    document = leader.call("GET", f"/plans/{plan}")["latest"]["document"]
    assert document["lines"][0]["haul"]["bends"]["G"] == "carabiner"
    page.keyboard.press("b")
    first = page.locator("[data-change]").first
    first.get_by_role("button", name=re.compile("^Do it")).tap()
    leader.saved()
    page.reload()
    button = page.get_by_role("button", name="Decided")
    expect(button).to_contain_text("◇")
    before = button.bounding_box()
    button.tap()
    expect(page.get_by_label("Decided")).to_have_value(re.compile(r"in place of .*: .* → "))
    assert button.bounding_box() == before, "what is offered moves what is under the thumb"
    page.get_by_test_id("reasons").get_by_role("button").first.tap()
    expect(page.get_by_role("form", name="Decision")).to_have_count(0)
    expect(button).not_to_contain_text("◇")
    leader.saved()
    entry = leader.call("GET", f"/plans/{plan}/log")["entries"][-1]
    assert " in place of " in entry["decision"] and entry["reason"] and entry["considered"]


def test_what_is_seen_read_and_photographed_is_in_the_log_and_put_right_there(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    page = leader.page
    page.get_by_role("button", name="Saw").click()
    page.get_by_role("button", name="at the load").click()
    page.get_by_role("button", name="stones moving").click()
    expect(page.get_by_test_id("heard").get_by_text("stones moving, at the load")).to_be_visible()
    page.get_by_role("button", name="Saw").click()
    page.get_by_role("button", name="With a photograph").click()
    with page.expect_file_chooser() as asked:
        page.get_by_role("button", name="casualty talks").click()
    picture = io.BytesIO()
    Image.new("RGB", (900, 600), (90, 70, 60)).save(picture, "JPEG")
    asked.value.set_files({"name": "talks.jpg", "mimeType": "image/jpeg", "buffer": picture.getvalue()})
    seen = lambda: leader.call("GET", f"/plans/{plan}/log?kind=photo")["entries"]  # noqa: E731
    leader.until(lambda: [one["decision"] for one in seen()] == ["casualty talks"])
    page.get_by_role("button", name="Reads").click()
    page.get_by_label("kN at the working point").fill("1.9")
    page.get_by_role("button", name="Write it").click()
    out = io.BytesIO()
    Image.new("RGB", (900, 600), (40, 70, 60)).save(out, "JPEG")
    chooser = page.locator("input[type=file]")
    chooser.set_input_files({"name": "lip.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()})
    expect(page.get_by_test_id("heard").locator("img")).to_have_count(2)
    chooser.set_input_files({"name": "lip.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"})
    expect(page.get_by_role("alert")).to_contain_text("can not be opened as a picture")
    expect(page.get_by_test_id("heard")).to_contain_text("Reads 1.90 kN at the working point")
    page.get_by_role("link", name="Whole log").click()
    expect(page.get_by_test_id("sealed")).to_contain_text("every seal fits")
    page.get_by_role("option").filter(has_text="stones moving").click()
    page.get_by_role("button", name="Correct").click()
    page.get_by_label("What is right").fill("One stone, from the haulers' feet")
    page.get_by_role("dialog").get_by_label("because").fill("looked again")
    page.get_by_role("button", name="Record the correction").click()
    expect(page.get_by_text("One stone, from the haulers' feet").first).to_be_visible()
    page.get_by_label("words").fill("stone")
    page.get_by_role("button", name="Search").click()
    expect(page.get_by_test_id("found")).to_have_text("2 entries")


def test_a_phone_shows_what_concerns_its_role(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "raise:1/1")
    phone = someone("ash", **PHONE)
    on_run(phone, plan)
    phone.page.get_by_test_id("role").tap()
    phone.page.get_by_role("button", name="Edge", exact=True).tap()
    expect(phone.page.get_by_test_id("yours")).to_contain_text("An arm short of the roller")
    expect(phone.page.get_by_test_id("yours")).to_contain_text("yours next: Grab forward to the edge")
    expect(phone.page.get_by_test_id("holds-now")).to_contain_text(
        "Load hangs on hands; behind it ratchet, after 0.05 m"
    )
    leader.until(lambda: leader.call("GET", f"/plans/{plan}/run")["run"]["here"].get("ash", {}).get("role") == "edge")
    stop = phone.page.get_by_test_id("stop").bounding_box()
    assert stop["y"] + stop["height"] <= 844 and stop["height"] >= 88


def test_a_plan_that_asks_for_more_hands_than_there_are_says_so_before_the_run(someone):
    leader = someone(**TABLET)
    few = {"team__people": [{"name": "Rowan", "role": "leader"}, {"name": "Birch", "role": "main"}], "team__haulers": 0}
    plan = leader.fresh_plan("check", base=demo_document, **few)
    on_run(leader, plan)
    lack = leader.page.get_by_test_id("lack").filter(has_text="haul team")
    expect(lack).to_contain_text("have to pull")


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_no_view_of_the_run_breaks_a_rule(someone, night):
    from tests.browser.test_access import violations

    leader = someone(**TABLET)
    if night:
        leader.left(night=True)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    assert violations(page) == []
    go_to(leader, plan, "raise:1/1")
    assert violations(page) == []
    for name in ("Something else happened", "Saw", "Decided", "Load cells", "all sent"):
        page.get_by_role("button", name=name).click()
        page.get_by_role("dialog").get_by_role("heading").wait_for()
        page.wait_for_timeout(300)
        assert violations(page) == [], name
        page.keyboard.press("Escape")
    page.get_by_test_id("stop").click()
    page.get_by_test_id("stopped").wait_for()
    assert violations(page) == []
    page.set_viewport_size({"width": 390, "height": 844})
    assert violations(page) == []


def test_steps_are_left_out_put_in_and_kept_as_the_teams_own_where_the_engine_lets_them(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    page.locator("summary", has_text="Secure in the middle").click()
    page.get_by_role("button", name="change its steps: Secure in the middle").click()
    page.get_by_label("A step of your own").fill("Photograph of the rig")
    page.get_by_role("button", name="Put it in").click()
    page.get_by_role("button", name="As the team’s own").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_text("Photograph of the rig").first).to_be_visible()
    # Device out before the ratchet is on does not go: the engine says why, and the sheet stays.
    page.locator("summary", has_text="Change over").click()
    page.get_by_role("button", name="change its steps: Change over").click()
    for place in range(8, 3, -1):
        page.get_by_role("dialog").get_by_role("button", name=f"Up {place}", exact=True).click()
    page.get_by_role("button", name="As the team’s own").click()
    expect(page.get_by_role("alert")).to_contain_text("bears the load")
    page.keyboard.press("Escape")
    go_to(leader, plan, "secure/1")
    page.get_by_role("button", name="Change the steps to come").click()
    page.get_by_role("dialog").get_by_role("button", name="Out 6", exact=True).click()
    page.get_by_role("button", name="For this run").click()
    expect(page.get_by_text("step 1 of 4")).to_be_visible()
    own = leader.call("GET", f"/teams/{leader.call('GET', '/session')['teams'][0]['id']}/procedures")
    assert own["own"] == ["secure"]
    # The team's data is shared with other tests: what was made its own is put back.
    shipped = next(one for one in own["procedures"] if one["id"] == "secure")
    steps = [one for one in shipped["steps"] if one["do"] != "Photograph of the rig"]
    leader.call("PUT", f"/plans/{plan}/procedures", {**shipped, "steps": steps})


def test_a_stop_stands_on_the_plans_other_pages_too(someone):
    leader, member = someone(**TABLET), someone("ash")
    plan = leader.fresh_plan("check", base=demo_document)
    act(leader, plan, "begin")
    member.open(plan)
    act(leader, plan, "stop")
    alert = member.page.get_by_test_id("stopped")
    expect(alert).to_contain_text("STOP, rowan")
    act(leader, plan, "go", text="put right")
    expect(alert).to_have_count(0)


def test_a_guarded_anchor_is_looked_at_and_its_guard_relieved_and_the_next_join_is_counted(someone):
    leader = someone(**TABLET)
    document = demo_document()
    next(one for one in document["features"] if one["id"] == "truck")["guard"] = "Linden"
    document["anchors"][2]["alternatives"][0]["legs"][0]["feature"] = "truck"
    document["ropes"][0]["joins"] = [{"at_m": 20, "knot": "double-fisherman", "tail_m": 0.2}]
    plan = leader.fresh_plan("check", base=lambda: document)
    on_run(leader, plan)
    go_to(leader, plan, "raise:1/2")
    page = leader.page
    expect(page.get_by_test_id("counts")).to_contain_text("join comes in after")
    page.get_by_role("button", name="Looked").click()
    page.get_by_role("button", name="Relieve").click()
    page.get_by_role("dialog").get_by_role("button", name="Hazel").click()
    expect(page.get_by_test_id("heard")).to_contain_text("Hazel has Redirect on the road, hand over hand")
    page.get_by_role("link", name="Whole log").click()
    page.get_by_role("option").filter(has_text="Hazel").first.click()
    page.get_by_role("button", name="all of step raise:1/2").click()
    expect(page.get_by_test_id("found")).to_have_text("2 entries")


def test_a_step_is_read_aloud_with_what_is_to_be_looked_at(someone):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    page.add_init_script("window.said = []; speechSynthesis.speak = (one) => window.said.push(one.text)")
    go_to(leader, plan, "lower/8")
    page.get_by_role("button", name="Read aloud").click()
    (said,) = page.evaluate("window.said")
    assert said.startswith("Stop: the brake hitch set") and "Look: " in said
