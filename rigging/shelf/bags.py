"""A plan's bags filled from the shelf: what is in use, not out elsewhere, by the bag that it lies in."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from rigging.catalogue import catalogue
from rigging.document import Bag, Bags, KitItem
from rigging.shelf.packed import SHELVED
from rigging.shelf.pieces import Piece, is_due

# As much as a plan's bags can say: bags, sorts of material, pieces alike, metres in one.
_BAGS, _KIT, _ALIKE, _LONGEST_M = 20, 60, 50, 500.0
# Of a plan's bags, where each of the shelf's tables is counted. Hitches are tied of cord: which of them, no shelf says.
_COUNTED = {shelved: table for table, shelved in SHELVED.items() if table != "hitches"}


@dataclass(frozen=True)
class FromShelf:
    """What a shelf would put in a plan's bags in place of what is said of them, and how that was understood."""

    understood: list[str]
    kit: list[KitItem]
    bags: Bags


def bags_of(shelf: Sequence[Piece], away: Mapping[str, int], on: date) -> FromShelf:
    """The bags and the material to tie with; what is retired or out elsewhere (`away`, by label) is not in them."""
    used = [one for one in shelf if not one.retired]
    there = [(one, one.count - away.get(one.label, 0)) for one in used]
    counts: dict[str, dict[str, Counter[str]]] = defaultdict(lambda: defaultdict(Counter))
    carriers: dict[str, set[str]] = defaultdict(set)
    pieces: Counter[tuple[str, float, int | None]] = Counter()
    for one, count in there:
        if count <= 0:
            continue
        if one.table == "slings":
            assert one.length_m is not None
            pieces[one.kind, one.length_m, None if one.made is None else max(0, on.year - one.made)] += count
        elif one.table in _COUNTED:
            counts[one.bag][_COUNTED[one.table]][one.kind] += count
            carriers[one.bag] |= {one.carried_by} - {""}
    named = sorted((bag for bag in counts if bag), key=lambda bag: -sum(one.total() for one in counts[bag].values()))
    for bag in named[_BAGS:]:
        # More bags than a plan has: what is in the others lies loose.
        for table, some in counts[bag].items():
            counts[""][table] += some
    packed = [_bag(bag, counts[bag], carriers[bag]) for bag in sorted(named[:_BAGS])]
    loose = Bags.model_validate(_plain(counts[""]))
    kit = [
        KitItem(material=kind, length_m=min(long, _LONGEST_M), count=min(count, _ALIKE), age_years=age)
        for (kind, long, age), count in sorted(pieces.items(), key=lambda one: -one[0][1])[:_KIT]
    ]
    return FromShelf(_understood(shelf, there, on), kit, loose.model_copy(update={"packed": packed}))


def _bag(name: str, tables: Mapping[str, Counter[str]], carriers: set[str]) -> Bag:
    """A bag; who carries it, where all in it is carried by one."""
    who = min(carriers) if len(carriers) == 1 else None
    return Bag.model_validate({"name": name, "carried_by": who, **_plain(tables)})


def _plain(tables: Mapping[str, Counter[str]]) -> dict[str, dict[str, int]]:
    return {table: {kind: min(count, _ALIKE) for kind, count in counts.items()} for table, counts in tables.items()}


def _understood(shelf: Sequence[Piece], there: Sequence[tuple[Piece, int]], on: date) -> list[str]:
    said = [f"{sum(max(0, count) for _, count in there)} pieces of the shelf."]
    retired = sum(bool(one.retired) for one in shelf)
    out = sum(one.count - count for one, count in there)
    due = [one.label for one, _ in there if is_due(one, on)]
    said += [f"Left out: {retired} retired."] if retired else []
    said += [f"Left out: {out} out for other plans."] if out else []
    said += [f"To be inspected first: {', '.join(due)}."] if due else []
    cords = sum(count for one, count in there if one.table == "slings" and catalogue().slings[one.kind].cord)
    said.append(f"Hitches are tied of cord ({cords} pieces of it): which of them, say under the bags.")
    return said
