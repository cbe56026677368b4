"""From "what is there to tie to?" to a main line that runs from the anchor chosen, on the real interface."""

import re

import pytest
from playwright.sync_api import expect

from rigging.catalogue import catalogue
from rigging.document import Feature
from rigging.site.features import estimate
from tests.plans import demo_document

LARCH = demo_document()["features"][0]
ALONE = [
    {
        "id": "one",
        "name": "Larch alone",
        "scheme": "single",
        "connector": "steel",
        "legs": [{"feature": "larch", "method": "wrap-pull", "material": "tubular-25"}],
    }
]
GPX = """<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">
<wpt lat="47.0000391" lon="12.0000316"><ele>940.8</ele><name>Stump by GPX</name><type>tree</type></wpt></gpx>"""
CSV = "name,kind,x_m,y_m,z_m,rating_low_n,rating_expected_n,rating_high_n,basis\nRail post,structure,-4.6,2.2,0.8,20000,25000,30000,drawing of the rail\n"


@pytest.fixture
def anchors(someone):
    def begin(**device):
        leader = someone(**device)
        leader.fresh_plan("anchors", features=[LARCH], anchors__0__alternatives=ALONE, anchors__0__taken="one")
        return leader

    return begin


def fill(page, **labels):
    for label, text in labels.items():
        page.get_by_label(label, exact=True).fill(text)


def place_by_metres(page, name, x, y, z):
    page.get_by_role("tab", name="Survey").click()
    page.get_by_label("Name of the next one").fill(name)
    for label, value in (("Out, m", x), ("Right, m", y), ("Up, m", z)):
        page.get_by_label(label).fill(value)
    page.get_by_role("button", name="Place by metres").click()


def send(page, name, text):
    page.get_by_label("Features file").set_input_files(
        {"name": name, "mimeType": "text/plain", "buffer": text.encode()}
    )


def test_survey_rig_swing_fail_compare_and_choose_by_touch(anchors, tmp_path):
    leader = anchors(has_touch=True)
    page = leader.page
    page.get_by_role("tab", name="Survey").tap()

    # By tape and compass: 5 m straight behind, inspected at once.
    page.get_by_label("Name of the next one").fill("Spruce")
    fill(page, **{"Distance, m": "5", "Bearing, °": "25", "Height, m": "0.9"})
    page.get_by_role("button", name="Place by tape and compass").tap()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_label("Out, m")).to_have_value("-5")
    expect(sheet.get_by_text("not inspected yet")).to_be_visible()
    for question, answer in (("Alive, leaves or buds, no rot, no fungus?", "Yes"), ("Roots", "Rooted in depth")):
        sheet.get_by_role("radiogroup", name=question).get_by_text(answer, exact=True).tap()
    fill(sheet, **{"Trunk diameter at the strap, m": "2.6", "Strap above the ground, m": "0.3"})
    # A reading outside what is sensible is questioned; mended, it counts.
    expect(sheet.get_by_role("alert").first).to_contain_text("Read it again")
    sheet.get_by_label("Trunk diameter at the strap, m").fill("0.26")
    expect(sheet.get_by_text("Read it again")).to_have_count(0)
    expect(sheet.get_by_text("The strap moved up loses as 1/h")).to_be_visible()
    expect(sheet.get_by_text("sound alone").first).to_be_visible()
    sheet.get_by_role("button", name="Close", exact=True).tap()

    # By metres, and rejected with the reason kept.
    place_by_metres(page, "Pine", "-3", "1", "0.4")
    sheet.get_by_role("radiogroup", name="Verdict").get_by_text("reject").tap()
    expect(sheet.get_by_text("say why before it counts")).to_be_visible()
    sheet.get_by_label("Rejected because (kept with the plan)").fill("bark loose, fungus at the foot")
    sheet.get_by_role("button", name="Close", exact=True).tap()

    # By the simulated rangefinder, by GPX and by CSV.
    page.get_by_label("Name of the next one").fill("By rangefinder")
    page.get_by_role("button", name="Take a reading (simulated)").tap()
    page.get_by_role("button", name=re.compile("^Place the reading of")).first.tap()
    sheet.get_by_role("button", name="Close", exact=True).tap()
    send(page, "walk.gpx", GPX)
    sheet.get_by_role("button", name="Phone or satellite receiver").tap()
    expect(sheet).to_contain_text("magnetic north lies +4.4° from true here")
    sheet.get_by_role("button", name="Take 1 feature").tap()
    expect(page.get_by_role("alert", name="Survey faults")).to_contain_text("1 taken from walk.gpx: Stump by GPX")
    send(page, "list.csv", CSV)
    sheet.get_by_role("button", name="Take 1 feature").tap()
    expect(page.get_by_role("alert", name="Survey faults")).to_contain_text("Rail post")
    page.get_by_role("tab", name="Candidates").tap()
    expect(page.get_by_role("list", name="Candidates, best first").get_by_role("listitem")).to_have_count(6)
    expect(page.locator("[data-candidate]").last).to_contain_text("Pine")
    expect(page.get_by_role("button", name="Tie a leg to Pine")).to_be_disabled()

    # Three legs: two to begin with, the rail post by touch.
    page.get_by_role("tab", name="Compare").tap()
    page.get_by_role("button", name="New", exact=True).tap()
    page.get_by_role("tab", name="Candidates").tap()
    page.get_by_role("button", name="Tie a leg to Rail post").tap()
    page.get_by_role("tab", name="Legs").tap()
    expect(page.locator("[data-leg]")).to_have_count(3)
    legs = page.get_by_role("list", name="Legs")
    expect(page.locator("[data-leg='2']")).to_contain_text("% of the pull")
    straight = legs.text_content()

    # The pull swung by dragging its arrow: the figures follow.
    box = page.get_by_role("slider", name="Turn the pull").bounding_box()
    tip = (box["x"] + box["width"] - 24, box["y"] + box["height"] / 2)
    page.mouse.move(*tip)
    page.mouse.down()
    for step in range(1, 7):
        page.mouse.move(tip[0] - 2 * step, tip[1] + 8 * step)
    page.mouse.up()
    expect(legs).not_to_have_text(straight)
    page.get_by_role("tab", name="Look at").tap()
    expect(page.get_by_role("list", name="What to look at")).to_contain_text("off the line's own direction")

    # Back to the line's own direction, by clearing what it was made for.
    page.get_by_role("tab", name="Legs").tap()
    page.get_by_label("Made for a pull at (empty: the line's own), °").fill("")
    expect(legs).to_have_text(straight)

    # A leg gone: who takes it, how far, the peak.
    page.get_by_role("button", name="What if the leg to Larch, 310 mm goes?").dispatch_event("click")
    what_if = page.get_by_test_id("what-if")
    expect(what_if).to_contain_text("Larch, 310 mm goes: the point moves")
    expect(what_if).to_contain_text("at the peak")
    what_if.get_by_role("button", name="working").tap()
    sheet.get_by_role("button", name=re.compile("Peak pull on what is left")).tap()
    expect(sheet).to_contain_text("∫(F(x) − W)dx = 0")
    sheet.get_by_role("button", name="Close", exact=True).tap()
    page.get_by_role("button", name="Put it back").tap()

    # Two side by side; the choice to the log with its reason, and the line runs from it.
    page.get_by_role("tab", name="Compare").tap()
    table = page.get_by_role("table", name="Arrangements side by side")
    expect(table).to_contain_text("nothing is left to hold")
    expect(table).to_contain_text("common practice")
    page.get_by_role("button", name="Log the choice of Arrangement 2").tap()
    expect(sheet).to_contain_text("Pine rejected: bark loose, fungus at the foot")
    use = sheet.get_by_role("button", name="Use it and record")
    expect(use).to_be_disabled()
    sheet.get_by_label("Because").fill("the larch alone is one point of failure")
    use.tap()
    expect(page.get_by_role("link", name="Log 1 entry")).to_be_visible()
    leader.saved()
    page.get_by_role("link", name="Lines").tap()
    expect(page.locator("[data-rung='anchor:main:attachment:3']")).to_be_visible()
    expect(page.locator("[data-rung='anchor:main:feature:1']")).to_contain_text("Larch")
    page.get_by_role("link", name="Log 1 entry").tap()
    entries = page.get_by_role("listbox", name="Entries, newest first")
    expect(entries.get_by_text("because the larch alone is one point of failure", exact=True)).to_be_visible()


def test_the_anchors_by_keyboard_alone(someone):
    leader = someone()
    leader.fresh_plan()
    page, keys = leader.page, leader.page.keyboard
    keys.press("a")
    page.wait_for_url("**/anchors")
    answer = page.get_by_test_id("anchor-answer")
    expect(answer).to_contain_text("Larch")
    before = answer.text_content()
    leader.tab_to("What if the leg to Spruce")
    keys.press("Enter")
    expect(page.get_by_test_id("what-if")).to_contain_text("Spruce, 240 mm goes")
    keys.press("Enter")
    expect(page.get_by_test_id("what-if")).to_have_count(0)
    leader.tab_to("Larch, 310 mm, 4.7 m away")
    keys.press("ArrowLeft")
    expect(answer).not_to_have_text(before)
    keys.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("What it holds")
    keys.press("Escape")
    leader.tab_to("Turn the pull")
    before = answer.text_content()
    keys.press("ArrowDown")
    expect(answer).not_to_have_text(before)
    leader.tab_to("Move the working point")
    before = answer.text_content()
    for _ in range(3):
        keys.press("ArrowRight")
    expect(answer).not_to_have_text(before)
    leader.saved()


def test_survey_reject_rig_compare_and_log_by_keyboard_alone(someone):
    leader = someone()
    leader.fresh_plan("anchors")
    page, keys = leader.page, leader.page.keyboard

    leader.tab_to("Legs")
    for _ in range(3):
        keys.press("ArrowRight")
    leader.tab_to("Name of the next one")
    keys.type("Stump")
    for label, value in (("Distance, m", "4"), ("Bearing, °", "20")):
        leader.tab_to(label)
        keys.type(value)
    leader.tab_to("Place by tape and compass")
    keys.press("Enter")
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("Stump")
    leader.tab_to("■ sound alone")
    keys.press("ArrowLeft")
    leader.tab_to("Rejected because")
    keys.type("rotten through")
    keys.press("Escape")
    expect(sheet).to_have_count(0)

    # One leg more on the fixed anchor, then side by side, and the choice to the log.
    leader.tab_to("Survey")
    keys.press("ArrowLeft")
    keys.press("ArrowLeft")
    expect(page.get_by_role("list", name="Candidates, best first")).to_contain_text("Stump")
    leader.tab_to("Tie a leg to Team truck")
    keys.press("Enter")
    leader.tab_to("Candidates")
    keys.press("ArrowLeft")
    expect(page.locator("[data-leg]")).to_have_count(4)
    leader.tab_to("Legs")
    keys.press("ArrowRight")
    keys.press("ArrowRight")
    expect(page.get_by_role("table", name="Arrangements side by side")).to_contain_text("common practice")
    leader.tab_to("Log the choice of Two legs")
    keys.press("Enter")
    expect(sheet).to_contain_text("Stump rejected: rotten through")
    leader.tab_to("Because")
    keys.type("the pull will wander")
    leader.tab_to("Use it and record")
    keys.press("Enter")
    expect(page.get_by_role("link", name="Log 1 entry")).to_be_visible()
    leader.saved()
    keys.press("l")
    expect(page.locator("[data-rung='anchor:main:attachment:2']")).to_be_visible()
    expect(page.locator("[data-rung='anchor:main:attachment:3']")).to_have_count(0)


def test_bad_files_and_readings_are_refused_and_nothing_is_lost(anchors):
    leader = anchors()
    page = leader.page
    page.get_by_role("tab", name="Survey").click()
    faults = page.get_by_role("alert", name="Survey faults")
    sheet = page.get_by_role("dialog")
    send(page, "walk.gpx", "<gpx><wpt")
    expect(sheet).to_contain_text("not GPX that can be read")
    expect(sheet).to_contain_text("Nothing was taken, nothing is lost")
    sheet.get_by_role("button", name="Close").click()
    send(page, "list.csv", CSV.replace("z_m", "hight"))
    expect(sheet).to_contain_text("1 of 1 places say no height")
    sheet.get_by_role("button", name="Close").click()
    send(page, "list.csv", CSV.replace("-4.6", "far"))
    expect(sheet).to_contain_text("row 2, x_m: 'far' is not a number")
    expect(sheet.get_by_role("button", name="Take")).to_have_count(0)
    sheet.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Place by tape and compass").click()
    expect(page.get_by_text("not measured yet").first).to_be_visible()
    # Far ahead of the point: placed, and questioned.
    fill(page, **{"Distance, m": "150", "Bearing, °": "205"})
    page.get_by_role("button", name="Place by tape and compass").click()
    expect(faults).to_contain_text("is the bearing right?")
    page.get_by_role("tab", name="Candidates").click()
    expect(page.get_by_role("list", name="Candidates, best first").get_by_role("listitem")).to_have_count(2)
    # Without the fall line's bearing nothing is guessed.
    page.get_by_role("tab", name="Survey").click()
    page.get_by_label("Fall line, °").fill("")
    fill(page, **{"Distance, m": "5", "Bearing, °": "25"})
    page.get_by_role("button", name="Place by tape and compass").click()
    expect(faults).to_contain_text("bearings can not be placed yet")


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"Out, m": "0", "Right, m": "0", "Up, m": "0"}, "lies at the working point itself"),
        ({"Out, m": "9", "Right, m": "0", "Up, m": "0"}, "the pull runs away from all legs"),
    ],
)
def test_an_anchor_that_can_not_be_is_told_and_what_was_drawn_is_kept(anchors, change, said):
    leader = anchors()
    page = leader.page
    page.get_by_role("tab", name="Candidates").click()
    page.locator("[data-candidate=larch] button").first.click()
    for label, value in change.items():
        page.get_by_role("dialog").get_by_label(label, exact=True).fill(value)
    page.get_by_role("button", name="Close", exact=True).click()
    told = page.get_by_role("alert").filter(has_text=re.compile(said, re.IGNORECASE)).first
    expect(told).to_contain_text(re.compile("What you (typed|drew) is kept"))
    page.reload()
    page.get_by_role("tab", name="Candidates").click()
    expect(page.get_by_role("group", name="Anchors from above")).to_be_visible()
    page.locator("[data-feature=larch]").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog").get_by_label("Out, m", exact=True)).to_have_value(change["Out, m"])
    page.get_by_role("dialog").get_by_label("Out, m", exact=True).fill("-4.3")
    page.keyboard.press("Escape")
    expect(page.get_by_role("alert").filter(has_text="is kept")).to_have_count(0)
    leader.saved()


def test_legs_that_can_not_reach_are_told_beside_the_field(anchors):
    leader = anchors()
    page = leader.page
    page.locator("[data-leg='0'] button").first.click()
    page.get_by_label("Leg length (empty: snug), m").fill("1.2")
    expect(page.get_by_text("can not reach").first).to_be_visible()
    expect(page.get_by_role("alert", name="Faults")).to_contain_text("anchors[0].alternatives[0].legs[0].length_m")
    page.get_by_label("Leg length (empty: snug), m").fill("")
    expect(page.get_by_text("can not reach")).to_have_count(0)


def test_four_arrangements_drawn_and_a_tension_line_answers(someone):
    leader = someone(viewport={"width": 1024, "height": 768})
    leader.fresh_plan("anchors")
    page = leader.page
    for name in ("Two legs, adjusting", "Floating", "Tension line"):
        page.get_by_role("radio", name=name).check()
        expect(page.get_by_role("list", name="Legs").locator("[data-leg='1']")).to_contain_text("% of the pull")
    expect(page.get_by_role("region", name="Tension line")).to_contain_text("height won")
    overflow = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
    assert overflow <= 0


def answer_by_touch(page, sheet, question):
    """One question answered as somebody in gloves would, by its first good answer or a number in the middle of what is usual."""
    if question.kind == "number":
        middle = (question.least + question.most) / 2 if question.most else 1.0
        unit = f", {question.unit}" if question.unit else ""
        sheet.get_by_label(f"{question.ask}{unit}", exact=True).fill(f"{middle:g}")
        return
    good = [
        one
        for one in (["yes", "no"] if question.kind == "yes-no" else [o.id for o in question.options])
        if one not in question.bad
    ]
    names = {"yes": "Yes", "no": "No", **{one.id: one.name for one in question.options}}
    name = names[(good or list(names))[0]]
    if question.kind == "choice" and len(question.options) > 3:
        sheet.get_by_role("button", name=question.ask).tap()
        page.get_by_role("option", name=name, exact=True).tap()
    else:
        sheet.get_by_role("radiogroup", name=question.ask).get_by_text(name, exact=True).tap()


KINDS = [one for one in catalogue().features.values() if not one.pushes][:24]


@pytest.mark.parametrize("part", [0, 1])
def test_twelve_kinds_of_anchors_each_are_entered_by_touch_with_estimate_verdict_and_words(anchors, part):
    leader = anchors(has_touch=True)
    page = leader.page
    place_by_metres(page, "Thing", "-4", "1", "0.4")
    sheet = page.get_by_role("dialog")
    for kind in KINDS[12 * part : 12 * (part + 1)]:
        sheet.get_by_role("button", name="Kind").tap()
        page.get_by_role("option", name=kind.name, exact=True).tap()
        for question in kind.questions:
            answer_by_touch(page, sheet, question)
        leader.saved()
        plan = leader.call("GET", f"/plans/{page.url.split('/plans/')[1].split('/')[0]}")["latest"]["document"]
        thing = Feature.model_validate(next(one for one in plan["features"] if one["name"] == "Thing"))
        assert thing.kind == kind.id and len(thing.answers) == len(kind.questions)
        held = estimate(thing)
        if held.strength_n is not None:
            expect(sheet.get_by_role("button", name=re.compile("^Thing holds")).first).to_be_visible()
        else:
            expect(sheet.get_by_text(held.why_not, exact=False).first).to_be_visible()
        expect(sheet.get_by_role("heading", name="Verdict")).to_be_visible()
    number = next((one for one in kind.questions if one.kind == "number"), None)
    if number is not None:
        unit = f", {number.unit}" if number.unit else ""
        sheet.get_by_label(f"{number.ask}{unit}", exact=True).fill("deep")
        expect(sheet.get_by_role("alert").first).to_be_visible()


def test_legs_are_led_out_of_one_rope_closed_tied_otherwise_and_set_down(someone):
    """From two trees with webbing to one rope round both: how long, what a cut takes, then a clove, a point set down, a tie, no connector."""
    leader = someone()
    document = demo_document()
    way = {
        **document["anchors"][0]["alternatives"][0],
        "id": "one",
        "name": "Two trees",
        "point": {"x_m": 0, "y_m": 0, "z_m": 0},
    }
    way["legs"] = way["legs"][:2]
    plan = leader.fresh_plan("anchors", anchors__0__alternatives=[way], anchors__0__taken="one")
    page = leader.page

    def choose(label, option):
        page.get_by_role("button", name=re.compile(f"^{label}")).first.click()
        page.get_by_role("option", name=option).first.click()

    choose("Pieces", "all legs out of one, bights in one knot")
    piece = page.get_by_role("region", name="Out of one piece")
    expect(piece).to_contain_text("working point → Larch, 310 mm → working point → Spruce, 240 mm → working point")
    expect(piece).to_contain_text("Cut on the leg to Larch, 310 mm: that leg goes")
    expect(piece).to_contain_text("The knot at the point undone: everything goes.")
    expect(page.get_by_test_id("bights")).to_have_count(2)
    page.locator("[data-leg='0'] button").first.click()
    choose("How", "Clove hitch round the feature")
    expect(piece).to_contain_text("Cut on the leg to Larch, 310 mm: 1 of its 2 strands goes.")
    choose("Pieces", "all legs out of one, each closed by a knot")
    expect(piece).to_contain_text("The knot between the legs to Larch, 310 mm and Spruce, 240 mm undone: nothing goes")
    choose("Connector at the working point", "none: the knot gathers")
    choose("Working point", "set down by 12.7 mm rope")
    choose("Held in place by a tie", "Old larch, 360 mm")
    beside = page.get_by_role("list", name="Beside the legs")
    expect(beside).to_contain_text("Set down by 2 × 12.7 mm rope")
    expect(beside).to_contain_text("Held in place at Old larch, 360 mm, bears nothing")
    expect(page.get_by_test_id("tie")).to_have_count(1)
    leader.saved()
    made = leader.call("GET", f"/plans/{plan}")["latest"]["document"]["anchors"][0]["alternatives"][0]
    assert made["piece"] == {"closed": "leg-by-leg", "knot": "clove", "joined": None}
    assert [leg["method"] for leg in made["legs"]] == ["clove-round", "passed"] and made["connector"] is None
    assert made["set_down"]["stages"][0]["strands"] == 2 and made["ties"][0]["feature"] == "oldlarch"
