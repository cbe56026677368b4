"""Load cells and their readings: named, sent, read back thinned, taken away as CSV, read in from CSV."""

import uuid

import numpy as np
from accounts.models import Role
from answering.contents import answers
from answering.faults import REFUSED
from answering.plain import with_mark
from django.http import HttpRequest, StreamingHttpResponse
from ninja import File, Form, Router, UploadedFile
from ninja.errors import HttpError
from operations.composing import current, planned_now, under_way
from operations.models import Run
from plans.models import Plan, Revision
from plans.permissions import plan_of
from storing import clock
from tsdownsample import MinMaxLTTBDownsampler

from readings import keys, simulated, watching
from readings.lessons import LessonOut, lesson_of
from readings.models import Cell, unpacked
from readings.schemas import (
    Asked,
    CellOut,
    CellsOut,
    Kept,
    KeyOut,
    LoadNow,
    NewCell,
    NewReadings,
    ReadingsOut,
    ReadTable,
    TableRead,
)
from readings.table import keep, looked_at, table_out, write_table
from readings.take import Batch, cell_made, take
from rigging.document import Plan as Document
from rigging.quantities.faults import refuse
from rigging.readings.places import places

router = Router()
_WRITES = (Role.LEADER, Role.MEMBER)
# Two hours of a cell at 20 Hz are opened from so many points, peaks kept.
_POINTS = 2400


def _cell(plan: Plan, id: uuid.UUID) -> Cell:
    cell = plan.cells.filter(id=id).first()
    if cell is None:
        raise refuse("cell", "nobody has named this cell in this plan", "name it first: where it hangs, and its unit")
    return cell


def _out(plan: Plan, cell: Cell, words: dict[str, str], going: Run | None, revision: Revision) -> CellOut:
    last, first = cell.last_block, cell.blocks.order_by("first").first()
    now = watching.expected(plan, cell, going, revision)
    return CellOut(
        id=cell.id, name=cell.name, place=cell.place, place_text=words.get(cell.place, f"{cell.place}: the plan has it no more"), unit=cell.unit,
        readings=last.following if last else 0, from_ms=first.from_ms if first else None, to_ms=last.to_ms if last else None,
        simulated=simulated.runs(cell), from_file=cell.from_file, step=going.at if going else "", band=now.band if now else None, stuck=now.stuck if now else None,
    )  # fmt: skip


def _all(plan: Plan) -> CellsOut:
    words = places(Document.model_validate_json(plan.latest.document))
    going, revision = under_way(plan)
    cells = [_out(plan, one, words, going, revision) for one in plan.cells.all()]
    return CellsOut(cells=cells, places=words, load=_load(plan, going) if going else None)


def _load(plan: Plan, going: Run) -> LoadNow:
    planned = planned_now(plan, going)
    return LoadNow(step=going.at, run_m=planned.halfway_m, moves=list(watching.moves_now(going, planned)))


@router.get("/plans/{plan_id}/cells", response={200: CellsOut, **REFUSED}, operation_id="cells")
def read_cells(request: HttpRequest, plan_id: uuid.UUID) -> CellsOut:
    return _all(plan_of(request, plan_id))


@router.post("/plans/{plan_id}/cells", response={200: CellsOut, **REFUSED}, operation_id="make_cell")
def make_cell(request: HttpRequest, plan_id: uuid.UUID, body: NewCell) -> CellsOut:
    plan = plan_of(request, plan_id, *_WRITES)
    cell = cell_made(plan, body.id, body.name, body.place, body.unit, clock.now())
    if body.simulated:
        simulated.start(plan, cell, request.user, seed=int(body.id) % 2**31)
    return _all(plan)


@router.post("/plans/{plan_id}/cells/{cell_id}/event", response={200: CellsOut, **REFUSED}, operation_id="cell_event")
def cell_event(request: HttpRequest, plan_id: uuid.UUID, cell_id: uuid.UUID, body: Asked) -> CellsOut:
    """Something happens to a simulated cell; `off`: any cell is put away."""
    plan = plan_of(request, plan_id, *_WRITES)
    cell = _cell(plan, cell_id)
    found = simulated.happens(cell, body.event)
    if body.event == "off":
        watching.put_away(cell)
    elif not found:
        raise refuse("event", "this cell is not a simulated one that runs", "start one on the Run stage")
    return _all(plan)


@router.post("/plans/{plan_id}/readings", response={200: Kept, **REFUSED}, operation_id="send_readings")
def send_readings(request: HttpRequest, plan_id: uuid.UUID, body: NewReadings) -> Kept:
    plan = plan_of(request, plan_id, *_WRITES)
    cell = _cell(plan, body.cell)
    return Kept(next=take(plan, cell, Batch(body.first, body.at, body.times_ms, body.values), request.user))


@router.post("/plans/{plan_id}/cells/{cell_id}/key", response={200: KeyOut, **REFUSED}, operation_id="make_cell_key")
def make_cell_key(request: HttpRequest, plan_id: uuid.UUID, cell_id: uuid.UUID) -> KeyOut:
    """A key of its own for a cell that sends by itself; one of before is void."""
    plan = plan_of(request, plan_id, *_WRITES)
    return KeyOut(token=keys.made(_cell(plan, cell_id), request.user))


@router.post("/readings", response={200: Kept, **REFUSED}, auth=keys.CellSends(), operation_id="cell_sends")
def cell_sends(request: HttpRequest, body: NewReadings) -> Kept:
    """Readings by a cell's own key."""
    key = request.auth  # type: ignore[attr-defined]
    if key.cell_id != body.cell:
        raise HttpError(403, "this key is another cell's")
    return Kept(next=take(key.cell.plan, key.cell, Batch(body.first, body.at, body.times_ms, body.values), key.made_by))


@router.get("/plans/{plan_id}/readings/{cell_id}", response={200: ReadingsOut, **REFUSED}, operation_id="cell_readings")
def read_readings(
    request: HttpRequest, plan_id: uuid.UUID, cell_id: uuid.UUID, from_ms: int | None = None, to_ms: int | None = None
) -> ReadingsOut:
    """A stretch of a cell's readings, thinned."""
    return thinned(_cell(plan_of(request, plan_id), cell_id), from_ms, to_ms)


def thinned(cell: Cell, from_ms: int | None = None, to_ms: int | None = None) -> ReadingsOut:
    times, forces = _stretch(cell, from_ms, to_ms)
    thin = MinMaxLTTBDownsampler()  # type: ignore[no-untyped-call]
    keep = thin.downsample(times, forces, n_out=_POINTS) if len(times) > _POINTS else slice(None)
    return ReadingsOut(
        cell=cell.id, times_ms=times[keep].tolist(), forces_n=np.round(forces[keep], 1).tolist(), count=len(times),
        peak_n=float(forces.max()) if len(forces) else None, mean_n=float(forces.mean()) if len(forces) else None,
    )  # fmt: skip


def _stretch(cell: Cell, from_ms: int | None, to_ms: int | None) -> tuple[np.ndarray, np.ndarray]:
    blocks = cell.blocks.all()
    if from_ms is not None:
        blocks = blocks.filter(to_ms__gte=from_ms)
    if to_ms is not None:
        blocks = blocks.filter(from_ms__lte=to_ms)
    times, forces = unpacked(blocks)
    inside = np.ones(len(times), dtype=bool)
    if from_ms is not None:
        inside &= times >= from_ms
    if to_ms is not None:
        inside &= times <= to_ms
    return times[inside], forces[inside]


@router.get(
    "/plans/{plan_id}/readings.csv",
    response={200: None, **REFUSED},
    operation_id="readings_csv",
    openapi_extra=answers("text/csv"),
)
def export_readings(request: HttpRequest, plan_id: uuid.UUID, mark: bool = False) -> StreamingHttpResponse:
    """Every reading of the plan, as it was kept; with a byte order mark before it, if that is wished."""
    plan = plan_of(request, plan_id)
    answer = StreamingHttpResponse(with_mark(write_table(plan), mark), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="readings.csv"'
    return answer


@router.post("/plans/{plan_id}/table", response={200: TableRead, **REFUSED}, operation_id="look_at_table")
def look_at_table(
    request: HttpRequest, plan_id: uuid.UUID, asked: Form[ReadTable], file: File[UploadedFile]
) -> TableRead:
    """How a logger's table is understood, what has to be asked of it, what is wrong with it; nothing of it is kept."""
    plan = plan_of(request, plan_id, *_WRITES)
    return table_out(looked_at(plan, asked, file))


@router.post("/plans/{plan_id}/cells/{cell_id}/table", response={200: TableRead, **REFUSED}, operation_id="read_table")
def import_readings(
    request: HttpRequest, plan_id: uuid.UUID, cell_id: uuid.UUID, asked: Form[ReadTable], file: File[UploadedFile]
) -> TableRead:
    """Readings of another cell from a logger's table: all of it, where nothing is asked or wrong; else nothing."""
    plan = plan_of(request, plan_id, *_WRITES)
    cell = _cell(plan, cell_id)
    read = looked_at(plan, asked, file)
    clear = not (read.asks or read.faults)
    return table_out(read, keep(plan, cell, read, file.name or "") if clear else None)


@router.get("/plans/{plan_id}/learnt", response={200: LessonOut, **REFUSED}, operation_id="learnt")
def read_lesson(request: HttpRequest, plan_id: uuid.UUID) -> LessonOut:
    """What the readings of the run under way, or of the last, say of the plan's friction and weight."""
    plan = plan_of(request, plan_id)
    run = current(plan)
    if run is None:
        raise refuse("run", "no run has been begun", "begin one, hang a cell, haul or lower")
    return lesson_of(plan, run)
