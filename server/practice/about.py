"""What drills about a plan are made of: its document, its team's own procedures, what cells read in the last run of it that has ended."""

from collections.abc import Iterator
from datetime import datetime

import numpy as np
from operations.composing import composed_of, own_of
from operations.models import Run
from plans.models import Plan, Revision
from readings.models import unpacked
from readings.watching import band_in

from rigging.telling.learning.own_drills import About

# So many readings a second are enough to see what went.
_HZ = 10


def about(plan: Plan, revision: Revision) -> About:
    """What drills about a plan, as it was, are made of."""
    return revision.document, own_of(plan, None), list(_read(plan))


def _read(plan: Plan) -> Iterator[tuple[list[tuple[float, float]], tuple[float, float, float]]]:
    """Of each step in which the load moved, what each cell read in it, and what was worked out for that."""
    run = plan.runs.filter(status=Run.Status.ENDED).select_related("revision").order_by("-begun_at").first()
    if run is None:
        return
    made, document = composed_of(plan, run.revision, run), run.revision.document
    for cell in plan.cells.all():
        times, forces = unpacked(cell.blocks.all())
        before = run.begun_at
        for one in run.done:
            begun, before = before, datetime.fromisoformat(one["at"])
            if one["key"] not in made.order:
                continue
            planned = made.planned(one["key"])
            if planned.motions and (band := band_in(document, planned, cell)):
                first, last = np.searchsorted(times, [begun.timestamp() * 1000, before.timestamp() * 1000])
                if rows := _thinned(times[first:last], forces[first:last]):
                    yield rows, (band.low, band.expected, band.high)


def _thinned(times: np.ndarray, forces: np.ndarray) -> list[tuple[float, float]]:
    """Of each tenth of a second the reading that is furthest from nothing, in seconds since the epoch."""
    if not len(times):
        return []
    tenths = times * _HZ // 1000
    starts = np.flatnonzero(np.diff(tenths, prepend=tenths[0] - 1))
    most = np.maximum.reduceat(forces, starts)
    return [(float(at) / 1000, float(force)) for at, force in zip(times[starts], most, strict=True)]
