"""A plan as one signed file: revisions, runs, log, readings, photographs; and tables of log and readings for people to read."""

import base64
import hashlib
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from django.utils import timezone
from operations import photos
from operations.composing import own_of
from operations.models import LogEntry, Run, Signature
from operations.tables import log_table
from plans.models import Plan
from readings.models import Cell
from readings.table import write_table
from sealing import keys

from handover.parts import (
    BlockPart,
    CellPart,
    EntryPart,
    Manifest,
    Parts,
    RevisionPart,
    RunPart,
    Somebody,
    typed,
)  # fmt: skip
from handover.parts import Signature as SignaturePart

MANIFEST, SIGNATURE, SCHEMA, PHOTOGRAPHS = "manifest.json", "signature.json", "schema.json", "photographs/"
PARTS = {f"{name}.json": name for name in Parts.model_fields}


def write_bundle(plan: Plan, to: IO[bytes]) -> None:
    """The bundle of a plan as it is now."""
    parts = parts_of(plan)
    prints: dict[str, str] = {}
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:

        def put(name: str, content: bytes) -> None:
            prints[name] = hashlib.sha256(content).hexdigest()
            archive.writestr(name, content)

        for name, field in PARTS.items():
            kind = typed(field)
            put(name, kind.dump_json(getattr(parts, field), indent=1))
        put(SCHEMA, json.dumps(Parts.model_json_schema(), indent=1).encode())
        put("log.csv", "".join(log_table(plan)).encode())
        put("readings.csv", "".join(write_table(plan)).encode())
        for file in _photographs(plan):
            put(PHOTOGRAPHS + file.name, file.read_bytes())
        manifest = (
            Manifest(plan=plan.id, title=plan.title, made_at=timezone.now(), files=prints)
            .model_dump_json(indent=1)
            .encode()
        )
        archive.writestr(MANIFEST, manifest)
        by = SignaturePart(key=keys.public_key().hex(), signature=keys.signed(manifest).hex())
        archive.writestr(SIGNATURE, by.model_dump_json(indent=1))


def parts_of(plan: Plan) -> Parts:
    """Everything of a plan that is text."""
    entries = list(plan.log.select_related("author", "revision").order_by("sequence"))
    revisions = list(plan.revisions.select_related("author").order_by("number"))
    signed = {one.entry_id: json.loads(one.lines) for one in Signature.objects.filter(entry__plan=plan)}
    people = {one.author_sealed: one.author.get_username() for one in entries}
    return Parts(
        people=[Somebody(id=id, name=name) for id, name in sorted(people.items())],
        revisions=[
            RevisionPart(
                number=one.number, sha256=one.sha256, author=one.author.get_username(), saved_at=one.saved_at, document=json.loads(one.document)
            )
            for one in revisions
        ],
        log=[_entry(one, signed.get(one.id)) for one in entries],
        runs=[_run(plan, one) for one in plan.runs.select_related("revision").order_by("begun_at")],
        readings=[_cell(one) for one in plan.cells.all()],
    )  # fmt: skip


def _entry(one: LogEntry, signed: dict[str, dict[str, str]] | None) -> EntryPart:
    return EntryPart(
        id=one.id, sequence=one.sequence, time=one.time, author=one.author_sealed, kind=one.kind, decision=one.decision, reason=one.reason,
        considered=one.considered, revision=one.revision.number, corrects=one.corrects_id, step=one.step,
        data=json.loads(one.data) if one.data else None, device_time=one.device_time, device_ahead_ms=one.device_ahead_ms, before=one.before,
        hash=one.hash, signed=signed,
    )  # fmt: skip


def _run(plan: Plan, one: Run) -> RunPart:
    return RunPart(
        id=one.id, revision=one.revision.number, status=one.status, begun_at=one.begun_at, ended_at=one.ended_at, at=one.at, since=one.since,
        version=one.version, stopped=one.stopped, contingency=one.contingency, own=own_of(plan, one), otherwise=one.otherwise, done=one.done, counts=one.counts,
        here=one.here, looked=one.looked, conflicts=one.conflicts, changed=one.changed,
    )  # fmt: skip


def _cell(one: Cell) -> CellPart:
    blocks = [
        BlockPart(
            first=block.first, count=block.count, from_ms=block.from_ms, to_ms=block.to_ms, data=base64.b64encode(bytes(block.data)).decode(),
            hash=bytes(block.hash).hex(),
        )
        for block in one.blocks.all().iterator()
    ]  # fmt: skip
    return CellPart(
        id=one.id,
        name=one.name,
        place=one.place,
        unit=one.unit,
        made_at=one.made_at,
        from_file=one.from_file,
        blocks=blocks,
    )


def _photographs(plan: Plan) -> Iterator[Path]:
    taken = plan.log.filter(kind=LogEntry.Kind.PHOTO).values_list("data", flat=True)
    files = {file for said in taken if (file := photos.file_of(json.loads(said))).exists()}
    yield from sorted(files)
