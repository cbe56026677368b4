"""What is heard and sent whatever page is shown: one line for all tabs, one delivery for all pages; what fails, fails by itself."""

import json
import re

from playwright.sync_api import expect

from tests.browser.test_access import violations
from tests.browser.test_offline import decisions, see
from tests.browser.test_run import TABLET, act, on_run
from tests.plans import demo_document


def test_a_stop_is_seen_on_the_list_of_plans_and_in_another_tab_of_the_same_browser(someone):
    leader, member = someone(**TABLET), someone("ash")
    plan = leader.fresh_plan("check", base=demo_document)
    title = leader.call("GET", f"/plans/{plan}")["latest"]["document"]["title"]
    act(leader, plan, "begin")
    second = member.context.new_page()
    second.goto(f"{member.server.url}/team")
    expect(second.get_by_role("heading", name="People")).to_be_visible()
    lines = []
    for page in (member.page, second):
        page.on("request", lambda one: lines.append(one.url) if "/api/live" in one.url else None)
    act(leader, plan, "stop")
    for page in (member.page, second):
        expect(page.get_by_label("Stopped elsewhere")).to_contain_text(f"STOP on {title}, rowan")
    act(leader, plan, "go", text="put right")
    for page in (member.page, second):
        expect(page.get_by_label("Stopped elsewhere").get_by_text(title)).to_have_count(0)
    # The tab that holds the line is closed: the other one takes it over.
    member.page.close()
    act(leader, plan, "stop")
    expect(second.get_by_label("Stopped elsewhere")).to_contain_text(f"STOP on {title}, rowan", timeout=20_000)
    act(leader, plan, "go", text="put right")


def test_what_was_seen_goes_out_from_another_page_and_after_a_new_sign_in_in_another_tab(someone):
    leader, member = someone(**TABLET), someone("ash", **TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    act(leader, plan, "begin")
    on_run(member, plan)
    page = member.page
    page.route(
        "**/api/plans/*/log", lambda route: route.abort() if route.request.method == "POST" else route.continue_()
    )
    see(member, "ash saw a stone move")
    page.goto(f"{member.server.url}/plans")
    expect(page.get_by_test_id("unsent")).to_contain_text("1 not sent yet")
    # Signed out and in again in another tab: another session, another token.
    other = member.context.new_page()
    other.goto(f"{member.server.url}/plans")
    other.evaluate(
        """async () => {
          const session = async (method, body) => (await fetch("/api/session", {method, body, headers: {
            "Content-Type": "application/json", "X-CSRFToken": (await (await fetch("/api/session")).json()).csrf_token}})).json();
          await session("DELETE");
          await session("POST", JSON.stringify({username: "ash", password: "practice-only"}));
        }"""
    )
    member.server.signed_in.pop("ash", None)
    page.unroute("**/api/plans/*/log")
    expect(page.get_by_test_id("unsent")).to_have_count(0, timeout=30_000)
    member.until(lambda: "ash saw a stone move" in decisions(leader, plan))


def test_a_part_that_can_not_be_shown_fails_by_itself_and_a_corrupt_setting_makes_nothing_blank(someone):
    leader = someone()
    leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    page.evaluate("localStorage.setItem('outrigger.settings', '{not json')")
    page.evaluate("sessionStorage.setItem('outrigger.decision.' + location.pathname.split('/')[2], '7')")
    page.reload()
    expect(page.locator("[data-rung]").first).to_be_visible()

    # A server of a later version answers with what this page does not know.
    def otherwise(route):
        answer = route.fetch()
        report = answer.json()
        for state in report["states"]:
            state["rungs"] = None
        route.fulfill(response=answer, body=json.dumps(report))

    page.route("**/api/analyse*", otherwise)
    page.reload()
    expect(page.get_by_test_id("region-failed").first).to_contain_text("can not be shown")
    expect(page.get_by_role("navigation")).to_be_visible()
    expect(page.get_by_role("button", name="Decided")).to_be_visible()
    page.unroute("**/api/analyse*")
    page.get_by_test_id("region-failed").first.get_by_role("button", name="Reload the page").click()
    expect(page.locator("[data-rung]").first).to_be_visible()
    leader.errors.clear()


def test_a_password_is_changed_on_the_people_page(someone):
    leader = someone()
    page = leader.page
    page.goto(f"{leader.server.url}/team")
    own = page.get_by_label("Your own sign-in")
    own.get_by_label("Password now").fill("not this one")
    own.get_by_label("New password").fill("seven stones by the water")
    own.get_by_role("button", name="Change it").click()
    expect(own.get_by_role("alert")).to_contain_text("not your password")
    expect(own.get_by_label("New password")).to_have_value("seven stones by the water")
    page.get_by_role("button", name="Who came in, and who tried").click()
    expect(page.get_by_test_id("security")).to_contain_text("signed in")
    assert violations(page) == []


def test_a_team_without_a_plan_is_offered_what_to_begin_with(someone):
    leader = someone()
    page = leader.page
    page.route(
        re.compile("/api/plans$"),
        lambda route: route.fulfill(json=[]) if route.request.method == "GET" else route.continue_(),
    )
    page.goto(f"{leader.server.url}/plans")
    empty = page.get_by_role("region", name="No plan yet")
    expect(empty.get_by_role("button", name="Begin one from its scene")).to_be_visible()
    empty.get_by_role("button", name=re.compile("^Mill House stairwell")).click()
    page.wait_for_url("**/lines")
    expect(page.get_by_role("heading", name=re.compile("^Mill House stairwell"))).to_be_visible()
