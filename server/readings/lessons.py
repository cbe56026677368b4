"""What the readings of a run say of the plan's friction and weight."""

import bisect
import json
import math

from operations.composing import composed_of
from operations.models import LogEntry, Run
from plans.models import Plan
from pydantic import BaseModel

from readings.models import Cell, unpacked
from readings.watching import place_in
from rigging.document import Plan as Document
from rigging.document.plan import Found
from rigging.lines.people import haulers_range
from rigging.procedures.operation import Planned
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.readings.learn import Lesson, Observed, learn
from rigging.readings.steady import observed, stretches
from rigging.site.conditions import sustained_n
from rigging.telling.work.lessons import together_text, value_name

# An alarm is said within a second of what it is about.
_BEFORE_S = 2.0


class LearntValue(BaseModel):
    """A value before and after, in words; `sharper`: how many times narrower its range is."""

    name: str
    symbol: str
    before: Range
    after: Range
    sharper: float


class LearntForce(BaseModel):
    """A force before and after, in newtons; the people that it takes, where it is pulled by hand."""

    name: str
    before: Range
    after: Range
    people_before: list[int]
    people_after: list[int]


class LessonOut(BaseModel):
    """What was learnt, from how many steady stretches; what readings can not tell apart; the ranges as the plan would keep them."""

    stretches: int
    values: list[LearntValue]
    forces: list[LearntForce]
    together: list[str]
    found: list[Found]
    revision: int


def lesson_of(plan: Plan, run: Run) -> LessonOut:
    """What the readings of a run say.

    Raises
    ------
    Refused
        If there is no steady stretch of readings in it.
    """
    document = Document.model_validate_json(run.revision.document)
    began, astray = _steps(plan, run), _astray(plan, run)
    rows = [one for cell in plan.cells.all() for one in _observed(run, cell, *began, astray)]
    if not rows:
        raise refuse(
            "readings",
            "there is no steady stretch of readings in this run",
            "hang a cell, haul or lower, then ask again",
        )
    # What was learnt before is where it begins from no more: the same readings are not counted twice.
    fresh = document.model_copy(update={"found": []})
    return _told(document, learn(fresh, rows), len(rows), run.revision.number)


def _astray(plan: Plan, run: Run) -> list[tuple[float, float]]:
    """From when to when, in seconds since the epoch, the load was stuck, caught or shaken: from the alarm until somebody said that it goes
    on. What was read then is not what the step does, and teaches nothing of it."""
    kinds = (LogEntry.Kind.ALARM, LogEntry.Kind.GO, LogEntry.Kind.STEP)
    found: list[tuple[float, float]] = []
    since: float | None = None
    for entry in plan.log.filter(kind__in=kinds, time__gte=run.begun_at).order_by("sequence"):
        if entry.kind == LogEntry.Kind.ALARM:
            told = json.loads(entry.data)
            if since is None and told["alarm"] in ("rise", "shock"):
                since = float(told["at_s"]) - _BEFORE_S
        elif since is not None:
            found.append((since, entry.time.timestamp()))
            since = None
    return [*found, (since, math.inf)] if since is not None else found


def _observed(
    run: Run,
    cell: Cell,
    times: list[float],
    steps: list[Planned | None],
    astray: list[tuple[float, float]],
) -> list[Observed]:
    where = place_in(run.revision.document, cell.place)
    blocks = cell.blocks.filter(to_ms__gte=int(run.begun_at.timestamp() * 1000))
    if run.ended_at:
        blocks = blocks.filter(from_ms__lte=int(run.ended_at.timestamp() * 1000))
    times_ms, forces = unpacked(blocks)
    if not len(forces):
        return []
    found: list[Observed] = []
    seconds = times_ms / 1000
    for begin, end in astray:
        kept = (seconds < begin) | (seconds > end)
        seconds, forces = seconds[kept], forces[kept]
    for one in stretches(seconds, forces):
        step = steps[max(0, bisect.bisect_right(times, one.from_s) - 1)]
        if step is None:
            continue
        motions = step.motions
        if motions or not one.moves:
            found += observed(where, motions[0] if motions else "still", [one], (step.runs_m[0], step.runs_m[-1]))
    return found


def _steps(plan: Plan, run: Run) -> tuple[list[float], list[Planned | None]]:
    """When each step began, in seconds since the epoch, and the step; None for one that the operation has no more."""
    made = composed_of(plan, run.revision, run)
    rows = plan.log.filter(kind=LogEntry.Kind.STEP, time__gte=run.begun_at).order_by("sequence")
    times: list[float] = [run.begun_at.timestamp()]
    steps: list[Planned | None] = [made.planned(made.order[0])]
    for entry in rows:
        times.append(entry.time.timestamp())
        steps.append(made.planned(made.after(entry.step)) if entry.step in made.order else None)
    return times, steps


def _told(document: Document, lesson: Lesson, count: int, revision: int) -> LessonOut:
    each = sustained_n(document)

    def people(name: str, force: Range) -> list[int]:
        needed = haulers_range(force, each)
        return [int(needed.low), int(needed.high)] if name == "hand, raising" else []

    values = [
        LearntValue(name=value_name(one.value), symbol=one.value.symbol, before=one.value.given, after=one.after, sharper=one.sharper)
        for one in lesson.values
    ]  # fmt: skip
    forces = [
        LearntForce(name=name, before=before, after=after, people_before=people(name, before), people_after=people(name, after))
        for name, (before, after) in lesson.forces.items()
    ]  # fmt: skip
    return LessonOut(
        stretches=count,
        values=values,
        forces=forces,
        together=[together_text(group) for group in lesson.together],
        found=lesson.found(),
        revision=revision,
    )
