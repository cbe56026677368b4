"""After the run: a whole operation with its cell, a jam, an offline stretch; gone through again, gear signed, papers taken, handed over."""

import io
import re
import zipfile

from playwright.sync_api import expect
from pypdf import PdfReader

from tests.browser.conftest import Person
from tests.browser.test_access import violations
from tests.browser.test_cell import happens, start_cell
from tests.browser.test_debrief import readings
from tests.browser.test_offline import OFFLINE, kept, picture, see, step_on
from tests.browser.test_run import TABLET, act, go_to, on_run
from tests.conftest import Server
from tests.plans import demo_document


def taken(person: Person, name: str) -> bytes:
    with person.page.expect_download() as waiting:
        person.page.get_by_role("link", name=re.compile(f"^{name}")).click()
    return waiting.value.path().read_bytes()


def words(pdf: bytes) -> str:
    return re.sub(r"\s+", "", "".join(one.extract_text() for one in PdfReader(io.BytesIO(pdf)).pages))


def test_the_whole_run_with_its_cell_from_the_jam_to_the_papers_and_into_another_installation(
    someone, browser, tmp_path_factory
):
    leader, member = someone(**OFFLINE), someone("ash", **TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    page = leader.page
    on_run(leader, plan)
    go_to(leader, plan, "raise:1/1")
    start_cell(leader)
    expect(page.get_by_test_id("reads")).to_have_text(re.compile(r"^1\.\d kN$"))
    happens(leader, "load jams")
    expect(page.get_by_test_id("alarm")).to_contain_text("As if the load stood still")
    page.get_by_test_id("alarm").get_by_role("button", name="STOP").click()
    happens(leader, "put right")
    page.get_by_role("button", name="looked at, nothing wrong").click()
    page.get_by_test_id("alarm").get_by_role("button", name="Seen").click()
    page.get_by_role("button", name="Load cells").click()
    page.get_by_role("button", name="What the readings say").click()
    page.get_by_role("button", name="Take it over into the plan").click()
    expect(page.get_by_test_id("heard")).to_contain_text("Friction learnt from readings taken over")
    happens(leader, "Take it off")
    # A stretch without a connection: a step, something seen, a photograph.
    kept(leader)
    leader.context.set_offline(True)
    expect(page.locator("[data-live=waiting]")).to_be_visible(timeout=30_000)
    see(leader, "mud on both ropes below the lip")
    step_on(leader)
    page.locator("input[type=file]").first.set_input_files(picture(70))
    expect(page.get_by_text("3 not sent yet")).to_be_visible()
    leader.context.set_offline(False)
    expect(page.locator("[data-live=sent]")).to_be_visible(timeout=60_000)
    go_to(leader, plan, "raise:2/1")
    act(leader, plan, "end")
    # Gone through again.
    page.goto(f"{leader.server.url}/plans/{plan}/debrief")
    expect(page.get_by_test_id("changed")).to_contain_text("learnt from readings:")
    slider = page.get_by_label("Moment of the run")
    slider.focus()
    page.keyboard.press("End")
    expect(page.get_by_test_id("stood")).to_have_attribute("data-key", "raise:2/1")
    expect(page.get_by_text(re.compile("back into the bag; not signed yet"))).to_be_visible()
    # The gear, by somebody else, with each piece in hand.
    theirs = member.page
    theirs.goto(f"{leader.server.url}/plans/{plan}/gear")
    rope = theirs.locator("[data-piece='rope:main']")
    expect(rope).to_contain_text("at most, read")
    assert violations(theirs) == []
    rope.get_by_role("button", name="Look at it").click()
    rope.get_by_role("button", name="inspect").click()
    rope.get_by_role("button", name="mud").click()
    rope.get_by_label("a word more").fill("from 8 to 12 m")
    theirs.reload()
    expect(rope.get_by_label("a word more")).to_have_value("from 8 to 12 m")
    theirs.get_by_role("button", name=re.compile("^All .* looked at$")).click()
    assert violations(theirs) == []
    theirs.get_by_role("button", name=re.compile("^Sign .* pieces$")).click()
    expect(rope.get_by_test_id("gear-signed")).to_contain_text(
        "inspect before it is used again; seen: mud; from 8 to 12 m"
    )
    # The papers, and the bundle.
    page.goto(f"{leader.server.url}/plans/{plan}/handover")
    expect(page.get_by_test_id("stands")).to_contain_text("Every seal fits")
    assert violations(page) == []
    report = words(taken(leader, "Run report"))
    for said in ("seen:mud;from8to12m", "Asiftheloadstoodstill", "mudonbothropesbelowthelip", "everysealfits"):
        assert said in report, said
    assert "ravinelip" in words(taken(leader, "Rig card")).lower() and "STOP" in report
    assert words(taken(leader, "Check sheet"))
    assert b"mud on both ropes" in taken(leader, "Log as a table")
    bundle = taken(leader, "Everything as one signed bundle")
    print_here = (
        page.get_by_label("What stands").get_by_role("strong").or_(page.locator("section b")).first.inner_text()
    )
    assert "log.json" in zipfile.ZipFile(io.BytesIO(bundle)).namelist()
    # Into an installation that knows nothing of it.
    elsewhere = Server(tmp_path_factory.mktemp("elsewhere"))
    try:
        other = Person(browser, elsewhere)
        there = other.page
        file = {"name": "handed-over.zip", "mimeType": "application/zip", "buffer": bundle}
        there.get_by_label("Plan file").set_input_files(file)
        expect(there.get_by_test_id("handed-over")).to_contain_text(print_here)
        expect(there.get_by_test_id("stands")).to_contain_text("Every seal fits")
        there.get_by_role("link", name="Debrief").click()
        expect(there.get_by_test_id("stood")).to_be_visible()
        there.goto(f"{elsewhere.url}/plans/{plan}/gear")
        expect(there.locator("[data-piece='rope:main']").get_by_test_id("gear-signed")).to_contain_text("seen: mud")
        expect(there.get_by_role("button", name="Look at it")).to_have_count(0)
        there.goto(f"{elsewhere.url}/plans/{plan}/run")
        there.wait_for_url("**/debrief")
        # A byte changed on the way is named.
        there.goto(f"{elsewhere.url}/plans")
        there.get_by_label("Plan file").set_input_files(
            file | {"buffer": bundle.replace(b"manifest.json", b"manifesto.json")}
        )
        expect(there.get_by_role("alert")).to_contain_text("choose a bundle as it was made")
    finally:
        elsewhere.kill()


def test_somebody_from_outside_reads_by_a_link_until_the_leader_ends_it(someone, browser):
    leader = someone(**TABLET)
    plan = leader.fresh_plan("check", base=demo_document)
    on_run(leader, plan)
    go_to(leader, plan, "lower/5")
    readings(leader, plan, 200)
    page = leader.page
    page.goto(f"{leader.server.url}/plans/{plan}/handover")
    page.get_by_label("For whom").fill("County reviewer")
    page.get_by_role("button", name="Make a link").click()
    link = page.get_by_test_id("look-link").inner_text()
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
    reader = context.new_page()
    reader.set_default_timeout(15_000)
    reader.goto(link)
    expect(reader.get_by_text("For County reviewer")).to_be_visible()
    assert violations(reader) == []
    reader.get_by_role("button", name="Read it").click()
    expect(reader.get_by_test_id("until")).to_contain_text("Nothing can be changed")
    expect(reader.get_by_role("button", name="Make a link")).to_have_count(0)
    assert violations(reader) == []
    reader.get_by_role("link", name="Debrief").click()
    expect(reader.get_by_test_id("stood")).to_be_visible()
    expect(reader.get_by_role("button", name="Write it")).to_have_count(0)
    reader.goto(f"{leader.server.url}/plans")
    expect(reader.get_by_role("listitem")).to_have_count(1)
    page.reload()
    page.get_by_role("button", name="End it now").click()
    expect(page.get_by_role("button", name="End it now")).to_have_count(0)
    reader.goto(f"{leader.server.url}/plans/{plan}/debrief")
    expect(reader.get_by_text("no such plan in your teams")).to_be_visible()
    reader.goto(link)
    expect(reader.get_by_role("alert")).to_contain_text("This link has ended")
    context.close()
