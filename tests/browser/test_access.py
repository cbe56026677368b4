"""Every main view by day and by night, checked by axe-core: no violation of WCAG 2.2 A and AA, nor of its best practices."""

import json

import pytest

from tests.plans import ROOT, changed, demo_document, one_rope_document

AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22a", "wcag22aa", "best-practice"]


def begun() -> dict:
    document = changed(one_rope_document(), lines=[], ropes=[])
    document["features"][0] |= {"rating_n": None, "answers": {}, "basis": "", "verdict": None}
    return document


def violations(page) -> list[str]:
    page.wait_for_timeout(400)
    # The page allows no script but its own: this one is brought in from outside it.
    page.evaluate(AXE.read_text(encoding="utf-8"))
    # What lies under an open sheet is inert, so the sheet is the page.
    dialog = "[role=dialog]" if page.get_by_role("dialog").count() else "html"
    run = f"axe.run({{include: {json.dumps(dialog)}, exclude: '[data-headlessui-focus-guard]'}}, {{runOnly: {json.dumps(RULES)}}})"
    found = page.evaluate(f"async () => (await {run}).violations")
    return [
        f"{one['id']}: {one['nodes'][0]['html'][:200]} ({one['nodes'][0]['failureSummary'][:200]})" for one in found
    ]


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_no_view_breaks_a_rule(someone, night):
    leader = someone()
    page, found = leader.page, {}
    if night:
        leader.left(night=True)
        page.reload()

    def look(name: str) -> None:
        if broken := violations(page):
            found[name] = broken

    look("plans")
    page.get_by_role("button", name="New plan").click()
    look("new plan")
    page.keyboard.press("Escape")
    for stage in ("size-up", "anchors", "lines", "check", "log"):
        leader.fresh_plan(stage, base=demo_document)
        look(stage)
    leader.fresh_plan("lines", base=demo_document)
    for key in ("1", "2", "4"):
        page.keyboard.press(key)
        look(f"lines, state {key}")
    page.keyboard.press("3")
    page.get_by_role("button", name="Bare carabiner at G", exact=True).click()
    look("a bend")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Haul system").click()
    page.get_by_role("dialog").get_by_role("row").first.wait_for()
    look("choices")
    page.keyboard.press("Escape")
    page.keyboard.press("w")
    page.locator("[data-band]").first.wait_for()
    look("the whole way")
    page.keyboard.press("w")
    page.keyboard.press("b")
    page.locator("[data-change]").first.wait_for()
    look("what buys most")
    page.keyboard.press("b")
    page.get_by_role("button", name="as hands see it").click()
    page.get_by_role("button", name="Next", exact=True).click()
    look("as hands see it")
    page.get_by_role("button", name="as it pulls").click()
    page.keyboard.press("?")
    look("keys")
    page.keyboard.press("Escape")
    for tab in ("Ground", "Edges", "Bags", "Ropes", "People", "Rule"):
        page.keyboard.press("s")
        page.get_by_role("tab", name=tab).click()
        look(f"size-up, {tab}")
    page.keyboard.press("a")
    for tab in ("Candidates", "Compare", "Survey", "Look at"):
        page.get_by_role("tab", name=tab).click()
        look(f"anchors, {tab}")
    leader.fresh_plan("check", base=demo_document, lines__1__anchor="main")
    page.get_by_role("button", name="take it away").first.click()
    page.get_by_test_id("rest").click()
    look("a part taken away")
    page.get_by_role("button", name="Accept…").first.click()
    look("accept")
    page.keyboard.press("Escape")
    leader.fresh_plan("lines", base=begun)
    look("a plan just begun")
    assert found == {}
