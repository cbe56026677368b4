"""A plan handed over: the bundle out and in again, everything altered in it named, and a link that ends."""

import csv
import hashlib
import io
import json
import shutil
import uuid
import zipfile
from datetime import timedelta

import pytest
from accounts.models import Membership, Team
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import Client
from django.test.utils import override_settings
from django.utils import timezone
from handover.bundle import parts_of, write_bundle
from operations import photos
from operations.models import LogEntry
from plans.models import HandedOver, ObserverLink, Plan
from readings import watching
from sealing import keys
from sealing.seals import broken_seals
from storing.canonical import canonical

from tests.pictures import picture
from tests.plans import changed, demo_document
from tests.server.conftest import Person, made_once
from tests.server.test_readings import batch
from tests.server.test_readings import send as send_readings
from tests.server.test_run import act, go_to, send


@pytest.fixture(scope="module")
def made(django_db_setup, django_db_blocker, tmp_path_factory):
    """A filled plan with its people and its folder, made once."""
    with made_once(django_db_blocker.unblock(), tmp_path_factory.mktemp("made"), filled) as made:
        yield made


@pytest.fixture(autouse=True)
def _own_folder(settings, tmp_path, made):
    settings.VAR = shutil.copytree(made[2], tmp_path / "var")


@pytest.fixture
def people(db, made):
    return made[0]


@pytest.fixture
def whole(db, made):
    return Plan.objects.get(pk=made[1].pk)


def filled(people, plan):
    """A plan with everything that can be in one: two revisions, a run, decisions, something signed, a photograph, readings."""
    leader, cell = people["leader"], str(uuid.uuid4())
    leader.send("POST", f"/plans/{plan.id}/cells", {"id": cell, "name": "one", "place": "load"})
    act(leader, plan, "begin")
    leader.say(plan, "Roller on the lip", reason="41° there")
    leader.save(plan, 1, changed(demo_document(), lines__0__haul__bends__G="ball-bearing-pulley"))
    go_to(leader, plan, "raise:1/2")
    send(people["member"], plan, picture())
    send_readings(leader, plan, batch(cell))
    send_readings(leader, plan, batch(cell, first=3, at=timezone.now().isoformat()))
    line = {"piece": "rope:main", "becomes": "inspect", "seen": ["mud"], "note": ""}
    assert leader.send("POST", f"/plans/{plan.id}/gear", {"id": str(uuid.uuid4()), "lines": [line]})[0] == 200
    call_command("verify_log", stdout=io.StringIO())
    watching._watched.clear()


@pytest.fixture(scope="module")
def content(made):
    with override_settings(VAR=made[2]):
        return bundle_of(made[1])


@pytest.fixture
def bundle(content, whole, settings, tmp_path):
    """Its bundle, in another installation."""
    emptied(settings, tmp_path)
    return content


# Every table that holds something of a plan, those first that point at others.
_TABLES = (
    "readings_readingblock", "readings_cell", "operations_run", "operations_signature", "operations_logentry", "handover_handedover",
    "handover_observerlink", "plans_revision", "plans_plan",
)  # fmt: skip


def emptied(settings, tmp_path):
    """Another installation: nothing in it, and a key of its own."""
    with connection.cursor() as cursor:
        triggers = cursor.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in triggers:
            cursor.execute(f"DROP TRIGGER {name}")
        for table in _TABLES:
            cursor.execute(f"DELETE FROM {table}")
        for _, made in triggers:
            cursor.execute(made)
    settings.VAR = tmp_path / "elsewhere"


def bundle_of(plan):
    out = io.BytesIO()
    write_bundle(plan, out)
    return out.getvalue()


def read_in(person, content, team=None):
    body = {"team": team or Team.objects.get().id, "file": SimpleUploadedFile("bundle.zip", content)}
    answer = person.client.post("/api/handover", body)
    return answer.status_code, answer.json()


def rewritten(bundle, name=None, change=None, resign=False, **more):
    """A bundle with the content of one file changed, or with more files; `resign`: by somebody with a key of their own."""
    files = {
        one.filename: zipfile.ZipFile(io.BytesIO(bundle)).read(one)
        for one in zipfile.ZipFile(io.BytesIO(bundle)).infolist()
    }
    files |= more
    if name:
        files[name] = change(files[name])
    if resign:
        manifest = json.loads(files["manifest.json"])
        manifest["files"] = {
            one: hashlib.sha256(content).hexdigest()
            for one, content in files.items()
            if one not in ("manifest.json", "signature.json")
        }
        files["manifest.json"] = json.dumps(manifest).encode()
        by = {"key": keys.public_key().hex(), "signature": keys.signed(files["manifest.json"]).hex()}
        files["signature.json"] = json.dumps(by).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for one, content in files.items():
            if content is not None:
                archive.writestr(one, content)
    return out.getvalue()


def test_a_bundle_read_into_an_empty_installation_is_the_same_and_every_seal_fits(leader, whole, settings, tmp_path):
    bundle, before = bundle_of(whole), parts_of(whole)
    print_before = keys.print_of(keys.public_key())
    debrief, gear = leader.get(f"/plans/{whole.id}/debrief")[1], leader.get(f"/plans/{whole.id}/gear")[1]
    emptied(settings, tmp_path)
    assert not Plan.objects.exists()
    status, told = read_in(leader, bundle)
    assert status == 200, told
    plan = Plan.objects.get()
    assert plan.id == whole.id and list(broken_seals(plan)) == []
    after = parts_of(plan)
    assert [one.name for one in after.people] == ["leader (handed over)", "member (handed over)"]
    assert [one.id for one in after.people] == [one.id for one in before.people]
    assert after.log == before.log and after.readings == before.readings and after.runs == before.runs
    assert [one.document for one in after.revisions] == [one.document for one in before.revisions]
    assert HandedOver.objects.get().key_print == print_before
    again, gear_again = leader.get(f"/plans/{plan.id}/debrief")[1], leader.get(f"/plans/{plan.id}/gear")[1]
    assert again["operation"] == debrief["operation"] and again["done"] == debrief["done"]
    assert again["cells"] == debrief["cells"]
    assert [one["id"] for one in gear_again["report"]["pieces"]] == [one["id"] for one in gear["report"]["pieces"]]
    assert gear_again["signed"]["rope:main"]["found"] == gear["signed"]["rope:main"]["found"]
    photo = next(one for one in after.log if one.kind == "photo")
    assert leader.client.get(f"/api/plans/{plan.id}/photographs/{photo.id}").status_code == 200
    call_command("verify_log", stdout=io.StringIO())


def test_what_was_handed_over_is_read_and_nothing_is_written_to_it(leader, people, whole, settings, tmp_path):
    bundle = bundle_of(whole)
    emptied(settings, tmp_path)
    read_in(leader, bundle)
    count = LogEntry.objects.count()
    assert leader.get(f"/plans/{whole.id}")[1]["team"]["role"] == "observer"
    assert leader.say(whole, "one more")[0] == 403
    assert leader.save(whole, 2, demo_document())[0] == 403
    for name in ("stop", "done", "end"):
        assert act(leader, whole, name, at="raise:1/2")[0] == 403
    assert (
        leader.send("POST", f"/plans/{whole.id}/cells", {"id": str(uuid.uuid4()), "name": "x", "place": "load"})[0]
        == 403
    )
    assert LogEntry.objects.count() == count
    # The names in it are of people who can not sign in here, whoever is called the same.
    authors = {one.author.get_username() for one in LogEntry.objects.all()}
    assert authors == {"leader (handed over)", "member (handed over)"}
    assert not any(one.author.is_active for one in LogEntry.objects.select_related("author"))
    again = bundle_of(Plan.objects.get())
    assert json.loads(zipfile.ZipFile(io.BytesIO(again)).read("log.json")) == json.loads(
        zipfile.ZipFile(io.BytesIO(bundle)).read("log.json")
    )


def swapped(old, new):
    def change(content):
        assert old.encode() in content
        return content.replace(old.encode(), new.encode(), 1)

    return change


def by_another(content):
    """The first entry under the name of somebody else who wrote."""
    entries = json.loads(content)
    entries[0]["author"] = next(one["author"] for one in entries if one["author"] != entries[0]["author"])
    return json.dumps(entries).encode()


ALTERED = [
    ("a reason", "log.json", swapped("41° there", "14° there"), "entry 2"),
    ("who wrote it", "log.json", by_another, "entry 1"),
    ("the plan", "revisions.json", swapped('"haulers": 7', '"haulers": 9'), "revision 1"),
    ("a hash", "revisions.json", swapped('"sha256": "', '"sha256": "0'), ""),
    ("a step", "runs.json", swapped("raise:1/2", "raise:1/1"), ""),
    ("a name", "people.json", swapped("member", "nobody"), ""),
    ("a reading", "readings.json", swapped('"from_ms": ', '"from_ms": 1'), "readings of one"),
    ("the table", "log.csv", swapped("41° there", "14° there"), ""),
    ("the schema", "schema.json", swapped("object", "objekt"), ""),
    ("the manifest", "manifest.json", swapped('"title": "', '"title": "x'), ""),
    ("the signature", "signature.json", swapped('"signature": "', '"signature": "0'), ""),
]  # fmt: skip


@pytest.mark.parametrize(("name", "change", "also"), [row[1:] for row in ALTERED], ids=[row[0] for row in ALTERED])
def test_a_changed_byte_in_any_part_is_named_and_nothing_is_kept(leader, bundle, name, change, also):
    status, told = read_in(leader, rewritten(bundle, name, change))
    assert status == 422
    assert told["faults"][0]["path"] == name, told
    assert also in " ".join(one["problem"] for one in told["faults"])
    assert not Plan.objects.exists() and not LogEntry.objects.exists() and not HandedOver.objects.exists()
    assert not list(photos.folder().glob("*")) if photos.folder().exists() else True


def test_a_photograph_that_was_swapped_is_named(leader, bundle):
    name = next(one for one in zipfile.ZipFile(io.BytesIO(bundle)).namelist() if one.startswith("photographs/"))
    other = rewritten(bundle, name, lambda content: content + b"0")
    missing = rewritten(bundle, name, lambda content: None)
    for one in (other, missing):
        status, told = read_in(leader, one)
        assert status == 422 and told["faults"][0]["path"] == name
        assert any("photograph" in each["problem"] for each in told["faults"])


@pytest.mark.parametrize(
    ("name", "change", "also"), [row[1:] for row in ALTERED[:3]], ids=[row[0] for row in ALTERED[:3]]
)
def test_who_signs_an_altered_bundle_anew_is_still_found_by_the_chain(leader, bundle, name, change, also):
    status, told = read_in(leader, rewritten(bundle, name, change, resign=True))
    assert status == 422 and also in " ".join(one["problem"] for one in told["faults"])


def test_names_sizes_and_files_that_have_no_place_in_a_bundle_are_refused(leader, bundle, tmp_path):
    for stray in ("../../evil.py", "/etc/passwd", "photographs/../x.jpg", "more.json"):
        status, told = read_in(leader, rewritten(bundle, **{stray: b"x"}))
        assert status == 422 and told["faults"][0]["path"] == "file" and stray in told["faults"][0]["problem"]
    for content in (b"", b"not a zip", bundle[: len(bundle) // 2]):
        status, told = read_in(leader, content)
        assert status == 422 and told["faults"][0]["path"] == "file"
    for gone in ("manifest.json", "signature.json", "log.json"):
        status, told = read_in(leader, rewritten(bundle, gone, lambda content: None))
        assert status == 422 and gone in json.dumps(told)
    assert not Plan.objects.exists() and not list(tmp_path.glob("**/evil.py"))


def test_a_bundle_that_unpacks_without_end_is_refused(leader, plan):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive, archive.open("log.json", "w") as part:
        for _ in range(300):
            part.write(b"0" * 1024**2)
    assert len(out.getvalue()) < 1024**2
    status, told = read_in(leader, out.getvalue())
    assert status == 422 and "unpacks to more" in told["faults"][0]["problem"]


def test_a_plan_that_is_here_already_is_not_read_in_over_it(leader, whole):
    status, told = read_in(leader, bundle_of(whole))
    assert status == 422 and "here already" in told["faults"][0]["problem"]


def test_a_bundle_is_taken_out_by_readers_and_read_in_by_leaders_only(leader, people, whole):
    assert people["observer"].client.get(f"/api/plans/{whole.id}/bundle").status_code == 200
    assert people["outsider"].client.get(f"/api/plans/{whole.id}/bundle").status_code == 404
    for who in ("member", "observer", "outsider"):
        assert read_in(people[who], b"x")[0] == 403


def test_the_log_goes_out_as_a_table_and_as_json_with_its_hashes(leader, whole):
    text = b"".join(leader.client.get(f"/api/plans/{whole.id}/log.csv").streaming_content).decode()
    rows, entries = list(csv.DictReader(io.StringIO(text))), leader.get(f"/plans/{whole.id}/log.json")[1]
    assert len(rows) == len(entries) == whole.log.count()
    assert (
        [one["hash"] for one in rows]
        == [one["hash"] for one in entries]
        == list(whole.log.values_list("hash", flat=True))
    )
    assert rows[1]["reason"] == "41° there"


# The link for a reader from outside


def let_in(leader, plan, days=7):
    return leader.send("POST", f"/plans/{plan.id}/observers", {"name": "County reviewer", "days": days})[1]["path"]


def comes(path):
    reader = Person(None)
    token = path.removeprefix("/look/")
    assert reader.get(f"/look/{token}")[1]["name"] == "County reviewer"
    assert reader.send("POST", f"/look/{token}")[0] == 200
    return reader


def test_a_link_lets_somebody_read_this_one_plan_and_write_nothing(leader, people, whole):
    other = leader.send(
        "POST", "/plans", {"team": Team.objects.get().id, "id": str(uuid.uuid4()), "document": demo_document()}
    )[1]
    reader = comes(let_in(leader, whole))
    assert [one["id"] for one in reader.get("/plans")[1]] == [str(whole.id)]
    for path in ("", "/run", "/log", "/debrief", "/gear", "/handover", "/log/verified", "/log.json"):
        assert reader.get(f"/plans/{whole.id}{path}")[0] == 200, path
    assert reader.client.get(f"/api/plans/{whole.id}/papers/run").status_code == 200
    assert reader.get(f"/plans/{other['id']}")[0] == 404
    before = LogEntry.objects.count()
    assert reader.say(whole, "I was here")[0] == 403
    assert act(reader, whole, "stop")[0] == 403
    assert reader.save(whole, 2, demo_document())[0] == 403
    assert reader.send("POST", f"/plans/{whole.id}/observers", {"name": "me too"})[0] == 403
    assert reader.get("/backup")[0] == 403 and not Membership.objects.filter(user__username__contains="reader").exists()
    assert LogEntry.objects.count() == before


def test_a_reader_is_let_in_to_a_plan_that_was_handed_over_and_told_who_made_it(leader, whole, settings, tmp_path):
    bundle, made_by = bundle_of(whole), keys.print_of(keys.public_key())
    emptied(settings, tmp_path)
    read_in(leader, bundle)
    told = comes(let_in(leader, whole)).get(f"/plans/{whole.id}/handover")[1]
    assert told["handed_over_print"] == made_by != told["key_print"] and told["until"] and told["broken"] == []
    assert told["links"] is None


def test_a_link_ends_at_its_date_and_when_the_leader_ends_it(leader, people, whole):
    path = let_in(leader, whole)
    reader = comes(path)
    assert reader.get(f"/plans/{whole.id}/log")[0] == 200
    ObserverLink.objects.update(ends_at=timezone.now() - timedelta(seconds=1))
    assert reader.get(f"/plans/{whole.id}/log")[0] == 404 and reader.get("/plans")[1] == []
    assert Person(None).get(f"/look/{path.removeprefix('/look/')}")[0] == 404
    again = comes(let_in(leader, whole))
    link = leader.get(f"/plans/{whole.id}/handover")[1]["links"][0]
    assert link["used"] and link["name"] == "County reviewer"
    assert people["member"].send("DELETE", f"/plans/{whole.id}/observers/{link['id']}")[0] == 403
    assert leader.send("DELETE", f"/plans/{whole.id}/observers/{link['id']}")[1]["links"] == []
    assert again.get(f"/plans/{whole.id}/log")[0] == 404


@pytest.mark.parametrize(
    "body", [{"name": "", "days": 3}, {"name": "  "}, {"name": "x", "days": 0}, {"name": "x", "days": 400}]
)
def test_a_link_is_for_somebody_and_for_a_while(leader, plan, body):
    status, told = leader.send("POST", f"/plans/{plan.id}/observers", body)
    assert status == 422 and told["faults"][0]["path"] in ("name", "days")


def test_only_a_leader_makes_a_link(people, plan):
    for who in ("member", "observer", "outsider"):
        assert people[who].send("POST", f"/plans/{plan.id}/observers", {"name": "x"})[0] in (403, 404)


def test_what_is_said_of_the_seals_is_signed_by_this_installation(leader, whole):
    told = leader.get(f"/plans/{whole.id}/handover")[1]
    said = canonical(told["statement"]).encode()
    assert keys.fits(bytes.fromhex(told["key"]), bytes.fromhex(told["signature"]), said)
    assert not keys.fits(bytes.fromhex(told["key"]), bytes.fromhex(told["signature"]), said + b" ")
    assert told["broken"] == [] and told["statement"]["last_hash"] == whole.log.last().hash
    assert told["key_print"] == keys.print_of(bytes.fromhex(told["key"]))
    with connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER operations_logentry_no_update")
        cursor.execute("UPDATE operations_logentry SET reason = 'nothing' WHERE sequence = 2")
    assert "log entry 2" in leader.get(f"/plans/{whole.id}/handover")[1]["broken"][0]


def test_the_key_is_readable_by_nobody_else(settings):
    keys.public_key()
    assert (settings.VAR / "keys" / "handover.key").stat().st_mode & 0o077 == 0


def test_signed_out_nobody_reads_a_plan(plan):
    assert Client(headers={"host": "localhost"}).get(f"/api/plans/{plan.id}/handover").status_code == 401
