"""The log: append-only, bound to the plan as it was, and every change found."""

import uuid
from io import StringIO

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import DatabaseError, connection
from operations.services import sign

from tests.plans import changed, demo_document


def test_an_entry_keeps_decision_reason_and_the_plan_as_it_was(leader, plan):
    leader.say(plan, "Pulley on the grab", reason="saves a hauler")
    leader.save(plan, 1, changed(demo_document(), title="Changed"))
    leader.say(plan, "Redirect left out", revision=2)
    first, second = leader.get(f"/plans/{plan.id}/log")[1]["entries"]
    assert (first["sequence"], first["reason"], first["revision"]) == (1, "saves a hauler", 1)
    assert (second["before"], second["revision"]) == (first["hash"], 2)
    assert first["revision_sha256"] == plan.revisions.get(number=1).sha256


def test_sending_an_entry_twice_is_harmless(leader, plan):
    once = str(uuid.uuid4())
    assert leader.say(plan, "Said once", id=once) == leader.say(plan, "Said once", id=once)
    assert plan.log.count() == 1


def test_putting_right_is_a_new_entry_that_points_at_the_old(leader, plan):
    old = leader.say(plan, "Rope is 80 m")[1]
    new = leader.say(plan, "Rope is 60 m", kind="correction", corrects=old["id"])[1]
    assert new["corrects"] == old["id"]
    assert leader.get(f"/plans/{plan.id}/log")[1]["entries"][0]["decision"] == "Rope is 80 m"
    status, told = leader.say(plan, "x", kind="correction", corrects=str(uuid.uuid4()))
    assert (status, told["faults"][0]["path"]) == (422, "corrects")


@pytest.mark.parametrize("table", ["operations_logentry", "plans_revision", "operations_signature"])
@pytest.mark.parametrize("statement", ["UPDATE {} SET id = id", "DELETE FROM {}"])
def test_the_database_itself_refuses_to_change_or_delete(leader, plan, table, statement):
    leader.say(plan, "Kept")
    sign(
        plan, leader.user, id=uuid.uuid4(), revision=plan.latest, lines={"state:held": {"answer": "1", "text": "held"}}
    )
    with pytest.raises(DatabaseError, match="append-only"), connection.cursor() as cursor:
        cursor.execute(statement.format(table))


@pytest.mark.parametrize(
    ("table", "statement", "said"),
    [
        (
            "operations_logentry",
            "UPDATE operations_logentry SET reason = 'another' WHERE sequence = 2",
            "entry 2: the content does not fit",
        ),
        ("operations_logentry", "DELETE FROM operations_logentry WHERE sequence = 2", "entry 2 is missing"),
        (
            "operations_logentry",
            "UPDATE operations_logentry SET sequence = CASE sequence WHEN 2 THEN 30 WHEN 3 THEN 2 ELSE sequence END",
            "entry 2: does not follow the entry before it",
        ),
        (
            "operations_logentry",
            "INSERT INTO operations_logentry (id, plan_id, sequence, time, author_id, kind, decision, reason, considered, revision_id, before, hash, step, data) "
            "SELECT 'ffffffffffffffffffffffffffffffff', plan_id, 4, time, author_id, kind, 'Put in', reason, considered, revision_id, before, hash, step, data "
            "FROM operations_logentry WHERE sequence = 3",
            "entry 4: does not follow the entry before it",
        ),
        (
            "plans_revision",
            "UPDATE plans_revision SET document = replace(document, '60.0', '60.1')",
            "revision 1: the document does not fit",
        ),
    ],
)
def test_a_changed_byte_is_found(leader, plan, table, statement, said):
    for word in ("One", "Two", "Three"):
        leader.say(plan, word)
    out = StringIO()
    call_command("verify_log", stdout=out)
    assert "3 log entries: every hash fits" in out.getvalue()
    with connection.cursor() as cursor:
        # Somebody with the file in hand: the triggers out of the way, then one change. The test's end rolls it back.
        cursor.execute(f"DROP TRIGGER {table}_no_update")
        cursor.execute(f"DROP TRIGGER {table}_no_delete")
        cursor.execute(statement)
    with pytest.raises(CommandError, match=said):
        call_command("verify_log", stdout=out)
