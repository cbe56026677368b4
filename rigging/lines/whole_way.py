"""The whole way: the load at places from its start up to the first corner, each with its own ground, edges and lengths; and
what comes to what on the way: joins, damaged places, resets, the rope's end, in metres of raising or lowering."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import catalogue
from rigging.document import Line, Plan, Point
from rigging.lines.lengths import stroke_of
from rigging.lines.solve import LineForces, Solved, Solver, size_of, ways_of
from rigging.lines.states import hauling_line, moments
from rigging.lines.way import LineWay, line_way
from rigging.quantities.ranges import Range
from rigging.site.ground import Flat, along, run_up

Job = Literal["raising", "lowering"]
_RATCHET_M, _SHORT_M = 0.4, 0.3


@dataclass(frozen=True)
class Pulls:
    """One job at one place: pull at the load, force at the hands, force on the working point, in newtons."""

    pull_n: Range
    hand_n: Range
    working_point_n: Range


@dataclass(frozen=True)
class Place:
    """The load at one place of its way: `line_m` is the rope from working point to load; each turn as (x, z, radians)."""

    x_m: float
    z_m: float
    line_m: float
    turns: tuple[tuple[float, float, float], ...]
    raising: Pulls | None
    lowering: Pulls | None


@dataclass(frozen=True)
class Event:
    """Something that comes to something: `metre` of the job at which it does, and where the load then is."""

    kind: Literal["join", "damage", "reset", "rope-end"]
    line: str
    job: Job
    metre: float
    comes_to: str
    x_m: float
    z_m: float


@dataclass(frozen=True)
class WholeWay:
    line: str
    places: tuple[Place, ...]
    events: tuple[Event, ...]


def whole_way(plan: Plan, line: Line, count: int = 50) -> WholeWay:
    """A line's whole way, at `count` places from the load's start to the first corner.

    Raises
    ------
    Refused
        If the line can not be laid out.
    """
    way = line_way(plan, line)
    run = run_up(plan.site, way.over)
    far = math.fsum(math.dist(a, b) for a, b in itertools.pairwise(run))
    # At the corner itself the rope's last stretch has no length: the load stops a hand's breadth short of it.
    far -= min(_SHORT_M, far / 2)
    spots = [along(run, far * n / max(1, count - 1)) for n in range(count)]
    places = tuple(place_at(plan, line, spot) for spot in spots)
    return WholeWay(
        line.id, places, tuple(sorted(_events(plan, line, way, places), key=lambda one: (one.job, one.metre)))
    )


def moved(plan: Plan, spot: Flat) -> Plan:
    """The plan with its load at another place."""
    site = plan.site.model_copy(update={"load_at": Point(x_m=spot[0], z_m=spot[1])})
    return plan.model_copy(update={"site": site})


def place_at(plan: Plan, line: Line, spot: Flat) -> Place:
    """The load at one place: what the line's jobs ask there."""
    there = moved(plan, spot)
    way = line_way(there, line)
    turns = tuple((turn.at[0], turn.at[2], turn.turn_rad) for turn in way.over.turns)
    raising = _job(there, line, "raising") if hauling_line(plan) is line else None
    lowering = _job(there, line, "lowering") if line.lowering else None
    return Place(
        spot[0], spot[1], way.length_m, turns, pulls_of(raising) if raising else None, pulls_of(lowering) if lowering else None
    )  # fmt: skip


def _job(plan: Plan, line: Line, job: Job) -> LineForces | None:
    """The line at work, with those only that bear together with it."""
    others = [one for one in plan.lines if one is line or (job == "lowering" and one.role in ("main", "second"))]
    alone = plan.model_copy(update={"lines": others})
    solver = Solver(alone, ways_of(alone))
    moment = next(one for one in moments(alone) if one.id == job)
    solved = solver.solve(moment)
    return solved.line(line.id) if isinstance(solved, Solved) else None


def pulls_of(line: LineForces) -> Pulls:
    assert line.running is not None
    at_anchor = line.on_anchors().get(line.rig.line.anchor)
    nothing = Range(0.0, 0.0, 0.0)
    return Pulls(line.at_load, line.running.hand, size_of(at_anchor) if at_anchor else nothing)


def _events(plan: Plan, line: Line, way: LineWay, places: tuple[Place, ...]) -> Iterator[Event]:
    bottom, top = places[0].line_m, places[-1].line_m
    for kind, from_load_m in _marks(plan, line):
        for name, from_point_m in _stations(plan, line, way):
            out_m = from_load_m + from_point_m
            if not top < out_m < bottom:
                continue
            if line.lowering and name not in ("ratchet", "block"):
                yield _event(kind, line, "lowering", out_m - top, name, places, out_m)
            if hauling_line(plan) is line and name != "device":
                yield _event(kind, line, "raising", bottom - out_m, name, places, out_m)
    rope = plan.rope(line.rope)
    if line.lowering and rope.length_m + line.lowering.out_m < bottom:
        out_m = max(top, rope.length_m + line.lowering.out_m)
        yield _event("rope-end", line, "lowering", out_m - top, "device", places, out_m)
    if hauling_line(plan) is line:
        hauled = _job(plan, line, "raising")
        found = stroke_of(hauled, catalogue().clearance_m) if hauled else None
        if found is not None and found.rise_m > 0.05:
            for number in range(1, math.ceil((bottom - top) / found.rise_m - 1e-9)):
                risen = number * found.rise_m
                yield _event(
                    "reset",
                    line,
                    "raising",
                    risen,
                    " and ".join(one.partition(":")[2] or one for one in found.meets),
                    places,
                    bottom - risen,
                )


def _marks(plan: Plan, line: Line) -> Iterator[tuple[Literal["join", "damage"], float]]:
    """Joins and damaged places of the line's rope, in metres from the load."""
    rope = plan.rope(line.rope)
    far = [("join", one.at_m) for one in rope.joins] + [("damage", one.at_m) for one in rope.damage]
    for kind, at_m in far:
        yield ("join" if kind == "join" else "damage"), at_m if line.end == "first" else rope.length_m - at_m


def _stations(plan: Plan, line: Line, way: LineWay) -> Iterator[tuple[str, float]]:
    """What a place of the rope can come to, with its distance from the working point along the line."""
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
    if line.haul:
        if line.haul.capture:
            yield "ratchet", _RATCHET_M
        yield "block", 0.0


def _event(
    kind: Literal["join", "damage", "reset", "rope-end"],
    line: Line,
    job: Job,
    metre: float,
    to: str,
    places: tuple[Place, ...],
    out_m: float,
) -> Event:
    """Where the load is when `out_m` of rope are out: between the two places around it."""
    for low, high in itertools.pairwise(places):
        if high.line_m <= out_m <= low.line_m:
            share = (low.line_m - out_m) / max(1e-9, low.line_m - high.line_m)
            return Event(
                kind,
                line.id,
                job,
                metre,
                to,
                low.x_m + share * (high.x_m - low.x_m),
                low.z_m + share * (high.z_m - low.z_m),
            )
    return Event(kind, line.id, job, metre, to, places[0].x_m, places[0].z_m)
