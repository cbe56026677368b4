"""The simulated cell of the demo: a thread of the server that sends what a bridge to a real cell would."""

import random
import threading
import time
import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any, Literal

from django.conf import settings
from django.db import connection
from operations.composing import current, planned_now, under_way
from operations.models import Run
from plans.models import Plan
from storing import clock

from readings.models import Cell
from readings.take import LARGEST_BATCH, Batch, take
from readings.watching import moves_now, stretch_now
from rigging.readings.cell import HERTZ, Event, Levels, at_work, levels_of
from rigging.readings.cell import Cell as Simulation
from rigging.readings.places import place

Happens = Literal["jam", "snag", "shock", "creep", "joins", "over", "silence", "off"]
_SENDS_S = 0.25
_LONGEST_S = 2 * 3600.0

_running: dict[uuid.UUID, "_Sending"] = {}


class _Sending(threading.Thread):
    def __init__(self, plan: Plan, cell: Cell, user: Any, seed: int, now: Callable[[], datetime]):
        super().__init__(daemon=True)
        self.plan, self.cell, self.user, self.now = plan, cell, user, now
        self.asked: list[Happens] = []
        self.seed, self.step = seed, ""
        self.simulation = Simulation(self._levels(), seed)
        self.silent = False

    def _levels(self) -> Levels:
        """The truth where the step now has the load: drawn alike at every place, halfway where it moves."""
        found, _ = stretch_now(self.plan, *under_way(self.plan))
        halfway = found.halfway
        return levels_of(halfway, place(halfway.plan, self.cell.place), random.Random(self.seed))

    def run(self) -> None:
        try:
            self._send()
        finally:
            _running.pop(self.cell.id, None)
            connection.close()

    def _send(self) -> None:
        # What it read before it was in reach comes first.
        began, last = self.now() - timedelta(seconds=settings.CELL_KEPT_S), self.cell.last_block
        number, sent = (last.following if last else 0), 0
        while (gone := self._gone(began)) < _LONGEST_S:
            time.sleep(_SENDS_S)
            while self.asked:
                event = self.asked.pop(0)
                if event == "off":
                    return
                self._happens(event)
            due = min(round(gone * HERTZ), sent + LARGEST_BATCH)
            run = current(self.plan)
            moves = moves_now(run, planned_now(self.plan, run)) if run else ()
            self._follow(run)
            rows = [(n, self.simulation.next(at_work(moves, n / HERTZ))) for n in range(sent, due)]
            sent = due
            read = [(n, force) for n, force in rows if force is not None]
            if self.silent or not read:
                continue
            times, values = [n * 1000 / HERTZ for n, _ in read], [force / 1000 for _, force in read]
            with clock.told_at(began + timedelta(seconds=gone)):
                number = take(self.plan, self.cell, Batch(number, began, times, values), self.user)

    def _gone(self, began: datetime) -> float:
        """Seconds, by the clock that it goes by."""
        return (self.now() - began).total_seconds()

    def _happens(self, event: Happens) -> None:
        if event == "silence":
            self.silent = True
        elif event == "over":
            self.silent = False
            self.simulation.over()
        elif event != "off":
            wrong: Event = event
            self.simulation.happens(wrong)

    def _follow(self, run: Run | None) -> None:
        """The load where the step now has it."""
        step = f"{run.at}:{run.revision_id}" if run else ""
        if step != self.step:
            self.step = step
            self.simulation.comes_to(self._levels())


def start(plan: Plan, cell: Cell, user: Any, seed: int, now: Callable[[], datetime] = clock.now) -> None:
    """A simulated cell sends from here on, by the clock of its plan."""
    if cell.id not in _running:
        _running[cell.id] = _Sending(plan, cell, user, seed, now)
        _running[cell.id].start()


def happens(cell: Cell, event: Happens) -> bool:
    """Something goes wrong, or is over; whether the cell is a simulated one that runs."""
    sending = _running.get(cell.id)
    if sending is not None:
        sending.asked.append(event)
    return sending is not None


def runs(cell: Cell) -> bool:
    return cell.id in _running
