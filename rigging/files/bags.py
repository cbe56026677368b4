"""What is in the bags, from a table: each row a kind of thing of the catalogue, how many, in which bag, how long and how old."""

from __future__ import annotations

import difflib
from collections import Counter
from dataclasses import dataclass, field

from pydantic import ValidationError

from rigging.catalogue import catalogue
from rigging.document import Bag, Bags, KitItem
from rigging.files.asked import Ask, Offer, RowRead, not_too_many
from rigging.files.columns import plainly
from rigging.files.letters import letters_of
from rigging.files.numbers import DECIMALS, number, without_unit
from rigging.files.places import Content
from rigging.files.reading import LARGEST_BYTES, FileSettings, form_of, of_cells, sheet_of
from rigging.files.surveys import Survey, decimal_of
from rigging.files.tables import Table, table_of
from rigging.files.units import one
from rigging.files.workbooks import sheets_of
from rigging.quantities.faults import Fault, faults_of, refuse
from rigging.quantities.ranges import Strict

_HEADS: dict[str, tuple[str, ...]] = {
    "what": ("what", "item", "gear", "equipment", "material", "name", "kind", "type", "article", "bezeichnung", "artikel", "gegenstand", "gerat", "objet", "materiel", "pieza", "equipo", "pezzo", "attrezzo"),
    "count": ("count", "number", "qty", "quantity", "pcs", "pieces", "anzahl", "stuck", "menge", "nombre", "quantite", "cantidad", "quantita", "no"),
    "bag": ("bag", "pack", "in", "where", "box", "sack", "rucksack", "tasche", "sac", "bolsa", "mochila", "zaino", "borsa"),
    "length": ("length", "lange", "longueur", "longitud", "largo", "lunghezza"),
    "age": ("age", "years", "alter", "jahre", "age years", "edad", "eta"),
}  # fmt: skip
# Where things of a kind are kept in the plan, in the order in which a name is looked for.
_TABLES = ("bends", "devices", "hitches", "ropes", "slings", "surfaces")


class BagSettings(Strict):
    """What somebody said of a table of gear: besides what is said of any table, what each name in it is (`table:id`; "" leaves it out)."""

    file: FileSettings = FileSettings()
    named: dict[str, str] = {}


@dataclass(frozen=True)
class BagsRead:
    """What a table would put in the bags, in place of what is said of them now; nothing with something asked or at fault."""

    name: str
    understood: list[str]
    asks: list[Ask]
    faults: list[Fault]
    columns: list[str]
    rows: list[RowRead]
    kit: list[KitItem]
    bags: Bags


@dataclass
class _Packed:
    kit: list[KitItem] = field(default_factory=list)
    counts: dict[str, Counter[tuple[str, str]]] = field(default_factory=dict)


def read_bags(content: bytes, name: str, said: BagSettings) -> BagsRead:
    """A table of gear, as far as it can be read.

    Raises
    ------
    Refused
        If it is no table, or larger than such a table is.
    """
    if not content or len(content) > LARGEST_BYTES:
        raise refuse(
            "file",
            "it is empty" if not content else f"{len(content) / 1e6:.1f} MB is too large",
            "a table of what is in the bags",
        )
    form = form_of(content)
    if form == "xlsx":
        chosen, ask = sheet_of(sheets_of(content), said.file.sheet)
        if ask is not None:
            return BagsRead(name, [], [ask], [], [], [], [], Bags())
        table = of_cells(chosen)
    elif form == "table":
        table = table_of(letters_of(content, said.file.encoding).text, said.file.separator)
    else:
        raise refuse("file", f"it is {form}, and no table", "a table or a workbook of what is in the bags")
    return _read(table, name, said)


def _read(table: Table, name: str, said: BagSettings) -> BagsRead:
    columns = {
        means: place for means, heads in _HEADS.items() if (place := _column(table, means, heads, said)) is not None
    }
    found = Survey(Content(), [])
    if "what" not in columns:
        offers = tuple(Offer(head, head) for head in table.head)
        found.asks.append(Ask("what", "Which column names the things?", offers))
    decimal = decimal_of(
        table, [columns[one] for one in ("count", "length", "age") if one in columns], said.file.decimal, found
    )
    packed = _Packed()
    if not found.asks and decimal is not None:
        _pack(table, columns, decimal, said, found, packed)
    shown = [*table.rows[:6], *(row for row in table.rows[6:] if row.number in found.rows)]
    clear = not (found.asks or found.faults)
    return BagsRead(
        name, _told(packed) if clear else [], found.asks[:12], not_too_many(found.faults), list(table.head),
        [RowRead(row.number, row.cells, row.number in found.rows) for row in shown[:50]],
        packed.kit if clear else [], _bags(packed) if clear else Bags(),
    )  # fmt: skip


def _column(table: Table, means: str, heads: tuple[str, ...], said: BagSettings) -> int | None:
    for head, told in said.file.columns.items():
        if told == means and head in table.head:
            return table.head.index(head)
    return next((place for place, head in enumerate(table.head) if plainly(head) in heads), None)


def _pack(
    table: Table, columns: dict[str, int], decimal: str, said: BagSettings, found: Survey, packed: _Packed
) -> None:
    names = _names()
    asked: set[str] = set()
    for row in table.rows:
        text = row.cells[columns["what"]].strip()
        if not text:
            continue
        place = said.named.get(text, names.get(plainly(text)))
        if place is None:
            if text not in asked:
                asked.add(text)
                found.asks.append(_which(text, names))
            continue
        where, _, id = place.partition(":")
        if not place or where not in _TABLES or id not in getattr(catalogue(), where):
            if place:
                found.faults.append(
                    Fault(
                        f"named.{text}",
                        f"{place!r} is nothing of the catalogue",
                        "a table and an id, as bends:carabiner",
                    )
                )
            continue
        values = {}
        for means in ("count", "length", "age"):
            cell = row.cells[columns[means]].strip() if means in columns else ""
            plain, unit = without_unit(cell)
            try:
                values[means] = (
                    number(plain, decimal) * (one(unit, "length", means) if unit and means == "length" else 1.0)
                    if cell
                    else None
                )
            except ValueError:
                found.rows.add(row.number)
                found.faults.append(
                    Fault(
                        f"row {row.number}, {table.head[columns[means]]}",
                        f"{cell[:40]!r} is no {means} ({text[:40]})",
                        f"a number with a decimal {DECIMALS[decimal]}",
                    )
                )
        if found.faults:
            continue
        count = 1.0 if values["count"] is None else values["count"]
        assert count is not None
        if count != int(count) or count < 0:
            found.rows.add(row.number)
            found.faults.append(
                Fault(f"row {row.number}", f"{count:g} of {text[:40]!r}", "how many, as a whole number")
            )
            continue
        bag = row.cells[columns["bag"]].strip() if "bag" in columns else ""
        if where == "slings":
            _kit(
                row.number,
                {"material": id, "length_m": values["length"], "count": int(count), "age_years": values["age"]},
                found,
                packed,
            )
        elif count:
            packed.counts.setdefault(bag, Counter())[("protections" if where == "surfaces" else where, id)] += int(
                count
            )


def _kit(row: int, given: dict[str, object], found: Survey, packed: _Packed) -> None:
    if given["length_m"] is None:
        found.rows.add(row)
        found.faults.append(
            Fault(f"row {row}", f"how long its pieces of {given['material']} are is not said", "a column of lengths")
        )
        return
    try:
        packed.kit.append(KitItem.model_validate(given))
    except ValidationError as error:
        found.rows.add(row)
        found.faults += [Fault(f"row {row}, {one.path}", one.problem, one.right) for one in faults_of(error)]


def _names() -> dict[str, str]:
    """Everything of the catalogue by its name and its id, plainly written; what several go by is nobody's."""
    found: dict[str, str] = {}
    twice: set[str] = set()
    for table in _TABLES:
        for id, entry in getattr(catalogue(), table).items():
            if table == "surfaces" and entry.role != "protection":
                continue
            for text in {plainly(entry.name), plainly(id)}:
                if text in found and found[text] != f"{table}:{id}":
                    twice.add(text)
                found.setdefault(text, f"{table}:{id}")
    return {text: place for text, place in found.items() if text not in twice}


def _which(text: str, names: dict[str, str]) -> Ask:
    near = difflib.get_close_matches(plainly(text), names, n=4, cutoff=0.45)
    places = dict.fromkeys(names[one] for one in near)
    offers = [Offer(place, _called(place)) for place in places]
    return Ask(f"named.{text}", f"What is {text!r}?", (*offers, Offer("", "Nothing that is counted here")))


def _called(place: str) -> str:
    table, _, id = place.partition(":")
    return str(getattr(catalogue(), table)[id].name)


def _bags(packed: _Packed) -> Bags:
    def tables(counts: Counter[tuple[str, str]]) -> dict[str, dict[str, int]]:
        found: dict[str, dict[str, int]] = {}
        for (table, id), count in counts.items():
            found.setdefault(table, {})[id] = count
        return found

    loose = tables(packed.counts.get("", Counter()))
    bags = [Bag.model_validate({"name": name, **tables(counts)}) for name, counts in packed.counts.items() if name]
    return Bags.model_validate({**loose, "packed": [one.model_dump() for one in bags]})


def _told(packed: _Packed) -> list[str]:
    pieces = sum(one.count for one in packed.kit) + sum(sum(counts.values()) for counts in packed.counts.values())
    bags = [name for name in packed.counts if name]
    return [f"{pieces} pieces" + (f" in {len(bags)} bags: {', '.join(bags)}" if bags else ", no bags named")]
