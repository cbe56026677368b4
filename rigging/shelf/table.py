"""A shelf as a table, read and written: each row a piece, by its label."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from rigging.catalogue import catalogue
from rigging.files.asked import not_too_many
from rigging.files.columns import plainly
from rigging.files.letters import letters_of
from rigging.files.numbers import DECIMALS, marked, number, signs_possible
from rigging.files.plain import cell, uncelled
from rigging.files.reading import LARGEST_BYTES, form_of
from rigging.files.tables import Row, Table, table_of
from rigging.quantities.faults import Fault, faults_of, refuse
from rigging.shelf.pieces import SHELF_TABLES, Piece

COLUMNS = (
    "label", "table", "kind", "count", "length_m", "made", "stamp_kn", "mass_kg", "bag", "carried_by", "due", "retired", "note",
)  # fmt: skip
_NUMBERS = {
    "count": "how many",
    "length_m": "a length in metres",
    "made": "a year",
    "stamp_kn": "a rating in kN",
    "mass_kg": "a mass in kg",
}
_WHOLE = ("count", "made")
# So many labels a team has at the most.
MOST = 2000


@dataclass(frozen=True)
class ShelfRead:
    """The pieces of a table, and what is wrong with its rows; with anything wrong nothing is brought."""

    pieces: list[Piece]
    faults: list[Fault]


def write_shelf(pieces: Iterable[Piece]) -> str:
    """A shelf as CSV; read again it gives the same pieces."""
    out = io.StringIO()
    table = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    table.writeheader()
    for one in pieces:
        row = one.model_dump(mode="json")
        row["stamp_kn"] = None if one.stamp_n is None else round(one.stamp_n / 1000, 6)
        table.writerow(
            {
                name: "" if (value := row[name]) is None else cell(value) if isinstance(value, str) else value
                for name in COLUMNS
            }
        )
    return out.getvalue()


def read_shelf(content: bytes) -> ShelfRead:
    """The pieces of a CSV, all of them or none.

    Raises
    ------
    Refused
        If it is no table, larger than such a table is, or says neither labels nor kinds.
    """
    if not content or len(content) > LARGEST_BYTES or form_of(content) != "table":
        raise refuse("file", "it is no table of gear", f"a CSV with the columns {', '.join(COLUMNS)}")
    table = table_of(letters_of(content, None).text, None)
    if len(table.rows) > MOST:
        raise refuse(
            "file",
            f"it has {len(table.rows)} rows",
            f"at most {MOST}: what is alike goes under one label with its count",
        )
    places = {name: number for number, head in enumerate(table.head) if (name := _column(head))}
    for wanted in ("label", "kind"):
        if wanted not in places:
            raise refuse(
                "file",
                f"no column is called {wanted!r}",
                f"a head with {', '.join(COLUMNS)}; label and kind at the least",
            )
    decimal = _decimal(table, places)
    found, faults = [], []
    first: dict[str, int] = {}
    for row in table.rows:
        if not any(one.strip() for one in row.cells):
            continue
        piece, wrong = _piece(row, places, decimal)
        faults += wrong
        if piece is None:
            continue
        if piece.label in first:
            faults.append(
                Fault(
                    f"row {row.number}, label",
                    f"{piece.label} stands in row {first[piece.label]} already",
                    "a label of its own",
                )
            )
        first.setdefault(piece.label, row.number)
        found.append(piece)
    return ShelfRead([] if faults else found, not_too_many(faults))


def _column(head: str) -> str | None:
    plain = plainly(head).replace(" ", "_")
    return plain if plain in COLUMNS else None


def _decimal(table: Table, places: dict[str, int]) -> str:
    texts = [
        text for name in _NUMBERS if name in places for row in table.rows if (text := row.cells[places[name]].strip())
    ]
    possible = signs_possible(texts)
    if not possible:
        raise refuse(
            "file", "its numbers have a decimal point in one place and a comma in another", "one sign throughout"
        )
    # Where commas stand between the values, a point is a decimal point.
    if table.separator == "," and not any("," in one for one in texts):
        return "."
    if len(possible) == 2 and any(marked(texts)):
        raise refuse(
            "file",
            f"{next(iter(marked(texts)))!r} may have a decimal point or a comma",
            "numbers without groups of three",
        )
    return min(possible)


def _piece(row: Row, places: dict[str, int], decimal: str) -> tuple[Piece | None, list[Fault]]:
    given: dict[str, Any] = {}
    faults = []
    for name, place in places.items():
        text = uncelled(row.cells[place].strip())
        if not text:
            continue
        if name not in _NUMBERS:
            given[name] = text
            continue
        try:
            value = number(text, decimal)
        except ValueError:
            faults.append(
                Fault(
                    f"row {row.number}, {name}",
                    f"{text[:40]!r} is no number",
                    f"{_NUMBERS[name]}, with a decimal {DECIMALS[decimal]}",
                )
            )
            continue
        given[name] = int(value) if name in _WHOLE and value == int(value) else value
    if "stamp_kn" in given:
        given["stamp_n"] = given.pop("stamp_kn") * 1000
    given.update(_kind(given))
    try:
        return (None if faults else Piece.model_validate(given)), faults
    except ValidationError as error:
        named = {"stamp_n": "stamp_kn"}
        return None, [
            *faults,
            *(
                Fault(f"row {row.number}, {named.get(one.path, one.path)}", one.problem, one.right)
                for one in faults_of(error)
            ),
        ]


def _kind(given: dict[str, Any]) -> dict[str, Any]:
    """Table and id of what a row calls a thing: an id as it is, a name of one of the catalogue's, or something of no table."""
    text = str(given.get("kind", ""))
    tables = [given["table"]] if given.get("table") in SHELF_TABLES else [one for one in SHELF_TABLES if one != "other"]
    for table in tables:
        entries = getattr(catalogue(), table, {})
        if text in entries:
            return {"table": table}
        named = [id for id, one in entries.items() if plainly(one.name) == plainly(text)]
        if len(named) == 1:
            return {"table": table, "kind": named[0]}
    return {} if "table" in given else {"table": "other"}
