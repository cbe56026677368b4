"""Take the pictures of docs/screenshots from the demo: `make screenshots`."""

import re
import tempfile
import uuid
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.browser.test_run import go_to, on_run
from tests.conftest import Server
from tests.plans import ROOT, changed, demo_document
from tests.reference.test_tension_line import tight_document

FOLDER = ROOT / "docs" / "screenshots"


def lines(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Lines stage: raising along the road."""
    leader.open(plan)
    page = leader.page
    shot(page, "lines-raising")


def way(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """Metre by metre: the knot arriving, what buys most, a change offered as a decision, a tension line."""
    page = leader.page
    join = {"at_m": 30, "knot": "double-fisherman", "tail_m": 0.2}
    leader.fresh_plan(base=demo_document, ropes__0__joins=[join])
    page.get_by_role("button", name="The whole way").click()
    page.get_by_role("list", name="What comes to what").get_by_role("button").first.click()
    shot(page, "way")
    page.keyboard.press("b")
    page.locator("[data-change]").first.wait_for()
    shot(page, "what-buys-most")
    page.get_by_role("button", name=re.compile("^for")).click()
    page.get_by_role("option", name="Weakest margin").click()
    page.locator("[data-change]").first.get_by_text("Ball-bearing pulley in place").wait_for()
    page.locator("[data-change]").first.get_by_role("button", name=re.compile("^Do it")).click()
    page.get_by_test_id("reasons").wait_for()
    shot(page, "decision-offered")
    leader.fresh_plan(base=lambda: tight_document(slips="self-locking"))
    page.get_by_role("radio", name="Hold", exact=True).click()
    page.get_by_role("button", name="Tension line").click()
    page.get_by_role("button", name=re.compile("Tightest")).click()
    shot(page, "tension-line")


def straight_lift(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """A load hung from a beam, block and tackle between."""
    page = leader.page
    leader.page.goto(f"{leader.server.url}/plans")
    leader.begin_straight_lift()
    page.get_by_role("radio", name="Raise", exact=True).click()
    leader.choose("Haul system", "4:1 block and tackle, pulled down")
    page.get_by_role("button", name=re.compile("^Attached")).click()
    page.get_by_role("option", name="at the load").click()
    page.get_by_label("Minded by").fill("Ash")
    leader.saved()
    shot(page, "lines-straight-lift")


def anchors(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Anchors stage: three legs."""
    leader.open(plan, "anchors")
    page = leader.page
    shot(page, "anchor-three-legs")


def check(leader: Person, member: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Check stage: one thing alone, a part taken away, signed and partly open again, on paper."""
    leader.fresh_plan("check", base=demo_document, lines__1__anchor="main", lines__0__haul__capture_minder="")
    page = leader.page
    shot(page, "check")
    leader.open(plan, "check")
    page.get_by_role("button", name="Between hauls").click()
    page.get_by_role("list", name="Every part of this state").get_by_role(
        "button", name=re.compile("the ratchet.*its cord")
    ).click()
    page.get_by_test_id("dropped").wait_for()
    shot(page, "check-part-gone")
    signed = member.page
    member.open(plan, "check")
    signed.get_by_role("button", name=re.compile("^Sign .* as ash$")).click()
    signed.get_by_role("button", name="Everything that can be is signed").wait_for()
    latest = leader.call("GET", f"/plans/{plan}")["latest"]
    looser = changed(latest["document"], lines__1__slack_m=0.5)
    body = {"base": latest["number"], "id": str(uuid.uuid4()), "document": looser}
    leader.call("PUT", f"/plans/{plan}", body)
    member.open(plan, "check")
    signed.get_by_role("button", name="◇ sign again").first.wait_for()
    shot(signed, "check-signed")
    signed.emulate_media(media="print")
    signed.set_viewport_size({"width": 794, "height": 1123})
    shot(signed, "check-print")


def run(leader: Person, browser: Browser, server: Server, shot: Callable[[Page, str], None]) -> None:
    """The run: by day on a tablet, refused, by night, something else, stopped; on a phone by its role."""
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    page.set_viewport_size({"width": 1024, "height": 768})
    on_run(leader, plan)
    go_to(leader, plan, "change-over/7")
    page.get_by_role("button", name="Skip this step").click()
    page.get_by_role("alert").wait_for()
    shot(page, "run-refused")
    page.get_by_role("button", name="Understood").click()
    shot(page, "run-day")
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
    page.get_by_role("button", name="Something else happened").click()
    page.get_by_role("button", name=re.compile("^Suddenly heavy")).click()
    page.locator("[data-key^=heavy]").wait_for()
    shot(page, "run-contingency")
    phone.page.get_by_test_id("stop").tap()
    page.get_by_test_id("stopped").wait_for()
    shot(page, "run-stopped")
    page.get_by_role("button", name="Day").click()
    page.set_viewport_size({"width": 1280, "height": 800})


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as var, sync_playwright() as playwright:
        server = Server(Path(var))
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:

            def shot(page, name: str) -> None:
                page.wait_for_timeout(600)
                page.screenshot(path=FOLDER / f"{name}.png")

            leader = Person(browser, server)
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
            leader.open(plan, "size-up")
            page.get_by_role("tab", name="Rule").click()
            shot(page, "size-up")
            leader.open(plan, "log")
            shot(page, "log")
            anchors(leader, plan, shot)
            straight_lift(leader, shot)
            way(leader, shot)
            check(leader, Person(browser, server, "ash"), plan, shot)
            run(leader, browser, server, shot)
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
