"""A team's own gear, piece by piece or by count: what it is, how long, how old, what its stamp says, where it lies, whether it is due or retired."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, ValidationError, model_validator

from rigging.catalogue import catalogue
from rigging.document.words import Name
from rigging.quantities.faults import Fault, misfits
from rigging.quantities.ranges import Range, Strict, exactly, times

ShelfTable = Literal["ropes", "slings", "connectors", "bends", "devices", "hitches", "surfaces", "other"]
SHELF_TABLES: tuple[ShelfTable, ...] = get_args(ShelfTable)
# By length: each is one piece, or so many of one length.
LONG = ("ropes", "slings")
_STRENGTHS = {
    "ropes": "strength_n",
    "slings": "strand_n",
    "bends": "strength_n",
    "devices": "strength_n",
    "connectors": "strength_n",
}
# A stamp is read to a tenth of a kilonewton.
_READ_N = 50.0

Label = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9.-]{0,19}$")]
Text = Annotated[str, Field(max_length=200)]
Said = Annotated[str, Field(max_length=120)]


class Piece(Strict):
    """A piece, or `count` alike under one label. `kind`: of the catalogue's table; of what is in none of them (`other`) its name in words.
    `stamp_n`: the rating read off it. `retired`: why it is no longer used (empty: it is)."""

    label: Label
    table: ShelfTable
    kind: Name
    count: Annotated[int, Field(ge=1, le=500)] = 1
    length_m: Annotated[float, Field(gt=0, le=1000)] | None = None
    made: Annotated[int, Field(ge=1950, le=2200)] | None = None
    stamp_n: Annotated[float, Field(gt=0, le=500_000)] | None = None
    mass_kg: Annotated[float, Field(gt=0, le=200)] | None = None
    bag: Said = ""
    carried_by: Said = ""
    due: Annotated[date, Field(strict=False)] | None = None
    retired: Text = ""
    note: Text = ""

    @model_validator(mode="after")
    def _is_one(self) -> Piece:
        faults = list(_faults(self))
        if faults:
            raise misfits(faults)
        return self

    @classmethod
    def kept(cls, given: dict[str, Any]) -> Piece:
        """A piece as it was kept, also where the catalogue has changed since and would no longer take it so: then by its own name."""
        try:
            return cls.model_validate(given)
        except ValidationError:
            return cls.model_validate({**given, "table": "other"})

    @property
    def entry(self) -> Any:
        """What the catalogue has of its kind; None of what is in none of its tables."""
        return None if self.table == "other" else getattr(catalogue(), self.table)[self.kind]

    @property
    def name(self) -> str:
        return str(self.entry.name) if self.entry else self.kind


def _faults(piece: Piece) -> Any:
    if piece.table == "other":
        return
    if piece.kind not in getattr(catalogue(), piece.table):
        yield Fault(
            "kind",
            f"there is no {piece.kind!r} among the {piece.table}",
            "a kind of that table, or `other` with its name",
        )
        return
    if piece.table == "surfaces" and piece.entry.role != "protection":
        yield Fault("kind", f"{piece.name} is bare ground", "a pad or a roller")
    if (piece.table in LONG) != (piece.length_m is not None):
        said = "how long it is is not said" if piece.table in LONG else "it has no length"
        yield Fault(
            "length_m", f"{piece.name}: {said}", "a length in metres" if piece.table in LONG else "leave it empty"
        )
    rated = strength_of(piece)
    if rated is not None and piece.stamp_n is not None and piece.stamp_n < rated.low - _READ_N:
        problem = f"{piece.stamp_n / 1000:g} kN is below its kind: {piece.name} has {rated.low / 1000:g} kN or more"
        yield Fault("stamp_n", problem, "the kind that it is, or its stamp as it stands on it")


def strength_of(piece: Piece) -> Range | None:
    """What the catalogue has of the strength of such a piece; None where it has none."""
    field = _STRENGTHS.get(piece.table)
    if field is None:
        return None
    one: Range = getattr(piece.entry, field)
    # A sewn sling is stamped as the loop that it is: two strands.
    return times(one, exactly(2.0)) if piece.table == "slings" and piece.entry.sewn else one


def too_old(piece: Piece, year: int) -> bool:
    """Whether a textile is older than textiles are used."""
    textile = piece.table in LONG
    return textile and piece.made is not None and year - piece.made > catalogue().tying.textile_years


def is_due(piece: Piece, on: date) -> bool:
    """Whether somebody has to look at it first."""
    return (piece.due is not None and piece.due <= on) or too_old(piece, on.year)
