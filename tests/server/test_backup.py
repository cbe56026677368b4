"""A backup made under writing load and an installation made from it; killed in the middle, changed, or made to do harm."""

import hashlib
import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import uuid
import zipfile
from pathlib import Path

import pytest
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey

from tests.conftest import Server
from tests.pictures import picture
from tests.plans import ROOT
from tests.server.test_durability import Caller, whole_log, writes


def manage(var: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "OUTRIGGER_VAR": str(var), "PYTHONPATH": f"{ROOT}:{ROOT / 'server'}"}
    command = [sys.executable, str(ROOT / "server" / "manage.py"), *arguments]
    return subprocess.run(command, env=env, capture_output=True, text=True)


def restored(var: Path, backup: Path, *more: str) -> subprocess.CompletedProcess[str]:
    """An installation made from a backup, by whoever knows the print of the key that signed it."""
    with zipfile.ZipFile(backup) as archive:
        key = bytes.fromhex(json.loads(archive.read("manifest.signed.json"))["key"])
    print_of = hashlib.sha256(key).hexdigest().upper()[:20]
    return manage(var, "restore", str(backup), "--print", print_of, *more)


@pytest.fixture(scope="module")
def team(tmp_path_factory):
    """A server with a photograph in a log."""
    one = Server(tmp_path_factory.mktemp("var"))
    caller = Caller(one)
    plan = caller.send("GET", "/plans")[0]["id"]
    photograph(one, caller, plan)
    yield one
    one.kill()


def photograph(server: Server, caller: Caller, plan: str) -> None:
    import urllib.request

    edge = uuid.uuid4().hex
    head = f'--{edge}\r\nContent-Disposition: form-data; name="id"\r\n\r\n{uuid.uuid4()}\r\n--{edge}\r\n'
    head += 'Content-Disposition: form-data; name="file"; filename="lip.jpg"\r\nContent-Type: image/jpeg\r\n\r\n'
    body = head.encode() + picture() + f"\r\n--{edge}--\r\n".encode()
    headers = {"Content-Type": f"multipart/form-data; boundary={edge}", "X-CSRFToken": caller.token}
    request = urllib.request.Request(f"{server.url}/api/plans/{plan}/photographs", body, headers)
    with caller.opener.open(request, timeout=10) as answer:
        assert answer.status == 200


def var_of(server: Server) -> Path:
    return Path(server.env["OUTRIGGER_VAR"])


@pytest.fixture(scope="module")
def backup(team, tmp_path_factory) -> Path:
    file = tmp_path_factory.mktemp("backup") / "one.zip"
    team.manage("backup", str(file))
    return file


def test_a_backup_under_eight_writers_is_whole_and_holds_all_that_was_acknowledged_before_it(team, tmp_path):
    plan = Caller(team).send("GET", "/plans")[0]["id"]
    acknowledged: list[list[str]] = [[] for _ in range(8)]
    enough = threading.Event()
    writers = [
        threading.Thread(target=writes, args=(team, plan, 10_000, acknowledged[n], enough), daemon=True)
        for n in range(8)
    ]
    for one in writers:
        one.start()
    while sum(map(len, acknowledged)) < 100:
        time.sleep(0.02)
    before = [id for mine in acknowledged for id in mine]
    file = tmp_path / "under-load.zip"
    team.manage("backup", str(file))
    enough.set()
    for one in writers:
        one.join(timeout=120)
    assert sum(map(len, acknowledged)) > len(before), "it was made while others wrote"
    elsewhere = tmp_path / "elsewhere"
    told = restored(elsewhere, file)
    assert told.returncode == 0 and "every hash fits" in told.stdout, told.stderr
    with sqlite3.connect(elsewhere / "outrigger.sqlite3") as database:
        there = {str(uuid.UUID(id)) for (id,) in database.execute("SELECT id FROM operations_logentry")}
        assert database.execute("SELECT count(*) FROM django_session").fetchone() == (0,)
    assert set(before) <= there
    assert "every hash fits" in manage(elsewhere, "verify_log").stdout


def test_what_is_restored_is_served_with_its_photographs(backup, tmp_path):
    assert restored(tmp_path, backup).returncode == 0
    served = Server(tmp_path)
    try:
        caller = Caller(served)
        plan = next(one["id"] for one in caller.send("GET", "/plans") if whole_log(caller, one["id"]))
        assert caller.send("GET", f"/plans/{plan}/log/verified")["broken"] == []
    finally:
        served.kill()
    assert len(list((tmp_path / "photographs").iterdir())) == 2


def test_nothing_is_written_over(team, backup):
    told = restored(var_of(team), backup)
    assert told.returncode == 1 and "is there already" in told.stderr


def test_killed_in_the_middle_a_backup_leaves_no_half_file_and_a_restore_can_be_made_again(team, backup, tmp_path):
    """Killed at moments spread over the whole of the work."""
    chance = random.Random(7)
    env = {**os.environ, "OUTRIGGER_VAR": str(var_of(team)), "PYTHONPATH": f"{ROOT}:{ROOT / 'server'}"}
    for number in range(6):
        file = tmp_path / f"{number}.zip"
        command = [sys.executable, str(ROOT / "server" / "manage.py"), "backup", str(file)]
        killed(command, env, 0.4 + 0.6 * chance.random())
        if file.exists():
            with zipfile.ZipFile(file) as archive:
                assert archive.testzip() is None and "manifest.json" in archive.namelist()
    with zipfile.ZipFile(backup) as archive:
        key = bytes.fromhex(json.loads(archive.read("manifest.signed.json"))["key"])
    signer, empty = hashlib.sha256(key).hexdigest()[:20], tmp_path / "empty"
    env["OUTRIGGER_VAR"] = str(empty)
    for _ in range(6):
        killed(
            [sys.executable, str(ROOT / "server" / "manage.py"), "restore", str(backup), "--print", signer],
            env,
            0.4 + 0.8 * chance.random(),
        )
    told = restored(empty, backup)
    # Either it was finished before it was killed, or it goes now; never half of it.
    assert told.returncode == 0 or "is there already" in told.stderr
    assert manage(empty, "migrate", "-v0").returncode == 0
    assert "every hash fits" in manage(empty, "verify_log").stdout


def killed(command: list[str], env: dict[str, str], after_s: float) -> None:
    process = subprocess.Popen(command, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    time.sleep(after_s)
    process.send_signal(signal.SIGKILL)
    process.wait()


def changed(backup: Path, to: Path, change) -> Path:
    """A backup with one of its files changed by somebody who signs it anew with a key of their own; `change(name, content)` gives the new name and
    content, or None to leave it out."""
    mine = Ed25519PrivateKey.generate()
    with zipfile.ZipFile(backup) as source, zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED) as target:
        told = b""
        for name in source.namelist():
            if name != "manifest.signed.json" and (found := change(name, source.read(name))) is not None:
                target.writestr(*found)
                told = found[1] if name == "manifest.json" else told
        signed = {"key": mine.public_key().public_bytes_raw().hex(), "signature": mine.sign(told).hex()}
        target.writestr("manifest.signed.json", json.dumps(signed))
    return to


def test_only_a_manifest_signed_by_who_it_should_be_from_is_believed(backup, tmp_path):
    told = manage(tmp_path / "new", "restore", str(backup))
    assert told.returncode == 1 and "it is signed by the key with the print" in told.stderr
    # Everything fits, and somebody else has signed it.
    file = changed(backup, tmp_path / "changed.zip", lambda name, content: (name, content))
    with zipfile.ZipFile(backup) as archive:
        signed = archive.read("manifest.signed.json")
    key = hashlib.sha256(bytes.fromhex(json.loads(signed)["key"])).hexdigest()[:20]
    told = manage(tmp_path / "new", "restore", str(file), "--print", key)
    assert told.returncode == 1 and "it is signed by the key with the print" in told.stderr
    # The right key's signature, under another manifest.
    with zipfile.ZipFile(file) as source, zipfile.ZipFile(tmp_path / "forged.zip", "w") as target:
        for name in source.namelist():
            content = signed if name == "manifest.signed.json" else source.read(name)
            target.writestr(name, content.replace(b'"plans"', b' "plans"') if name == "manifest.json" else content)
    told = manage(tmp_path / "new", "restore", str(tmp_path / "forged.zip"), "--print", key)
    assert told.returncode == 1 and "does not fit its signature" in told.stderr
    assert not (tmp_path / "new" / "outrigger.sqlite3").exists()


def manifest(**more):
    def change(name, content):
        if name != "manifest.json":
            return name, content
        said = json.loads(content)
        for key, value in more.items():
            said[key] = value(said[key]) if callable(value) else value
        return name, json.dumps(said).encode()

    return change


def flipped(name, content):
    """One byte of the database changed."""
    return (
        (name, content[:5000] + bytes([content[5000] ^ 1]) + content[5001:])
        if name.endswith(".sqlite3")
        else (name, content)
    )


def swapped(name, content):
    return (name, picture(size=(64, 48))) if name.endswith(".png") else (name, content)


WRONG = [
    ("a changed byte", flipped, "outrigger.sqlite3 is not as it was backed up"),
    ("a swapped photograph", swapped, "is not as it was backed up"),
    ("a photograph left out", lambda name, content: None if name.endswith("small.jpg") else (name, content), "is missing from it"),
    ("a file outside its folder", manifest(files=lambda files: {**files, "photographs/../../cron": "0"}), "outside its folder"),
    ("another version", manifest(version=9), "newer Outrigger"),
    ("a migration nobody here knows", manifest(migrations=lambda rows: [*rows, "operations.0999_later"]), "newer Outrigger (operations.0999_later)"),
    ("something else", manifest(format="holiday-pictures"), "holiday-pictures"),
    ("no manifest", lambda name, content: None if name == "manifest.json" else (name, content), "no manifest"),
    ("a guest", lambda name, content: (name.replace("manifest", "readme"), content), "no manifest"),
]  # fmt: skip


@pytest.mark.parametrize(("change", "said"), [row[1:] for row in WRONG], ids=[row[0] for row in WRONG])
def test_what_is_no_backup_as_it_was_made_is_refused_by_name_and_leaves_nothing(backup, tmp_path, change, said):
    file = changed(backup, tmp_path / "changed.zip", change)
    told = restored(tmp_path / "new", file)
    assert told.returncode == 1 and said in told.stderr, told.stderr
    assert not (tmp_path / "new" / "outrigger.sqlite3").exists()


def test_a_bomb_is_not_unpacked(backup, tmp_path):
    """A gigabyte of nothing under a name that says it is the database, and a file that is no archive at all."""
    bomb = tmp_path / "bomb.zip"

    def change(name, content):
        return None if name.endswith(".sqlite3") else (name, content)

    changed(backup, bomb, change)
    with (
        zipfile.ZipFile(bomb, "a", zipfile.ZIP_DEFLATED) as archive,
        archive.open("outrigger.sqlite3", "w", force_zip64=True) as out,
    ):
        for _ in range(64):
            out.write(bytes(4 * 1024 * 1024))
    for told in (restored(tmp_path / "new", bomb), manage(tmp_path / "new", "restore", __file__)):
        assert told.returncode == 1 and "Traceback" not in told.stderr
        assert not (tmp_path / "new" / "outrigger.sqlite3").exists()


def test_a_full_disk_leaves_the_backup_before_and_says_so(team, tmp_path):
    """A folder of one megabyte: no half file, and the server goes on."""
    small = tmp_path / "small"
    small.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=64k", "tmpfs", str(small)], capture_output=True).returncode:
        pytest.skip("no small disk can be made here")
    try:
        told = manage(var_of(team), "backup", str(small / "one.zip"))
        assert told.returncode == 1 and list(small.iterdir()) == []
        assert Caller(team).send("GET", "/plans")
    finally:
        subprocess.run(["umount", str(small)], check=True)


def test_whoever_leads_every_team_takes_it_and_nobody_else(people):
    leader, member = people["leader"], people["member"]
    assert member.get("/backup")[0] == 403
    assert member.send("POST", "/backup")[0] == 403
    status, told = leader.get("/backup")
    assert status == 200 and "name" in told
    assert leader.get("/backup/secret-key")[0] == 404
