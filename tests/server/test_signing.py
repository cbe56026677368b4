"""The check signed by a second person: who may, what can be, what a later change opens, and that nothing signed can change."""

import io
import random
import re
import uuid

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from operations.selectors import broken_links
from papers.check_sheet import check_sheet
from plans.services import create_plan
from pypdf import PdfReader

from rigging.document import Plan as Document
from rigging.telling import words
from rigging.telling.check import sheet
from rigging.telling.check.sheet import CheckReport, check
from tests.engine.test_random_plans import changed_at_random
from tests.plans import changed, demo_document

SAID = ("level", "name", "holds_on", "behind", "hands_off", "weakest", "why_not")


def sign(person, plan, revision=1, lines=None, id=None):
    body = {"id": id or str(uuid.uuid4()), "revision": revision, "lines": lines}
    return person.send("POST", f"/plans/{plan.id}/sign", body)


def faults(told):
    return [(one["path"], one["problem"]) for one in told["faults"]]


def test_a_second_person_signs_and_it_stands_in_the_log_with_the_revision(people, plan):
    status, rows = sign(people["member"], plan)
    assert status == 200
    lines = check(Document.model_validate(demo_document())).signable()
    assert {row["line"]: row["answer"] for row in rows} == {id: one["answer"] for id, one in lines.items()}
    assert {(row["by"], row["revision"]) for row in rows} == {("member", 1)}
    entry = people["leader"].get(f"/plans/{plan.id}/log")[1]["entries"][-1]
    assert (entry["kind"], entry["author"], entry["revision"]) == ("signed", "member", 1)
    assert f"{len(lines)} lines of revision 1" in entry["decision"]
    assert people["observer"].get(f"/plans/{plan.id}/signed")[1] == rows


def test_line_by_line_and_sent_twice(people, plan):
    once = str(uuid.uuid4())
    first = sign(people["member"], plan, lines=["state:held"], id=once)
    assert [row["line"] for row in first[1]] == ["state:held"]
    assert sign(people["member"], plan, lines=["state:held"], id=once) == first
    assert plan.log.count() == 1
    assert "1 line of revision 1" in plan.log.get().decision


def test_nobody_signs_what_they_saved_and_an_observer_signs_nothing(people, plan):
    status, told = sign(people["leader"], plan)
    assert status == 422
    assert "you saved revision 1 yourself" in told["faults"][0]["problem"]
    assert sign(people["observer"], plan)[0] == 403
    assert sign(people["outsider"], plan)[0] == 404
    assert sign(people["nobody"], plan)[0] == 401
    assert people["member"].save(plan, 1, demo_document())[0] == 403
    assert plan.log.count() == 0


def test_an_old_revision_and_an_open_line_are_not_signed(people, plan):
    people["leader"].save(plan, 1, changed(demo_document(), team__people__4__tied_to=None))
    assert faults(sign(people["member"], plan, 1)[1]) == [("revision", "revision 2 has been saved since")]
    told = sign(people["member"], plan, 2, ["untied:Hazel"])[1]
    assert told["faults"][0]["path"] == "lines[0]"
    assert "mend or accept it first" in told["faults"][0]["right"]
    assert "untied:Hazel" not in {row["line"] for row in sign(people["member"], plan, 2)[1]}


def said(told):
    """What each row of a check says."""
    return {row["id"]: [row[one] for one in SAID] for row in told["rows"]}


def without_figures(words):
    return re.sub(r"[\d.]+", "", " ".join(words))


def test_fifty_edits_of_a_signed_plan_open_exactly_the_lines_whose_answers_differ(people, plan):
    """What says word for word what it said stays signed; what stays signed and reads otherwise does so in the digits of its figures alone."""
    rows = sign(people["member"], plan)[1]
    signed = {row["line"]: row["answer"] for row in rows}
    before = said(people["member"].send("POST", "/check", demo_document())[1])
    luck, base, done = random.Random(8), 1, 0
    while done < 50:
        document = changed_at_random(luck)
        status, told = people["member"].send("POST", "/check", document)
        if status == 422:
            continue
        status, saved = people["leader"].save(plan, base, document)
        assert status == 200
        base, done = saved["number"], done + 1
        still = {row["id"] for row in told["rows"] if signed.get(row["id"]) == row["answer"]}
        now = said(told)
        assert {id for id, words in now.items() if before.get(id) == words} <= still
        assert all(without_figures(before[id]) == without_figures(now[id]) for id in still)
    assert {row["line"]: row["answer"] for row in people["member"].get(f"/plans/{plan.id}/signed")[1]} == signed


@pytest.mark.parametrize("change", ["UPDATE operations_signature SET lines = '{}'", "DELETE FROM operations_signature"])
def test_what_was_signed_and_then_tampered_with_is_found(people, plan, change):
    sign(people["member"], plan)
    assert list(broken_links(plan)) == []
    with connection.cursor() as cursor:
        for verb in ("update", "delete"):
            cursor.execute(f"DROP TRIGGER operations_signature_no_{verb}")
        cursor.execute(change)
    with pytest.raises(CommandError, match="signed"):
        call_command("verify_log")


def test_what_was_signed_by_its_words_still_stands_and_a_sentence_bettered_opens_nothing(people, plan, monkeypatch):
    """Signatures of before went by what was said: on paper they stand as long as the same is said. Those of today go by what is so."""

    def by_words(report):
        lines = [one for one in report.lines if not one.open]
        return {one.id: {"answer": one.words, "text": "as it was said then"} for one in (*report.rows, *lines)}

    monkeypatch.setattr(CheckReport, "signable", by_words)
    assert sign(people["member"], plan)[0] == 200
    monkeypatch.undo()
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(check_sheet(plan))).pages)
    told = check(Document.model_validate(demo_document()))
    assert text.count("member,") >= len(told.rows)
    before = {one.id: one.answer for one in told.lines}
    monkeypatch.setattr(words, "told", lambda found, plan, say: (f"In other words: {found.kind}.", "Mend it."))
    monkeypatch.setattr(sheet, "told", words.told)
    other = check(Document.model_validate(demo_document()))
    assert all(
        one.text.endswith(".") and "In other words" in one.text for one in other.lines if one.id == "people-ceiling"
    )
    assert {one.id: one.answer for one in other.lines} == before


def test_an_id_that_a_client_chooses_is_bound_to_its_plan_person_and_kind(people, plan):
    """A signature, a step and a save under the id of somebody else's entry or of another plan's: refused, and nothing is done."""
    entry = {
        "id": str(uuid.uuid4()),
        "kind": "decision",
        "revision": 1,
        "decision": "Strap low",
        "reason": "",
        "considered": "",
    }
    assert people["leader"].send("POST", f"/plans/{plan.id}/log", entry)[0] == 200
    beside = create_plan(plan.team, plan.latest.author, Document.model_validate(demo_document()), uuid.uuid4())
    for one in (plan, beside):
        sign(people["member"], one, id=entry["id"])
        assert people["member"].get(f"/plans/{one.id}/signed")[1] == []
    begin = {"id": str(uuid.uuid4()), "act": "begin", "at": "", "text": "practice", "data": {}}
    assert people["leader"].send("POST", f"/plans/{beside.id}/run", begin)[0] == 200
    before = people["leader"].get(f"/plans/{beside.id}/run")[1]["run"]
    done = {**begin, "id": entry["id"], "act": "done", "at": before["at"]}
    status, told = people["leader"].send("POST", f"/plans/{beside.id}/run", done)
    assert status == 422 and faults(told) == [("id", "it is the id of another entry")]
    assert people["leader"].get(f"/plans/{beside.id}/run")[1]["run"]["at"] == before["at"]


def test_the_check_of_a_plan_knows_its_teams_own_procedures(people, leader, plan):
    """A section by a procedure that the team made is composed and looked at; the same by one that nobody has is stopped for."""
    given = {
        "id": "look-round", "name": "Look round", "begins": "ground", "leaves": "ground",
        "steps": [{"who": ["leader"], "do": "Walks round all of it once more.", "look": "Nobody below."}],
    }  # fmt: skip
    assert leader.send("PUT", f"/plans/{plan.id}/procedures", given)[0] == 200

    def found(path: str, procedure: str) -> list[str]:
        sections = [{"procedure": procedure}, {"procedure": "lower"}]
        status, told = leader.send("POST", path, changed(demo_document(), operation={"sections": sections}))
        assert status == 200, told
        return [one["level"] for one in told["lines"] if one["id"].startswith("section-unmade")]

    of_plan = f"/plans/{plan.id}/check"
    assert found(of_plan, "look-round") == []
    assert found(of_plan, "look-square") == ["stop"]
    # Where nobody says whose plan it is, it may be a team's own.
    assert found("/check", "look-round") == ["look"]
    assert people["outsider"].send("POST", of_plan, demo_document())[0] == 404
