"""What is taken and given about a team's own gear and pull tests."""

import uuid
from datetime import date, datetime
from typing import Annotated

from pydantic import BaseModel, Field

from rigging.document import Tested
from rigging.quantities.faults import Fault
from rigging.quantities.ranges import Strict
from rigging.shelf.pieces import Label, Piece, ShelfTable
from rigging.shelf.pulls import PullMade
from rigging.telling.shelf import OwnRangeReport


class OutFor(BaseModel):
    """So many of a piece that are out for a plan."""

    plan: uuid.UUID
    title: str
    count: int


class PieceOut(BaseModel):
    """A piece with what it is called, whether somebody has to look at it first, and where it is out."""

    piece: Piece
    name: str
    is_due: bool
    too_old: bool
    out: list[OutFor]
    changed_by: str
    changed_at: datetime


class ShelfOut(BaseModel):
    """A team's shelf; whether whoever asks may change it."""

    writes: bool
    pieces: list[PieceOut]


class ShelfFileOut(BaseModel):
    """What a table would bring: how many new, how many changed, what is wrong by row. `brought`: it was."""

    new: int
    changed: int
    faults: list[Fault]
    brought: bool


class BringShelf(BaseModel):
    """Whether a table is only read, or brought where nothing is wrong."""

    bring: bool = False


class NewPull(Strict):
    """A pull test under an id of the device's."""

    id: uuid.UUID
    pull: PullMade


class LeaveOut(Strict):
    """Why a pull no longer counts; empty: it counts again."""

    why: Annotated[str, Field(max_length=500)]


class PullOut(BaseModel):
    """A pull test with how it was tied in words; `odd`: it stands apart from the others."""

    id: uuid.UUID
    pull: PullMade
    name: str
    by: str
    at: datetime
    odd: bool
    left_out: str
    left_out_by: str


class PullsOut(BaseModel):
    """A team's pull tests, the newest first, and the ranges that follow."""

    writes: bool
    pulls: list[PullOut]
    ranges: list[OwnRangeReport]


class TakeTested(Strict):
    """The team's own ranges taken for a plan, or given up where the list is empty, on the revision that was seen."""

    id: uuid.UUID
    base: int
    tested: Annotated[list[Tested], Field(max_length=60)]


class NewCount(Strict):
    """So many of a piece that go out, or come back."""

    id: uuid.UUID
    label: Label
    count: Annotated[int, Field(ge=1, le=500)] = 1
    out: bool


class TakenFor(BaseModel):
    """A piece to pack for something: how many of it; how many are out already; with whom it goes, or in which bag where nobody carries it (`goes_with`)."""

    label: str
    count: int
    out: int
    bag: str
    carried_by: str
    goes_with: str
    mass_kg: float | None
    is_due: bool


class PackingRow(BaseModel):
    """What a plan takes of a kind: from which pieces; how many are short, and what would do but is elsewhere, or retired and why."""

    table: ShelfTable
    kind: str
    name: str
    count: int
    length_m: float | None
    taken: list[TakenFor]
    short: int
    elsewhere: list[str]
    retired: list[str]


class CarrierOut(BaseModel):
    """What somebody carries: how many pieces, and their mass; of so many nobody has said it."""

    who: str
    pieces: int
    mass_kg: float
    unweighed: int


class OutNow(BaseModel):
    """A piece that is out for this plan; whether the plan takes it."""

    label: str
    name: str
    count: int
    wanted: bool


class PackingOut(BaseModel):
    """A plan's gear against the shelf of a day."""

    on: date
    title: str
    writes: bool
    rows: list[PackingRow]
    carriers: list[CarrierOut]
    out: list[OutNow]
    short: int
