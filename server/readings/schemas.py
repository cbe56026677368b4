"""What is taken and given about load cells and their readings."""

import uuid
from typing import Annotated

from answering.moments import Moment
from pydantic import BaseModel, Field

from readings import simulated
from readings.take import LARGEST_BATCH
from rigging.files.asked import Ask, RowRead
from rigging.quantities.faults import Fault
from rigging.quantities.ranges import Range, Strict
from rigging.readings.places import Motion


class NewCell(Strict):
    """A cell that is hung up: made by the client, so that saying it again is harmless."""

    id: uuid.UUID
    name: Annotated[str, Field(min_length=1, max_length=60)]
    place: Annotated[str, Field(max_length=120)]
    unit: Annotated[str, Field(max_length=8)] = "kN"
    simulated: bool = False


class NewReadings(Strict):
    """A batch: `first` counts the cell's readings from 0; `at` is its own clock; times in ms after it, forces in the cell's unit."""

    cell: uuid.UUID
    first: Annotated[int, Field(ge=0, le=2**31 - 10 * LARGEST_BATCH)]
    at: Moment
    times_ms: Annotated[list[Annotated[float, Field(ge=-(10**12), le=10**12)]], Field(max_length=10 * LARGEST_BATCH)]
    values: Annotated[list[float], Field(max_length=10 * LARGEST_BATCH)]


class Kept(BaseModel):
    """The number that the cell's next reading has: what is below it is kept."""

    next: int


class CellOut(BaseModel):
    """A cell: where it hangs, in words; how many readings; what is predicted for the step now and with the load stuck, in newtons."""

    id: uuid.UUID
    name: str
    place: str
    place_text: str
    unit: str
    readings: int
    from_ms: int | None
    to_ms: int | None
    simulated: bool
    from_file: str
    step: str
    band: Range | None
    stuck: Range | None


class LoadNow(BaseModel):
    """Where the step that is now has the load, halfway through it, in metres up its way, and how it moves there."""

    step: str
    run_m: float
    moves: list[Motion]


class CellsOut(BaseModel):
    """The plan's cells, the places that one can hang at, and the load on its way; `load` None where no run is under way."""

    cells: list[CellOut]
    places: dict[str, str]
    load: LoadNow | None


class ReadingsOut(BaseModel):
    """Readings of a stretch, thinned so that no peak is lost: times in ms since the epoch by the cell's clock, forces in newtons."""

    cell: uuid.UUID
    times_ms: list[int]
    forces_n: list[float]
    count: int
    peak_n: float | None
    mean_n: float | None


class Asked(Strict):
    event: simulated.Happens


class ReadTable(BaseModel):
    """A logger's table: what was said of it, as JSON, and of which run it is (`none`: of none)."""

    settings: str = "{}"
    run: Annotated[str, Field(max_length=60)] | None = None


class TableRead(BaseModel):
    """A table as it was understood, what has to be asked, what is wrong with it by row; `kept`: the number of the cell's next reading, once taken."""

    understood: list[str]
    asks: list[Ask]
    faults: list[Fault]
    columns: list[str]
    rows: list[RowRead]
    count: int
    peak_n: float | None
    first_ms: int | None
    last_ms: int | None
    kept: int | None


class KeyOut(BaseModel):
    """A cell's own key, shown only now: sent as `Authorization: Bearer …` to `/api/readings`, it writes this cell's readings and nothing else."""

    token: str
