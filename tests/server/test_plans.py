"""Plans: numbered revisions, nothing overwritten, files out and in."""

import json
import uuid

import pytest
from operations.selectors import broken_links
from plans.models import Plan, Revision
from storing.canonical import canonical, sha256

from tests.plans import ROOT, changed, demo_document


def test_saves_are_numbered_and_each_keeps_its_hash(leader, plan):
    longer = changed(demo_document(), ropes__0__length_m=80)
    status, saved = leader.save(plan, 1, longer)
    assert (status, saved["number"]) == (200, 2)
    first = leader.get(f"/plans/{plan.id}/revisions/1")[1]
    assert first["document"]["ropes"][0]["length_m"] == 60
    assert first["sha256"] != saved["sha256"]
    # The same content has the same hash, whatever the order of its keys.
    status, again = leader.save(plan, 2, dict(reversed(demo_document().items())))
    assert again["sha256"] == first["sha256"]


def test_a_stale_save_is_refused_with_both_versions_and_overwrites_nothing(leader, plan):
    leader.save(plan, 1, changed(demo_document(), ropes__0__length_m=80))
    status, told = leader.save(plan, 1, changed(demo_document(), ropes__0__length_m=40))
    assert status == 409
    assert (told["base"], told["latest"]["number"]) == (1, 2)
    assert told["latest"]["document"]["ropes"][0]["length_m"] == 80
    assert leader.get(f"/plans/{plan.id}")[1]["latest"]["document"]["ropes"][0]["length_m"] == 80


def test_sending_a_save_twice_is_harmless(leader, plan):
    once = str(uuid.uuid4())
    document = changed(demo_document(), ropes__0__length_m=80)
    first = leader.save(plan, 1, document, once)
    assert leader.save(plan, 1, document, once) == first
    assert plan.revisions.count() == 2


def test_a_plan_goes_out_and_comes_back_with_its_log(leader, plan):
    leader.say(plan, "Pulley on the grab", considered="a carabiner")
    status, bundle = leader.get(f"/plans/{plan.id}/export")
    assert status == 200
    body = {"team": plan.team_id, "id": str(uuid.uuid4()), "content": json.loads(json.dumps(bundle))}
    status, read_in = leader.send("POST", "/plans/import", body)
    assert status == 200
    assert read_in["latest"]["document"] == bundle["document"]
    assert read_in["latest"]["sha256"] == bundle["sha256"]
    entry = leader.get(f"/plans/{read_in['id']}/log")[1]["entries"][0]
    assert (entry["kind"], entry["decision"]) == ("imported", "Pulley on the grab")
    assert bundle["log"][0]["hash"] in entry["considered"]
    # Read in once more with the same id: nothing doubles.
    assert leader.send("POST", "/plans/import", body)[1]["id"] == read_in["id"]
    assert Plan.objects.count() == 2
    assert len(leader.get(f"/plans/{read_in['id']}/log")[1]["entries"]) == 1
    assert not list(broken_links(Plan.objects.get(id=read_in["id"])))


def test_a_bare_document_can_be_read_in(leader, plan):
    body = {"team": plan.team_id, "id": str(uuid.uuid4()), "content": demo_document()}
    status, read_in = leader.send("POST", "/plans/import", body)
    assert (status, read_in["latest"]["number"]) == (200, 1)


def test_systems_are_built_by_the_core(leader):
    three = demo_document()["lines"][0]["haul"]["system"]
    status, turned = leader.send("POST", "/haul/redirect", three)
    assert (status, turned["hand"]) == (200, "toward-load")
    assert leader.send("POST", "/haul/straight", turned)[1]["ropes"] == three["ropes"]
    assert leader.send("POST", "/haul/straight", three)[0] == 422
    status, nine = leader.send("POST", "/haul/stack", {"base": three, "top": three})
    assert nine["name"] == "3:1 on 3:1"
    for _ in range(12):
        status, bigger = leader.send("POST", "/haul/stack", {"base": nine, "top": three})
        if status != 200:
            break
        nine = bigger
    assert (status, bigger["faults"][0]["right"]) == (422, "stack less")


@pytest.mark.parametrize("version", [1, 2])
def test_a_plan_saved_by_an_earlier_version_opens_and_keeps_its_hash(leader, plan, version):
    """Revisions are never rewritten: one of an earlier version stays as it was saved, and is read as one of today."""
    text = canonical(json.loads((ROOT / "tests" / "documents" / f"version-{version}.json").read_text(encoding="utf-8")))
    Revision.objects.create(
        plan=plan, number=2, document=text, sha256=sha256(text), author=leader.user, client_id=uuid.uuid4()
    )
    status, found = leader.get(f"/plans/{plan.id}")
    assert (status, found["latest"]["sha256"]) == (200, sha256(text))
    document = found["latest"]["document"]
    assert (document["schema_version"], document["lines"][0]["anchor"]) == (4, "main")
    assert leader.get("/plans")[1][0]["title"] == document["title"]
    assert leader.save(plan, 2, document)[0] == 200
    assert plan.revisions.get(number=2).document == text
    assert not list(broken_links(plan))


def test_the_list_says_what_a_plan_is(leader, plan):
    row, document = leader.get("/plans")[1][0], demo_document()
    assert row["sketch"]["ground"] == document["site"]["profile"]
    assert row["sketch"]["load"] == document["site"]["load_at"]
    assert len(row["sketch"]["anchors"]) == len(document["anchors"])
    assert (row["stands"], row["here"], row["archived"]) == ("lines", [], False)


def test_a_leader_puts_a_plan_away_and_takes_it_back_and_nobody_else_does(people, plan):
    leader = people["leader"]
    before = leader.get(f"/plans/{plan.id}")
    for archived in (True, False):
        assert leader.send("PUT", f"/plans/{plan.id}/archived", {"archived": archived}) == (200, {"archived": archived})
        assert leader.get("/plans")[1][0]["archived"] is archived
        # It is read as before, and nothing of it was changed.
        assert leader.get(f"/plans/{plan.id}") == before
    for other in ("member", "observer"):
        assert people[other].send("PUT", f"/plans/{plan.id}/archived", {"archived": True})[0] == 403
