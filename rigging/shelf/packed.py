"""What a plan takes, against what the team has: there, short, due, out elsewhere; which piece for what."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from types import MappingProxyType

from rigging.anchors.material import pieces_needed
from rigging.catalogue import catalogue
from rigging.document import TABLES, Plan, Table
from rigging.lines.tied import cord_length_m, cord_of, hitches_of
from rigging.shelf.pieces import Piece, ShelfTable, is_due

# Where the shelf has what a plan's bags count.
SHELVED: dict[Table, ShelfTable] = {
    "bends": "bends", "devices": "devices", "hitches": "hitches", "protections": "surfaces", "ropes": "ropes",
}  # fmt: skip


@dataclass(frozen=True)
class Want:
    """So many of a kind that a plan takes; of ropes and slings as long as this at the least."""

    table: ShelfTable
    kind: str
    count: int
    length_m: float | None = None

    @property
    def name(self) -> str:
        return str(getattr(catalogue(), self.table)[self.kind].name)


@dataclass(frozen=True)
class Taken:
    """So many of a piece for something; `due`: its inspection is, or it is too old."""

    piece: Piece
    count: int
    due: bool


@dataclass(frozen=True)
class Packed:
    """What is wanted, the pieces for it, how many are short, and which pieces would do but are out elsewhere or retired."""

    want: Want
    taken: tuple[Taken, ...]
    short: int
    elsewhere: tuple[Piece, ...]
    retired: tuple[Piece, ...]


def wants(plan: Plan) -> list[Want]:
    """What a plan takes out of the bags: ropes, pieces of anchors and cords of hitches by their length, all else by count."""
    found = [Want("ropes", one.kind, 1, one.length_m) for one in plan.ropes]
    found += [Want("slings", one.material, 1, one.length_m) for _, one in pieces_needed(plan) if one.rope is None]
    found += _cords(plan)
    for table in TABLES:
        if table != "ropes":
            found += [
                Want(SHELVED[table], kind, count)
                for kind, count in plan.used(table).items()
                if not _is_tied(table, kind)
            ]
    return found


def _is_tied(table: Table, kind: str) -> bool:
    return table == "hitches" and catalogue().hitches[kind].form == "hitch"


def _cords(plan: Plan) -> Iterator[Want]:
    """The cord of every hitch that is tied: as long as it was said to be, or as its loop takes."""
    for line in plan.lines:
        for at in hitches_of(line):
            if at.hitch.form == "hitch":
                kind = catalogue().ropes[plan.rope(line.rope).kind]
                long = at.made.cord_length_m or cord_length_m(at.hitch, at.made, kind, at.reach_m)
                yield Want("slings", cord_of(at.hitch, at.made).id, 1, long)


def packed(
    plan: Plan,
    shelf: Sequence[Piece],
    away: Mapping[str, int],
    on: date,
    here: Mapping[str, int] = MappingProxyType({}),
) -> list[Packed]:
    """A plan's gear out of a shelf on a day. Of each label so many are `away` for something else; what is out for this plan (`here`) goes first.
    What is longest is looked for first, and gets the shortest piece that does; what is due is taken last."""
    left = {one.label: one.count - away.get(one.label, 0) for one in shelf}
    order = sorted(shelf, key=lambda one: (one.label not in here, is_due(one, on), one.length_m or 0.0, one.label))
    return [
        _packed(want, order, left, away, on) for want in sorted(wants(plan), key=lambda one: -(one.length_m or 0.0))
    ]


def _packed(want: Want, shelf: Sequence[Piece], left: dict[str, int], away: Mapping[str, int], on: date) -> Packed:
    fits = [one for one in shelf if (one.table, one.kind) == (want.table, want.kind) and _long_enough(one, want)]
    missing = want.count
    taken: list[Taken] = []
    elsewhere: list[Piece] = []
    for one in (one for one in fits if not one.retired):
        count = min(missing, left[one.label])
        if count > 0:
            taken.append(Taken(one, count, is_due(one, on)))
            left[one.label] -= count
            missing -= count
        elif missing and away.get(one.label, 0) > 0:
            elsewhere.append(one)
    if not missing:
        return Packed(want, tuple(taken), 0, (), ())
    return Packed(want, tuple(taken), missing, tuple(elsewhere), tuple(one for one in fits if one.retired))


def _long_enough(piece: Piece, want: Want) -> bool:
    return want.length_m is None or (piece.length_m or 0.0) >= want.length_m - 1e-9
