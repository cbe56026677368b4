"""A run gone through again: steps planned and done, what each cell should have read in each step."""

import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from answering.faults import REFUSED
from django.http import HttpRequest
from ninja import Router
from operations.api.run import run_state
from operations.composed import Composed
from operations.composing import begun, composed_of, standing
from operations.models import Run
from plans.models import Plan
from plans.permissions import may_write, plan_of
from readings.api import thinned
from readings.models import Cell
from readings.watching import band_in, loaded_in

from debrief.changes import changes_of
from debrief.schemas import DebriefCell, DebriefOut, Done
from rigging.document import Plan as Document
from rigging.procedures.operation import Planned
from rigging.quantities.ranges import Range
from rigging.readings.places import Motion, places
from rigging.telling.work.operation import StepReport

router = Router()


@router.get("/plans/{plan_id}/debrief", response={200: DebriefOut, **REFUSED}, operation_id="debrief")
def read_debrief(request: HttpRequest, plan_id: uuid.UUID) -> DebriefOut:
    """The run under way, or the last."""
    plan = plan_of(request, plan_id)
    run = begun(plan)
    done = [Done(key=one["key"], by=one["by"], at=datetime.fromisoformat(one["at"])) for one in run.done]
    made, words = composed_of(plan, run.revision, run), places(Document.model_validate_json(run.revision.document))
    steps = list(_as_it_stood(plan, run, done, made))
    cells = [told for cell in plan.cells.all() if (told := _cell(cell, steps, words)) is not None]
    return DebriefOut(
        run=run_state(plan, run), ended_at=run.ended_at, operation=made.report.model_copy(update={"steps": [one.report for one in steps]}),
        done=done, cells=cells, changes=changes_of(plan, run.begun_at), writes=may_write(request, plan),
    )  # fmt: skip


@dataclass(frozen=True)
class _Stood:
    """A step as it was when it was done, or as it is planned."""

    report: StepReport
    planned: Planned
    document: str


def _as_it_stood(plan: Plan, run: Run, done: list[Done], made: Composed) -> Iterator[_Stood]:
    """Every step of the operation; those that were done as they were when they began, on the plan of then."""
    stood, last = standing(plan, run), run.revision
    began = [run.begun_at, *(one.at for one in done)]
    then = {one.key: stood(at) for one, at in zip(done, began, strict=False)}
    of = {last.pk: made}
    for one in then.values():
        if one.pk not in of:
            of[one.pk] = composed_of(plan, one, run)
    for key in made.order:
        revision = then.get(key, last)
        if key not in of[revision.pk].order:
            revision = last
        whole = of[revision.pk]
        yield _Stood(whole.step(key), whole.planned(key), revision.document)


def _cell(cell: Cell, steps: list[_Stood], words: dict[str, str]) -> DebriefCell | None:
    """A cell that read something, with its bands; steps that move the load alike at the same places have the same."""
    first, last = cell.blocks.order_by("first").first(), cell.last_block
    if first is None or last is None:
        return None
    alike: dict[tuple[str, tuple[float, ...], tuple[Motion, ...], tuple[bool, bool]], Range | None] = {}
    bands: dict[str, Range] = {}
    for one in steps:
        key = one.document, one.planned.runs_m, one.planned.motions, loaded_in(one.planned)
        if key not in alike:
            alike[key] = band_in(one.document, one.planned, cell)
        if (band := alike[key]) is not None:
            bands[one.planned.key] = band
    return DebriefCell(
        id=cell.id, name=cell.name, place_text=words.get(cell.place, cell.place), from_ms=first.from_ms, to_ms=last.to_ms, bands=bands, read=thinned(cell)
    )  # fmt: skip
