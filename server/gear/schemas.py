"""What is taken and given about gear."""

import uuid
from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from rigging.document.words import Text
from rigging.gear.becomes import Becomes
from rigging.quantities.ranges import Strict
from rigging.telling.work.gear import GearReport

Seen = Literal["mud", "wet", "fuzz", "cut", "glazed", "bent", "shock"]


class SignedPiece(BaseModel):
    """What somebody signed of a piece: what becomes of it, with what was seen, in words."""

    becomes: Becomes
    found: str
    by: str
    at: datetime
    entry: int


class GearOut(BaseModel):
    """The list, what can be ticked as seen, and what was signed of it in this run, by piece; whether who asks may sign."""

    report: GearReport
    signs: bool
    seen: list[Seen]
    signed: dict[str, SignedPiece]


class PieceLine(Strict):
    """A piece as it was found: what was seen on it, what becomes of it, and a word more."""

    piece: Annotated[str, Field(max_length=200)]
    becomes: Becomes
    seen: Annotated[list[Seen], Field(max_length=7)] = []
    note: Text = ""


class SignGear(Strict):
    id: uuid.UUID
    lines: Annotated[list[PieceLine], Field(min_length=1, max_length=300)]
