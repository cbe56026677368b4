"""Take the pictures of docs/screenshots from the demo: `make screenshots`."""

import re
import tempfile
import uuid
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright
from pypdfium2 import PdfDocument

from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.browser.test_cell import start_cell
from tests.browser.test_offline import OFFLINE, kept, picture, see, step_on
from tests.browser.test_run import act, go_to, on_run
from tests.conftest import Server
from tests.plans import ROOT, changed, demo_document
from tests.reference.test_tension_line import tight_document

FOLDER = ROOT / "docs" / "screenshots"


def lines(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Lines stage: raising along the road."""
    leader.open(plan)
    page = leader.page
    shot(page, "lines-raising")


def first(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """A knot, own pulls, the best rigs out of the bags; the run of the year before gone through again."""
    page, url = leader.page, leader.server.url
    page.goto(f"{url}/pulls")
    page.locator("[data-range]").first.wait_for()
    shot(page, "own-pulls")
    page.goto(f"{url}/reference/prusik-8")
    page.get_by_test_id("knot").wait_for()
    shot(page, "reference")
    # The same drill each time.
    page.route("**/api/practice/round*", lambda route: route.continue_(url=f"{route.request.url}&seed=7"))
    page.goto(f"{url}/practice")
    page.get_by_role("button", name=re.compile("^The one thing alone")).click()
    page.get_by_role("list", name="Answers").get_by_role("button").first.click()
    page.get_by_test_id("marked").wait_for()
    shot(page, "practice")
    plans = {one["title"].partition(",")[2].strip(): one["id"] for one in leader.call("GET", "/plans")}
    year = plans["mushroom picker with an ankle injury"]
    page.goto(f"{url}/plans/{year}/debrief")
    page.locator("figure path").first.wait_for()
    slider = page.get_by_label("Moment of the run")
    slider.fill(str(int(int(slider.get_attribute("max") or 0) * 0.521)))
    shot(page, "debrief")
    page.goto(f"{url}/plans/{year}/gear")
    page.locator("[data-piece='rope:main']").wait_for()
    shot(page, "gear")
    page.goto(f"{url}/plans/{plans['forestry worker with leg injury']}/best")
    page.get_by_role("button", name=re.compile("^Rig C")).click(timeout=200_000)
    shot(page, "best")


def table_top(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """A table-top in which something has happened."""
    team = leader.call("GET", "/session")["teams"][0]["id"]
    plan = next(one["id"] for one in leader.call("GET", "/plans") if "forestry" in one["title"])
    asked = {"id": str(uuid.uuid4()), "plan": plan, "seed": 3, "pace": 10, "begins": "raise:4/1"}
    made = leader.call("POST", f"/teams/{team}/table-tops", asked)
    leader.page.goto(f"{leader.server.url}/plans/{made['plan']}/run")
    leader.page.get_by_test_id("table-top").get_by_role("listitem").first.wait_for()
    leader.page.get_by_text("simulated cell").wait_for()
    shot(leader.page, "table-top")


def way(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """Metre by metre: the knot arriving, what buys most, a tension line."""
    page = leader.page
    join = {"at_m": 30, "knot": "double-fisherman", "tail_m": 0.2}
    leader.fresh_plan(base=demo_document, ropes__0__joins=[join])
    page.get_by_role("button", name="The whole way").click()
    page.get_by_role("list", name="What comes to what").get_by_role("button").first.click()
    shot(page, "way")
    leader.fresh_plan(base=lambda: tight_document(slips="self-locking"))
    page.get_by_role("radio", name="Hold", exact=True).click()
    page.get_by_role("button", name="Tension line").click()
    page.get_by_role("button", name=re.compile("Tightest")).click()
    shot(page, "tension-line")


def anchors(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Anchors stage: an anchor out of one rope, what it takes and what a cut takes away."""
    leader.open(plan, "anchors")
    page = leader.page
    page.get_by_role("radio", name="Belay anchor").click()
    page.get_by_role("radio", name="Fir and spruce, one rope").click()
    page.get_by_role("region", name="Out of one piece").evaluate("one => one.scrollIntoView({ block: 'start' })")
    shot(page, "anchor-one-rope")


def check(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Check stage with one thing alone; the operation with its minutes."""
    leader.fresh_plan("check", base=demo_document, lines__1__anchor="main", lines__0__haul__capture_minder="")
    page = leader.page
    shot(page, "check")
    page.goto(f"{leader.server.url}/plans/{plan}/run")
    page.get_by_test_id("course").wait_for()
    shot(page, "operation")


def run(leader: Person, browser: Browser, server: Server, shot: Callable[[Page, str], None]) -> None:
    """The run: by day and by night on a tablet; on a phone by its role."""
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    page.set_viewport_size({"width": 1024, "height": 768})
    on_run(leader, plan)
    page.get_by_role("button", name="Night").click()
    go_to(leader, plan, "raise:2/1")
    shot(page, "run-night")
    phone = Person(browser, server, "ash", viewport={"width": 390, "height": 844}, has_touch=True)
    on_run(phone, plan)
    phone.page.get_by_role("button", name="Night").tap()
    phone.page.get_by_test_id("role").tap()
    phone.page.get_by_role("button", name="Ratchet minder").tap()
    go_to(leader, plan, "raise:2/2")
    shot(phone.page, "run-phone")
    page.get_by_role("button", name="Day").click()
    page.set_viewport_size({"width": 1280, "height": 800})


def cell(leader: Person, browser: Browser, server: Server, shot: Callable[[Page, str], None]) -> None:
    """The rig said as it is; a device without a connection, for the debrief; load cells on the haul, what they teach, a jam."""
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    page.set_viewport_size({"width": 1024, "height": 768})
    on_run(leader, plan)
    go_to(leader, plan, "lower/8")
    page.get_by_text("The rig is otherwise …").click()
    page.locator("[role=dialog] [data-mark='main:brake']").click()
    page.get_by_test_id("ways").get_by_role("button", name="Not on").click()
    page.get_by_label("because").last.fill("nobody brought the cord")
    shot(page, "run-otherwise")
    page.get_by_role("button", name="Close").click()
    go_to(leader, plan, "raise:1/1")
    member = Person(browser, server, "ash", **OFFLINE)
    on_run(member, plan)
    kept(member)
    member.context.set_offline(True)
    member.page.locator("[data-live=waiting]").wait_for()
    see(member, "stones moving under the lip")
    step_on(member)
    member.page.locator("input[type=file]").first.set_input_files(picture(90))
    for place in ("at the load", "at the working point"):
        start_cell(leader, place)
    page.wait_for_timeout(45_000)
    page.get_by_role("button", name="Load cells").click()
    page.get_by_role("button", name="What the readings say").click()
    page.get_by_test_id("lesson").wait_for()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Load cells").click()
    page.get_by_role("button", name="load jams").first.click()
    page.keyboard.press("Escape")
    page.get_by_test_id("alarm").wait_for()
    page.wait_for_timeout(4000)
    shot(page, "run-jam")
    page.get_by_test_id("alarm").get_by_role("button", name="STOP").click()
    after(leader, member, plan, shot)


def after(leader: Person, member: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The same run to its end: the rig card."""
    page = leader.page
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_test_id("stopped").wait_for()
    page.get_by_role("button", name="looked at, nothing wrong").click()
    for _ in range(2):
        page.get_by_role("button", name="Load cells").click()
        page.get_by_role("dialog").get_by_role("button", name="Take it off").first.click()
        page.keyboard.press("Escape")
    latest = leader.call("GET", f"/plans/{plan}")["latest"]
    body = {"base": latest["number"], "id": str(uuid.uuid4())}
    better = changed(latest["document"], lines__0__haul__bends__G="ball-bearing-pulley")
    number = leader.call("PUT", f"/plans/{plan}", body | {"document": better})["number"]
    said = {"decision": "Pulley at the haul grab", "reason": "four can pull it then, not five", "considered": "5:1"}
    leader.call("POST", f"/plans/{plan}/log", {"id": str(uuid.uuid4()), "kind": "decision", "revision": number, **said})
    member.context.set_offline(False)
    page.wait_for_timeout(4000)
    go_to(leader, plan, "raise:2/1")
    act(leader, plan, "end")
    for paper, name, number in (("card", "rig-card", 0),):
        answer = page.request.get(f"{leader.server.url}/api/plans/{plan}/papers/{paper}")
        PdfDocument(answer.body())[number].render(scale=1.4).to_pil().save(FOLDER / f"{name}.png")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as var, sync_playwright() as playwright:
        server = Server(Path(var))
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:

            def shot(page, name: str) -> None:
                page.wait_for_timeout(600)
                page.screenshot(path=FOLDER / f"{name}.png")

            leader = Person(browser, server, viewport={"width": 1024, "height": 768}, has_touch=True)
            leader.left(pathOpen=False, drawn={})
            page = leader.page
            plan = leader.call("GET", "/plans")[0]["id"]
            for decision, reason, considered in (
                (
                    "3:1 on the main rope, ball-bearing pulley at the larch",
                    "five of seven can pull it",
                    "5:1 simple: hardly more on carabiners",
                ),
                ("Roller on the ravine lip, log left bare", "the rope turns 41° at the lip and 5° at the log", ""),
            ):
                revision = leader.call("GET", f"/plans/{plan}")["latest"]["number"]
                entry = {
                    "id": str(uuid.uuid4()),
                    "kind": "decision",
                    "decision": decision,
                    "reason": reason,
                    "considered": considered,
                }
                leader.call("POST", f"/plans/{plan}/log", {**entry, "revision": revision})
            lines(leader, plan, shot)
            server.manage("load_demo")
            first(leader, shot)
            leader.fresh_plan("size-up", base=demo_document, day__state="wet", day__temperature_c=2)
            page.get_by_role("tab", name="Day").click()
            shot(page, "size-up")
            anchors(leader, plan, shot)
            table_top(leader, shot)
            leader = Person(browser, server)
            way(leader, shot)
            check(leader, plan, shot)
            run(leader, browser, server, shot)
            cell(leader, browser, server, shot)
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
