"""What is said of a run that is over."""

import uuid
from datetime import datetime

from operations.schemas import RunState
from pydantic import BaseModel
from readings.schemas import ReadingsOut

from debrief.changes import Change
from rigging.quantities.ranges import Range
from rigging.telling.work.operation import OperationReport


class Done(BaseModel):
    """A step that was done: when, and by whom."""

    key: str
    by: str
    at: datetime


class DebriefCell(BaseModel):
    """A cell, with what it read, thinned, and what it should have read in each step, in newtons."""

    id: uuid.UUID
    name: str
    place_text: str
    from_ms: int
    to_ms: int
    bands: dict[str, Range]
    read: ReadingsOut


class DebriefOut(BaseModel):
    """The run as it was, with the operation of the plan that it ended on, and what was changed of the plan while it went; whether who
    asks may write to it."""

    run: RunState
    ended_at: datetime | None
    operation: OperationReport
    done: list[Done]
    cells: list[DebriefCell]
    changes: list[Change]
    writes: bool
