"""The sheet at first sight, on every size it is held in: the drawing first, nothing cut, nothing too small for a glove."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.plans import demo_document

SIZES = {
    "desktop": {"width": 1280, "height": 800},
    "tablet": {"width": 1024, "height": 768},
    "phone": {"width": 390, "height": 844},
}


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One of its own: a STOP on another plan would stand in the head of every page."""
    one = Server(tmp_path_factory.mktemp("sheet"))
    yield one
    one.kill()


# The least share of the window that the drawing has.
SHARE = {"desktop": 1 / 3, "tablet": 1 / 3, "phone": 0.3}

# What is cut with dots, what is wider than the window, what a glove does not hit.
LOOKED = """() => {
  const seen = (e) => { const r = e.getBoundingClientRect(); const s = getComputedStyle(e);
    return r.width > 0 && r.height > 0 && s.visibility !== 'hidden' && !e.closest('.sr-only'); };
  const named = (e) => (e.getAttribute('aria-label') || e.innerText || e.tagName).trim().slice(0, 40);
  const all = [...document.querySelectorAll('body *')].filter(seen);
  const cut = all.filter((e) => getComputedStyle(e).textOverflow === 'ellipsis' && e.scrollWidth > e.clientWidth + 1).map(named);
  const touched = all.filter((e) => e.matches('button, a[href], select, input:not([type=radio]):not([type=file])') && !e.closest('svg'));
  const small = touched.filter((e) => { const r = e.getBoundingClientRect(); return r.height < 43.5 || r.width < 43.5; })
    .map((e) => `${named(e)} ${Math.round(e.getBoundingClientRect().width)}x${Math.round(e.getBoundingClientRect().height)}`);
  return { cut, small, wide: document.documentElement.scrollWidth - innerWidth };
}"""
# The window's share of the drawing that can be seen and touched: where it lies under something it does not count.
DRAWN = """() => {
  const box = document.querySelector('[data-drawing]');
  const r = box.getBoundingClientRect();
  let free = 0; const n = 20;
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) {
    const at = document.elementFromPoint(r.left + (i + 0.5) * r.width / n, r.top + (j + 0.5) * r.height / n);
    if (at && box.contains(at)) free++;
  }
  return free / n / n * r.width * r.height / innerWidth / innerHeight;
}"""


def at_first_sight(leader, plan: str, stage: str, **settings) -> Page:
    """The plan opened on a device that nobody has left in any way."""
    leader.context.add_init_script("localStorage.removeItem('outrigger.settings')")
    if settings:
        leader.left(pathOpen=False, drawn={}, **settings)
    page = leader.context.new_page()
    page.add_init_script(
        "window.shifts = []; new PerformanceObserver((list) => window.shifts.push(...list.getEntries()"
        ".filter((e) => !e.hadRecentInput).map((e) => e.value))).observe({ type: 'layout-shift', buffered: true })"
    )
    page.goto(f"{leader.server.url}/plans/{plan}/{stage}")
    if stage in ("size-up", "anchors", "lines"):
        page.locator("[data-rung]").first.wait_for()
    else:
        page.locator("[data-check], [role=option]").first.wait_for()
    page.wait_for_timeout(600)
    return page


@pytest.mark.parametrize("size", SIZES)
def test_the_drawing_comes_first_and_nothing_is_cut_or_too_small(someone, size):
    leader = someone(viewport=SIZES[size], has_touch=size != "desktop")
    plan = leader.fresh_plan("lines", base=demo_document)
    leader.call("POST", f"/plans/{plan}/log", entry())
    for stage in ("size-up", "anchors", "lines", "check", "log"):
        page = at_first_sight(leader, plan, stage)
        assert page.evaluate(LOOKED) == {"cut": [], "small": [], "wide": 0}, stage
        if stage in ("size-up", "anchors", "lines"):
            assert page.evaluate(DRAWN) >= SHARE[size], stage
            moved = max(page.evaluate("shifts") or [0])
            if moved > 0.02:
                # On a machine with much else to do a face may come late: once more, as it is kept by now.
                again = at_first_sight(leader, plan, stage)
                moved = max(again.evaluate("shifts") or [0])
                again.close()
            assert moved <= 0.02, stage
        page.close()


@pytest.mark.parametrize("size", SIZES)
def test_large_type_breaks_nothing(someone, size):
    leader = someone(viewport=SIZES[size])
    plan = leader.fresh_plan("lines", base=demo_document)
    leader.call("POST", f"/plans/{plan}/log", entry())
    for stage in ("size-up", "anchors", "lines", "check", "log"):
        page = at_first_sight(leader, plan, stage, size=150, night=True)
        assert page.evaluate("getComputedStyle(document.body).fontSize") == "24px"
        assert page.evaluate(LOOKED) == {"cut": [], "small": [], "wide": 0}, stage
        expect(page.get_by_role("button", name="Decided")).to_be_in_viewport()
        expect(page.get_by_role("navigation", name="Stages")).to_be_in_viewport(ratio=1)
        page.close()


def entry() -> dict:
    import uuid

    return {"id": str(uuid.uuid4()), "kind": "decision", "decision": "Strap low on the larch", "reason": "it leans", "considered": "", "revision": 1}  # fmt: skip


def test_twenty_entries_are_read_at_once_on_a_tablet_and_by_keyboard(someone):
    leader = someone(viewport=SIZES["tablet"])
    plan = leader.fresh_plan("lines", base=demo_document)
    for _ in range(30):
        leader.call("POST", f"/plans/{plan}/log", entry())
    page = at_first_sight(leader, plan, "log")
    entries = page.get_by_role("option")
    whole = page.get_by_role("navigation", name="Stages").bounding_box()["y"]
    boxes = [one.bounding_box() for one in entries.all()]
    assert sum(box is not None and box["y"] + box["height"] <= whole for box in boxes) >= 20
    page.get_by_role("listbox", name="Entries, newest first").focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("article", name="Entry 30")).to_contain_text("because it leans")
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("article", name="Entry 29")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("article")).to_have_count(0)


def test_the_drawer_goes_by_drag_key_and_touch_and_stays_as_it_was_left(someone):
    leader = someone(viewport=SIZES["tablet"], has_touch=True)
    plan = leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    leader.left(pathOpen=False, drawn={})
    page.reload()
    bench, handle = page.get_by_role("region", name="Bench"), page.get_by_role("slider", name="Bench: draw it")
    expect(bench).to_have_attribute("data-drawer", "down")
    handle.tap()
    expect(bench).to_have_attribute("data-drawer", "up")
    up = bench.bounding_box()["height"]
    handle.press("ArrowUp")
    assert bench.bounding_box()["height"] > up
    box = handle.bounding_box()
    page.mouse.move(box["x"] + 300, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 300, box["y"] + 150, steps=6)
    page.mouse.up()
    left = bench.bounding_box()["height"]
    assert left < up
    kept = page.evaluate("localStorage['outrigger.settings']")
    leader.context.add_init_script(f"localStorage.setItem('outrigger.settings', {kept!r})")
    leader.open(plan)
    assert abs(bench.bounding_box()["height"] - left) < 2
    handle.press("Home")
    expect(bench).to_have_attribute("data-drawer", "down")


def test_the_load_path_opens_from_its_margin_with_whole_names(someone):
    leader = someone(viewport=SIZES["tablet"])
    leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    leader.left(pathOpen=False, drawn={})
    page.reload()
    margin = page.get_by_role("button", name="Open the load path")
    marks = margin.locator("[data-rung]")
    marks.first.wait_for()
    told = marks.evaluate_all("all => all.map(one => one.dataset.rung)")
    margin.click()
    rungs = page.get_by_role("list", name="Load path, ground above, casualty below")
    rungs.wait_for()
    assert rungs.locator("[data-rung]").evaluate_all("all => all.map(one => one.dataset.rung)") == told
    expect(rungs).to_contain_text("Spruce, 240 mm: 12.7 mm rope, figure-eight loop")
    page.get_by_role("button", name="Close the load path").click()
    expect(margin).to_be_visible()


def test_the_left_hand_has_the_decision_at_the_left(someone):
    leader = someone(viewport=SIZES["tablet"])
    leader.fresh_plan("lines", base=demo_document)
    leader.set("Left")
    page = leader.page
    assert page.get_by_role("button", name="Decided").bounding_box()["x"] < 20
    assert page.get_by_role("complementary").bounding_box()["x"] < 20


def test_the_section_is_gone_into_by_wheel_keys_and_two_fingers_and_left_again(someone):
    leader = someone(viewport=SIZES["tablet"], has_touch=True)
    leader.fresh_plan("lines", base=demo_document)
    page = leader.page
    section = page.get_by_role("group", name="Section along the fall line")
    load = page.get_by_test_id("load")
    back = page.get_by_role("button", name="The whole drawing again")
    there, box = load.bounding_box(), section.bounding_box()
    at = (there["x"] + there["width"] / 2, there["y"] + there["height"] / 2)

    page.mouse.move(*at)
    for _ in range(3):
        page.mouse.wheel(0, -200)
    expect(back).to_be_visible()
    # What lies under the pointer stays there, and a stretch of rope is still a touch away.
    now = load.bounding_box()
    assert abs(now["x"] + now["width"] / 2 - at[0]) < 2 and abs(now["y"] + now["height"] / 2 - at[1]) < 2
    back.tap()
    expect(back).to_have_count(0)
    assert load.bounding_box() == there

    load.focus()
    page.keyboard.press("+")
    page.keyboard.press("+")
    expect(back).to_be_visible()
    page.keyboard.press("0")
    expect(back).to_have_count(0)

    wire = leader.context.new_cdp_session(page)
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 40)

    def fingers(kind: str, apart: float) -> None:
        points = [] if kind == "touchEnd" else [{"x": middle[0] + way * apart, "y": middle[1] + 60, "id": way + 1} for way in (-1, 1)]  # fmt: skip
        wire.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    fingers("touchStart", 30)
    for apart in range(30, 120, 10):
        fingers("touchMove", apart)
    fingers("touchEnd", 0)
    expect(back).to_be_visible()
    page.wait_for_timeout(200)
    assert load.bounding_box() != there


def test_everything_on_the_sheet_is_undone_and_done_again_by_key_button_and_two_fingers_and_says_what(someone):
    leader = someone(has_touch=True)
    plan = leader.fresh_plan("size-up", base=demo_document)
    page = leader.page
    mass = page.get_by_label("Mass, kg").first
    first = leader.call("GET", f"/plans/{plan}")["latest"]["document"]
    mass.fill("95")
    mass.blur()
    page.wait_for_timeout(800)
    page.get_by_role("button", name=re.compile("^Take out Litter and kit")).click()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("went")).to_contain_text("Undone:")
    expect(page.get_by_label("Who or what")).to_have_count(3)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(mass).to_have_value("84")
    expect(page.get_by_test_id("went")).to_contain_text("84")
    expect(page.get_by_role("button", name="Undo", exact=True)).to_have_count(0)
    leader.saved()
    assert leader.call("GET", f"/plans/{plan}")["latest"]["document"] == first
    page.get_by_role("button", name="Do it again").click()
    expect(mass).to_have_value("95")
    expect(page.get_by_test_id("went")).to_contain_text("Done again:")
    # A tap of two fingers.
    page.evaluate("""() => {
      const on = document.querySelector("[data-drawing]");
      const touch = (id, x) => new Touch({ identifier: id, target: on, clientX: x, clientY: 300 });
      const both = [touch(1, 300), touch(2, 360)];
      const send = (type, touches, changedTouches) => on.dispatchEvent(new TouchEvent(type, { bubbles: true, touches, changedTouches }));
      send("touchstart", both, both); send("touchend", [], both);
    }""")
    expect(mass).to_have_value("84")
    # In a field that is typed in the key is the field's own.
    mass.fill("86")
    mass.press("Control+z")
    expect(page.get_by_test_id("went")).to_have_count(0)


def test_a_revision_is_gone_back_to_and_differences_are_told_in_words(someone):
    leader = someone()
    plan = leader.fresh_plan("size-up", base=demo_document)
    page = leader.page
    page.get_by_label("Mass, kg").first.fill("95")
    leader.saved()
    leader.open(plan, "log")
    page.keyboard.press("d")
    page.get_by_label("Decided").fill("Heavier than thought")
    page.get_by_label("because").fill("asked again")
    page.keyboard.press("Enter")
    leader.saved()
    leader.open(plan, "size-up")
    page.get_by_label("Mass, kg").first.fill("70")
    leader.saved()
    leader.open(plan, "log")
    page.get_by_text("Heavier than thought").first.click()
    page.get_by_role("button", name=re.compile("revision 2", re.I)).first.click()
    told = page.get_by_test_id("differs")
    expect(told).to_contain_text("95")
    assert "load.items" not in told.inner_text()
    page.get_by_role("button", name="Back to this revision").click()
    leader.saved()
    assert leader.call("GET", f"/plans/{plan}")["latest"]["document"]["load"]["items"][0]["mass_kg"] == 95
