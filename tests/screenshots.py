"""Take the pictures of docs/screenshots from the demo: `make screenshots`."""

import re
import tempfile
import uuid
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, Person
from tests.browser.test_lines import begun
from tests.conftest import Server
from tests.plans import ROOT, changed, demo_document, haul
from tests.reference.test_tension_line import tight_document

FOLDER = ROOT / "docs" / "screenshots"


def lines(leader: Person, plan: str, shot: Callable[[Page, str], None]) -> None:
    """The Lines stage: raising along the road, the main line gone by night."""
    leader.open(plan)
    page = leader.page
    shot(page, "lines-raising")
    page.keyboard.press("4")
    page.get_by_role("button", name="Night").click()
    page.mouse.move(640, 300)
    shot(page, "lines-night")
    page.get_by_role("button", name="Day").click()
    page.keyboard.press("3")


def way(leader: Person, shot: Callable[[Page, str], None]) -> None:
    """Metre by metre: the knot arriving, what buys most, devices side by side, a set-back 9:1 led by hand, a sling, a tension line."""
    page = leader.page
    join = {"at_m": 30, "knot": "double-fisherman", "tail_m": 0.2}
    leader.fresh_plan(base=demo_document, ropes__0__joins=[join])
    page.get_by_role("button", name="The whole way").click()
    page.get_by_role("list", name="What comes to what").get_by_role("button").first.click()
    shot(page, "way")
    page.keyboard.press("b")
    page.locator("[data-change]").first.wait_for()
    shot(page, "what-buys-most")
    leader.fresh_plan(base=demo_document)
    page.get_by_role("radio", name="Lower", exact=True).click()
    page.get_by_role("button", name="Lowering device").click()
    page.get_by_role("row").nth(3).wait_for()
    shot(page, "devices")
    set_back = haul("three-on-three-9")
    set_back["system"]["station"] = {**set_back["system"]["station"], "C": 1.4}
    leader.fresh_plan(base=demo_document, lines__0__haul=set_back, ropes__0__length_m=80)
    page.get_by_role("button", name="as hands see it").click()
    page.get_by_role("button", name=re.compile("^7")).click()
    shot(page, "led-by-hand")
    sling = haul(
        "sling-4",
        "slick-sling",
        own={"material": "sewn-sling-22", "length_m": 2.4},
        grab="prusik-8",
        capture="takes-in",
    )
    leader.fresh_plan(base=demo_document, lines__0__haul=sling)
    shot(page, "sling")
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
    """The Anchors stage: three legs, the survey."""
    leader.open(plan, "anchors")
    page = leader.page
    shot(page, "anchor-three-legs")
    page.get_by_role("tab", name="Survey").click()
    page.get_by_role("radio", name=re.compile("^Three legs")).click()
    page.get_by_role("button", name="Take a reading (simulated)").click()
    page.get_by_role("button", name=re.compile("^Place the reading")).first.wait_for()
    shot(page, "survey")


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
            leader.fresh_plan(base=begun)
            shot(page, "lines-just-begun")
            straight_lift(leader, shot)
            way(leader, shot)
            check(leader, Person(browser, server, "ash"), plan, shot)
            page.set_viewport_size({"width": 1024, "height": 768})
            leader.open(plan)
            page.get_by_role("radio", name="Lower", exact=True).click()
            shot(page, "lines-tablet")
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
