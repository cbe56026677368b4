"""Moments as tables write them: one shape for the whole file, the order of day and month told or asked, the zone never supposed."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, tzinfo
from functools import cached_property
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from rigging.quantities.faults import refuse

_DATE = re.compile(r"(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})\.?", re.ASCII)
_CLOCK = re.compile(r"(\d{1,3}):(\d{2})(?::(\d{2}(?:[.,]\d*)?))?", re.ASCII)
_OFFSET = re.compile(r"(Z|UTC|GMT)|([+-])(\d{2}):?(\d{2})", re.ASCII)
_HALVES = {"am": 0, "a.m.": 0, "pm": 12, "p.m.": 12}


def zone_of(said: str) -> tzinfo:
    """A zone by its name (Europe/…), as UTC, or as an offset (+01:00).

    Raises
    ------
    Refused
        If it is none.
    """
    offset = _OFFSET.fullmatch(said.strip())
    if offset:
        return UTC if offset.group(1) else _shift(offset)
    try:
        return ZoneInfo(said.strip())
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise refuse("zone", f"{said!r} is no zone", "a name as Europe/…, UTC, or an offset as +01:00") from error


def _shift(offset: re.Match[str]) -> tzinfo:
    from datetime import timezone

    minutes = int(offset.group(3)) * 60 + int(offset.group(4))
    return timezone(timedelta(minutes=-minutes if offset.group(2) == "-" else minutes))


@dataclass(frozen=True)
class Written:
    """A text taken apart: the three numbers of its date and what stands between them, hour, minute, second, and its zone."""

    date: tuple[int, int, int] | None
    sign: str
    year_first: bool
    minutes: int | None
    seconds: float
    zone: tzinfo | None


def written(text: str) -> Written | None:
    """A text as a moment; None if it is none."""
    rest = text.strip().replace("T", " ").replace(",", ".")
    date, sign, year_first, minutes, seconds, zone = None, "", False, None, 0.0, None
    found = _DATE.match(rest)
    if found:
        first, middle, last = (int(found.group(n)) for n in (1, 3, 4))
        year_first = len(found.group(1)) == 4
        if year_first == (len(found.group(4)) == 4) and not (len(found.group(4)) == 2 and not year_first):
            return None
        if not year_first and len(found.group(4)) == 2:
            last += 2000
        date, sign = (first, middle, last), found.group(2)
        rest = rest[found.end() :].strip(" .")
    if rest:
        clock = _CLOCK.match(rest)
        if not clock:
            return None
        hours, part = int(clock.group(1)), float(clock.group(3) or 0)
        minutes, seconds = hours * 60 + int(clock.group(2)), part
        rest = rest[clock.end() :].strip()
        if rest.lower() in _HALVES:
            half, rest = _HALVES[rest.lower()], ""
            if not 1 <= hours <= 12:
                return None
            minutes = (hours % 12) * 60 + int(clock.group(2)) + half * 60
        if rest:
            offset = _OFFSET.fullmatch(rest)
            if not offset:
                return None
            zone = UTC if offset.group(1) else _shift(offset)
        if int(clock.group(2)) > 59 or part >= 61:
            return None
    return Written(date, sign, year_first, minutes, seconds, zone) if date or minutes is not None else None


def day_first_of(dates: Iterable[Written]) -> bool | None:
    """Whether the day comes before the month, told over all dates: by their sign (a point is European), by a number above 12; None where nothing
    tells."""
    maybe = {True, False}
    for one in dates:
        if one.date is None or one.year_first:
            continue
        if one.sign == "." or one.date[0] > 12:
            maybe.discard(False)
        if one.date[1] > 12:
            maybe.discard(True)
    return maybe.pop() if len(maybe) == 1 else None


@dataclass
class Moments:
    """Texts of one table as moments: `zone` and `day` (of clocks without a date) where the table says none itself."""

    day_first: bool
    zone: tzinfo | None
    day: datetime | None = None
    _minutes: dict[str, int] = field(default_factory=dict)

    def ms(self, text: str) -> float:
        """Milliseconds since the epoch.

        Raises
        ------
        ValueError
            If it is no moment.
        """
        head, colon, tail = text.rpartition(":")
        known = self._minutes.get(head) if colon else None
        if known is not None and self._plain.fullmatch(tail):
            return known + float(tail.replace(",", ".")) * 1000
        found = written(text)
        if found is None:
            raise ValueError(text)
        base = self._base(found)
        if colon and self._plain.fullmatch(tail) and text.count(":") == 2 and found.zone is None:
            self._minutes[head] = base
        return base + found.seconds * 1000

    @cached_property
    def _plain(self) -> re.Pattern[str]:
        return re.compile(r"\d{2}(?:[.,]\d+)?", re.ASCII)

    def _base(self, found: Written) -> int:
        """Of the minute."""
        zone = found.zone or self.zone
        if zone is None:
            raise ValueError("zone")
        if found.date is not None:
            first, middle, last = found.date
            year, month, day = (
                (first, middle, last)
                if found.year_first
                else (last, middle, first)
                if self.day_first
                else (last, first, middle)
            )
            midnight = datetime(year, month, day)
        elif self.day is not None:
            midnight = datetime(self.day.year, self.day.month, self.day.day)
        else:
            raise ValueError("date")
        minutes = found.minutes or 0
        if minutes >= 24 * 60 + 1:
            raise ValueError("hour")
        here = (midnight + timedelta(minutes=minutes)).replace(tzinfo=zone)
        if here.utcoffset() != here.replace(fold=1).utcoffset():
            raise ValueError("twice")
        return round(here.timestamp() * 1000)
