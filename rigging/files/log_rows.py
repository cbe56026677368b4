"""The rows of a logger's table, read as a stream: times and forces, what is blank or overloaded counted, every row at fault named."""

from __future__ import annotations

import csv
import io
import itertools
import re
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, BinaryIO

import numpy as np

from rigging.files.asked import MOST_FAULTS, Ask, Offer, RowRead, not_too_many
from rigging.files.log_columns import LogColumns, LogSettings
from rigging.files.moments import written
from rigging.files.numbers import DECIMALS, looks_like_number, number, signs_possible, without_unit
from rigging.files.surveys import decimal_ask
from rigging.files.tables import Table
from rigging.files.units import one
from rigging.quantities.faults import Fault, Refused, refuse

MOST_ROWS = 5_000_000
_CHUNK = 20_000
# No cell for rope work reads more, and no rope bears it.
MOST_N = 200_000.0
# What a logger writes where its cell was overloaded, or read nothing.
_OVER = re.compile(r"(ol|ovl|ovld|over|overload|überlast|[+>]\s*fs|\*{2,}|>+\s*[\d.,]+.*|\+{2,}|[+]?inf(inity)?)", re.I)
_BLANK = re.compile(r"(|-{1,5}|n/?a|nan|#n/a|null|none|err(or)?|x)", re.I)
_PLAIN = re.compile(r"[0-9+\-.eE\x1f]*", re.ASCII)


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


@dataclass
class LogRows:
    file: BinaryIO
    encoding: str
    table: Table
    columns: LogColumns
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
