"""A logger's table of forces, however long: read as a stream, all of it or nothing, without a time, a zone or a unit that nobody said."""

from __future__ import annotations

from typing import BinaryIO

from rigging.files.asked import RowRead
from rigging.files.letters import letters_of
from rigging.files.log_columns import LogColumns, LogSettings
from rigging.files.log_rows import LogRead, LogRows
from rigging.files.tables import table_of
from rigging.quantities.faults import refuse

_HEAD_BYTES = 64 * 1024


def read_log(file: BinaryIO, said: LogSettings) -> LogRead:
    """The readings in a table of forces over time.

    Raises
    ------
    Refused
        If it is no table, or a column, unit or zone that somebody said is none.
    """
    start = file.read(_HEAD_BYTES)
    if not start:
        raise refuse("file", "it is empty", "choose the file that the logger exported")
    whole = len(start) < _HEAD_BYTES
    letters = letters_of(start if whole else start[: start.rfind(b"\n") + 1] or start)
    table = table_of(letters.text, said.separator)
    columns = LogColumns(table, said)
    found = LogRead(
        columns.understood,
        columns.asks,
        [],
        list(table.head),
        [RowRead(r.number, r.cells, False) for r in table.rows[:6]],
    )
    if columns.asks:
        return found
    file.seek(0)
    return LogRows(file, letters.encoding, table, columns, said, found).read()


def read_log_at(path: str, said: LogSettings) -> LogRead:
    """The same of a file by its path."""
    with open(path, "rb") as file:
        return read_log(file, said)
