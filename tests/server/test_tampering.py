"""Somebody with the database's file in hand: whatever they change, take away or put in, is named."""

import hashlib
import json
import shutil
import uuid
from datetime import UTC, datetime
from io import StringIO
from pathlib import Path

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from operations.models import LogEntry
from operations.services import append
from plans.models import Plan
from readings.models import ReadingBlock
from sealing import heads
from storing.canonical import sha256

from tests.pictures import picture
from tests.server.conftest import made_once
from tests.server.test_run import act, go_to, send

TABLES = ("operations_logentry", "plans_revision", "operations_signature", "readings_readingblock")


@pytest.fixture(scope="module")
def made(django_db_setup, django_db_blocker, tmp_path_factory):
    """Such a plan with its people and its folder, made once."""
    with made_once(django_db_blocker.unblock(), tmp_path_factory.mktemp("made"), worked_on) as made:
        yield made


@pytest.fixture
def people(db, made):
    return made[0]


@pytest.fixture
def plan(db, made, settings, tmp_path):
    settings.VAR = shutil.copytree(made[2], tmp_path / "var")
    return Plan.objects.get(pk=made[1].pk)


def worked_on(people, plan):
    """A plan that was signed, saved again, run, read by a cell and photographed."""
    leader = people["leader"]
    assert (
        people["member"].send(
            "POST", f"/plans/{plan.id}/sign", {"id": str(uuid.uuid4()), "revision": 1, "lines": None}
        )[0]
        == 200
    )
    act(leader, plan, "begin")
    go_to(leader, plan, "set-up/4")
    assert send(people["member"], plan, picture())[0] == 200
    cell = str(uuid.uuid4())
    leader.send("POST", f"/plans/{plan.id}/cells", {"id": cell, "name": "Ratchet", "place": "load", "unit": "kN"})
    for first in (0, 20, 40):
        batch = {
            "cell": cell,
            "first": first,
            "at": "2026-03-01T10:00:00Z",
            "times_ms": [50 * (first + n) for n in range(20)],
            "values": [1.4] * 20,
        }
        assert leader.send("POST", f"/plans/{plan.id}/readings", batch)[0] == 200
    leader.say(plan, "The last word", device_time="2026-03-01T12:00:00+02:00", device_ahead_ms=3)
    call_command("verify_log", stdout=StringIO())
    # No test's transaction is ever settled: what comes then is done here.
    state = heads.kept(plan.pk)["is"]
    heads._write(plan.pk, state, [])
    with connection.cursor() as cursor:
        for table in TABLES:
            for verb in ("update", "delete"):
                cursor.execute(f"DROP TRIGGER IF EXISTS {table}_no_{verb}")
        cursor.execute("PRAGMA defer_foreign_keys = ON")


def run_sql(*statements):
    def change(_plan):
        with connection.cursor() as cursor:
            for one in statements:
                cursor.execute(one)
                assert cursor.rowcount != 0, one

    return change


def chain_anew(plan):
    """An entry changed, and every hash after it made to fit."""
    before = ""
    with connection.cursor() as cursor:
        cursor.execute("UPDATE operations_logentry SET reason = 'another reason' WHERE sequence = 2")
        for entry in LogEntry.objects.filter(plan=plan).select_related("revision").order_by("sequence"):
            entry.before = before
            before = entry.content_hash()
            cursor.execute(
                "UPDATE operations_logentry SET before = %s, hash = %s WHERE id = %s",
                [entry.before, before, entry.pk.hex],
            )


def put_in(plan):
    """An entry at the end, that fits, written past the program."""
    last = plan.log.order_by("-sequence").first()
    entry = LogEntry(
        id=uuid.uuid4(), plan=plan, author=last.author, revision=last.revision, time=datetime.now(UTC), kind="decision", decision="Put in",
        sequence=last.sequence + 1, before=last.hash,
    )  # fmt: skip
    entry.hash = entry.content_hash()
    entry.save(force_insert=True)


def revision_changed(plan):
    with connection.cursor() as cursor:
        text = plan.latest.document.replace("60.0", "61.0")
        cursor.execute("UPDATE plans_revision SET document = %s, sha256 = %s", [text, sha256(text)])


def readings_anew(plan):
    """The last block changed, its hash made to fit."""
    *_, before, last = ReadingBlock.objects.filter(cell__plan=plan).order_by("first")
    last.count = 19
    with connection.cursor() as cursor:
        print_of = last.content_hash(bytes(before.hash))
        cursor.execute("UPDATE readings_readingblock SET count = 19, hash = %s WHERE id = %s", [print_of, last.pk])


def in_folder(name, content):
    def change(_plan):
        from django.conf import settings

        file = next(one for one in (Path(settings.VAR) / "photographs").iterdir() if one.name.endswith(name))
        if content is None:
            file.unlink()
        else:
            file.write_bytes(content)

    return change


def head_forged(plan):
    file = heads.folder() / f"{plan.pk}.json"
    file.write_text(json.dumps({**json.loads(file.read_text()), "signature": hashlib.sha512(b"").hexdigest()}))


LOG, RUN = "operations_logentry", "operations_run"
CHANGES = {
    "a decision": (run_sql(f"UPDATE {LOG} SET decision = 'No' WHERE sequence = 2"), "entry 2: the content does not fit"),
    "a reason": (run_sql(f"UPDATE {LOG} SET reason = 'because' WHERE sequence = 3"), "entry 3: the content does not fit"),
    "an author": (run_sql(f"UPDATE {LOG} SET author_id = author_id + 1 WHERE sequence = 2"), "entry 2: the content does not fit"),
    "a time": (run_sql(f"UPDATE {LOG} SET time = '2020-01-01 00:00:00' WHERE sequence = 2"), "entry 2: the content does not fit"),
    "a device's time": (
        run_sql(f"UPDATE {LOG} SET device_time = '2026-03-01 12:00:00' WHERE device_time IS NOT NULL"), "the content does not fit"
    ),
    "what an entry says besides": (run_sql(f"UPDATE {LOG} SET data = '{{}}' WHERE kind = 'photo'"), "the content does not fit"),
    "an entry taken out": (run_sql(f"DELETE FROM {LOG} WHERE sequence = 4"), "entry 4 is missing"),
    "the last entry cut off": (run_sql(f"DELETE FROM {LOG} WHERE decision = 'The last word'"), "gone"),
    "the whole log": (run_sql("DELETE FROM operations_signature", f"DELETE FROM {LOG}"), "log entry 1 to"),
    "the chain made anew": (chain_anew, "another than was kept"),
    "an entry put in": (put_in, "written past its head"),
    "what was signed": (run_sql("UPDATE operations_signature SET lines = replace(lines, 'a', 'b')"), "do not fit their print"),
    "a signature taken out": (run_sql("DELETE FROM operations_signature"), "what was signed is missing"),
    "a document": (run_sql("UPDATE plans_revision SET document = replace(document, '60.0', '61.0')"), "does not fit its SHA-256"),
    "a document with its hash": (revision_changed, "revision 1: another than was kept"),
    "readings": (run_sql("UPDATE readings_readingblock SET count = 19 WHERE first = 20"), "do not fit their hash"),
    "readings cut off": (run_sql("DELETE FROM readings_readingblock WHERE first = 40"), "readings of cell"),
    "the last readings made anew": (readings_anew, "readings of cell"),
    "a cell's unit": (run_sql("UPDATE readings_cell SET unit = 'N'"), "readings of cell"),
    "somebody's name": (run_sql("UPDATE auth_user SET username = 'somebody' WHERE username = 'member'"), "who wrote as member is called somebody"),
    "what was done in the run": (run_sql(f"UPDATE {RUN} SET done = '[]'"), "run"),
    "where the run is": (run_sql(f"UPDATE {RUN} SET at = 'strike/1'"), "otherwise than was kept"),
    "the run": (run_sql(f"DELETE FROM {RUN}"), "gone"),
    "a photograph": (in_folder(".png", picture(size=(64, 48))), "is another one"),
    "the small one of a photograph": (in_folder("small.jpg", picture("JPEG", (64, 48))), "the small one of its photograph"),
    "a photograph gone": (in_folder(".png", None), "is missing"),
    "the head itself": (head_forged, "its head is not one that this installation signed"),
}  # fmt: skip


@pytest.mark.parametrize(("change", "said"), CHANGES.values(), ids=CHANGES)
def test_what_was_changed_past_the_program_is_named(plan, change, said):
    change(plan)
    with pytest.raises(CommandError, match=said):
        call_command("verify_log", stdout=StringIO())


def test_a_whole_plan_taken_out_is_named(plan):
    with connection.cursor() as cursor:
        for table, of in (
            ("operations_signature", ""), (LOG, ""), ("readings_readingblock", ""), ("readings_cell", ""), (RUN, ""), ("plans_revision", ""),
            ("plans_plan", ""),
        ):  # fmt: skip
            cursor.execute(f"DELETE FROM {table}{of}")
    with pytest.raises(CommandError, match="is gone, with all of its log"):
        call_command("verify_log", stdout=StringIO())


def test_a_supply_that_failed_before_the_writing_was_settled_leaves_a_head_that_fits(plan, leader, monkeypatch):
    """The head is written first, with the one before; the one before leaves it when what was written is settled."""
    write = heads._write
    monkeypatch.setattr(heads, "_write", lambda plan, state, was: write(plan, state, was) if was else None)
    append(plan, leader.user, id=uuid.uuid4(), revision=plan.latest, kind="decision", decision="Lost")
    assert list(heads.broken(plan)) == []
    run_sql(f"DELETE FROM {LOG} WHERE decision = 'Lost'")(plan)
    assert list(heads.broken(plan)) == []
    # And one that is older still is named.
    run_sql(f"DELETE FROM {LOG} WHERE decision = 'The last word'")(plan)
    assert "gone" in next(heads.broken(plan))


def test_what_was_changed_is_named_whatever_is_written_after_it(plan, leader):
    """A head is not made anew of what stands in the database: what nobody wrote to is as it was kept."""
    run_sql("UPDATE operations_run SET status = 'ended'", "UPDATE readings_cell SET place = 'belay'")(plan)
    append(plan, leader.user, id=uuid.uuid4(), revision=plan.latest, kind="decision", decision="On with it")
    assert sorted(said.split(", ")[1].split(" ")[0] for said in heads.broken(plan)) == ["readings", "run"]


def test_times_with_another_zone_are_sealed_as_they_are_read_back(leader, plan):
    for time in ("2026-03-01T12:00:00+02:00", "2026-03-01T23:30:00-09:30", "2026-03-01T12:00:00Z"):
        status, told = leader.say(plan, "seen", device_time=time)
        assert status == 200 and datetime.fromisoformat(told["device_time"]) == datetime.fromisoformat(time)
    assert leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"] == []


@pytest.mark.parametrize(
    "time", ["0001-01-01T00:00:00+05:00", "9999-12-31T23:59:59-05:00", "2026-03-01T12:00:00", "1970-01-01T00:00:00Z"]
)
def test_a_clock_that_is_not_set_is_refused_by_its_field(leader, plan, time):
    status, told = leader.say(plan, "seen", device_time=time)
    assert status == 422 and told["faults"][0]["path"] == "device_time"
