"""A logger's table of forces, however long: read as a stream, all of it or nothing, without a time, a zone or a unit that nobody said."""

from __future__ import annotations

import csv
import io
import itertools
import re
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Annotated, Any, BinaryIO, Literal

import numpy as np
from pydantic import Field

from rigging.files.asked import MOST_FAULTS, Ask, Offer, RowRead, not_too_many
from rigging.files.letters import letters_of
from rigging.files.moments import Moments, day_first_of, written, zone_of
from rigging.files.numbers import DECIMALS, looks_like_number, number, signs_possible, without_unit
from rigging.files.surveys import decimal_ask, force_unit_ask
from rigging.files.tables import SEPARATORS, Table, table_of
from rigging.files.units import UNITS, one, unit_in
from rigging.quantities.faults import Fault, Refused, refuse
from rigging.quantities.ranges import Strict

MOST_ROWS = 5_000_000
_HEAD_BYTES, _CHUNK = 64 * 1024, 20_000
# No cell for rope work reads more, and no rope bears it.
MOST_N = 200_000.0
_TIMES = re.compile(
    r"\b(time|timestamp|t|zeit|uhrzeit|zeitstempel|temps|heure|horodatage|tempo|ora|hora|tiempo|elapsed|tid|tijd)\b",
    re.I,
)
_DATES = re.compile(r"\b(date|datum|fecha|data|dato)\b", re.I)
_FORCES = re.compile(
    r"\b(force|load|f|tension|kraft|last|zugkraft|zug|charge|carga|fuerza|forza|carico|peak|kracht)\b", re.I
)
_GROUPS = re.compile(r"^(cell|channel|sensor|kanal|canal|canale|serial|zelle)$", re.I)
# What a logger writes where its cell was overloaded, or read nothing.
_OVER = re.compile(r"(ol|ovl|ovld|over|overload|überlast|[+>]\s*fs|\*{2,}|>+\s*[\d.,]+.*|\+{2,}|[+]?inf(inity)?)", re.I)
_BLANK = re.compile(r"(|-{1,5}|n/?a|nan|#n/a|null|none|err(or)?|x)", re.I)
_PLAIN = re.compile(r"[0-9+\-.eE\x1f]*", re.ASCII)


class LogSettings(Strict):
    """What somebody said of a logger's table, where it does not say so itself."""

    separator: Literal["\t", ";", "|", ","] | None = None
    decimal: Literal[".", ","] | None = None
    time_column: Annotated[str, Field(max_length=400)] | None = None
    date_column: Annotated[str, Field(max_length=400)] | None = None
    force_column: Annotated[str, Field(max_length=400)] | None = None
    time_unit: Annotated[str, Field(max_length=20)] | None = None
    force_unit: Annotated[str, Field(max_length=20)] | None = None
    hertz: Annotated[float, Field(gt=0, le=1000)] | None = None
    day_first: bool | None = None
    zone: Annotated[str, Field(max_length=60)] | None = None
    begins: Annotated[str, Field(max_length=40)] | None = None
    spread: bool | None = None
    only: Annotated[str, Field(max_length=400)] | None = None
    left_out: Annotated[list[Annotated[int, Field(ge=1)]], Field(max_length=500)] = []


@dataclass
class LogRead:
    """A logger's table as far as it can be read: times in ms since the epoch, forces in newtons; none of them with something asked or at fault.
    Blank readings and those beyond what the cell reads are left out and counted."""

    understood: list[str]
    asks: list[Ask]
    faults: list[Fault]
    columns: list[str]
    rows: list[RowRead]
    times_ms: np.ndarray = field(default_factory=lambda: np.zeros(0, dtype=np.int64))
    forces_n: np.ndarray = field(default_factory=lambda: np.zeros(0, dtype=np.float32))
    blank: int = 0
    over: int = 0


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
    columns = _Columns(table, said)
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
    return _Stream(file, letters.encoding, table, columns, said, found).read()


def read_log_at(path: str, said: LogSettings) -> LogRead:
    """The same of a file by its path."""
    with open(path, "rb") as file:
        return read_log(file, said)


class _Columns:
    """Which columns say when and how much, in which unit, and how their texts are moments."""

    def __init__(self, table: Table, said: LogSettings):
        self.understood: list[str] = [f"{SEPARATORS[table.separator].capitalize()} between values"]
        self.asks: list[Ask] = []
        self._table, self._said = table, said
        self.group = next((n for n, head in enumerate(table.head) if _GROUPS.match(head)), None)
        self.force = self._column(said.force_column, _FORCES, "force_column", "the force")
        self.date = self._named(said.date_column, "date_column") if said.date_column else self._date()
        self.time = (
            None
            if said.hertz
            else self._column(said.time_column, _TIMES, "time_column", "the time", (self.force, self.date))
        )
        if self.time is None and self.date is not None and not said.hertz and self._clock_in(self.date):
            self.time, self.date = self.date, None
            self.asks = [one for one in self.asks if one.setting not in ("time_column", "hertz")]
        self.newtons = self._force_unit()
        self.step_ms = 1000.0 / said.hertz if said.hertz else 0.0
        self.moments: Moments | None = None
        self.elapsed = False
        self.begins_ms: float | None = None
        if self.time is not None:
            self._times()
        elif said.hertz:
            self._begins()

    def _named(self, name: str, field_: str) -> int:
        if name not in self._table.head:
            raise refuse(field_, f"there is no column {name!r}", f"one of {', '.join(self._table.head)}")
        return self._table.head.index(name)

    def _column(
        self, name: str | None, looks: re.Pattern[str], setting: str, what: str, not_: tuple[int | None, ...] = ()
    ) -> int | None:
        if name is not None:
            return self._named(name, setting)
        heads = [
            n
            for n, head in enumerate(self._table.head)
            if looks.search(head.replace("_", " ")) and n not in not_ and n != self.group
        ]
        if setting == "force_column" and not heads:
            heads = [n for n, head in enumerate(self._table.head) if _force_unit_in(head)]
        if len(heads) == 1 and self._table.named:
            return heads[0]
        offers = tuple(Offer(head, head) for n, head in enumerate(self._table.head) if not heads or n in heads)
        if (
            setting == "time_column"
            and not heads
            and self._table.named
            and not any(self._is_time(n) for n in range(len(self._table.head)))
        ):
            self.asks.append(Ask("hertz", "No column says when. How many readings a second are there?"))
        else:
            self.asks.append(Ask(setting, f"Which column is {what}?", offers))
        return None

    def _is_time(self, column: int) -> bool:
        return any(written(cell) for cell in self._table.column(column)[:5])

    def _date(self) -> int | None:
        heads = [
            n
            for n, head in enumerate(self._table.head)
            if _DATES.search(head.replace("_", " ")) and not _TIMES.search(head.replace("_", " "))
        ]
        return heads[0] if len(heads) == 1 else None

    def _clock_in(self, column: int) -> bool:
        return any((found := written(cell)) and found.minutes is not None for cell in self._table.column(column)[:5])

    def _force_unit(self) -> float:
        if self.force is None:
            return 1.0
        head = self._table.head[self.force]
        unit = self._said.force_unit or unit_in(head, "force")
        if unit is None:
            own = {without_unit(cell.strip())[1] for cell in self._table.column(self.force)[:50] if cell.strip()}
            unit = own.pop() if len(own) == 1 and next(iter(own)) else None
        if unit is None:
            self.asks.append(force_unit_ask("force_unit", head))
            return 1.0
        self.understood.append(f"{head!r} in {unit}")
        return one(unit, "force", "force_unit" if self._said.force_unit else f"column {head!r}")

    def _times(self) -> None:
        assert self.time is not None
        texts = [cell.strip() for cell in self._table.column(self.time) if cell.strip()]
        # A line at the foot may say something else: it is named when its row is read.
        if sum(looks_like_number(text) for text in texts) * 2 > len(texts):
            self._numbers([text for text in texts if looks_like_number(text)])
        else:
            self._clocks(texts)

    def _numbers(self, texts: list[str]) -> None:
        """Seconds, milliseconds … from the beginning, or since the epoch."""
        assert self.time is not None
        head = self._table.head[self.time]
        possible = signs_possible(texts)
        first = number(texts[0], "." if "." in possible else ",") if possible else 0.0
        said = self._said.time_unit or unit_in(head, "time")
        for name, low, high in (("s", 0.9e9, 4e9), ("ms", 0.9e12, 4e12)):
            if low <= first <= high:
                self.step_ms = 1000.0 if name == "s" else 1.0
                self.begins_ms = 0.0
                self.understood.append(
                    f"{head!r} counts {'seconds' if name == 's' else 'milliseconds'} since 1970, UTC"
                )
                return
        if said is None:
            self.asks.append(
                Ask(
                    "time_unit",
                    f"In which unit is {head!r}?",
                    (Offer("s", "seconds"), Offer("ms", "milliseconds"), Offer("min", "minutes")),
                )
            )
            return
        self.step_ms = one(said, "time", "time_unit" if self._said.time_unit else f"column {head!r}") * 1000
        self.understood.append(f"{head!r} in {said} from the beginning")
        self._begins()

    def _begins(self) -> None:
        """When the table begins, as somebody says."""
        if self._said.begins is None:
            self.asks.append(Ask("begins", "When did it begin? It counts from its own beginning."))
            return
        found = written(self._said.begins)
        if found is None or found.date is None or found.minutes is None or not found.year_first:
            raise refuse(
                "begins",
                f"{self._said.begins!r} is no moment",
                "year-month-day hours:minutes:seconds, as 2026-03-01 10:15:00",
            )
        zone = found.zone or self._zone()
        if zone is not None:
            self.begins_ms = _ms(Moments(True, zone), self._said.begins, "begins")

    def _zone(self) -> Any:
        if self._said.zone is not None:
            return zone_of(self._said.zone)
        self.asks.append(Ask("zone", "In which zone are its times?"))
        return None

    def _clocks(self, texts: list[str]) -> None:
        assert self.time is not None
        dates = [cell.strip() for cell in self._table.column(self.date)] if self.date is not None else None
        head = self._table.head[self.time]
        found = [
            written(f"{date} {text}" if date else text)
            for date, text in zip(dates or [""] * len(texts), texts, strict=False)
        ]
        good = [row for row in found if row is not None]
        if not good or len(good) < len(found) / 2:
            self.asks.append(
                Ask(
                    "time_column",
                    f"{texts[0] if texts else ''!r} in {head!r} is no time. Which column is the time?",
                    tuple(Offer(h, h) for h in self._table.head),
                )
            )
            return
        dated = good[0].date is not None
        if not dated and self._said.date_column is None and good[0].minutes == 0 and good[0].seconds < 2:
            # A clock that starts at nothing counts from the beginning.
            self.elapsed = True
            self.understood.append(f"{head!r} counts from the beginning")
            self._begins()
            return
        order: bool | None = True
        if dated and not good[0].year_first:
            order = self._said.day_first if self._said.day_first is not None else day_first_of(good)
            if order is None:
                text = texts[0] if dates is None else dates[0]
                a, b, c = good[0].date or (0, 0, 0)
                offers = (Offer("true", f"day {a}, month {b}, {c}"), Offer("false", f"month {a}, day {b}, {c}"))
                self.asks.append(Ask("day_first", f"Which day is {text.partition(' ')[0]!r}?", offers))
        utc = bool(re.search(r"utc|gmt|zulu", head.replace("_", " "), re.I))
        zone = None if all(row.zone for row in good) else UTC if utc else self._zone()
        day = None
        if not dated:
            if (
                self._said.begins is None
                or (told := written(self._said.begins)) is None
                or told.date is None
                or not told.year_first
            ):
                self.asks.append(Ask("begins", "On which day was this? Its times say none."))
            else:
                day = datetime(*told.date)
        if order is not None:
            self.moments = Moments(order, zone, day)
            if dated and not good[0].year_first:
                self.understood.append("day before month" if order else "month before day")
            self.understood.append(
                "times are UTC"
                if zone is UTC
                else f"times in the zone {self._said.zone}"
                if zone
                else "times say their zone"
            )


def _force_unit_in(head: str) -> bool:
    """Whether a head is a unit of force and nothing else, or has one in brackets."""
    if head.strip().lower() in UNITS["force"]:
        return True
    try:
        return "[" in head and unit_in(head, "force") is not None
    except Refused:
        return False


def _ms(moments: Moments, text: str, field_: str) -> float:
    try:
        return moments.ms(text)
    except ValueError as error:
        right = (
            "give its offset: in that hour clocks went back, and it came twice"
            if str(error) == "twice"
            else "a moment of the calendar"
        )
        raise refuse(field_, f"{text!r} is no moment that can be told", right) from error


@dataclass
class _Stream:
    file: BinaryIO
    encoding: str
    table: Table
    columns: _Columns
    said: LogSettings
    found: LogRead
    sure: bool = False
    groups: dict[str, int] = field(default_factory=dict)
    kept: int = 0
    example: str = ""
    commas: bool = False

    def read(self) -> LogRead:
        first = self.table.rows[0].number if self.table.rows else 1
        decimal = self._assumed()
        text = io.TextIOWrapper(self.file, self.encoding, errors="strict", newline="")
        times: list[np.ndarray] = []
        forces: list[np.ndarray] = []
        numbers: list[np.ndarray] = []
        try:
            for _ in range(first - 1):
                text.readline()
            reader = csv.reader(text, delimiter=self.table.separator)
            line = first
            while rows := list(itertools.islice(reader, _CHUNK)):
                at, force, row = self._chunk(rows, line, decimal)
                times.append(at)
                forces.append(force)
                numbers.append(row)
                line += len(rows)
                if line - first > MOST_ROWS:
                    raise refuse(
                        "file", f"it has more than {MOST_ROWS} rows", "give the stretch that is about this run"
                    )
                if len(self.found.faults) > MOST_FAULTS * 4:
                    break
        except UnicodeDecodeError as error:
            raise refuse(
                "file", f"its letters are not {self.encoding} all through", "export it again as UTF-8"
            ) from error
        except csv.Error as error:
            raise refuse("file", f"it is no table all through ({error})", "export it again") from error
        finally:
            text.detach()
        if (
            not self.sure
            and self.said.decimal is None
            and self.example
            # Between commas a point in a number is a decimal point.
            and not (self.table.separator == "," and decimal == "." and not self.commas)
        ):
            self.found.asks.append(decimal_ask(self.example))
        if len(self.groups) > 1 and self.said.only is None:
            self.found.asks.append(
                Ask(
                    "only",
                    "It has the readings of several cells. Which one's?",
                    tuple(Offer(g, f"{g}, {n} rows") for g, n in self.groups.items()),
                )
            )
        return self._whole(_joined(times, np.int64), _joined(forces, np.float32), _joined(numbers, np.int32))

    def _assumed(self) -> str:
        """The decimal sign of the force column's first rows; the rest is held against it."""
        if self.said.decimal is not None:
            self.sure = True
            return self.said.decimal
        assert self.columns.force is not None
        texts = [without_unit(row.cells[self.columns.force].strip())[0] for row in self.table.rows]
        possible = signs_possible(text for text in texts if looks_like_number(text))
        marked = [text for text in texts if "," in text or "." in text]
        self.sure = len(possible) == 1 and bool(marked)
        self.commas = any("," in text for text in marked)
        self.example = next((text for text in marked if looks_like_number(text)), "")
        return (
            min(possible) if len(possible) == 1 else "," if marked and "," in marked[0] and "." not in possible else "."
        )

    def _chunk(self, rows: list[list[str]], line: int, decimal: str) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        columns, width = self.columns, len(self.table.head)
        assert columns.force is not None
        places = []
        out = set(self.said.left_out)
        for place, row in enumerate(rows):
            if (
                not row
                or (len(row) == 1 and not row[0].strip())
                or row[0].lstrip().startswith(("#", "//", "%", "!"))
                or line + place in out
            ):
                continue
            if len(row) > width and any(cell.strip() for cell in row[width:]):
                self._fault(
                    line + place,
                    row,
                    f"{len(row)} values under {width} columns",
                    "is there a decimal comma between commas? Then in quotes, or semicolons between",
                )
                continue
            if len(row) <= max(columns.force, columns.time or 0, columns.date or 0):
                self._fault(
                    line + place,
                    row,
                    f"{len(row)} values under {width} columns",
                    "a time and a force; leave the row out if it is none",
                )
                continue
            if columns.group is not None:
                group = row[columns.group].strip()
                self.groups[group] = self.groups.get(group, 0) + 1
                if self.said.only is not None and group != self.said.only:
                    continue
            places.append(place)
        kept = [rows[place] for place in places]
        lines = np.array(places, dtype=np.int64) + line
        force = self._forces([row[columns.force].strip() for row in kept], kept, lines, decimal)
        at = self._times(kept, lines, decimal)
        good = np.isfinite(force) & np.isfinite(at)
        return np.rint(at[good]).astype(np.int64), force[good].astype(np.float32), lines[good].astype(np.int32)

    def _fault(self, line: int, row: list[str], problem: str, right: str) -> None:
        self.found.faults.append(Fault(f"row {line}", problem, right))
        if len(self.found.rows) < 60:
            self.found.rows.append(RowRead(line, tuple(cell[:60] for cell in row[:12]), True))

    def _forces(self, texts: list[str], rows: list[list[str]], lines: np.ndarray, decimal: str) -> np.ndarray:
        joined = "\x1f".join(texts)
        plain = joined.replace(",", ".") if decimal == "," else joined
        if texts and (decimal == "." or "." not in joined) and _PLAIN.fullmatch(plain):
            try:
                found = np.array(plain.split("\x1f")).astype(float)
            except ValueError:
                found = None
            if found is not None:
                if not self.sure:
                    self._surer(texts, decimal)
                return self._borne(found * self.columns.newtons, texts, rows, lines)
        return self._borne(
            np.array(
                [self._force(text, row, int(n), decimal) for text, row, n in zip(texts, rows, lines, strict=True)],
                dtype=float,
            ),
            texts,
            rows,
            lines,
        )

    def _surer(self, texts: list[str], decimal: str) -> None:
        possible = signs_possible(texts)
        self.sure = possible == {decimal}
        if not self.example:
            self.example = next((text for text in texts if "." in text or "," in text), "")

    def _force(self, text: str, row: list[str], line: int, decimal: str) -> float:
        if _BLANK.fullmatch(text):
            self.found.blank += 1
            return np.nan
        if _OVER.fullmatch(text):
            self.found.over += 1
            return np.nan
        plain, unit = without_unit(text)
        try:
            if not self.sure and len(possible := signs_possible([plain])) == 1 and looks_like_number(plain):
                self.sure = possible == {decimal}
            self.example = self.example or (plain if "." in plain or "," in plain else "")
            self.commas = self.commas or "," in plain
            return number(plain, decimal) * (one(unit, "force", f"row {line}") if unit else self.columns.newtons)
        except Refused as error:
            self._fault(line, row, error.faults[0].problem, error.faults[0].right)
        except ValueError:
            self._fault(
                line,
                row,
                f"{text[:40]!r} is no force",
                f"a number with a decimal {DECIMALS[decimal]}, or leave the row out",
            )
        return np.nan

    def _borne(self, forces: np.ndarray, texts: list[str], rows: list[list[str]], lines: np.ndarray) -> np.ndarray:
        for place in np.flatnonzero(np.abs(forces) > MOST_N)[:MOST_FAULTS]:
            self._fault(
                int(lines[place]),
                rows[place],
                f"{texts[place]!r} is no force on a rope",
                f"up to {MOST_N / 1000:.0f} kN; is the unit right?",
            )
        return forces

    def _times(self, rows: list[list[str]], lines: np.ndarray, decimal: str) -> np.ndarray:
        columns = self.columns
        if columns.time is None:
            assert columns.begins_ms is not None
            before = self.kept
            self.kept += len(rows)
            return columns.begins_ms + (before + np.arange(len(rows))) * columns.step_ms
        texts = [row[columns.time].strip() for row in rows]
        if columns.moments is not None:
            dates = (
                [f"{row[columns.date].strip()} " for row in rows] if columns.date is not None else itertools.repeat("")
            )
            return np.array(
                [
                    self._moment(date + text, row, int(n))
                    for date, text, row, n in zip(dates, texts, rows, lines, strict=False)
                ],
                dtype=float,
            )
        assert columns.begins_ms is not None
        if columns.elapsed:
            return columns.begins_ms + np.array(
                [self._elapsed(text, row, int(n)) for text, row, n in zip(texts, rows, lines, strict=True)], dtype=float
            )
        joined = "\x1f".join(texts)
        # Of times the decimal sign is their own: where there is no point, a comma is one.
        plain = joined.replace(",", ".") if "." not in joined else joined
        if texts and _PLAIN.fullmatch(plain):
            try:
                return columns.begins_ms + np.array(plain.split("\x1f")).astype(float) * columns.step_ms
            except ValueError:
                pass
        sign = "," if "," in joined and "." not in joined else "."
        return (
            columns.begins_ms
            + np.array(
                [self._count(text, row, int(n), sign) for text, row, n in zip(texts, rows, lines, strict=True)],
                dtype=float,
            )
            * columns.step_ms
        )

    def _moment(self, text: str, row: list[str], line: int) -> float:
        assert self.columns.moments is not None
        try:
            return self.columns.moments.ms(text)
        except ValueError as error:
            right = (
                "give it with its offset: in that hour clocks went back"
                if str(error) == "twice"
                else "a time as in the rows before; leave the row out if it is none"
            )
            self._fault(line, row, f"{text[:40]!r} is no time", right)
        return np.nan

    def _elapsed(self, text: str, row: list[str], line: int) -> float:
        found = written(text)
        if found is None or found.minutes is None or found.date is not None:
            self._fault(line, row, f"{text[:40]!r} is no time", "hours:minutes:seconds, as in the rows before")
            return np.nan
        return (found.minutes * 60 + found.seconds) * 1000

    def _count(self, text: str, row: list[str], line: int, decimal: str) -> float:
        try:
            return number(without_unit(text)[0], decimal)
        except ValueError:
            self._fault(line, row, f"{text[:40]!r} is no time", "a number, as in the rows before")
            return np.nan

    def _whole(self, times: np.ndarray, forces: np.ndarray, lines: np.ndarray) -> LogRead:
        found = self.found
        if not len(times) and not found.faults:
            found.faults.append(Fault("file", "it has no row of readings", "a row for each reading, under a head"))
        if self.columns.moments is not None and self.columns.moments.day is not None:
            # A clock without a date that falls back by most of a day has gone past midnight.
            times = (
                times + np.cumsum(np.concatenate([[0], np.diff(times) < -12 * 3_600_000]))[: len(times)] * 86_400_000
            )
        if (times[1:] == times[:-1]).any() and not (times[1:] < times[:-1]).any():
            times = self._apart(times)
        for place in np.flatnonzero(times[1:] <= times[:-1])[:MOST_FAULTS]:
            if not any(ask.setting == "spread" for ask in found.asks):
                self._fault(
                    int(lines[place + 1]),
                    [str(int(times[place + 1]))],
                    "its time is not after the row before",
                    "rows in the order of time",
                )
        found.faults = not_too_many(found.faults)
        if found.asks or found.faults:
            return found
        found.times_ms, found.forces_n = times, forces
        found.understood += _told(times, found)
        return found

    def _apart(self, times: np.ndarray) -> np.ndarray:
        """Readings of the same moment: spread evenly until the next, if somebody says so."""
        most = int(np.unique(times, return_counts=True)[1].max())
        if self.said.spread is None:
            offers = (Offer("true", "spread them evenly until the next"), Offer("false", "no: it is refused"))
            self.found.asks.append(
                Ask(
                    "spread",
                    f"Up to {most} readings have the same time. Were they taken one after the other, evenly?",
                    offers,
                )
            )
        if not self.said.spread:
            return times
        starts = np.flatnonzero(np.diff(times, prepend=times[0] - 1))
        lengths = np.diff(np.append(starts, len(times)))
        spans = np.diff(times[starts])
        spans = np.append(spans, spans[-1] if len(spans) else 1000)
        # A pause is no longer than the step usual in the table.
        spans = np.minimum(spans, np.median(spans))
        within = np.arange(len(times)) - np.repeat(starts, lengths)
        found: np.ndarray = np.rint(times + within * np.repeat(spans / lengths, lengths)).astype(np.int64)
        return found


def _joined(parts: list[np.ndarray], kind: Any) -> np.ndarray:
    found = np.concatenate(parts) if parts else np.zeros(0, dtype=kind)
    parts.clear()
    return found


def _told(times: np.ndarray, found: LogRead) -> list[str]:
    first, last = (
        datetime.fromtimestamp(int(one) / 1000, UTC).strftime("%Y-%m-%d %H:%M:%S") for one in (times[0], times[-1])
    )
    said = [f"{len(times)} readings from {first} to {last} UTC"]
    if len(times) > 1:
        said.append(f"{1000 / float(np.median(np.diff(times[:10_000]))):.4g} a second")
    if found.blank:
        said.append(f"{found.blank} blank")
    if found.over:
        said.append(f"{found.over} beyond what the cell reads: the load was more than any figure here")
    return said
