"""Tables as text: separator, head, comments and rows told from the whole of it; rows by their number in the file."""

from __future__ import annotations

import csv
import io
from collections import Counter
from dataclasses import dataclass, replace

from rigging.files.asked import refused
from rigging.files.numbers import looks_like_number, without_unit
from rigging.files.plain import uncelled
from rigging.quantities.faults import Fault, refuse

# Where two of them would do, the one further up: a comma may be in numbers and words, a tab is in neither.
SEPARATORS = {"\t": "tab", ";": "semicolon", "|": "bar", ",": "comma"}
_COMMENTS = ("#", "//", "%", "!")
LONGEST_LINE = 20_000
_UNIT_LONGEST = 8


@dataclass(frozen=True)
class Row:
    """A row by the line of the file that it begins on."""

    number: int
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """`head` names the columns (numbered where the file names none); `before`: what stands above it."""

    separator: str
    head: tuple[str, ...]
    named: bool
    rows: tuple[Row, ...]
    before: tuple[Row, ...] = ()

    def column(self, number: int) -> list[str]:
        return [row.cells[number] for row in self.rows]

    def mended(self, mends: dict[tuple[int, int], str]) -> Table:
        """With cells put right by hand, by row and column; a row of which every cell was emptied is out."""
        rows = [
            replace(row, cells=tuple(mends.get((row.number, n), cell) for n, cell in enumerate(row.cells)))
            for row in self.rows
        ]
        return replace(self, rows=tuple(row for row in rows if any(cell.strip() for cell in row.cells)))


def table_of(text: str, separator: str | None = None) -> Table:
    """The table in a text.

    Raises
    ------
    Refused
        Where there is none, or rows have more values than there are columns; each by its row.
    """
    if separator is not None and separator not in SEPARATORS:
        raise refuse("separator", f"{separator!r} is none", f"one of {', '.join(SEPARATORS.values())}")
    long = next((n for n, line in enumerate(io.StringIO(text), start=1) if len(line) > LONGEST_LINE), None)
    if long is not None:
        raise refuse(f"row {long}", f"it has over {LONGEST_LINE} letters", "a table with a row for each thing")
    tried = [separator] if separator else list(SEPARATORS)
    laid = [(one, rows) for one in tried if (rows := _rows(text, one)) is not None]
    if not laid:
        raise refuse("file", "a quotation mark in it is never closed", "close it, or take it out")
    best = max(laid, key=lambda one: _fits(one[1]))
    return _table(*best)


def _rows(text: str, separator: str) -> list[Row] | None:
    """Every row that says something; None where quotation marks do not close with this separator."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=True)
    rows, began = [], 1
    try:
        for cells in reader:
            found = tuple(uncelled(one) for one in cells)
            if any(one.strip() for one in found) and not found[0].lstrip().startswith(_COMMENTS):
                rows.append(Row(began, found))
            began = reader.line_num + 1
    except csv.Error:
        return None
    return rows


def _fits(rows: list[Row]) -> float:
    """How much of a text this separator makes a table of: the share of its rows that have as many values as its commonest row."""
    widths = Counter(len(row.cells) for row in rows)
    if not widths:
        return 0.0
    common = max(widths, key=lambda width: (widths[width], width))
    return widths[common] / len(rows) if common > 1 else 0.0


def _is_value(cell: str) -> bool:
    return looks_like_number(without_unit(cell.strip())[0])


def _table(separator: str, rows: list[Row]) -> Table:
    if not rows:
        raise refuse("file", "there is nothing in it", "a head that names the columns, and a row for each thing")
    widths = Counter(len(row.cells) for row in rows)
    common = max(widths, key=lambda width: (widths[width], width))
    if common == 1 and separator != "\t":
        raise refuse(
            "file", "no separator makes a table of it", "tab, semicolon, bar or comma between the values of a row"
        )
    head, begin = _head(rows)
    width = max(len(head.cells) if head else common, 1)
    names = [" ".join(one.split()) for one in head.cells] if head else []
    body = rows[begin:]
    if head is not None and begin < len(rows) and _units_row(rows[begin], width):
        names = [
            f"{name} [{unit.strip('[]()')}]" if unit else name
            for name, unit in zip(names, _padded(body[0], width), strict=True)
        ]
        body = body[1:]
    faults = [
        Fault(f"row {row.number}", f"{len(row.cells)} values under {width} columns", _LONGER)
        for row in body
        if len(row.cells) > width and any(row.cells[width:])
    ]
    if faults:
        raise refused(faults)
    found = tuple(Row(row.number, _padded(row, width)) for row in body)
    named = tuple(name or f"column {n}" for n, name in enumerate([*names, *[""] * (width - len(names))], start=1))
    above = rows[: rows.index(head)] if head else rows[:begin]
    return Table(separator, _apart(named), head is not None, found, tuple(above))


_LONGER = "is there a decimal comma between commas? Write the table with semicolons, or put such values in quotes"


def _padded(row: Row, width: int) -> tuple[str, ...]:
    return (*row.cells[:width], *[""] * (width - len(row.cells)))


def _apart(names: tuple[str, ...]) -> tuple[str, ...]:
    """No two columns by one name."""
    seen: Counter[str] = Counter()
    found = []
    for name in names:
        seen[name] += 1
        found.append(name if seen[name] == 1 else f"{name} #{seen[name]}")
    return tuple(found)


def _head(rows: list[Row]) -> tuple[Row | None, int]:
    """The row that names the columns, and where the values begin after it: the first row of words that values follow, with nothing above it but
    what the table says of itself. With no values anywhere it is the first row."""
    if not any(_has_value(row) for row in rows):
        return (rows[0], 1) if len(rows[0].cells) > 1 else (None, 0)
    for place, row in enumerate(rows[:-1]):
        if len(row.cells) < 2 or _has_value(row):
            if _is_value(row.cells[0]):
                break
            continue
        after = rows[place + 1]
        under = _units_row(after, len(row.cells)) and place + 2 < len(rows) and _has_value(rows[place + 2])
        if _has_value(after) or under:
            return row, place + 1
    return None, 0


def _has_value(row: Row) -> bool:
    return any(_is_value(cell) for cell in row.cells)


def _units_row(row: Row, width: int) -> bool:
    """Whether a row under the head says units and nothing else."""
    cells = [one.strip() for one in row.cells if one.strip()]
    short = all(len(one) <= _UNIT_LONGEST and not any(sign.isdigit() for sign in one) for one in cells)
    return len(row.cells) <= width and bool(cells) and short and any(one.strip("[]()") in _UNITS for one in cells)


_UNITS = frozenset(
    [
        "m",
        "cm",
        "mm",
        "km",
        "ft",
        "in",
        "s",
        "ms",
        "min",
        "h",
        "N",
        "kN",
        "daN",
        "kgf",
        "kg",
        "lbf",
        "lb",
        "lbs",
        "kp",
        "°",
        "deg",
        "gon",
        "grad",
        "rad",
    ]
)
