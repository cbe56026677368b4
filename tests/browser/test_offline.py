"""Without a connection: what is done on a device stays there, over a reload and a restart, and goes out once and in order."""

import io
import re

from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.browser.test_access import violations
from tests.browser.test_run import TABLET, act, go_to, key, on_run
from tests.plans import demo_document

OFFLINE = {**TABLET, "service_workers": "allow"}
ENTRIES, STEPS = 25, 3


def kept(person: Person) -> None:
    """Until the browser keeps the page itself, and what it was told is kept too."""
    person.page.evaluate("navigator.serviceWorker.ready.then(() => null)")
    person.page.wait_for_timeout(500)


def picture(shade: int) -> dict:
    out = io.BytesIO()
    Image.new("RGB", (640, 480), (shade, 80, 60)).save(out, "JPEG")
    return {"name": f"lip-{shade}.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()}


def see(person: Person, what: str) -> None:
    person.page.get_by_role("button", name="Saw").click()
    dialog = person.page.get_by_role("dialog")
    dialog.get_by_label("Seen").fill(what)
    dialog.get_by_role("button", name="Write it").click()
    expect(dialog).to_have_count(0)


def step_on(person: Person) -> None:
    now = key(person)
    # Two touches within a moment are one.
    person.page.wait_for_timeout(750)
    person.page.get_by_test_id("done").click()
    expect(person.page.get_by_test_id("step")).not_to_have_attribute("data-key", now)


def decisions(person: Person, plan: str, **query: str) -> list[str]:
    """Every entry's words, first to last, without those of the run itself."""
    asked = "".join(f"&{name}={value}" for name, value in query.items())
    found: list[str] = []
    while page := person.call("GET", f"/plans/{plan}/log?place={len(found)}{asked}")["entries"]:
        found += [one["decision"] for one in page]
    return found


def test_entries_steps_and_photographs_on_two_devices_without_a_connection_come_once_and_in_order(someone):
    leader, member = someone(**OFFLINE), someone("ash", **OFFLINE)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    on_run(member, plan)
    expect(member.page.locator("[data-live=sent]")).to_be_visible()
    for person in (leader, member):
        kept(person)
        person.context.set_offline(True)
        expect(person.page.locator("[data-live=waiting]")).to_be_visible(timeout=30_000)
    # Both do the same three steps; each sees things of their own and takes a photograph.
    for number, person in enumerate((leader, member)):
        name = ("rowan", "ash")[number]
        for count in range(ENTRIES):
            see(person, f"{name} saw stone {count:02}")
        for _ in range(STEPS):
            step_on(person)
        person.page.locator("input[type=file]").set_input_files(picture(40 + number))
        waiting = ENTRIES + STEPS + 1
        expect(person.page.get_by_text(f"{waiting} not sent yet")).to_be_visible()
        assert key(person) == "lower/6"
    # The page is loaded anew, still without a connection: the run, the step, what waits.
    member.page.reload()
    expect(member.page.get_by_test_id("step")).to_have_attribute("data-key", "lower/6")
    expect(member.page.get_by_text(f"{ENTRIES + STEPS + 1} not sent yet")).to_be_visible()
    expect(member.page.locator("[data-waiting]")).to_have_count(ENTRIES + STEPS + 1)
    for person in (leader, member):
        person.context.set_offline(False)
        expect(person.page.locator("[data-live=sent]")).to_be_visible(timeout=60_000)
    for name in ("rowan", "ash"):
        mine = [one for one in decisions(leader, plan, kind="observation") if one.startswith(f"{name} saw")]
        assert mine == [f"{name} saw stone {count:02}" for count in range(ENTRIES)]
    assert len(decisions(leader, plan, kind="photo")) == 2
    # The steps of the second are said to have been done by both; nobody has to settle anything.
    run = leader.call("GET", f"/plans/{plan}/run")["run"]
    assert (run["at"], run["conflicts"]) == ("lower/6", [])
    assert len([one for one in decisions(leader, plan, kind="conflict") if "ash, too" in one]) == STEPS
    assert leader.call("GET", f"/plans/{plan}/log/verified")["broken"] == []


def test_what_does_not_fit_is_shown_as_both_saw_it_and_the_leader_settles_it(someone):
    leader, member = someone(**OFFLINE), someone("ash", **OFFLINE)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    on_run(member, plan)
    kept(member)
    member.context.set_offline(True)
    expect(member.page.locator("[data-live=waiting]")).to_be_visible(timeout=30_000)
    step_on(member)
    step_on(member)
    # Meanwhile the leader goes a step back.
    act(leader, plan, "back", "lower/3")
    member.context.set_offline(False)
    conflict = leader.page.get_by_test_id("conflict")
    expect(conflict).to_contain_text("ash went on without a connection", timeout=30_000)
    expect(conflict.get_by_role("listitem")).to_have_count(3)
    expect(conflict).to_contain_text("rowan Back to: Ties in before going near the edge")
    expect(member.page.get_by_test_id("conflict")).to_contain_text("The leader settles it")
    assert violations(leader.page) == []
    conflict.get_by_role("button", name=re.compile("As ash has it")).click()
    for person in (leader, member):
        expect(person.page.get_by_test_id("conflict")).to_have_count(0)
        expect(person.page.get_by_test_id("step")).to_have_attribute("data-key", "lower/5")
    said = decisions(leader, plan, kind="conflict")
    assert len(said) == 3 and said[-1].startswith("Settled: the run goes on from ash's")


def test_the_browser_restarted_without_a_connection_opens_the_plan_the_run_and_the_log(chromium, server, tmp_path):
    """The server is gone and the browser was closed: plan, report, run and log are there, and what is done is kept."""

    def open_browser():
        return chromium.launch_persistent_context(str(tmp_path), executable_path=CHROMIUM, args=FLAGS, **TABLET)

    context = open_browser()
    person = Person.at(context, server)
    plan = person.fresh_plan("lines", base=demo_document)
    person.saved()
    answer = person.answer()
    person.open(plan, "log")
    on_run(person, plan)
    act(person, plan, "begin")
    expect(person.page.get_by_test_id("step")).to_be_visible()
    see(person, "before the battery went")
    expect(person.page.locator("[data-live=sent]")).to_be_visible()
    kept(person)
    context.close()
    server.kill()
    try:
        context = open_browser()
        page = context.new_page()
        page.set_default_timeout(15_000)
        page.goto(f"{server.url}/plans/{plan}/run")
        expect(page.get_by_test_id("step")).to_be_visible()
        page.get_by_test_id("stop").click()
        expect(page.get_by_test_id("stopped")).to_contain_text("STOP, rowan")
        expect(page.get_by_test_id("heard")).to_contain_text("before the battery went")
        page.goto(f"{server.url}/plans/{plan}/lines")
        expect(page.get_by_test_id("answer")).to_have_text(re.compile(re.escape(answer.splitlines()[0])))
        page.goto(f"{server.url}/plans/{plan}/log")
        expect(page.get_by_text("Run begun on revision 1")).to_be_visible()
        context.close()
    finally:
        server.start()
    context = open_browser()
    page = context.new_page()
    page.goto(f"{server.url}/plans/{plan}/run")
    expect(page.locator("[data-live=sent]")).to_be_visible(timeout=30_000)
    stops = page.request.get(f"{server.url}/api/plans/{plan}/log?kind=stop").json()
    assert [one["decision"] for one in stops["entries"]] == ["STOP"]
    context.close()


def test_what_one_person_did_is_not_sent_under_another_name(someone):
    member = someone("ash", **OFFLINE)
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    act(leader, plan, "begin")
    on_run(member, plan)
    kept(member)
    member.context.set_offline(True)
    expect(member.page.locator("[data-live=waiting]")).to_be_visible(timeout=30_000)
    see(member, "only ash saw this")
    member.context.clear_cookies(name="sessionid")
    member.context.set_offline(False)
    page = member.page
    expect(page.get_by_role("button", name="Sign in")).to_be_visible(timeout=30_000)
    page.get_by_label("Name").fill("guest")
    page.get_by_label("Password").fill("practice-only")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("goes out when ash signs in here")).to_be_visible()
    assert "only ash saw this" not in decisions(leader, plan)


def on_one_run(someone):
    leader, member = someone(**TABLET), someone("ash", **TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/3")
    on_run(member, plan)
    expect(member.page.locator("[data-live=sent]")).to_be_visible()
    return leader, member


def test_a_stop_does_not_wait_behind_a_photograph_that_is_on_its_way(someone):
    leader, member = on_one_run(someone)
    # The line swallows the photograph: it neither arrives nor fails.
    member.page.route("**/photographs", lambda route: None)
    member.page.locator("input[type=file]").first.set_input_files(picture(120))
    expect(member.page.locator("[data-live=waiting]")).to_be_visible()
    member.page.get_by_role("button", name="STOP", exact=True).first.click()
    expect(leader.page.get_by_test_id("stopped")).to_be_visible(timeout=5000)


def test_a_stop_that_did_not_get_through_goes_out_from_whatever_page_is_shown_then(someone):
    leader, member = on_one_run(someone)
    member.page.route(
        "**/api/plans/*/run", lambda route: route.abort() if route.request.method == "POST" else route.continue_()
    )
    member.page.get_by_role("button", name="STOP", exact=True).first.click()
    expect(member.page.locator("[data-live=waiting]")).to_be_visible()
    expect(leader.page.get_by_test_id("stopped")).to_have_count(0)
    member.page.goto(f"{member.server.url}/plans")
    member.page.unroute("**/api/plans/*/run")
    expect(leader.page.get_by_test_id("stopped")).to_be_visible(timeout=15_000)


def test_who_signs_out_without_a_connection_leaves_nothing_to_read_and_is_out_when_it_is_back(someone):
    member = someone("ash", **OFFLINE)
    page = member.page
    expect(page.get_by_role("link", name=re.compile("Alder Gill")).first).to_be_visible()
    kept(member)
    member.context.set_offline(True)
    page.get_by_role("button", name="Sign out ash").click()
    expect(page.get_by_role("heading", name="Outrigger")).to_be_visible()
    # Nothing of it is on the device: not in the page, nor after a reload.
    assert page.evaluate("indexedDB.databases().then((all) => all.length)") >= 1
    rows = """async () => {
        const open = indexedDB.open("outrigger"); await new Promise((done) => (open.onsuccess = done));
        const all = open.result.transaction("answers").objectStore("answers").getAllKeys();
        await new Promise((done) => (all.onsuccess = done)); return all.result; }"""
    assert not [one for one in page.evaluate(rows) if "session" not in one]
    page.reload()
    expect(page.get_by_text("can not be reached")).to_be_visible()
    member.context.set_offline(False)
    expect(page.get_by_label("Name")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Alder Gill"))).to_have_count(0)
