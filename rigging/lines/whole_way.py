"""The whole way: the load at places from its start up to the first corner, each with its own ground, edges and lengths; and
what comes to what on the way: joins, damaged places, resets, the rope's end, in metres of raising or lowering."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from rigging.document import Line, Plan, Point
from rigging.lines.hauling import RATCHET_M
from rigging.lines.lengths import haul_ends_m, stroke_of
from rigging.lines.solve import LineForces, Solved, Solver
from rigging.lines.states import hauling_line, moments
from rigging.lines.way import LineWay, line_way
from rigging.quantities.ranges import Range
from rigging.site.ground import along, run_up

Job = Literal["raising", "lowering"]
Kind = Literal["join", "damage", "reset", "rope-end"]
JOBS: tuple[Job, ...] = ("raising", "lowering")
_SHORT_M = 0.3
# Hauls shorter than this are no hauls.
_LEAST_M = 0.05


@dataclass(frozen=True)
class Pulls:
    """One job at one place: pull at the load, force at the hands, force on the working point, in newtons."""

    pull_n: Range
    hand_n: Range
    working_point_n: Range


@dataclass(frozen=True)
class Place:
    """The load at one place of its way, `run_m` up from where it starts: `line_m` is the rope from working point to load, of
    every line in `lengths_m`; each turn as (x, z, radians); the state of each job that can be done there."""

    run_m: float
    x_m: float
    z_m: float
    lengths_m: dict[str, float]
    turns: tuple[tuple[float, float, float], ...]
    jobs: dict[Job, Solved]
    line: str

    @property
    def line_m(self) -> float:
        return self.lengths_m[self.line]

    def forces(self, job: Job) -> LineForces | None:
        solved = self.jobs.get(job)
        return solved.line(self.line) if solved else None

    def pulls(self, job: Job) -> Pulls | None:
        """What a job asks here; None where it can not be done."""
        line = self.forces(job)
        if line is None:
            return None
        assert line.running is not None
        at_anchor = line.on_anchors.get(line.rig.line.anchor)
        nothing = Range(0.0, 0.0, 0.0)
        return Pulls(line.at_load, line.running.hand, at_anchor.size if at_anchor else nothing)


@dataclass(frozen=True)
class Event:
    """Something that comes to something: `metre` of the job at which it does, and where the load then is; `number` tells which join or
    damaged place of its rope it is."""

    kind: Kind
    line: str
    job: Job
    metre: float
    comes_to: str
    x_m: float
    z_m: float
    run_m: float
    number: int = 0


@dataclass(frozen=True)
class WholeWay:
    """A line's places, and the events of every line at the load."""

    line: str
    places: tuple[Place, ...]
    events: tuple[Event, ...]

    def run_at(self, line: str, out_m: float) -> float:
        """How far up from its start the load is when so much rope of a line is out."""
        return where(self.places, line, out_m)[2]


def where(places: Sequence[Place], line: str, out_m: float) -> tuple[float, float, float]:
    """Where the load is, (x, z, up from its start), with so much rope of a line out: between the two places around it, else at the nearer end."""
    for low, high in itertools.pairwise(places):
        long, short = low.lengths_m[line], high.lengths_m[line]
        if short <= out_m <= long:
            share = (long - out_m) / max(1e-9, long - short)
            return (
                low.x_m + share * (high.x_m - low.x_m),
                low.z_m + share * (high.z_m - low.z_m),
                low.run_m + share * (high.run_m - low.run_m),
            )
    end = min(places[0], places[-1], key=lambda one: abs(one.lengths_m[line] - out_m))
    return end.x_m, end.z_m, end.run_m


def whole_way(plan: Plan, line: Line, count: int = 50) -> WholeWay:
    """A line's whole way, at `count` places from the load's start to the first corner.

    Raises
    ------
    Refused
        If the line can not be laid out.
    """
    travel = Travel(plan, line)
    places = tuple(travel.place(travel.far_m * n / max(1, count - 1)) for n in range(count))
    found = [event for one in plan.lines for event in _Events(plan, one, travel.ways[one.id], places).all()]
    return WholeWay(line.id, places, tuple(sorted(found, key=lambda one: (one.job, one.metre))))


def at_work(plan: Plan) -> Line:
    """The line that the load goes up and down on."""
    return hauling_line(plan) or plan.line("main") or plan.lines[0]


class Travel:
    """The load's run up to the first corner of a line, and the line's jobs at any place of it."""

    def __init__(self, plan: Plan, line: Line):
        self.plan, self.line = plan, line
        self.ways = {one.id: line_way(plan, one) for one in plan.lines}
        self.run = run_up(plan.site, self.ways[line.id].over)
        self.whole_m = math.fsum(math.dist(a, b) for a, b in itertools.pairwise(self.run))
        # At the corner itself the rope's last stretch has no length: the load stops a hand's breadth short of it.
        self.far_m = self.whole_m - min(_SHORT_M, self.whole_m / 2)

    def moved(self, run_m: float) -> Plan:
        """The plan with its load at another place, and on the rope what hangs there."""
        x, z = along(self.run, run_m)
        site = self.plan.site.model_copy(update={"load_at": Point(x_m=x, z_m=z)})
        below = self.whole_m - run_m
        there = [one for one in self.plan.load.items if one.joins_below_m is None or one.joins_below_m <= below + 1e-9]
        load = self.plan.load.model_copy(update={"items": there or self.plan.load.items[:1]})
        return self.plan.model_copy(update={"site": site, "load": load})

    def place(self, run_m: float) -> Place:
        """The load at one place: what the line's jobs ask there."""
        there = self.moved(run_m)
        ways = {one.id: line_way(there, one) for one in there.lines}
        turns = tuple((turn.at[0], turn.at[2], turn.turn_rad) for turn in ways[self.line.id].over.turns)
        jobs = {job: solved for job in JOBS if (solved := self._job(there, ways, job)) is not None}
        spot = there.site.load_at
        lengths = {id: way.length_m for id, way in ways.items()}
        return Place(run_m, spot.x_m, spot.z_m, lengths, turns, jobs, self.line.id)

    def _job(self, there: Plan, ways: dict[str, LineWay], job: Job) -> Solved | None:
        """The line at work, with those only that bear together with it."""
        line = self.line
        if (hauling_line(there) is not line) if job == "raising" else line.lowering is None:
            return None
        others = [one for one in there.lines if one is line or (job == "lowering" and one.role in ("main", "second"))]
        alone = there.model_copy(update={"lines": others})
        solved = Solver(alone, ways).solve(next(one for one in moments(alone) if one.id == job))
        return solved if isinstance(solved, Solved) and solved.line(line.id) else None


def moved(plan: Plan, run_m: float) -> Plan:
    """The plan with its load so far up its way."""
    return Travel(plan, at_work(plan)).moved(run_m) if run_m > 1e-6 and plan.lines else plan


class _Events:
    """What comes to what along one line's way."""

    def __init__(self, plan: Plan, line: Line, way: LineWay, places: tuple[Place, ...]):
        self.plan, self.line, self.way, self.places = plan, line, way, places
        self.rope = plan.rope(line.rope)
        self.raises, self.lowers = hauling_line(plan) is line or line.role == "belay", bool(line.lowering or line.belay)
        self.bottom, self.top = places[0].lengths_m[line.id], places[-1].lengths_m[line.id]

    def all(self) -> Iterator[Event]:
        yield from self._marks()
        yield from self._end()
        yield from self._resets()

    def _event(self, kind: Kind, job: Job, to: str, out_m: float, number: int = 0) -> Event:
        x, z, run = where(self.places, self.line.id, out_m)
        metre = out_m - self.top if job == "lowering" else self.bottom - out_m
        return Event(kind, self.line.id, job, metre, to, x, z, run, number)

    def _marks(self) -> Iterator[Event]:
        """Joins and damaged places of the line's rope."""
        rope, first = self.rope, self.line.end == "first"
        marks: list[tuple[Kind, int, float]] = [("join", number, one.at_m) for number, one in enumerate(rope.joins)]
        marks += [("damage", number, one.at_m) for number, one in enumerate(rope.damage)]
        for kind, number, at_m in marks:
            for name, from_point_m in stations(self.plan, self.line, self.way):
                out_m = (at_m if first else rope.length_m - at_m) + from_point_m
                if not self.top < out_m < self.bottom:
                    continue
                if self.lowers and name not in ("ratchet", "block"):
                    yield self._event(kind, "lowering", name, out_m, number)
                if self.raises and name != "device":
                    yield self._event(kind, "raising", name, out_m, number)

    def _end(self) -> Iterator[Event]:
        """The rope's end at what lowers it, before the load is down."""
        if not self.lowers:
            return
        at_m = self.line.lowering.out_m if self.line.lowering else RATCHET_M
        if self.rope.length_m + at_m < self.bottom:
            to = "device" if self.line.lowering else "belay"
            yield self._event("rope-end", "lowering", to, max(self.top, self.rope.length_m + at_m))

    def _resets(self) -> Iterator[Event]:
        hauled = self.places[0].forces("raising")
        if hauled is None or hauled.rig.line.id != self.line.id:
            return
        found = stroke_of(hauled)
        if found is None or found.rise_m <= _LEAST_M:
            return
        meets = " and ".join(one.partition(":")[2] or one for one in found.meets)
        for end_m in haul_ends_m(self.plan, hauled, found, self.bottom - self.top, _LEAST_M) or ():
            yield self._event("reset", "raising", meets, self.bottom - max(0.0, end_m))


def stations(plan: Plan, line: Line, way: LineWay) -> Iterator[tuple[str, float]]:
    """What a place of a line's rope can come to, with its distance from the working point along the line."""
    far = 0.0
    for number, (a, b) in enumerate(zip(way.points, way.points[1:-1], strict=False)):
        far += math.dist(a, b)
        if number < len(way.redirects):
            yield plan.anchor(way.redirects[number][0]).name, far
        else:
            edge = way.over.turns[number - len(way.redirects)].edge
            yield edge.name if edge else "ground", far
    if line.lowering:
        yield "device", line.lowering.out_m
    if line.belay:
        yield "belay", RATCHET_M
    if line.haul:
        if line.haul.capture and line.haul.capture_on == "line":
            yield "ratchet", RATCHET_M
        yield "block", 0.0
