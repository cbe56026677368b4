"""Papers read back: every decision and reason in them, the caution and the plan's print on every page."""

import io
import json
import re
import uuid
from xml.etree import ElementTree

import numpy as np
import pikepdf
import pymupdf
import pytest
import resvg_py
import zxingcpp
from papers.bench import laid
from PIL import Image
from pypdf import PdfReader
from pypdfium2 import PdfDocument
from reportlab.graphics import renderPDF
from scipy.ndimage import distance_transform_edt
from svglib.svglib import svg2rlg

from rigging.document import Plan as Document
from rigging.learning.knots import knot
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import check
from rigging.telling.figures.shapes import CAUTION
from rigging.telling.sheet.report import analyse
from rigging.telling.work.rigged import rigged
from tests.engine.test_procedures import carabiners_only, straight
from tests.pictures import picture
from tests.plans import ROOT, changed, demo_document, demo_plan, on_snow
from tests.server.test_run import act, go_to, send
from tests.sound import tight_alone


@pytest.fixture(autouse=True)
def _own_folder(settings, tmp_path):
    settings.VAR = tmp_path


def pages(person, plan, paper):
    answer = person.client.get(f"/api/plans/{plan.id}/papers/{paper}")
    assert answer.status_code == 200 and answer["Content-Type"] == "application/pdf"
    return [plain(page.extract_text()) for page in PdfReader(io.BytesIO(answer.content)).pages]


def plain(text):
    """Without the breaks of lines and cells."""
    return re.sub(r"\s+", "", text)


def test_the_run_report_says_everything_that_was_decided_and_why(leader, people, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "lower/3")
    act(people["member"], plan, "here", role="edge")
    for number in range(60):
        leader.say(
            plan,
            f"Decision {number}: <b>pad</b> & roller → η 0.9",
            reason=f"reason {number} μ < 0.4",
            considered=f"other {number}",
        )
    act(leader, plan, "stop")
    act(leader, plan, "go", text="misheard")
    send(leader, plan, picture())
    leader.save(plan, 1, changed(demo_document(), lines__0__haul__bends__G="ball-bearing-pulley"))
    found = pages(leader, plan, "run")
    whole = "".join(found)
    for number in range(60):
        for words in (f"Decision {number}: <b>pad</b> & roller → η 0.9", f"reason {number} μ < 0.4", f"other {number}"):
            assert plain(words) in whole, words
    for entry in leader.get(f"/plans/{plan.id}/log?place=0")[1]["entries"]:
        assert entry["hash"] in whole and plain(entry["decision"]) in whole
    plan.refresh_from_db()
    for revision in plan.revisions.all():
        assert revision.sha256 in whole
    assert plain("Ball-bearing pulley in place of the bare carabiner at G") in whole
    assert "everysealfits" in whole and plain("member") in whole
    for one in demo_document()["team"]["people"]:
        assert plain(f"{one['name']} {one['role']}") in whole
    for number, page in enumerate(found, start=1):
        assert plain(CAUTION) in page and f"page{number}of{len(found)}" in page and plan.latest.sha256 in page


def test_what_is_longer_than_a_page_is_on_the_paper_to_its_end(leader, plan):
    act(leader, plan, "begin")
    long = " ".join(f"word{number}" for number in range(210))
    for number in range(12):
        leader.say(plan, f"Decision {number} {long}", reason=f"reason {number} {long}", considered=long)
    whole = "".join(pages(leader, plan, "run"))
    for number in range(12):
        assert f"reason{number}word0" in whole and f"Decision{number}word0" in whole
    assert whole.count("word209") > 3 * 12


def test_what_the_gear_went_through_is_on_the_run_report_with_who_signed_it(leader, people, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/2")
    line = {"piece": "rope:main", "becomes": "inspect", "seen": ["mud"], "note": "from 8 to 12 m"}
    assert people["member"].send("POST", f"/plans/{plan.id}/gear", {"id": str(uuid.uuid4()), "lines": [line]})[0] == 200
    whole = "".join(pages(leader, plan, "run"))
    listed = leader.get(f"/plans/{plan.id}/gear")[1]["report"]["pieces"]
    for one in listed:
        assert plain(one["name"]) in whole, one["name"]
    assert plain("inspect before it is used again; seen: mud; from 8 to 12 m (member,") in whole


def test_nothing_runs_off_any_sheet(leader, plan):
    act(leader, plan, "begin")
    go_to(leader, plan, "lower/3")
    leader.say(plan, "x" * 300 + " " + "word " * 250, reason="y" * 400)
    for paper in ("run", "card", "check"):
        content = leader.client.get(f"/api/plans/{plan.id}/papers/{paper}").content
        for page in PdfDocument(content):
            drawn = np.asarray(page.render(scale=1).to_pil().convert("L"))
            rows, columns = np.nonzero(drawn < 200)
            # A printer leaves about 5 mm of every edge white.
            room = [rows.min(), columns.min(), drawn.shape[0] - rows.max(), drawn.shape[1] - columns.max()]
            assert min(room) > 5 / 25.4 * 72, (paper, room)


def test_an_entry_changed_around_the_database_is_said_on_the_report(leader, plan):
    from django.db import connection

    act(leader, plan, "begin")
    leader.say(plan, "Roller on the lip", reason="41° there")
    with connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER operations_logentry_no_update")
        cursor.execute("UPDATE operations_logentry SET reason = 'nothing' WHERE sequence = 2")
    assert "NOTASITWASWRITTEN" in pages(leader, plan, "run")[0]


def test_the_check_sheet_has_every_line_and_who_signed_it(leader, people, plan):
    report = check(Document.model_validate_json(plan.latest.document))
    lines = [one.id for one in report.lines if not one.open][:1]
    body = {"id": str(uuid.uuid4()), "revision": 1, "lines": lines}
    assert people["member"].send("POST", f"/plans/{plan.id}/sign", body)[0] == 200
    found = pages(leader, plan, "check")
    whole = "".join(found)
    for row in report.rows:
        assert plain(row.name) in whole and plain(row.holds_on) in whole
    for line in report.lines:
        assert plain(line.text) in whole, line.text
    assert plain("member,") in whole
    assert all(plain(CAUTION) in page for page in found)


@pytest.mark.parametrize("make", [demo_plan, straight, on_snow, carabiners_only], ids=lambda one: one.__name__)
def test_the_rig_card_is_one_page_and_its_figures_are_the_reports(leader, plan, make):
    made = make()
    assert leader.save(plan, 1, made.model_dump(mode="json"))[0] == 200
    found = pages(leader, plan, "card")
    assert len(found) == 1
    report, say = analyse(made), Wording()
    hand = next(one for one in report.states if one.id == "raising").hand
    assert plain(f"Hands raising {say.force(Range(hand.low, hand.expected, hand.high))}") in found[0]
    for anchor in made.anchors:
        assert plain(anchor.name) in found[0]
    for person in made.team.people:
        assert plain(person.name) in found[0]
    for row in check(made).rows:
        assert plain(f"{row.name}{row.why_not or row.holds_on}") in found[0]
    state = next(one for one in report.states if one.id == "raising")
    for strand in state.strands:
        if strand.line == state.hand_line and strand.tension:
            pull = Range(strand.tension.low, strand.tension.expected, strand.tension.high)
            assert plain(say.force(pull)) in found[0], strand.id
    # Whoever never saw the plan can rig it: every tie, rope, knot, part and who minds it.
    for thing in rigged(made):
        assert plain(thing) in found[0], thing
    assert "rope off · clear" in found[0] or "ropeoff·clear" in found[0]


def test_a_camera_reads_from_the_card_where_the_plan_is_on_the_teams_own_network(leader, plan, settings):
    settings.ALLOWED_HOSTS = ["team-laptop"]
    leader.client.defaults["HTTP_HOST"] = "team-laptop"
    path = f"/api/plans/{plan.id}/papers/card"
    content = leader.client.get(path, headers={"host": "team-laptop:8000"}).content
    read = zxingcpp.read_barcodes(PdfDocument(content)[0].render(scale=3).to_pil())
    assert [one.text for one in read] == [f"http://team-laptop:8000/plans/{plan.id}/lines"]
    settings.ALLOWED_HOSTS = ["localhost"]
    content = leader.client.get(path, headers={"host": "localhost:8000"}).content
    assert not zxingcpp.read_barcodes(PdfDocument(content)[0].render(scale=3).to_pil())


def test_a_tension_line_has_a_card_and_drawings_of_its_own(leader, plan):
    document = tight_alone(1000)
    assert leader.save(plan, 1, document)[0] == 200
    found = pages(leader, plan, "card")
    assert len(found) == 1
    for words in ("across", "beside", "1.0 kN", "Self-locking descender", "Tightest", "Lowest"):
        assert plain(words) in found[0], words
    assert pages(leader, plan, "check")
    for drawing, status in (("section", 200), ("anchors", 200), ("bench", 422)):
        assert leader.client.get(f"/api/plans/{plan.id}/papers/{drawing}.svg").status_code == status


def test_on_the_bench_of_a_three_to_one_every_bend_leads_to_a_lane_of_its_own():
    """From the load over the edges and under grab and ratchet to A, back to G, back to the redirect, to the hands: four lanes, three bends."""
    state = next(one for one in analyse(demo_plan()).states if one.id == "raising")
    strands = [one for one in state.strands if one.line == "main" and not one.rope.endswith("cord")]
    rows = laid(strands, {one.id: one for one in state.nodes})
    assert [one.lane for one in rows] == [0, 0, 0, 0, 0, 1, 2, 3]
    bends = [(one.strand.end, one.turns) for one in rows if one.turns is not None]
    assert bends == [("main:A", 1), ("main:G", 2), ("main:haul:1", 3)]


@pytest.mark.parametrize(("drawing", "least"), [("section", 5), ("anchors", 5), ("bench", 4)])
def test_the_drawings_are_valid_svg(leader, plan, drawing, least):
    answer = leader.client.get(f"/api/plans/{plan.id}/papers/{drawing}.svg")
    assert answer.status_code == 200 and answer["Content-Type"] == "image/svg+xml"
    root = ElementTree.fromstring(answer.content)
    assert root.tag.endswith("svg") and len(list(root.iter("{http://www.w3.org/2000/svg}circle"))) >= least
    # By itself it says how large it is, what it is, what its numbers are, the caution and which plan it is of.
    assert root.get("width").endswith("mm") and root.get("height").endswith("mm")
    words = " ".join(one.get("aria-label", "") for one in root.iter("{http://www.w3.org/2000/svg}path"))
    assert not list(root.iter("{http://www.w3.org/2000/svg}text"))
    assert plan.latest.sha256 in words and "Caution." in words and json.loads(plan.latest.document)["title"] in words
    wide, high = (float(one) for one in root.get("viewBox").split()[2:])
    for one in root:
        assert 0 <= float(one.get("x", 0)) < wide and 0 <= float(one.get("y", 0)) < high


def test_before_a_run_there_is_no_report_and_nobody_from_outside_reads_one(leader, people, plan):
    status, told = leader.get(f"/plans/{plan.id}/papers/run")
    assert status == 422 and told["faults"][0]["path"] == "run"
    assert people["outsider"].get(f"/plans/{plan.id}/papers/check")[0] == 404


@pytest.mark.parametrize("paper", ["check", "card"])
def test_a_paper_can_be_read_aloud_and_kept(leader, plan, paper):
    """Tagged (ISO 32000, 14.8), with language and title, every face within it and every letter with its code, as PDF/A-2u asks."""
    with pikepdf.open(io.BytesIO(leader.client.get(f"/api/plans/{plan.id}/papers/{paper}").content)) as pdf:
        root = pdf.Root
        assert root.MarkInfo.Marked and str(root.Lang) == "en" and "/OutputIntents" in root
        said = pdf.open_metadata()
        assert (said["pdfaid:part"], said["pdfaid:conformance"]) == ("2", "U") and said["dc:title"]
        top = list(root.StructTreeRoot.K[0].K)
        roles = [str(one.S) for one in top]
        assert roles[0] == "/H1" and "/Table" in roles and roles.count("/Figure") == (0 if paper == "check" else 3)
        assert all(str(one.Alt) for one in top if str(one.S) == "/Figure")
        rows = [row for one in top if str(one.S) == "/Table" for row in one.K]
        cells = [[str(cell.S) for cell in row.K] for row in rows]
        assert all(str(row.S) == "/TR" for row in rows) and ["/TH"] * len(cells[0]) == cells[0] and "/TD" in cells[1]
        # Every piece of every page is something, or says nothing and is known to.
        for page in pdf.pages:
            pieces = pikepdf.parse_content_stream(page)
            opened = [one for one in pieces if str(one.operator) in ("BDC", "BMC")]
            assert len(opened) == sum(str(one.operator) == "EMC" for one in pieces)
            for font in page.Resources.Font.values():
                inner = font.DescendantFonts[0] if "/DescendantFonts" in font else font
                assert "/ToUnicode" in font and "/FontFile2" in inner.FontDescriptor, font.BaseFont


def test_a_letter_that_no_face_has_stands_on_the_paper_by_its_code(leader, plan):
    document = demo_document() | {"title": "Gill \u4e00, \u0159"}
    assert leader.save(plan, 1, document)[0] == 200
    assert "[U+4E00]" in pages(leader, plan, "check")[0] and "\u0159" in pages(leader, plan, "check")[0]


@pytest.mark.parametrize("drawing", ["section", "anchors", "bench"])
def test_three_renderers_show_a_drawing_alike(leader, plan, drawing):
    """By resvg, by MuPDF and by pdfium over reportlab's own reading: where one has ink, the others have it within three points, and none is cut."""
    text = leader.client.get(f"/api/plans/{plan.id}/papers/{drawing}.svg").content.decode()
    root = ElementTree.fromstring(text)
    wide, high = (float(one) for one in root.get("viewBox").split()[2:])
    by_resvg = np.array(Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=text, dpi=72)))).convert("L"))
    page = pymupdf.open(stream=text.encode(), filetype="svg")[0]
    scale = wide / page.rect.width
    shown = page.get_pixmap(matrix=pymupdf.Matrix(scale, scale), alpha=False)
    by_mupdf = np.array(Image.open(io.BytesIO(shown.tobytes("png"))).convert("L"))
    flat = PdfDocument(renderPDF.drawToString(svg2rlg(io.BytesIO(text.encode()))))[0]
    by_pdfium = np.array(flat.render(scale=wide / flat.get_width()).to_pil().convert("L"))
    inks = [ink[: round(high) - 2, : round(wide) - 2] < 170 for ink in (by_resvg, by_mupdf, by_pdfium)]
    for one in inks:
        assert 0.002 < one.mean() < 0.2
        for other in inks:
            far = distance_transform_edt(~other[: one.shape[0], : one.shape[1]])
            assert np.quantile(far[one[: other.shape[0], : other.shape[1]]], 0.99) <= 3
    # Nothing touches the edge of the sheet.
    assert not by_resvg[0].min() < 128 and not by_resvg[:, 0].min() < 128 and not by_resvg[-1].min() < 128


@pytest.mark.parametrize("id", ["prusik-8", "tube-threaded", "double-fisherman"])
def test_a_knots_card_is_one_page_with_every_stage_and_fault(leader, id):
    one = knot(id)
    answer = leader.client.get(f"/api/knots/{id}/card")
    assert answer["Content-Type"] == "application/pdf"
    document = PdfDocument(answer.content)
    text = " ".join(document[0].get_textpage().get_text_range().split())
    assert len(document) == 1
    for said in (
        one.name,
        *one.look,
        *(stage.do for stage in one.stages),
        *(fault.tell for fault in one.faults),
        *(load.then for load in one.loads),
        one.undone,
    ):
        assert " ".join(said.split()) in text, said
    with pikepdf.open(io.BytesIO(answer.content)) as pdf:
        figures = [kid for kid in _all_of(pdf.Root.StructTreeRoot) if str(kid.get("/S")) == "/Figure"]
        assert len(figures) == len(one.stages) + len(one.faults) and all(str(kid.Alt) for kid in figures)
    status, told = leader.get("/knots/granny/card")
    assert status == 422 and "bowline" in told["faults"][0]["right"]


def _all_of(node):
    for kid in node.get("/K", []) if not isinstance(node.get("/K"), int) else []:
        if isinstance(kid, pikepdf.Dictionary):
            yield kid
            yield from _all_of(kid)


def test_the_leaders_guide_is_four_pages_with_their_pictures_and_speaks_of_what_is_on_the_screen(leader):
    answer = leader.client.get("/api/guide")
    read = PdfReader(io.BytesIO(answer.content)).pages
    text = (ROOT / "docs" / "leaders-guide.md").read_text(encoding="utf-8")
    assert len(read) == 4 and all(len(page.images) == 1 for page in read)
    printed = plain("".join(page.extract_text() for page in read))
    for block in re.sub(r"!\[.*\]\(.*\)", "", text).split("\n"):
        said = re.sub(r"\*\*(.+?)\*\*", r"“\1”", block).replace("*", "").lstrip("#- ")
        assert plain(said) in printed
    screens = "".join(one.read_text(encoding="utf-8") for one in (ROOT / "web" / "src").rglob("*.tsx"))
    names = re.findall(r"\*\*(.+?)\*\*", text)
    assert len(names) > 20
    assert [one for one in names if one not in screens] == []
