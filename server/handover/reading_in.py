"""A bundle read back: every hash, every seal and the signature worked out again; everything that was altered is named, and then nothing is
kept of it."""

import base64
import binascii
import hashlib
import re
import uuid
import zipfile
import zlib
from collections.abc import Iterator
from typing import IO, Any, TypeVar

from accounts.models import Team
from django.contrib.auth import get_user_model
from django.db import IntegrityError
from operations import photos
from operations.models import LogEntry, Run
from operations.models import Signature as Signed
from plans.models import HandedOver, Plan, Revision
from pydantic import BaseModel, ValidationError
from readings.models import Cell, ReadingBlock
from sealing import keys
from sealing.seals import broken_seals
from storing.canonical import canonical
from storing.writing import writing

from handover.bundle import MANIFEST, PARTS, PHOTOGRAPHS, SCHEMA, SIGNATURE
from handover.parts import BlockPart, CellPart, Manifest, Parts, RevisionPart, RunPart, Signature, typed
from rigging.document import Plan as Document
from rigging.quantities.faults import Fault, Refused, faults_of, refuse

# Unpacked, no part of a bundle is larger, nor all of them together: a long day with four cells is a tenth of it.
_LARGEST_PART, _LARGEST, _MOST_FILES = 256 * 1024**2, 1024**3, 5000
_AT_ONCE = 1000
_AGAIN = "ask for the bundle again: this one was changed"
_TABLES = ("log.csv", "readings.csv")
T = TypeVar("T", bound=BaseModel)
_PHOTOGRAPH = re.compile(PHOTOGRAPHS + r"[0-9a-f]{64}\.(jpg|png|webp)")


def read_bundle(file: IO[bytes], team: Team, reader: Any) -> HandedOver:
    """A plan as it was handed over, for a team to read.

    Raises
    ------
    Refused
        Naming each part that was altered, or what else is wrong with the file; nothing of it is kept then.
    """
    try:
        with zipfile.ZipFile(file) as archive:
            contents = _unpacked(archive)
    except (zipfile.BadZipFile, EOFError, zlib.error, RuntimeError, NotImplementedError) as error:
        raise refuse("file", f"it can not be read: {error}", "choose a bundle as it was made") from error
    manifest = _part(Manifest, contents, MANIFEST)
    by = _part(Signature, contents, SIGNATURE)
    if Plan.objects.filter(id=manifest.plan).exists():
        raise refuse("file", f"the plan {manifest.title!r} is here already", "open it from the list of plans")
    altered = list(_altered(manifest, by, contents))
    kept: list[str] = []
    try:
        parts = Parts(**{field: _typed(name, field, contents) for name, field in PARTS.items()})
        with writing():
            plan = _Reading(team, reader, parts).plan(manifest.plan)
            handed = HandedOver.objects.create(
                plan=plan, key_print=keys.print_of(bytes.fromhex(by.key)), made_at=manifest.made_at, read_by=reader
            )
            kept += _photographs(contents)
            altered += [fault for said in broken_seals(plan) if (fault := _fault(said)) not in altered]
            if altered:
                raise Refused(altered)
            return handed
    except BaseException as error:
        for name in kept:
            (photos.folder() / name).unlink(missing_ok=True)
        if isinstance(error, Refused) and altered:
            raise Refused([*altered, *(one for one in error.faults if one not in altered)]) from error
        raise


def _unpacked(archive: zipfile.ZipFile) -> dict[str, bytes]:
    """The files of a bundle, none with a name of its own choosing, none larger than it may be whatever it says of itself."""
    rows = archive.infolist()
    known = {MANIFEST, SIGNATURE, SCHEMA, *PARTS, *_TABLES}
    stray = next(
        (one.filename for one in rows if one.filename not in known and not _PHOTOGRAPH.fullmatch(one.filename)), None
    )
    if stray is not None:
        raise refuse("file", f"{stray!r} has no place in a bundle", "choose a bundle as it was made")
    if len(rows) > _MOST_FILES or len({one.filename for one in rows}) < len(rows):
        raise refuse("file", f"it holds {len(rows)} files, or one twice", "choose a bundle as it was made")
    left, found = _LARGEST, dict[str, bytes]()
    for one in rows:
        with archive.open(one) as part:
            content = part.read(min(_LARGEST_PART, left) + 1)
        left -= len(content)
        if len(content) > _LARGEST_PART or left < 0:
            raise refuse(
                "file", f"{one.filename} unpacks to more than a bundle holds", "choose a bundle as it was made"
            )
        found[one.filename] = content
    return found


def _part(kind: type[T], contents: dict[str, bytes], name: str) -> T:
    if name not in contents:
        raise refuse("file", f"it has no {name}", "choose a bundle as it was made")
    try:
        return kind.model_validate_json(contents[name])
    except ValidationError as error:
        raise refuse(name, f"it can not be read: {faults_of(error)[0].problem}", _AGAIN) from error


def _typed(name: str, field: str, contents: dict[str, bytes]) -> Any:
    if name not in contents:
        raise refuse(name, "it is missing", _AGAIN)
    try:
        return typed(field).validate_json(contents[name])
    except ValidationError as error:
        first = faults_of(error)[0]
        raise refuse(name, f"it can not be read: {first.path} {first.problem}".strip(), _AGAIN) from error


def _altered(manifest: Manifest, by: Signature, contents: dict[str, bytes]) -> Iterator[Fault]:
    """Every file that is not as it was signed."""
    if not keys.fits(bytes.fromhex(by.key), bytes.fromhex(by.signature), contents[MANIFEST]):
        yield Fault(MANIFEST, "the signature does not fit it", _AGAIN)
    for name in sorted({*manifest.files, *contents} - {MANIFEST, SIGNATURE}):
        if name not in contents:
            yield Fault(name, "it is missing", _AGAIN)
        elif name not in manifest.files:
            yield Fault(name, "it was not there when the bundle was signed", _AGAIN)
        elif hashlib.sha256(contents[name]).hexdigest() != manifest.files[name]:
            yield Fault(name, "it is not as it was signed", _AGAIN)


def _fault(said: str) -> Fault:
    """A broken seal, by the file that it is in."""
    what = said.partition(", ")[2]
    kinds = {"revision": "revisions.json", "readings": "readings.json"}
    return Fault(kinds.get(what.split(" ")[0], "log.json"), what, _AGAIN)


def _photographs(contents: dict[str, bytes]) -> list[str]:
    """Photographs put where they belong; the names of those that were not there before."""
    fresh: list[str] = []
    for name, content in contents.items():
        if not name.startswith(PHOTOGRAPHS):
            continue
        file = name.removeprefix(PHOTOGRAPHS)
        if hashlib.sha256(content).hexdigest() != file.partition(".")[0] or (photos.folder() / file).exists():
            continue
        said = photos.keep(content, file)
        fresh += [photos.file_of(said).name, photos.file_of(said, small=True).name]
    return fresh


class _Reading:
    """The rows of one plan, made as they were; nothing in them is worked out anew but what the seals do not hold."""

    def __init__(self, team: Team, reader: Any, parts: Parts):
        self.team, self.reader, self.parts = team, reader, parts
        self._names = {one.id: one.name for one in parts.people}
        self._people: dict[str, Any] = {}

    def plan(self, id: uuid.UUID) -> Plan:
        plan = Plan.objects.create(id=id, team=self.team)
        revisions = {one.number: self._revision(plan, one) for one in self.parts.revisions}
        try:
            self._log(plan, revisions)
            for run in self.parts.runs:
                self._run(plan, run, revisions)
            for cell in self.parts.readings:
                self._cell(plan, cell)
        except IntegrityError as error:
            raise refuse(
                "file", "some of it is in another plan here already", "open that plan, or read it in elsewhere"
            ) from error
        except KeyError as error:
            raise refuse("log.json", f"it names {error.args[0]}, which is not in the bundle", _AGAIN) from error
        return plan

    def _person(self, name: str) -> Any:
        """Somebody who is named, and can not sign in here: never one of those who can."""
        if name not in self._people:
            users, free = get_user_model().objects, name
            for number in range(1, 1000):
                there = users.filter(username=free).first()
                if there is None or not (there.is_active or there.has_usable_password()):
                    break
                free = f"{name} (handed over{f' {number}' if number > 1 else ''})"
            user = there or users.create(username=free, is_active=False)
            if there is None:
                user.set_unusable_password()
                user.save()
            self._people[name] = user
        return self._people[name]

    def _revision(self, plan: Plan, one: RevisionPart) -> Revision:
        try:
            Document.model_validate(one.document)
        except ValidationError as error:
            first = faults_of(error)[0]
            raise refuse("revisions.json", f"revision {one.number}: {first.path} {first.problem}", _AGAIN) from error
        # Kept as it was written then, not as it would be written today.
        made = Revision(
            plan=plan, number=one.number, client_id=uuid.uuid5(plan.id, str(one.number)), document=canonical(one.document),
            sha256=one.sha256, author=self._person(one.author), saved_at=one.saved_at,
        )  # fmt: skip
        # As it was saved then, not now.
        made.save_base(raw=True, force_insert=True)
        return made

    def _log(self, plan: Plan, revisions: dict[int, Revision]) -> None:
        entries = [
            LogEntry(
                id=one.id, plan=plan, sequence=one.sequence, time=one.time, author=self._person(self._names[one.author]),
                sealed_author=one.author, kind=one.kind, decision=one.decision, reason=one.reason, considered=one.considered,
                revision=revisions[one.revision], corrects_id=one.corrects, step=one.step,
                data=canonical(one.data) if one.data is not None else "", device_time=one.device_time,
                device_ahead_ms=one.device_ahead_ms, before=one.before, hash=one.hash,
            )
            for one in self.parts.log
        ]  # fmt: skip
        LogEntry.objects.bulk_create(entries, _AT_ONCE)
        signed = [
            Signed(entry_id=one.id, lines=canonical(one.signed)) for one in self.parts.log if one.signed is not None
        ]
        Signed.objects.bulk_create(signed, _AT_ONCE)

    def _run(self, plan: Plan, one: RunPart, revisions: dict[int, Revision]) -> None:
        given = one.model_dump(exclude={"revision"})
        Run.objects.create(plan=plan, revision=revisions[one.revision], **given)

    def _cell(self, plan: Plan, one: CellPart) -> None:
        cell = Cell.objects.create(
            id=one.id,
            plan=plan,
            name=one.name,
            place=one.place,
            unit=one.unit,
            made_at=one.made_at,
            from_file=one.from_file,
        )
        rows = [
            ReadingBlock(
                cell=cell, first=block.first, count=block.count, from_ms=block.from_ms, to_ms=block.to_ms, data=_data(one, block),
                hash=bytes.fromhex(block.hash),
            )
            for block in one.blocks
        ]  # fmt: skip
        ReadingBlock.objects.bulk_create(rows, _AT_ONCE)


def _data(cell: CellPart, block: BlockPart) -> bytes:
    """The readings of a block, which unpack to as many as it says and no more."""
    where = f"{cell.name}, number {block.first}"
    try:
        data = base64.b64decode(block.data, validate=True)
        steps = zlib.decompressobj().decompress(data, 8 * block.count + 1)
    except (binascii.Error, zlib.error) as error:
        raise refuse("readings.json", f"{where}: {error}", _AGAIN) from error
    if len(steps) != 8 * block.count:
        raise refuse("readings.json", f"{where}: not {block.count} readings", _AGAIN)
    return data
