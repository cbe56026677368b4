"""The team's shelf: who may, what is refused by its field, counted out and in, the same piece wanted by two plans, labels read back, own pulls taken."""

import io
import uuid
from typing import Any

import pypdfium2
import pytest
import zxingcpp
from django.core.files.uploadedfile import SimpleUploadedFile
from plans.models import Plan
from plans.services import create_plan
from shelf.models import ShelfPiece

from rigging.document import Plan as Document
from tests.plans import demo_document, one_rope_document
from tests.server.conftest import Person

ROPE = {
    "label": "R-1",
    "table": "ropes",
    "kind": "low-stretch-11",
    "length_m": 60.0,
    "made": 2022,
    "bag": "Rope 1",
    "carried_by": "Birch",
    "mass_kg": 4.6,
}
CLIPS = {"label": "K-1", "table": "bends", "kind": "carabiner", "count": 10, "bag": "Hardware"}
PRUSIK = {"of": "hitch", "kind": "prusik-8", "rope": "low-stretch-11", "cord": "cord-8", "wraps": 3}


def put(person, plan, piece):
    return person.send("PUT", f"/teams/{plan.team_id}/shelf/pieces/{piece['label']}", piece)


def count(person, plan, label, many=1, out=True, id=None):
    body = {"id": id or str(uuid.uuid4()), "label": label, "count": many, "out": out}
    return person.send("POST", f"/plans/{plan.id}/packing", body)


def another_plan(leader, title) -> Plan:
    document = Document.model_validate({**one_rope_document(), "title": title})
    return create_plan(Plan.objects.get().team, leader.user, document, uuid.uuid4())


def table(person, plan, text, bring=False) -> tuple[int, Any]:
    file = SimpleUploadedFile("gear.csv", text.encode(), "text/csv")
    answer = person.client.post(f"/api/teams/{plan.team_id}/shelf/file", {"file": file, "bring": str(bring).lower()})
    return answer.status_code, answer.json()


def fault(answer):
    status, told = answer
    assert status == 422
    return told["faults"][0]["path"], f"{told['faults'][0]['problem']} {told['faults'][0]['right']}"


def test_who_writes_keeps_pieces_and_who_reads_sees_them(people, plan):
    assert put(people["member"], plan, ROPE)[0] == 200
    assert put(people["observer"], plan, CLIPS)[0] == 403
    assert put(people["outsider"], plan, CLIPS)[0] == 403
    told = people["observer"].get(f"/teams/{plan.team_id}/shelf")[1]
    assert [one["piece"]["label"] for one in told["pieces"]] == ["R-1"] and not told["writes"]
    assert told["pieces"][0]["changed_by"] == "member"


@pytest.mark.parametrize(
    ("wrong", "field"),
    [({"stamp_n": 12_000.0}, "stamp_n"), ({"length_m": None}, "length_m"), ({"kind": "no-such"}, "kind"), ({"count": 0}, "count"), ({"label": "no good"}, "label")],
)  # fmt: skip
def test_a_piece_that_can_not_be_is_refused_by_its_field_and_nothing_is_lost(leader, plan, wrong, field):
    put(leader, plan, ROPE)
    status, told = leader.send("PUT", f"/teams/{plan.team_id}/shelf/pieces/R-1", ROPE | wrong)
    assert status == 422 and field in {one["path"] for one in told["faults"]}
    assert leader.get(f"/teams/{plan.team_id}/shelf")[1]["pieces"][0]["piece"]["length_m"] == 60.0


def test_a_shelf_goes_out_as_a_table_and_comes_back_the_same(leader, plan):
    for one in (ROPE, CLIPS | {"note": "=1+1, checked"}):
        put(leader, plan, one)
    text = leader.client.get(f"/api/teams/{plan.team_id}/shelf.csv").content.decode()
    assert table(leader, plan, text) == (200, {"new": 0, "changed": 0, "faults": [], "brought": False})
    changed = text.replace("60.0", "59.0") + "X-9,other,Load cell,,,,,0.4,,,,,\n"
    assert table(leader, plan, changed, bring=True)[1] == {"new": 1, "changed": 1, "faults": [], "brought": True}
    assert [one["piece"]["label"] for one in leader.get(f"/teams/{plan.team_id}/shelf")[1]["pieces"]] == [
        "K-1",
        "R-1",
        "X-9",
    ]


def test_a_table_with_a_bad_row_brings_nothing_and_names_the_row(leader, plan):
    status, told = table(leader, plan, "label,kind,length_m\nR-1,low-stretch-11,60\nR-2,low-stretch-11,\n", bring=True)
    assert (status, told["brought"], told["faults"][0]["path"]) == (200, False, "row 3, length_m")
    assert leader.get(f"/teams/{plan.team_id}/shelf")[1]["pieces"] == []


def test_what_went_out_comes_back_and_no_more(leader, plan):
    put(leader, plan, CLIPS)
    assert count(leader, plan, "K-1", 4)[0] == 200
    assert fault(count(leader, plan, "K-1", 7))[0] == "count"
    assert fault(count(leader, plan, "K-1", 5, out=False)) == (
        "count",
        "4 of K-1 are out for this plan as many as went out",
    )
    count(leader, plan, "K-1", 4, out=False)
    assert leader.get(f"/plans/{plan.id}/packing")[1]["out"] == []
    assert leader.get(f"/teams/{plan.team_id}/shelf")[1]["pieces"][0]["out"] == []


def test_a_count_sent_again_counts_once_and_its_id_is_nobody_elses(people, leader, plan):
    put(leader, plan, CLIPS)
    id = str(uuid.uuid4())
    for _ in range(3):
        assert count(leader, plan, "K-1", 4, id=id)[0] == 200
    assert fault(count(people["member"], plan, "K-1", 4, id=id))[0] == "id"
    assert [one["count"] for one in leader.get(f"/plans/{plan.id}/packing")[1]["out"]] == [4]
    assert count(people["observer"], plan, "K-1")[0] == 403


def test_the_same_piece_wanted_by_two_plans_is_refused_to_the_second_and_it_says_where_it_is(leader, plan):
    document = demo_document()
    kind = document["ropes"][0]
    put(leader, plan, {"label": "R-7", "table": "ropes", "kind": kind["kind"], "length_m": 200.0})
    other = another_plan(leader, "Practice at the quarry")
    assert count(leader, plan, "R-7")[0] == 200
    path, said = fault(count(leader, other, "R-7"))
    assert path == "count" and document["title"] in said
    rows = [one for one in leader.get(f"/plans/{other.id}/packing")[1]["rows"] if one["table"] == "ropes"]
    assert any(f"R-7: out for {document['title']}" in one["elsewhere"] for one in rows if one["kind"] == kind["kind"])


def test_a_retired_piece_is_refused_with_why_and_fewer_than_are_out_can_not_be(leader, plan):
    put(leader, plan, ROPE | {"retired": "sheath through at 20 m"})
    path, said = fault(count(leader, plan, "R-1"))
    assert path == "label" and "sheath through at 20 m" in said
    put(leader, plan, CLIPS)
    count(leader, plan, "K-1", 6)
    assert fault(put(leader, plan, CLIPS | {"count": 5}))[0] == "count"
    assert fault(count(leader, plan, "Z-9"))[0] == "label"


def test_packing_goes_by_who_carries_it_with_what_it_weighs(leader, plan):
    demo = Document.model_validate(demo_document())
    longest = max(demo.ropes, key=lambda one: one.length_m)
    put(leader, plan, ROPE | {"kind": longest.kind, "length_m": longest.length_m + 1, "stamp_n": None})
    told = leader.get(f"/plans/{plan.id}/packing")[1]
    assert told["carriers"] == [{"who": "Birch", "pieces": 1, "mass_kg": 4.6, "unweighed": 0}]
    assert told["short"] == sum(one["count"] for one in told["rows"]) - 1


def test_a_label_read_by_a_camera_leads_to_its_piece(leader, plan):
    for number in range(5):
        put(leader, plan, ROPE | {"label": f"R-{number}"})
    answer = leader.client.get(f"/api/teams/{plan.team_id}/shelf/labels?label=R-1&label=R-3")
    assert answer["Content-Type"] == "application/pdf"
    page = pypdfium2.PdfDocument(io.BytesIO(answer.content))[0].render(scale=3).to_pil()
    read = {one.text for one in zxingcpp.read_barcodes(page)}
    assert read == {f"http://localhost/shelf/{plan.team_id}/{label}" for label in ("R-1", "R-3")}


def pull(person, plan, force_n, gave="slipped", id=None, **how):
    body = {
        "id": id or str(uuid.uuid4()),
        "pull": {**PRUSIK, **how, "gave": gave, "force_n": force_n, "looked": "glazed over 10 cm"},
    }
    return person.send("POST", f"/teams/{plan.team_id}/pulls", body)


def test_pulls_become_the_teams_own_range_and_a_plan_takes_it_by_decision(people, leader, plan):
    for force in (9000.0, 9400.0, 9200.0):
        status, told = pull(leader, plan, force)
        assert status == 200
    own = told["ranges"][0]["tested"]
    assert own["pulls"] == 3 and told["ranges"][0]["before_text"] == "5.0 to 8.0 kN"
    body = {"id": str(uuid.uuid4()), "base": 1, "tested": [own]}
    assert people["member"].send("PUT", f"/plans/{plan.id}/tested", body)[0] == 403
    assert leader.send("PUT", f"/plans/{plan.id}/tested", body) == (200, {"revision": 2})
    assert Document.model_validate_json(plan.latest.document).tested[0].high_n == own["high_n"]
    stale = {"id": str(uuid.uuid4()), "base": 1, "tested": []}
    assert fault(leader.send("PUT", f"/plans/{plan.id}/tested", stale))[0] == "base"


def test_a_pull_without_its_cord_is_refused_and_one_sent_again_is_one(people, leader, plan):
    path, said = fault(pull(leader, plan, 9000.0, cord=None))
    assert "cord" in f"{path} {said}"
    id = str(uuid.uuid4())
    pull(leader, plan, 9000.0, id=id)
    assert len(pull(leader, plan, 9000.0, id=id)[1]["pulls"]) == 1
    assert fault(pull(people["member"], plan, 9000.0, id=id))[0] == "id"
    assert pull(people["observer"], plan, 9000.0)[0] == 403


def test_one_that_stands_apart_is_named_and_left_out_only_with_a_reason_and_by_name(leader, plan):
    for force in (6400.0, 6600.0, 6500.0, 6550.0, 6450.0, 64_000.0):
        told = pull(leader, plan, force)[1]
    odd = [one for one in told["pulls"] if one["odd"]]
    assert [one["pull"]["force_n"] for one in odd] == [64_000.0]
    path = f"/teams/{plan.team_id}/pulls/{odd[0]['id']}/left-out"
    told = leader.send("POST", path, {"why": "the gauge stood on pounds"})[1]
    assert told["ranges"][0]["own_n"]["high"] < 10_000
    assert [(one["left_out"], one["left_out_by"]) for one in told["pulls"] if one["left_out"]] == [
        ("the gauge stood on pounds", "leader")
    ]
    assert leader.send("POST", path, {"why": ""})[1]["ranges"][0]["own_n"]["high"] >= 64_000


def test_whoever_was_let_in_to_read_one_plan_does_not_learn_where_its_gear_is_out(people, leader, plan):
    put(leader, plan, ROPE)
    count(leader, another_plan(leader, "Somebody else's rescue"), "R-1")
    path = leader.send("POST", f"/plans/{plan.id}/observers", {"name": "County reviewer", "days": 2})[1]["path"]
    reader = Person(None)
    reader.client.get("/api/session")
    assert reader.send("POST", f"/look/{path.removeprefix('/look/')}")[0] == 200
    assert reader.get(f"/plans/{plan.id}")[0] == 200
    assert reader.get(f"/plans/{plan.id}/packing")[0] == 403
    assert people["observer"].get(f"/plans/{plan.id}/packing")[0] == 200


def test_a_piece_that_the_catalogue_would_take_no_more_is_still_there_under_its_name(leader, plan):
    put(leader, plan, ROPE)
    ShelfPiece.objects.update(piece={**ShelfPiece.objects.get().piece, "kind": "no-longer"})
    told = leader.get(f"/teams/{plan.team_id}/shelf")[1]["pieces"][0]
    assert (told["piece"]["table"], told["name"], told["piece"]["length_m"]) == ("other", "no-longer", 60.0)


def test_a_shelf_has_an_end(leader, plan):
    rows = "".join(f"P-{n},carabiner\n" for n in range(2001))
    status, told = table(leader, plan, f"label,kind\n{rows}")
    assert status == 422 and "2000" in told["faults"][0]["right"]
