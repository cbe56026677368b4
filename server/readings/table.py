"""Readings as a table: another cell's read in, all of it or nothing, and none of it live; a plan's own written out."""

import csv
import io
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import BinaryIO, cast

import numpy as np
from answering.given import given
from answering.plain import plain
from core.engine import ask_long
from ninja import UploadedFile
from operations.models import Run
from plans.models import Plan
from storing.writing import writing

from readings.models import LONGEST_MS, Cell, ReadingBlock, packed, unpacked
from readings.schemas import ReadTable, TableRead
from rigging.files.asked import Ask, Offer
from rigging.files.log_columns import LogSettings
from rigging.files.log_rows import LogRead
from rigging.files.loggers import read_log, read_log_at
from rigging.quantities.faults import Fault, refuse

# So many readings at a time go into a table, and so many into a block.
_ROWS, _BLOCK = 20_000, 8_000


def looked_at(plan: Plan, asked: ReadTable, file: UploadedFile) -> LogRead:
    """A table as it is understood. A large one is read by a process of its own, in nobody's way."""
    said = given(LogSettings, asked.settings)
    path = getattr(file, "temporary_file_path", None)
    read = ask_long(read_log_at, path(), said) if path else read_log(cast(BinaryIO, file.file), said)
    of_run(plan, asked.run, read)
    return read


def table_out(read: LogRead, kept: int | None = None) -> TableRead:
    clear = not (read.asks or read.faults)
    count = len(read.times_ms) if clear else 0
    return TableRead(
        understood=read.understood, asks=read.asks, faults=list(read.faults), columns=read.columns, rows=read.rows[:60],
        count=count, peak_n=float(read.forces_n.max()) if count else None, first_ms=int(read.times_ms[0]) if count else None,
        last_ms=int(read.times_ms[-1]) if count else None, kept=kept,
    )  # fmt: skip


def of_run(plan: Plan, run: str | None, read: LogRead) -> None:
    """Asks which run a table is of, where there is one, and refuses what lies wholly outside it."""
    runs = list(plan.runs.order_by("begun_at"))
    if run is None:
        if runs:
            offers = (
                *(Offer(str(one.id), _told(one)) for one in runs),
                Offer("none", "none of them: a test, or another day"),
            )
            read.asks.append(Ask("run", "Which run was it?", offers))
        return
    if run == "none":
        return
    chosen = next((one for one in runs if str(one.id) == run), None)
    if chosen is None:
        raise refuse("run", "this plan has no such run", "one of its own, or none")
    if not len(read.times_ms):
        return
    first, last = int(read.times_ms[0]) / 1000, int(read.times_ms[-1]) / 1000
    begun, ended = chosen.begun_at.timestamp(), chosen.ended_at.timestamp() if chosen.ended_at else float("inf")
    if last < begun or first > ended:
        apart, where = (
            (begun - last, "before that run began") if last < begun else (first - ended, "after that run ended")
        )
        read.faults.append(
            Fault(
                "run",
                f"it ends {_apart(apart)} {where}" if last < begun else f"it begins {_apart(apart)} {where}",
                "are its day and zone right?",
            )
        )


def _told(run: Run) -> str:
    return f"the run of {run.begun_at:%Y-%m-%d %H:%M}" + (
        f" to {run.ended_at:%H:%M} UTC" if run.ended_at else " UTC, which is going"
    )


def _apart(seconds: float) -> str:
    return (
        f"{seconds / 86_400:.0f} days"
        if seconds >= 172_800
        else f"{seconds / 3600:.1f} h"
        if seconds >= 5400
        else f"{seconds / 60:.0f} min"
    )


def keep(plan: Plan, cell: Cell, read: LogRead, file: str) -> int:
    """A table's readings kept as a cell's; the number that the next one would have. Nobody is told of them as if they came now.

    Raises
    ------
    Refused
        If the cell has sent by itself, or has readings at that time already.
    """
    times, forces = read.times_ms, read.forces_n
    blocks = [
        ReadingBlock(
            cell=cell,
            count=len(some),
            from_ms=int(times[some[0]]),
            to_ms=int(times[some[-1]]),
            data=packed(times[some], forces[some].astype(float)),
        )
        for some in _parts(times)
    ]
    with writing():
        last = cell.last_block
        if last and not cell.from_file:
            raise refuse("cell", "it sends by itself", "read the table into a cell of its own")
        if last and times[0] <= last.to_ms:
            raise refuse(
                "file", "its readings lie before some that are here already", "read them into a cell of their own"
            )
        first, before = (last.following, bytes(last.hash)) if last else (0, b"")
        for block in blocks:
            block.first = first
            block.hash = before = block.content_hash(before)
            first = block.following
        ReadingBlock.objects.bulk_create(blocks)
        if not cell.from_file:
            cell.from_file = file[:200] or "a table"
            cell.save(update_fields=["from_file"])
    return first


def _parts(times: np.ndarray) -> Iterator[np.ndarray]:
    """Stretches that go into a block: not too many readings, and no pause longer than a block can hold."""
    for stretch in np.split(np.arange(len(times)), np.flatnonzero(np.diff(times) > LONGEST_MS) + 1):
        for begin in range(0, len(stretch), _BLOCK):
            yield stretch[begin : begin + _BLOCK]


def write_table(plan: Plan) -> Iterator[str]:
    """Every reading of a plan as CSV, as it was kept."""
    yield "cell,place,time_utc,force_N\r\n"
    for cell in plan.cells.all():
        last = cell.last_block
        for first in range(0, last.first + 1 if last else 0, _ROWS):
            out = io.StringIO()
            rows = csv.writer(out)
            for at, force in zip(*unpacked(cell.blocks.filter(first__gte=first, first__lt=first + _ROWS)), strict=True):
                when = datetime.fromtimestamp(int(at) / 1000, UTC).isoformat(timespec="milliseconds")
                rows.writerow([plain(cell.name), plain(cell.place), when, f"{force:.1f}"])
            yield out.getvalue()
