"""One consistent file of everything an installation holds, made while it runs, and an installation made from such a file.

A backup is a ZIP archive: the database as SQLite's own backup has it at one moment, the photographs that its log names, a manifest
with the SHA-256 of each, the time, and the migrations of the database, and that manifest signed with the installation's key. Nobody's session is in it.
"""

import hashlib
import json
import sqlite3
import zipfile
import zlib
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone
from operations import photos
from plans.models import Plan
from pydantic import BaseModel, ValidationError
from sealing import keys
from sealing.seals import broken_seals
from storing.settled import settle

from rigging.quantities.faults import refuse

_FORMAT, _VERSION = "outrigger-backup", 1
_DATABASE, _MANIFEST, _SIGNED, _PHOTOGRAPHS = (
    "outrigger.sqlite3",
    "manifest.json",
    "manifest.signed.json",
    "photographs/",
)
# Unpacked, nothing of an archive may be larger; a database of half a million entries is a tenth of it.
_LARGEST = 8 * 1024**3
_LARGEST_MANIFEST = 16 * 1024**2
_KEPT = 5
_CHUNK = 1024 * 1024


class Manifest(BaseModel):
    """What a backup holds: the SHA-256 of every file by its name in it."""

    format: str
    version: int
    made_at: datetime
    migrations: list[str]
    plans: int
    entries: int
    files: dict[str, str]


def folder(var: Path) -> Path:
    return var / "backups"


def kept(var: Path) -> list[Path]:
    """The backups that are there, the newest first."""
    return sorted(folder(var).glob("outrigger-*.zip"), reverse=True)


def made_at(file: Path) -> datetime:
    """When a backup was made, as its name says."""
    return datetime.strptime(file.stem, "outrigger-%Y%m%d-%H%M%S-%f").replace(tzinfo=UTC)


def back_up(var: Path, to: Path | None = None) -> Path:
    """A backup made now, while others write; where `to` is not given it is kept with the last few."""
    made = timezone.now()
    file = to or folder(var) / f"outrigger-{made:%Y%m%d-%H%M%S-%f}.zip"
    file.parent.mkdir(parents=True, exist_ok=True)
    part, copy = file.with_suffix(".zip.part"), file.with_suffix(".sqlite3.part")
    try:
        entries, plans, names = _copied(var / _DATABASE, copy)
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
            prints = {_DATABASE: _put(archive, copy, _DATABASE)}
            for name in names:
                prints[_PHOTOGRAPHS + name] = _put(archive, var / "photographs" / name, _PHOTOGRAPHS + name)
            said = Manifest(
                format=_FORMAT, version=_VERSION, made_at=made, migrations=_migrations(copy), plans=plans, entries=entries, files=prints
            )  # fmt: skip
            told = said.model_dump_json(indent=1).encode()
            archive.writestr(_MANIFEST, told)
            archive.writestr(
                _SIGNED, json.dumps({"key": keys.public_key().hex(), "signature": keys.signed(told).hex()})
            )
        settle(part, file)
    finally:
        for one in (part, copy):
            one.unlink(missing_ok=True)
    if to is None:
        for old in kept(var)[_KEPT:]:
            old.unlink(missing_ok=True)
    return file


def _copied(database: Path, copy: Path) -> tuple[int, int, list[str]]:
    """The database at one moment, without sessions; how many entries and plans, and the files of its photographs."""
    copy.unlink(missing_ok=True)
    source = sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=30)
    target = sqlite3.connect(copy)
    with closing(source), closing(target):
        source.backup(target)
        target.execute("DELETE FROM django_session")
        target.commit()
        target.execute("PRAGMA journal_mode=DELETE")
        target.execute("VACUUM")
        entries = target.execute("SELECT count(*) FROM operations_logentry").fetchone()[0]
        plans = target.execute("SELECT count(*) FROM plans_plan").fetchone()[0]
        said = target.execute("SELECT data FROM operations_logentry WHERE kind = 'photo'").fetchall()
    files = [photos.file_of(json.loads(one), small) for (one,) in said for small in (False, True)]
    return entries, plans, sorted({one.name for one in files if one.exists()})


def _migrations(database: Path) -> list[str]:
    with closing(sqlite3.connect(database)) as one:
        return [
            f"{app}.{name}" for app, name in one.execute("SELECT app, name FROM django_migrations ORDER BY app, name")
        ]


def _put(archive: zipfile.ZipFile, file: Path, name: str) -> str:
    found = hashlib.sha256()
    with file.open("rb") as source, archive.open(name, "w", force_zip64=True) as target:
        while chunk := source.read(_CHUNK):
            found.update(chunk)
            target.write(chunk)
    return found.hexdigest()


def restore(file: Path, var: Path, key_print: str | None = None) -> Manifest:
    """An empty installation made from a backup; under its name only once every hash of it fits. `key_print`: of the installation that made it, as
    it stands on its papers and was told when the backup was made; not needed where that is this one.

    Raises
    ------
    Refused
        If there is an installation already, or the file is no backup, is damaged, was changed, or is of a newer version.
    """
    database = var / _DATABASE
    if database.exists():
        raise refuse("folder", f"{database.name} is there already", "restore into an empty folder: set OUTRIGGER_VAR")
    part = database.with_suffix(".sqlite3.part")
    _clear(part)
    try:
        with zipfile.ZipFile(file) as archive:
            manifest = _manifest(archive, key_print)
            var.mkdir(parents=True, exist_ok=True)
            (var / "photographs").mkdir(exist_ok=True)
            for name, print_of in manifest.files.items():
                target = part if name == _DATABASE else var / name
                _take(archive, name, target, print_of)
    except (zipfile.BadZipFile, OSError, EOFError, zlib.error) as error:
        _clear(part)
        raise refuse("file", f"it can not be read: {error}", "take a backup as it was made") from error
    try:
        broken = _broken(part, var)
    finally:
        connection.close()
    if broken:
        _clear(part)
        raise refuse("file", "; ".join(broken[:5]), "take another backup: this one was changed")
    settle(part, database)
    return manifest


def _clear(part: Path) -> None:
    for suffix in ("", "-wal", "-shm", "-journal"):
        part.with_name(part.name + suffix).unlink(missing_ok=True)


def _believed(archive: zipfile.ZipFile, told: bytes, key_print: str | None) -> None:
    """Whether a manifest is signed, and by whom it should be."""
    try:
        said = json.loads(archive.read(_SIGNED))
        key, signature = bytes.fromhex(said["key"]), bytes.fromhex(said["signature"])
    except (KeyError, TypeError, ValueError) as error:
        raise refuse("file", "its manifest is not signed", "give a file made by `manage.py backup`") from error
    if not keys.fits(key, signature, told):
        raise refuse("file", "its manifest does not fit its signature", "take another backup: this one was changed")
    wanted = keys.print_of(keys.public_key()) if key_print is None else key_print
    if "".join(wanted.split()).upper() != "".join(keys.print_of(key).split()):
        right = f"if that is the print of the installation that it is from, say so: --print '{keys.print_of(key)}'"
        raise refuse("print", f"it is signed by the key with the print {keys.print_of(key)}", right)


def _manifest(archive: zipfile.ZipFile, key_print: str | None) -> Manifest:
    names = [one.filename for one in archive.infolist()]
    if _MANIFEST not in names or archive.getinfo(_MANIFEST).file_size > _LARGEST_MANIFEST:
        raise refuse("file", "it has no manifest of a backup", "give a file made by `manage.py backup`")
    told = archive.read(_MANIFEST)
    _believed(archive, told, key_print)
    try:
        manifest = Manifest.model_validate_json(told)
    except ValidationError as error:
        raise refuse("file", "its manifest can not be read", "give a file made by `manage.py backup`") from error
    if manifest.format != _FORMAT:
        raise refuse("file", f"it says it is {manifest.format!r}", "give a file made by `manage.py backup`")
    known = {f"{app}.{name}" for app, name in MigrationLoader(None).disk_migrations}
    newer = [one for one in manifest.migrations if one not in known]
    if manifest.version != _VERSION or newer:
        what = newer[0] if newer else f"version {manifest.version}"
        raise refuse("file", f"it was made by a newer Outrigger ({what})", "restore it with that one, or a later one")
    for name in manifest.files:
        inside = name == _DATABASE or (
            name.startswith(_PHOTOGRAPHS) and Path(name).name == name.removeprefix(_PHOTOGRAPHS) and ".." not in name
        )
        if not inside:
            raise refuse("file", f"{name!r} would be written outside its folder", "take a backup as it was made")
        if name not in names:
            raise refuse("file", f"{name} is missing from it", "take another backup")
    if more := set(names) - set(manifest.files) - {_MANIFEST, _SIGNED}:
        raise refuse("file", f"{min(more)!r} is no part of a backup", "take a backup as it was made")
    if sum(archive.getinfo(name).file_size for name in manifest.files) > _LARGEST:
        raise refuse("file", f"unpacked it is over {_LARGEST // 1024**3} GB", "take a backup as it was made")
    return manifest


def _take(archive: zipfile.ZipFile, name: str, target: Path, print_of: str) -> None:
    """One file unpacked, never more of it than it says it has."""
    found, left = hashlib.sha256(), archive.getinfo(name).file_size
    part = target if target.suffix == ".part" else target.with_suffix(target.suffix + ".part")
    with archive.open(name) as source, part.open("wb") as out:
        while chunk := source.read(_CHUNK):
            left -= len(chunk)
            if left < 0:
                raise refuse("file", f"{name} unpacks to more than it says", "take a backup as it was made")
            found.update(chunk)
            out.write(chunk)
    if found.hexdigest() != print_of:
        part.unlink(missing_ok=True)
        raise refuse(
            "file", f"{name} is not as it was backed up", "take another backup: this one was changed or damaged"
        )
    if part is not target:
        part.replace(target)


def _broken(database: Path, var: Path) -> list[str]:
    """What in a database does not fit its hashes. The process's connection is turned to it."""
    with closing(sqlite3.connect(database)) as one:
        if (said := one.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
            return [f"the database is damaged: {said}"]
    settings: dict[str, Any] = connection.settings_dict
    connection.close()
    settings["NAME"] = database
    assert photos.folder() == var / "photographs"
    return [line for plan in Plan.objects.all() for line in broken_seals(plan)]
