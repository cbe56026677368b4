"""Every cell that sends is watched against the step that is now; what it finds is written and told."""

import json
import logging
import threading
import time
import uuid
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.db import close_old_connections
from operations import live
from operations.composing import planned_now, under_way
from operations.models import LogEntry, Run
from operations.services import append
from plans.models import Plan, Revision
from storing.canonical import canonical

from readings.models import Cell
from rigging.document import Plan as Document
from rigging.lines.whole_way import moved
from rigging.procedures.operation import Planned
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.readings.places import Along, Motion, Place, Predictor, place, places
from rigging.readings.watch import SILENCE_S, Alarm, Watch
from rigging.telling.work.alarms import alarm_text

# A leg whose force changes as fast as this much lengthening would make it is said to creep, metres a minute.
_CREEP_M_PER_MIN = 0.0025
# A cell that has said nothing for this long is taken to have been put away.
_AWAY_S = 900.0


@dataclass
class _Watched:
    cell: Cell
    plan: Plan
    user_id: int
    watch: Watch = field(default_factory=Watch)
    step: str = ""
    heard_at: float = 0.0
    silent: bool = False


_lock = threading.Lock()
_watched: dict[uuid.UUID, _Watched] = {}


@lru_cache(maxsize=256)
def _predictor(document: str, run_m: float) -> Predictor:
    return Predictor(moved(Document.model_validate_json(document), run_m))


def along(document: str, runs_m: tuple[float, ...] = (0.0,), loaded: tuple[bool, bool] = (True, True)) -> Along:
    """What cells should read with the load on a stretch of its way."""
    return Along([_predictor(document, run_m) for run_m in runs_m], loaded)


def along_step(document: str, planned: Planned) -> Along:
    """What cells should read in a step: nothing as long as the load lies on the ground in it."""
    return along(document, planned.runs_m, loaded_in(planned))


def band_in(document: str, planned: Planned, cell: Cell) -> Range | None:
    """What a cell should read over all of a step; None on a plan that has no such place."""
    try:
        return along_step(document, planned).of_step(place_in(document, cell.place), planned.motions)
    except Refused:
        return None


def loaded_in(planned: Planned) -> tuple[bool, bool]:
    """Whether the load hangs on the rig as a step begins, and as it ends."""
    return not planned.step.found.state.grounded, not planned.rests.state.grounded


def stretch_now(plan: Plan, going: Run | None, revision: Revision) -> tuple[Along, tuple[Motion, ...]]:
    """The stretch of the way on which the step now is, and what the load does in it; with no run under way, the whole plan's own start."""
    if going is None:
        return along(revision.document), ("raising", "lowering")
    planned = planned_now(plan, going)
    return along_step(revision.document, planned), planned.motions


def moves_now(run: Run, planned: Planned) -> tuple[Motion, ...]:
    """What the load does in the step that is now; nothing where the run does not go on."""
    return planned.motions if run.status == Run.Status.GOING and not run.contingency else ()


@lru_cache(maxsize=256)
def place_in(document: str, said: str) -> Place:
    return place(Document.model_validate_json(document), said)


@dataclass(frozen=True)
class Expected:
    """Where a cell hangs, the stretch of the way on which the step now is, and what the load does in it."""

    where: Place
    stretch: Along
    motions: tuple[Motion, ...]

    @property
    def band(self) -> Range | None:
        """What it should read, over all that the step does."""
        return self.stretch.of_step(self.where, self.motions)

    @property
    def stuck(self) -> Range | None:
        """What it would read with the load stuck; None where it does not come up."""
        return self.stretch.at(self.where, "jammed") if "raising" in self.motions else None


def expected(plan: Plan, cell: Cell, going: Run | None, revision: Revision) -> Expected | None:
    """What a cell should read in the step that is now; None where the plan has its place no more, or can not be worked out."""
    try:
        return Expected(place_in(revision.document, cell.place), *stretch_now(plan, going, revision))
    except Refused:
        return None


def heard(plan: Plan, cell: Cell, times_ms: np.ndarray, forces_n: np.ndarray, user: Any) -> None:
    """Readings that were kept: watched, and told."""
    with _lock:
        one = _watched.setdefault(cell.id, _Watched(cell, plan, user.pk))
        one.heard_at, one.silent = time.monotonic(), False
        _expect(one)
        alarms = [
            alarm
            for at, force in zip(times_ms, forces_n, strict=True)
            if (alarm := one.watch.feed(at / 1000, float(force)))
        ]
    live.say(
        plan.id,
        "readings",
        json.dumps(
            {
                "cell": str(cell.id),
                "times_ms": times_ms.tolist(),
                "forces_n": [round(float(force), 1) for force in forces_n],
            }
        ),
    )
    for alarm in alarms:
        _write(one, alarm)


def _expect(one: _Watched) -> None:
    """What is predicted, asked again when the step or the plan has changed."""
    going, revision = under_way(one.plan)
    key = f"{going.version if going else ''}:{revision.pk}"
    if key == one.step:
        return
    now = expected(one.plan, one.cell, going, revision)
    one.step = key
    if now is None:
        # Nothing is predicted for it: rises, shocks and silence are still said.
        one.watch.expect([])
        return
    where, here = now.where, now.stretch.halfway
    creep = here.creep_n_per_m(where, "between-hauls") or here.creep_n_per_m(where, "held")
    pull = here.band(where, "raising") or here.band(where, "lowering")
    one.watch.expect(now.stretch.bands(where, now.motions), abs(creep) * _CREEP_M_PER_MIN if creep else None, pull)


def _write(one: _Watched, alarm: Alarm) -> None:
    going, revision = under_way(one.plan)
    now = expected(one.plan, one.cell, going, revision)
    if now is None:
        said = f"{one.cell.name}, whose place the plan has no more: {alarm.kind}, {alarm.force_n / 1000:.1f} kN"
    else:
        name = f"{one.cell.name}, {places(now.stretch.halfway.plan)[one.cell.place]},"
        said = alarm_text(now.stretch, now.where, name, alarm)
    data = {
        "cell": str(one.cell.id),
        "alarm": alarm.kind,
        "force_n": alarm.force_n,
        "level_n": alarm.level_n,
        "at_s": alarm.at_s,
    }
    user = get_user_model().objects.get(pk=one.user_id)
    append(
        one.plan, user, id=uuid.uuid4(), revision=revision, kind=LogEntry.Kind.ALARM, decision=said, data=canonical(data),
        step=going.at if going else "",
    )  # fmt: skip


def guard(every_s: float = 0.4) -> None:
    """For ever: cells that have fallen silent are said to have."""
    while True:
        time.sleep(every_s)
        now = time.monotonic()
        with _lock:
            for id in [id for id, one in _watched.items() if now - one.heard_at > _AWAY_S]:
                del _watched[id]
            quiet = [one for one in _watched.values() if not one.silent and now - one.heard_at > SILENCE_S]
            for one in quiet:
                one.silent = True
        for one in quiet:
            close_old_connections()
            try:
                _write(one, Alarm("silence", time.time(), 0.0, 0.0, now - one.heard_at))
            except Exception:
                # One that can not be said keeps none of the others from being watched.
                logging.getLogger("django.request").exception("silence of cell %s", one.cell.pk)


def put_away(cell: Cell) -> None:
    """A cell taken off: its silence says nothing."""
    with _lock:
        _watched.pop(cell.id, None)
