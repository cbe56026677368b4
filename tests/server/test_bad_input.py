"""Whatever is sent: an answer that names the field, never a 500, and nothing lost."""

import json
import uuid

import pytest

from tests.engine.test_documents import WRONG
from tests.plans import changed, demo_document


@pytest.mark.parametrize(("change", "path", "said"), [row for row in WRONG if row[1] != "ropes[0].length_m"])
def test_a_wrong_plan_is_refused_with_its_fields_and_the_old_one_stays(leader, plan, change, path, said):
    document = changed(demo_document(), **change)
    status, told = leader.send("POST", "/analyse", document)
    assert status == 422
    assert path in {fault["path"] for fault in told["faults"]} or path == "document"
    assert said in json.dumps(told, ensure_ascii=False)
    saved, _ = leader.save(plan, 1, document)
    assert saved in (200, 422)
    assert leader.get(f"/plans/{plan.id}/revisions/1")[1]["document"]["title"] == demo_document()["title"]


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ("", 422),
        ("{", 400),
        ("not json", 400),
        (b"\xff\xfe", 400),
        ("[" * 100_000, 400),
        ('{"title": "\\ud800"}', 400),
        ('{"line": {"length_m": NaN}}', 400),
        ("null", 422),
        ("[]", 422),
        ('"' + "a" * 10_000_000 + '"', 413),
    ],
)
@pytest.mark.parametrize(
    "path",
    ["/analyse", "/anchors", "/choices", "/holds", "/working", "/plans", "/plans/import", "/haul/stack", "/session"],
)
def test_no_body_makes_the_server_fall_over(leader, path, body, status):
    found, told = leader.send("POST", path, body)
    assert found == status
    assert all(fault["path"] and fault["problem"] and fault["right"] for fault in told["faults"])


def test_eta_above_one_is_refused_wherever_it_is_tried(leader):
    document = demo_document()
    document["lines"][0]["haul"]["bends"]["A"] = 1.2
    status, told = leader.send("POST", "/analyse", document)
    assert (status, told["faults"][0]["path"]) == (422, "lines[0].haul.bends.A")


@pytest.mark.parametrize(
    ("path", "asked", "field"),
    [
        ("/holds", {"state": "nowhere"}, "state"),
        ("/holds", {"state": "held", "gone": "the moon"}, "gone"),
        ("/holds", {"state": "goes:tower"}, "state"),
        ("/working", {"of": "plan", "figure": "held/nothing"}, "figure"),
        ("/working", {"of": "anchors", "state": "held", "figure": "nothing"}, "figure"),
    ],
)
def test_a_question_about_what_is_not_there_names_its_field(leader, path, asked, field):
    status, told = leader.send("POST", path, {"document": demo_document(), **asked})
    assert (status, told["faults"][0]["path"]) == (422, field)
    assert told["faults"][0]["right"]


@pytest.mark.parametrize("what", ["lowering", "haul", "belay"])
def test_choices_are_answered_even_where_the_plan_has_nothing_to_choose_for(leader, what):
    bare = changed(demo_document(), lines=[], ropes=[])
    status, told = leader.send("POST", f"/choices?what={what}", bare)
    assert (status, told["choices"]) == (200, [])
    assert leader.send("POST", "/choices?what=moon", demo_document())[0] == 422


@pytest.mark.parametrize("number", [0, -1, 99, 10**30])
def test_a_revision_that_is_not_there_is_said(leader, plan, number):
    status, told = leader.get(f"/plans/{plan.id}/revisions/{number}")
    assert (status, told["faults"][0]["path"]) == (422, "revision")


def test_absent_plans_teams_and_paths(leader, plan):
    assert leader.get(f"/plans/{uuid.uuid4()}")[0] == 404
    assert leader.get("/plans/not-an-id")[0] == 422
    new = {"team": 10**30, "id": str(uuid.uuid4()), "document": demo_document()}
    assert leader.send("POST", "/plans", new)[0] in (403, 422)
    assert leader.save(plan, 10**30, demo_document())[0] == 409
    assert leader.client.get("/api/nowhere").status_code == 404


def test_an_entry_without_words_is_refused(leader, plan):
    status, told = leader.say(plan, "")
    assert (status, told["faults"][0]["path"]) == (422, "decision")
    assert plan.log.count() == 0
