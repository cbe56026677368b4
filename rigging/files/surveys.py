"""A survey's table as places: columns by what they mean, numbers by the file's own signs, each fault by its row and column."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from rigging.catalogue import catalogue
from rigging.document.site import North
from rigging.files import units
from rigging.files.asked import Ask, Offer
from rigging.files.columns import MEANINGS, Means, meaning_of, plainly, sure, unit_of
from rigging.files.numbers import DECIMALS, marked, number, readings_of, signs_possible, without_unit
from rigging.files.places import Content, OnMap, OnSheet, Sighted, Spot
from rigging.files.tables import SEPARATORS, Row, Table
from rigging.quantities.faults import Fault, Refused

_TEXTS: tuple[Means, ...] = ("name", "basis", "reason", "judged_by", "guard")
_DMS = re.compile(
    r"(?P<before>[NSEWO])?\s*(?P<sign>[-+\u2212])?(?P<d>\d{1,3})\s*[°d:\s]\s*(?:(?P<m>\d{1,2}(?:[.,]\d+)?)\s*(?:['′’m:\s]\s*(?:(?P<s>\d{1,2}(?:[.,]\d+)?)\s*(?:[\"″”s]|''|′′)?)?)?)?\s*(?P<after>[NSEWO])?",
    re.I,
)
_LETTERED = re.compile(r"(?P<before>[NSEWO])?\s*(?P<number>[-+\u2212]?[\d.,]+)\s*°?\s*(?P<after>[NSEWO])?", re.I)


@dataclass
class ColumnRead:
    """A column: what it means ("": it is left out), in which unit, the first few of its values; `asked`: it is not told by its head."""

    name: str
    means: Means | str
    unit: str
    sample: list[str]
    asked: bool = False


@dataclass
class Survey:
    """A table read as a survey, as far as it can be."""

    content: Content
    columns: list[ColumnRead]
    asks: list[Ask] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)
    rows: set[int] = field(default_factory=set)


@dataclass(frozen=True)
class TableSettings:
    """What somebody said of a table."""

    columns: dict[str, str]
    units: dict[str, str]
    decimal: str | None
    north: North | None


def survey(table: Table, said: TableSettings) -> Survey:
    """The places in a table."""
    columns, asks = _columns(table, said)
    found = Survey(Content(), columns, asks)
    chosen = {column.means: place for place, column in enumerate(columns) if column.means}
    kind = _kind_of_place(chosen)
    if not asks and kind is None:
        places = "out and right; bearing and distance; or latitude and longitude"
        asks.append(Ask("columns", f"No columns say where things lie. Say which are {places}."))
    numeric = [place for means, place in chosen.items() if MEANINGS[means].measure]  # type: ignore[index]
    decimal = decimal_of(table, numeric, said.decimal, found)
    north = said.north or _north_in(columns)
    if kind == "sighted" and north is None:
        asks.append(north_ask())
    if asks or kind is None or decimal is None:
        return found
    reader = _Reader(table, columns, chosen, decimal, found)
    spots = [spot for row in table.rows if (spot := reader.spot(row, kind, north)) is not None]
    found.content = Content(tuple(spots), understood=tuple(_understood(table, columns, decimal)))
    return found


def north_ask() -> Ask:
    offers = (
        Offer("magnetic", "magnetic: a compass as it is"),
        Offer("true", "true: from a map, or a compass set for the declination"),
    )
    return Ask("north", "From which north were the bearings taken?", offers)


def force_unit_ask(setting: str, head: str) -> Ask:
    return Ask(setting, f"In which unit is {head!r}?", tuple(Offer(u, u) for u in ("kN", "N", "daN", "kgf", "lbf")))


def _columns(table: Table, said: TableSettings) -> tuple[list[ColumnRead], list[Ask]]:
    columns, asks = [], []
    for place, head in enumerate(table.head):
        sample = [cell for cell in table.column(place) if cell.strip()][:4]
        if head in said.columns:
            means, asked = said.columns[head], False
            if means and means not in MEANINGS:
                raise Refused(
                    [
                        Fault(
                            f"columns.{head}",
                            f"{means!r} is nothing that a column means here",
                            f"one of {', '.join(MEANINGS)}, or nothing",
                        )
                    ]
                )
        else:
            plain = sure(head) if table.named else None
            maybe = meaning_of(head) if table.named else ()
            means, asked = plain or "", bool(sample) and plain is None and bool(maybe)
            if asked:
                offers = (*(Offer(one, MEANINGS[one].label) for one in maybe), Offer("", "Nothing that is needed here"))
                asks.append(Ask(f"columns.{head}", f"What does the column {head!r} say?", offers))
        columns.append(ColumnRead(head, means, "", sample, asked))
    for means, count in Counter(one.means for one in columns if one.means).items():
        if count > 1:
            twice = [one.name for one in columns if one.means == means]
            offers = tuple(Offer(name, name) for name in twice)
            asks.append(Ask("columns", f"Which of {', '.join(twice)} is {MEANINGS[means].label.lower()}?", offers))  # type: ignore[index]
    for column in columns:
        measure = MEANINGS[column.means].measure if column.means else None  # type: ignore[index]
        if measure is None:
            continue
        unit = said.units.get(column.name) or unit_of(column.name, column.means) or ""  # type: ignore[arg-type]
        if not unit and measure == "force":
            asks.append(force_unit_ask(f"units.{column.name}", column.name))
        column.unit = unit or {"length": "m", "angle": "°", "degrees": "°", "force": ""}[measure]
        if column.unit:
            units.one(column.unit, "angle" if measure == "degrees" else measure, f"units.{column.name}")
    return columns, asks


def _kind_of_place(chosen: dict[Any, int]) -> str | None:
    if "x" in chosen and "y" in chosen:
        return "sheet"
    if "bearing" in chosen and ("level" in chosen or "slope" in chosen):
        return "sighted"
    return "map" if "latitude" in chosen and "longitude" in chosen else None


def _north_in(columns: list[ColumnRead]) -> North | None:
    """From which north, where the bearing's own head says so."""
    words = [plainly(one.name).split() for one in columns if one.means == "bearing"]
    if any({"magnetic", "mag", "magnetisch", "magnetique", "magnetico"} & set(one) for one in words):
        return "magnetic"
    return (
        "true"
        if any({"true", "wahr", "rechtweisend", "geographic", "vrai", "vero"} & set(one) for one in words)
        else None
    )


def decimal_of(table: Table, columns: list[int], said: str | None, found: Survey) -> str | None:
    """The file's decimal sign: as somebody said, as the numbers tell, or asked; None where it is asked or can be none."""
    if said is not None:
        if said not in DECIMALS:
            raise Refused([Fault("decimal", f"{said!r} is none", "a point or a comma")])
        return said
    texts = [text for place in columns for row in table.rows if (text := without_unit(row.cells[place].strip())[0])]
    possible = signs_possible(texts)
    if not possible:
        _both_signs(table, columns, found)
        return None
    asked = list(marked(texts))
    if len(possible) == 1 or not asked:
        return min(possible)
    # Where commas stand between the values, one within a value would have had to be put in quotes: a point is a decimal point.
    if table.separator == "," and all("." in one and "," not in one for one in asked):
        return "."
    other = [text for row in table.rows for text in (without_unit(cell.strip())[0] for cell in row.cells) if text]
    told = signs_possible(other)
    if len(told) == 1:
        return min(told)
    found.asks.append(decimal_ask(asked[0]))
    return None


def decimal_ask(example: str) -> Ask:
    """Which of its two numbers a text is."""
    offers = tuple(Offer(sign, f"{number(example, sign):.6g} (decimal {name})") for sign, name in DECIMALS.items())
    return Ask(
        "decimal", f"Is {example!r} {offers[0].label.partition(' ')[0]} or {offers[1].label.partition(' ')[0]}?", offers
    )


def _both_signs(table: Table, columns: list[int], found: Survey) -> None:
    """Every number that goes against the sign of most."""
    only: dict[str, list[tuple[int, int, str]]] = {".": [], ",": []}
    for row in table.rows:
        for place in columns:
            text = without_unit(row.cells[place].strip())[0]
            if len(read := readings_of(text)) == 1:
                only[min(read)].append((row.number, place, text))
    fewer = min(only, key=lambda sign: len(only[sign]))
    most = DECIMALS["," if fewer == "." else "."]
    for row_number, place, text in only[fewer]:
        found.rows.add(row_number)
        found.faults.append(
            Fault(
                f"row {row_number}, {table.head[place]}",
                f"{text!r} has another decimal sign than the rest",
                f"write it with a decimal {most}",
            )
        )


@dataclass
class _Reader:
    table: Table
    columns: list[ColumnRead]
    chosen: dict[Any, int]
    decimal: str
    found: Survey

    def _cell(self, row: Row, means: Means) -> str:
        place = self.chosen.get(means)
        return "" if place is None else row.cells[place]

    def _fault(self, row: Row, means: Means, problem: str, right: str) -> None:
        self.found.rows.add(row.number)
        name = self._cell(row, "name").strip() if means != "name" else ""
        said = f"{problem} ({name[:40]})" if name else problem
        self.found.faults.append(Fault(f"row {row.number}, {self.columns[self.chosen[means]].name}", said, right))

    def _number(self, row: Row, means: Means, needed: bool = False) -> float | None:
        """A value in SI (angles in degrees), None where the cell is empty; a fault where it is none."""
        text = self._cell(row, means).strip()
        if not text:
            if needed:
                self._fault(row, means, "it is empty", "give a number, or take the row out")
            return None
        measure = MEANINGS[means].measure
        if measure == "degrees":
            return self._degrees(row, means, text)
        plain, unit = without_unit(text)
        column = self.columns[self.chosen[means]]
        try:
            return number(plain, self.decimal) * units.one(
                unit or column.unit, measure or "length", f"row {row.number}, {column.name}"
            )
        except Refused as error:
            self._fault(row, means, f"{text[:40]!r} is not a number: {error.faults[0].problem}", error.faults[0].right)
        except ValueError:
            self._fault(
                row, means, f"{text[:40]!r} is not a number", f"a number with a decimal {DECIMALS[self.decimal]}"
            )
        return None

    def _degrees(self, row: Row, means: Means, text: str) -> float | None:
        """Latitude or longitude: degrees, or degrees, minutes and seconds, with their letter or their sign."""
        lettered = _LETTERED.fullmatch(text)
        dms = None if lettered else _DMS.fullmatch(text)
        try:
            if lettered:
                value = number(lettered.group("number"), self.decimal)
                letters = [one for one in (lettered.group("before"), lettered.group("after")) if one]
            elif dms:
                parts = [float((dms.group(name) or "0").replace(",", ".")) for name in "dms"]
                if parts[1] >= 60 or parts[2] >= 60:
                    raise ValueError(text)
                value = parts[0] + parts[1] / 60 + parts[2] / 3600
                letters = [one for one in (dms.group("before"), dms.group("after")) if one]
                value = -value if dms.group("sign") in ("-", "\u2212") else value
            else:
                raise ValueError(text)
        except ValueError:
            self._fault(row, means, f"{text[:40]!r} is no {means}", "degrees, as 47.0034 or 47° 0' 12.2\" N")
            return None
        fits = "NS" if means == "latitude" else "EWO"
        if len(letters) > 1 or (letters and letters[0].upper() not in fits) or (letters and value < 0):
            self._fault(row, means, f"{text[:40]!r} is no {means}", f"one of {', '.join(fits)}, or a sign")
            return None
        return -value if letters and letters[0].upper() in "SW" else value

    def spot(self, row: Row, kind: str, north: North | None) -> Spot | None:
        before = len(self.found.faults)
        at: OnMap | OnSheet | Sighted | None = None
        if kind == "sheet":
            x, y = (self._number(row, one, needed=True) for one in ("x", "y"))
            up = self._number(row, "z")
            at = OnSheet(x, y, up) if x is not None and y is not None else None
        elif kind == "sighted":
            bearing = self._number(row, "bearing", needed=True)
            level, slope, rise, height = (self._number(row, one) for one in ("level", "slope", "inclination", "height"))
            if bearing is not None and not 0 <= bearing <= 360:
                self._fault(
                    row,
                    "bearing",
                    f"{bearing:g}° is no bearing",
                    "0 to 360 degrees; are they gon? Then say so of the column",
                )
            if rise is not None and not -90 < rise < 90:
                self._fault(row, "inclination", f"{rise:g}° is no inclination", "−90 to 90 degrees, up positive")
            far = level if level is not None else slope
            if far is None or far <= 0:
                self._fault(
                    row,
                    "level" if "level" in self.chosen else "slope",
                    "how far away it is is not told",
                    "a distance above 0",
                )
            at = Sighted(bearing, north, level, slope, rise, height) if bearing is not None else None
        else:
            latitude, longitude = (
                self._number(row, "latitude", needed=True),
                self._number(row, "longitude", needed=True),
            )
            up = self._number(row, "elevation")
            at = OnMap(latitude, longitude, up) if latitude is not None and longitude is not None else None
        fields = self._fields(row)
        return Spot(f"row {row.number}", at, fields) if at is not None and len(self.found.faults) == before else None

    def _fields(self, row: Row) -> dict[str, Any]:
        found: dict[str, Any] = {one: text for one in _TEXTS if (text := self._cell(row, one)).strip()}
        if verdict := self._cell(row, "verdict").strip():
            found["verdict"] = verdict
        found |= self._kind(row)
        if placed_by := self._cell(row, "placed_by").strip():
            found["placed"] = {
                "by": placed_by,
                "off_m": self._number(row, "off"),
                "off_up_m": self._number(row, "off_up"),
            }
        answers = _answers(self._cell(row, "answers"))
        if answers:
            found["answers"] = answers
        rating = {end: self._number(row, f"rating_{end}") for end in ("low", "expected", "high")}  # type: ignore[arg-type]
        if any(one is not None for one in rating.values()):
            found["rating_n"] = rating
        return found

    def _kind(self, row: Row) -> dict[str, str]:
        """The kind of feature: by its id, or by its name in the catalogue; another word only where the column is not this tool's own."""
        text = self._cell(row, "kind").strip()
        if not text:
            return {"kind": "other"}
        known = catalogue().features
        by_name = {one.name.lower(): id for id, one in known.items()} | {id: id for id in known} | _KINDS
        found = by_name.get(text.lower())
        if found is None and self.columns[self.chosen["kind"]].name == "kind":
            self._fault(row, "kind", f"{text!r} is no kind of feature here", f"one of {', '.join(known)}")
        return {"kind": found} if found else {"kind": "other", "basis": self._cell(row, "basis").strip() or text}


_KINDS = {
    "baum": "tree", "arbre": "tree", "albero": "tree", "árbol": "tree", "arbol": "tree", "boom": "tree", "träd": "tree", "strom": "tree",
}  # fmt: skip


def _answers(text: str) -> dict[str, Any]:
    """`diameter_m=0.31; alive=yes` as a dictionary."""
    found: dict[str, Any] = {}
    for part in filter(None, (one.strip() for one in text.split(";"))):
        name, _, value = part.partition("=")
        plain = re.fullmatch(r"\s*\d+(\.\d*)?([eE][+-]?\d+)?\s*", value, re.ASCII)
        found[name.strip()] = float(value) if plain and not _chooses(name.strip()) else value.strip()
    return found


def _chooses(question: str) -> bool:
    kinds = catalogue().features.values()
    return any(one.id == question and one.kind != "number" for kind in kinds for one in kind.questions)


def _understood(table: Table, columns: list[ColumnRead], decimal: str) -> list[str]:
    """How the table was read, in words."""
    left = [one.name for one in columns if not one.means and one.sample]
    said = [
        f"a table of {len(table.rows)} rows with {SEPARATORS.get(table.separator, 'cells')} between values, decimal {DECIMALS[decimal]}"
    ]
    bare = [one.name for one in columns if one.means and one.unit == "m" and not unit_of(one.name, one.means)]  # type: ignore[arg-type]
    if bare:
        said.append(f"{', '.join(bare)} in metres, as no unit is said")
    if left:
        said.append(f"left out: {', '.join(left)}")
    return said
