"""What is taken and given about plans."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from accounts.schemas import TeamOut
from pydantic import BaseModel

from rigging.document import Plan as Document
from rigging.document import Point
from rigging.quantities.ranges import Strict


class NewPlan(Strict):
    team: int
    id: UUID
    document: Document


class SavePlan(Strict):
    """A save: `base` is the revision it started from, `id` is made by the client."""

    base: int
    id: UUID
    document: Document


class RevisionOut(BaseModel):
    number: int
    sha256: str
    author: str
    saved_at: datetime
    document: Document


class PlanOut(BaseModel):
    """A plan as it stands; `table_top`: it is only played on."""

    id: UUID
    team: TeamOut
    latest: RevisionOut
    table_top: bool = False


class Sketch(BaseModel):
    """What a small drawing of a plan is made of, along the fall line."""

    ground: list[Point]
    anchors: list[Point]
    load: Point


Ran = Literal["going", "stopped", "ended"]
Stands = Literal["anchors", "lines", "checked", Ran]


class Archive(Strict):
    archived: bool


class PlanRow(BaseModel):
    """One plan of the list: what it is and where it stands, in the order of the work; `here`: who is on its run now."""

    id: UUID
    title: str
    place: str
    team: TeamOut
    revision: int
    saved_at: datetime
    log_entries: int
    archived: bool
    stands: Stands
    here: list[str]
    sketch: Sketch


class Example(BaseModel):
    """An invented operation that ships with it, to begin a plan from."""

    id: str
    document: Document


class StaleOut(BaseModel):
    """A refused save: somebody saved in between. `latest` is what is there now."""

    stale: Literal[True] = True
    base: int
    latest: RevisionOut
