"""What the columns of a logger's table mean: which is time, which force, in which units, by which clock; what the table does not say is asked."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import Field

from rigging.files.asked import Ask, Offer
from rigging.files.moments import Moments, day_first_of, written, zone_of
from rigging.files.numbers import looks_like_number, number, signs_possible, without_unit
from rigging.files.surveys import force_unit_ask
from rigging.files.tables import SEPARATORS, Table
from rigging.files.units import UNITS, one, unit_in
from rigging.quantities.faults import Refused, refuse
from rigging.quantities.ranges import Strict

_TIMES = re.compile(
    r"\b(time|timestamp|t|zeit|uhrzeit|zeitstempel|temps|heure|horodatage|tempo|ora|hora|tiempo|elapsed|tid|tijd)\b",
    re.I,
)
_DATES = re.compile(r"\b(date|datum|fecha|data|dato)\b", re.I)
_FORCES = re.compile(
    r"\b(force|load|f|tension|kraft|last|zugkraft|zug|charge|carga|fuerza|forza|carico|peak|kracht)\b", re.I
)
_GROUPS = re.compile(r"^(cell|channel|sensor|kanal|canal|canale|serial|zelle)$", re.I)


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


class LogColumns:
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
            self.begins_ms = moment_ms(Moments(True, zone), self._said.begins, "begins")

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


def moment_ms(moments: Moments, text: str, field_: str) -> float:
    try:
        return moments.ms(text)
    except ValueError as error:
        right = (
            "give its offset: in that hour clocks went back, and it came twice"
            if str(error) == "twice"
            else "a moment of the calendar"
        )
        raise refuse(field_, f"{text!r} is no moment that can be told", right) from error
