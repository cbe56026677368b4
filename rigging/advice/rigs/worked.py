"""What one way to lower, or to haul, asks and gives on one ground: at the places where the plan is worst, quickly and never too badly, or over the
whole way, exactly."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rigging.advice.best import hauling
from rigging.advice.rigs.ways import Kind, Way
from rigging.anchors.states import at_least
from rigging.checks.work.no_reset import ends_early
from rigging.checks.work.no_stroke import LEAST_M
from rigging.document import Haul, Plan
from rigging.judging.anchors import Bearing, anchor_states, whole
from rigging.judging.line_parts import grab_parts
from rigging.judging.margins import Part, judged, share_of_rule, weakest_of
from rigging.judging.parts import parts_in_load_order
from rigging.lines.every_state import solve_all
from rigging.lines.lengths import budgets, stroke_of
from rigging.lines.parts import Crossing, eta_of, passed_on
from rigging.lines.solve import LineForces, Solved, Solver
from rigging.lines.states import hauling_line, moments
from rigging.lines.whole_way import Travel, at_work
from rigging.mechanics.tension import shares, solve_rows
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.study.place import WORKING


@dataclass(frozen=True)
class Gives:
    """What a way asks and gives: the least share of its rule that a part keeps, and of the haul its pull, resets and minutes. `can`: whether it
    can be at all."""

    margin: float = math.inf
    hand_n: float = 0.0
    resets: int = 0
    minutes: float = 0.0
    can: bool = True


NOT = Gives(-math.inf, can=False)


def states_of(plan: Plan, kind: Kind) -> frozenset[str]:
    """The states of the work that hang on what lowers, or on what hauls."""
    found = set()
    for moment in moments(plan):
        if moment.id in WORKING and not moment.missing:
            hauls = any(moment.modes[id] in ("hauling", "captured") for id in moment.works)
            if hauls == (kind == "haul"):
                found.add(moment.id)
    return frozenset(found)


def moved(plan: Plan, share: float) -> Plan:
    """The plan with its load moved up by a share of its way."""
    if not share:
        return plan
    travel = Travel(plan, at_work(plan))
    return travel.moved(travel.far_m * share)


def unknown_in(parts: Iterable[Part]) -> set[str]:
    """Parts of which nobody has said what they hold."""
    return {one.id for one in parts if one.verdict == "unknown"}


@dataclass(frozen=True)
class Worked:
    """The states of one way solved at one place."""

    plan: Plan
    solver: Solver
    states: dict[str, Solved]

    @property
    def raising(self) -> LineForces | None:
        found = self.states.get("raising")
        return found.lines[0] if found else None

    @property
    def hand_n(self) -> float:
        """The most at the haulers' hands."""
        line = self.raising
        return line.running.hand.high if line and line.running else 0.0


def worked(plan: Plan, states: frozenset[str], share: float = 0.0) -> Worked | None:
    """A plan's states with its load moved up by a share of its way; None where one of them can not be."""
    try:
        there = moved(plan, share)
        solver, found = solve_all(there, states)
    except Refused:
        return None
    solved = {id: one for id, one in found.items() if id in states and isinstance(one, Solved)}
    return Worked(there, solver, solved) if len(solved) == len(states) else None


def _reaches(one: Worked, line: LineForces) -> bool:
    """Whether its rope is long enough, and a haul lifts something and can be begun again."""
    found = stroke_of(line)
    short = any(budget.left_m < 0 for budget in budgets(one.plan, one.solver.ways, line))
    return not (short or ends_early(line) or (found is not None and found.rise_m < LEAST_M))


def share_of(one: Worked, known: frozenset[str], bearing: Bearing = whole, but_for: Collection[str] = ()) -> float:
    """The least share of its rule that any part keeps; less than nothing where one is not known that is in the plan as it is. `but_for`: parts that
    are left out."""
    try:
        anchors = anchor_states(one.plan, one.states.values(), bearing=bearing)
    except Refused:
        return -math.inf
    each = (part for solved in one.states.values() for part in parts_in_load_order(one.plan, solved, anchors))
    parts = [part for part in each if part.id not in but_for]
    return -math.inf if unknown_in(parts) - known else share_of_rule(weakest_of(parts))


def worst_places(
    plan: Plan, states: frozenset[str], places: Sequence[float], known: frozenset[str]
) -> tuple[float, ...]:
    """Where a way is looked at before it is asked all the way: where the load starts, and where the plan as it is keeps least."""
    found = {place: worked(plan, states, place) for place in places}
    shares = {place: share_of(one, known, at_least) for place, one in found.items() if one is not None}
    return tuple(dict.fromkeys((0.0, min(shares, key=lambda place: shares[place], default=0.0))))


def exactly(ground: Plan, way: Way, states: frozenset[str], places: Sequence[float], known: frozenset[str]) -> Gives:
    """One way on one ground over the whole of its way."""
    return _over(way.put(ground), states, places, lambda one: share_of(one, known))


def quickly(ground: Plan, way: Way, states: frozenset[str], places: Sequence[float], known: frozenset[str]) -> Gives:
    """One way on one ground at a few places of its way, no leg's stiffness otherwise than expected: it asks no less, and gives no more."""
    return _over(way.put(ground), states, places, lambda one: share_of(one, known, at_least))


def _over(plan: Plan, states: frozenset[str], places: Sequence[float], share: Callable[[Worked], float]) -> Gives:
    """The worst of a plan's states at several places."""
    margin, hand_n = math.inf, 0.0
    for place in places:
        one = worked(plan, states, place)
        if one is None:
            return NOT
        margin, hand_n = min(margin, share(one)), max(hand_n, one.hand_n)
    return Gives(margin, hand_n)


def hauled(
    ground: Plan, way: Way, grabs: Sequence[Way], places: Sequence[float], known: frozenset[str]
) -> tuple[Gives, tuple[float, ...]]:
    """The same of a haul while it is hauled: by itself, and the least share that each way to grab the rope keeps in it."""
    margin, hand_n, gripped = math.inf, 0.0, [math.inf] * len(grabs)
    for place in places:
        one = worked(way.put(ground), frozenset({"raising"}), place)
        line = one.raising if one else None
        if one is None or line is None:
            return NOT, tuple(gripped)
        mine = {part.id for part in grab_parts(one.plan, line)}
        share = share_of(one, known, at_least, mine)
        margin, hand_n = min(margin, share), max(hand_n, one.hand_n)
        for number, grab in enumerate(grabs):
            gripped[number] = min(gripped[number], _gripped(grab.put(one.plan), line))
    return Gives(margin, hand_n), tuple(gripped)


def _gripped(plan: Plan, line: LineForces) -> float:
    """What a haul's grab keeps, tied as the plan has it, under the forces of a line."""
    if plan.rules.school == "force-limit":
        return math.inf
    of = next(one for one in plan.lines if one.id == line.rig.line.id)
    tied = replace(line, rig=replace(line.rig, line=of))
    return share_of_rule(weakest_of([judged(plan.rules, part, None) for part in grab_parts(plan, tied)]))


@dataclass(frozen=True)
class Asks:
    """Hauls that differ in nothing but what sits at their bends, before any is looked at by itself: what each asks; and the least share of its rule
    that is kept, with each way to keep what was won, by what does not hang on the bends at all."""

    each: tuple[Gives, ...]
    kept: tuple[float, ...]
    # Whether what keeps what was won has a bend of the haul in it.
    bent: bool = False


def side_by_side(
    ground: Plan,
    ways: Sequence[Way],
    captures: Sequence[Way],
    states: frozenset[str],
    places: Sequence[float],
    known: frozenset[str],
) -> Asks:
    """Hauls that are like one another but for their bends (`but_for_bends`)."""
    one = next((there for way in ways if (there := worked(way.put(ground), states))), None)
    line = one.raising if one else None
    if one is None or line is None or not _reaches(one, line):
        return Asks((NOT,) * len(ways), (-math.inf,) * len(captures))
    hauls = [haul for way in ways if (found := hauling_line(way.put(ground))) and (haul := found.haul)]
    each = tuple(_asks_of(one, line, hauls))
    at_load = min(
        (
            share_of_rule(part)
            for part in parts_in_load_order(one.plan, one.states["raising"], {})
            if part.kind in _AT_LOAD
        ),
        default=math.inf,
    )
    kept = [still(ground, ways[0], capture, states - {"raising"}, places, known) for capture in captures]
    bent = any(one is None for one in kept)
    return Asks(each, tuple(at_load if one is None else min(at_load, one) for one in kept), bent)


# What bears the load's own pull, whatever is behind it.
_AT_LOAD = ("load-connector", "load-knot")


def still(
    ground: Plan,
    way: Way,
    capture: Way,
    states: frozenset[str],
    places: Sequence[float],
    known: frozenset[str],
    bent: bool = False,
) -> float | None:
    """The least share that is kept where nothing runs; None where a bend of the haul is in it, unless that may be (`bent`)."""
    share = math.inf
    for place in places:
        one = worked(capture.put(way.put(ground)), states, place)
        if one is None:
            return -math.inf
        lines = [line for solved in one.states.values() for line in solved.lines]
        if not bent and any(
            line.rig.crossings[found.id].role == "bend" for line in lines for found in line.network.passes
        ):
            return None
        share = min(share, share_of(one, known, at_least))
    return share


def _asks_of(one: Worked, line: LineForces, hauls: Sequence[Haul]) -> list[Gives]:
    try:
        return list(_asks(one, line, hauls))
    except Refused:
        # One of them would push: each by itself.
        return [NOT] if len(hauls) == 1 else [gives for haul in hauls for gives in _asks_of(one, line, [haul])]


def _asks(one: Worked, line: LineForces, hauls: Sequence[Haul]) -> Iterator[Gives]:
    """Pull at the hands with every pass as draggy as it may be; resets and minutes with all as expected."""
    assert line.running is not None
    network, motion = line.network, line.running.motion
    given, crossings = shares(network, motion), [line.rig.crossings[found.id] for found in network.passes]
    keeps = np.array(
        [list(_passed(one.plan, line, crossings, given, haul, end)) for end in ("low", "expected") for haul in hauls]
    )
    tensions, gains = solve_rows(network, motion, keeps, 1, keeps)
    count, still = len(hauls), np.zeros((1, len(given)))
    hands_n = line.running.scale.high / gains[:count]
    for haul, hand_n, row, gain in zip(hauls, hands_n.tolist(), tensions[count:], gains[count:], strict=True):
        rows = (row / gain)[None]
        running = replace(line.running, gains=np.array([gain]))
        of = line.rig.line.model_copy(update={"haul": haul})
        made = replace(line, rows=rows, levels=still, running=running, rig=replace(line.rig, line=of))
        resets, minutes = hauling(one.plan, made)
        yield NOT if resets is None or minutes is None else Gives(math.inf, hand_n, resets, minutes)


def _passed(
    plan: Plan,
    line: LineForces,
    crossings: Sequence[Crossing],
    given: Sequence[Range],
    haul: Haul,
    end: Literal["low", "expected"],
) -> Iterator[float]:
    """What each pass passes on, at one end of its range, with a haul's own kinds at its bends."""
    eta = {f"{line.rig.line.id}:{id}": found for id, found in eta_of(plan, haul).items()}
    for crossing, share in zip(crossings, given, strict=True):
        mine = passed_on(replace(crossing, quantity=eta[crossing.id])) if crossing.role == "bend" else share
        yield getattr(mine, end)


def but_for_bends(way: Way) -> str:
    """What hauls that differ only in what sits at their bends have in common."""
    return "|".join(
        one.model_dump_json(exclude={"bends"}) if isinstance(one, Haul) else str(path) for path, one in way.puts
    )
