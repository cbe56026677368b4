"""Readings taken in: checked field by field, kept once, watched, told to every device."""

import uuid
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import numpy as np
from answering.moments import EARLIEST, LATEST
from plans.models import Plan
from storing.writing import writing

from readings import watching
from readings.models import LONGEST_MS, Cell, ReadingBlock, packed
from rigging.files.log_rows import MOST_N
from rigging.quantities.faults import refuse

UNITS = {"N": 1.0, "kN": 1000.0, "daN": 10.0, "kgf": 9.80665, "lbf": 4.4482216152605}
LARGEST_BATCH = 2000
_EARLIEST_MS, _LATEST_MS = (round(one.timestamp() * 1000) for one in (EARLIEST, LATEST))


@dataclass(frozen=True)
class Batch:
    """As a cell's bridge sends it: `first`, the number of its first reading; times in ms after `at`, forces in the cell's unit."""

    first: int
    at: datetime
    times_ms: list[float]
    values: list[float]


def take(plan: Plan, cell: Cell, batch: Batch, user: Any) -> int:
    """A batch kept; the number that the next reading has. Sent again, what is there already is left out.

    Raises
    ------
    Refused
        Naming the reading that is none.
    """
    if cell.from_file:
        raise refuse(
            "cell", f"its readings came in {cell.from_file}", "hang up a cell of its own for what sends by itself"
        )
    times, forces = _checked(cell, batch)
    with writing():
        last = cell.last_block
        following = last.following if last else 0
        known = max(0, following - batch.first)
        if known >= len(times):
            return following
        # By their numbers, not by their times: a clock that was an hour ahead and is set right loses nothing.
        times, forces = times[known:], forces[known:]
        first, before = max(batch.first, following), bytes(last.hash) if last else b""
        for some in np.split(np.arange(len(times)), np.flatnonzero(np.diff(times) > LONGEST_MS) + 1):
            block = ReadingBlock(
                cell=cell, first=first + int(some[0]), count=len(some), from_ms=int(times[some[0]]), to_ms=int(times[some[-1]]),
                data=packed(times[some], forces[some]),
            )  # fmt: skip
            block.hash = before = block.content_hash(before)
            block.save(force_insert=True)
            following = block.following
    watching.heard(plan, cell, times, forces, user)
    return following


def _checked(cell: Cell, batch: Batch) -> tuple[np.ndarray, np.ndarray]:
    if not batch.values:
        raise refuse("values", "there is no reading", "send at least one")
    if len(batch.values) > LARGEST_BATCH:
        raise refuse("values", f"{len(batch.values)} readings at once", f"at most {LARGEST_BATCH}; send the rest after")
    if len(batch.times_ms) != len(batch.values):
        raise refuse("times_ms", f"{len(batch.times_ms)} times for {len(batch.values)} readings", "one time for each")
    began_ms = round(batch.at.timestamp() * 1000)
    times = began_ms + np.round(np.array(batch.times_ms)).astype(np.int64)
    forces = np.array(batch.values, dtype=float) * UNITS[cell.unit]
    if times.min() < _EARLIEST_MS or times.max() > _LATEST_MS:
        raise refuse("times_ms", "they lie outside this century", "milliseconds after `at`")
    if (wrong := np.flatnonzero(np.diff(times) <= 0)).size:
        number = int(wrong[0]) + 1
        raise refuse(f"times_ms[{number}]", "it is not after the one before", "send times that only go forward")
    if (wrong := np.flatnonzero(np.abs(forces) > MOST_N)).size:
        number = int(wrong[0])
        raise refuse(
            f"values[{number}]",
            f"{batch.values[number]:g} {cell.unit} is no force on a rope",
            f"up to {MOST_N / 1000:.0f} kN; is the unit right?",
        )
    return times, forces


def cell_made(plan: Plan, id: uuid.UUID, name: str, place: str, unit: str, now: datetime) -> Cell:
    """A cell named; said again, the one that is there.

    Raises
    ------
    Refused
        If its unit or place is none, or another cell has its name.
    """
    if unit not in UNITS:
        raise refuse("unit", f"{unit!r} is no unit of force here", f"one of {', '.join(UNITS)}")
    watching.place_in(plan.latest.document, place)
    known = Cell.objects.filter(id=id).first()
    if known is not None:
        if known.plan_id != plan.id:
            raise refuse("id", "a cell of another plan has this id", "make a fresh id")
        return known
    if plan.cells.filter(name=name).exists():
        raise refuse(
            "name", f"there is a cell {name!r} in this plan", "give it another name, or send its readings to that one"
        )
    with writing():
        return Cell.objects.create(id=id, plan=plan, name=name, place=place, unit=unit, made_at=now)
