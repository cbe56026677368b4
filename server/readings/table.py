"""A table of readings from another cell: its columns and units told from the header, or asked for."""

import csv
import io
import re
from collections.abc import Iterator
from datetime import UTC, datetime

import numpy as np
from plans.models import Plan

from readings.models import unpacked
from rigging.quantities.faults import refuse

# So many readings at a time go into a table.
_ROWS = 20_000
_LONGEST_ROW = 4000
_TIMES = {"s": 1000.0, "sec": 1000.0, "seconds": 1000.0, "ms": 1.0, "min": 60_000.0}
_FORCES = {
    "n": 1.0,
    "kn": 1000.0,
    "dan": 10.0,
    "kgf": 9.80665,
    "kg": 9.80665,
    "lbf": 4.4482216152605,
    "lb": 4.4482216152605,
}
_TIME, _FORCE = (
    re.compile(r"\b(time|t|date|timestamp|zeit)\b", re.I),
    re.compile(r"\b(force|load|f|tension|kraft|peak)\b", re.I),
)
_UNIT = re.compile(r"[\[(/_ ]\s*([a-zA-Z]+)\s*[\])]?\s*$")


def read_table(
    text: str, time_column: str | None, force_column: str | None, time_unit: str | None, unit: str | None
) -> tuple[np.ndarray, np.ndarray]:
    """Times in ms since the epoch (seconds from the first where the table has no date) and forces in newtons.

    Raises
    ------
    Refused
        Naming the column, the unit or the row that can not be told.
    """
    lines = text.lstrip("\ufeff").strip().splitlines()
    if len(lines) < 2:
        raise refuse("text", "it has no row of readings", "a header and a row for each reading")
    split = max(";\t,", key=lines[0].count)
    if (long := next((n for n, line in enumerate(lines, start=1) if len(line) > _LONGEST_ROW), None)) is not None:
        raise refuse(f"text, row {long}", f"it has over {_LONGEST_ROW} letters", "a table with a row for each reading")
    rows = list(csv.reader(lines, delimiter=split))
    # What stands between brackets at its end is looked for: spaces in between say nothing.
    header = [" ".join(one.split()) for one in rows[0]]
    at = _column(header, time_column, _TIME, "time_column")
    of = _column(header, force_column, _FORCE, "force_column")
    newtons = _unit(header[of], unit, _FORCES, "unit")
    times, forces = [], []
    for number, row in enumerate(rows[1:], start=2):
        if not any(row):
            continue
        try:
            times.append(_time(row[at], header[at], time_unit))
            forces.append(float(row[of].strip().replace(",", ".")) * newtons)
        except (ValueError, IndexError) as error:
            raise refuse(
                f"text, row {number}", f"{split.join(row)[:60]!r} is no reading", "a time and a force"
            ) from error
        if not np.isfinite(forces[-1]):
            raise refuse(f"text, row {number}", f"{row[of]!r} is no force", "a number")
    if not times:
        raise refuse("text", "it has no row of readings", "a header and a row for each reading")
    found = np.array(times)
    if (wrong := np.flatnonzero(np.diff(found) <= 0)).size:
        raise refuse(
            f"text, row {int(wrong[0]) + 3}", "its time is not after the row before", "rows in the order of time"
        )
    return found, np.array(forces)


def _column(header: list[str], said: str | None, looks: re.Pattern[str], field: str) -> int:
    if said is not None:
        if said not in header:
            raise refuse(field, f"there is no column {said!r}", f"one of {', '.join(header)}")
        return header.index(said)
    found = [number for number, name in enumerate(header) if looks.search(name)]
    if len(found) != 1:
        which = "several columns could be it" if found else "no column says so"
        raise refuse(field, which, f"say which of {', '.join(header)}")
    return found[0]


def _unit(name: str, said: str | None, known: dict[str, float], field: str) -> float:
    found = said or (match.group(1) if (match := _UNIT.search(name)) else "")
    if found.lower() not in known:
        raise refuse(field, f"the unit of {name!r} can not be told", f"say which of {', '.join(known)}")
    return known[found.lower()]


def _time(text: str, name: str, unit: str | None) -> float:
    text = text.strip()
    try:
        return float(text.replace(",", ".")) * _unit(name, unit, _TIMES, "time_unit")
    except ValueError:
        found = datetime.fromisoformat(text)
        return (found if found.tzinfo else found.replace(tzinfo=UTC)).timestamp() * 1000


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
                rows.writerow([cell.name, cell.place, when, f"{force:.1f}"])
            yield out.getvalue()
