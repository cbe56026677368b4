"""What the gear of a run went through: its steps as they were done, on the plan of their time, with what cells read in each."""

import json
from collections.abc import Iterator
from datetime import datetime
from functools import lru_cache

import numpy as np
from operations.composing import composed_of, standing
from operations.models import LogEntry, Run
from plans.models import Plan, Revision
from readings.models import Cell, unpacked
from storing import clock

from rigging.document import Plan as Document
from rigging.gear.worn import Done, Read, Worn, together, worked, worn
from rigging.quantities.faults import Refused
from rigging.readings.places import Place, place
from rigging.telling.work.gear import GearReport, gear_report

# A cell that read from so soon after a step began until so shortly before its end read throughout.
_NEAR_MS = 10_000


@lru_cache(maxsize=32)
def _document(text: str) -> Document:
    """A revision's document, read once for all of its steps."""
    return Document.model_validate_json(text)


def gear_of(plan: Plan, run: Run) -> GearReport:
    """The list of a run, told on the plan that it stands on."""
    found: dict[str, Worn] = {}
    for revision, done in _by_revision(plan, run):
        operation, document = composed_of(plan, revision, run).operation, _document(revision.document)
        for one in worn(document, worked(operation, done)):
            found[one.id] = together(found[one.id], one) if one.id in found else one
    return gear_report(_document(run.revision.document), found.values())


def _by_revision(plan: Plan, run: Run) -> Iterator[tuple[Revision, list[Done]]]:
    """Steps in their order, those done on one revision together."""
    stood = standing(plan, run)
    gathered: dict[int, tuple[Revision, list[Done]]] = {}
    cells = [(cell, *unpacked(cell.blocks.all())) for cell in plan.cells.all()]
    shocks, stuck = _shocks(plan, run), _stuck(plan, run)
    for key, begun, ended in _spans(run):
        revision = stood(ended)
        document = _document(revision.document)
        read = {
            where: found
            for cell, times, forces in cells
            if (where := _where(document, cell)) and (found := _read(cell, times, forces, begun, ended, shocks))
        }
        done = Done(key, (ended - begun).total_seconds(), read, any(begun <= at <= ended for at in stuck))
        gathered.setdefault(revision.number, (revision, []))[1].append(done)
    yield from gathered.values()


def _spans(run: Run) -> Iterator[tuple[str, datetime, datetime]]:
    """Every step that was done, and the one under way, from when to when."""
    begun = run.begun_at
    for one in run.done:
        ended = datetime.fromisoformat(one["at"])
        yield one["key"], begun, ended
        begun = ended
    if not run.done or run.done[-1]["key"] != run.at:
        yield run.at, begun, run.ended_at or clock.now()


def _where(document: Document, cell: Cell) -> Place | None:
    """Where a cell hangs; None on a plan that has no such place."""
    try:
        return place(document, cell.place)
    except Refused:
        return None


def _read(
    cell: Cell, times: np.ndarray, forces: np.ndarray, begun: datetime, ended: datetime, shocks: list[tuple[str, float]]
) -> Read | None:
    from_ms, to_ms = begun.timestamp() * 1000, ended.timestamp() * 1000
    first, last = np.searchsorted(times, [from_ms, to_ms])
    if first == last:
        return None
    shock = any(id == str(cell.id) and from_ms <= at_ms <= to_ms for id, at_ms in shocks)
    throughout = times[first] - from_ms < _NEAR_MS and to_ms - times[last - 1] < _NEAR_MS
    return Read(float(forces[first:last].max()), shock, bool(throughout))


def _shocks(plan: Plan, run: Run) -> list[tuple[str, float]]:
    """Cells and times, in ms, of the shocks that were told."""
    rows = plan.log.filter(kind=LogEntry.Kind.ALARM, time__gte=run.begun_at).values_list("data", flat=True)
    told = [json.loads(one) for one in rows]
    return [(one["cell"], 1000 * one["at_s"]) for one in told if one["alarm"] == "shock"]


def _stuck(plan: Plan, run: Run) -> list[datetime]:
    """When somebody said that it had suddenly become heavy."""
    rows = plan.log.filter(kind=LogEntry.Kind.CONTINGENCY, time__gte=run.begun_at, data__contains='"heavy"')
    return list(rows.values_list("time", flat=True))
