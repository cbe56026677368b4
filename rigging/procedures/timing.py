"""How long an operation takes and who is busy when: the set-up shared out, then one section after another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from rigging.document import Plan
from rigging.mechanics.vectors import Array
from rigging.procedures.course import SET_UP, STRUCK
from rigging.procedures.crew import KEPT_FREE
from rigging.procedures.operation import Operation, Planned
from rigging.procedures.schedule import Following, Work, draws, quickest, spread
from rigging.quantities.ranges import Range

# Duties that are kept from one section to the next.
_STANDING = frozenset({"belay", "ratchet", "edge", "attendant"})
# Whoever has less to spare than this stays where they are.
_A_WHILE_S = 120.0


@dataclass(frozen=True)
class Busy:
    """Somebody at one stretch of the work: its steps, from when to when. `role`: a duty that is kept over several sections, "" where they do
    what the section says."""

    who: str
    section: str
    role: str
    keys: tuple[str, ...]
    begins_s: float
    ends_s: float


@dataclass(frozen=True)
class Timing:
    """Seconds until the load is up, or down where nothing raises it, and until all is struck; when each step begins, and how long it then is
    until the load is up; what takes longest; who is busy when, who never is free once the load hangs; what the set-up takes, and with one
    person more."""

    until_s: Range
    all_s: Range
    begins_s: Mapping[str, float]
    left_s: Mapping[str, Range]
    longest: frozenset[str]
    busy: tuple[Busy, ...]
    never_free: tuple[str, ...]
    set_up_s: Range
    one_more_s: float | None


def timing(plan: Plan, operation: Operation) -> Timing:
    """An operation's course in time."""
    people = builders(plan)
    works, whose = _shared_out(operation, people)
    rows = [one for section in operation.sections if section.id != SET_UP for one in section.steps]
    kinds = {
        one.key: one.step.given.takes or section.procedure for section in operation.sections for one in section.steps
    }
    last = tuple(works)
    for one in rows:
        works[one.key] = Work(one.key, one.seconds.expected, last)
        last = (one.key,)
    network = Following(list(works.values()))
    up = _until_up(operation)
    there = Following([one for id, one in works.items() if id in up])
    drawn = draws({one.key: one.seconds for one in operation.steps}, kinds)
    until_s, all_s = (spread(one.drawn_s(drawn), one.takes_s) for one in (there, network))
    begins = network.earliest_s
    busy = (*_building(works, whose, begins), *_working(operation, begins))
    building = Following([works[id] for id in whose])
    set_up_s = spread(building.drawn_s(drawn), building.takes_s)
    loaded_s = min((begins[one.key] for one in rows if not one.step.after.state.grounded), default=until_s.expected)
    return Timing(
        until_s, all_s, begins, dict(_left(there, drawn, until_s)), frozenset(network.longest), busy,
        tuple(_never_free(busy, loaded_s, until_s.expected)), set_up_s, _one_more(operation, len(people), set_up_s.expected),
    )  # fmt: skip


def _left(there: Following, drawn: Mapping[str, Array], until_s: Range) -> Iterator[tuple[str, Range]]:
    """From when each step begins until the load is up."""
    after: dict[str, Array] = {}
    for id in reversed(there.order):
        follows = [after[one] for one in there.graph.successors(id)]
        after[id] = drawn[id] + (np.max(follows, axis=0) if follows else 0.0)
        yield id, spread(after[id], until_s.expected - there.earliest_s[id])


def builders(plan: Plan) -> list[tuple[str, str]]:
    """Who sets up, each with the role: those who neither lead nor write, unless nobody else is there; haulers without a name after those
    who have one."""
    named: list[tuple[str, str]] = [(one.name, one.role) for one in plan.team.people]
    free = [row for row in named if row[1] not in KEPT_FREE]
    more = max(0, plan.team.haulers - sum(role in ("haul", "other") for _, role in named))
    return [*free, *((f"Hauler {number}", "haul") for number in range(1, more + 1))] or named or [("", "main")]


def set_up_of(operation: Operation) -> list[Planned]:
    return [one for section in operation.sections if section.id == SET_UP for one in section.steps]


def waits_of(operation: Operation) -> dict[str, tuple[str, ...]]:
    """Every step of the set-up with those that it waits for: what does not wait for one another is done side by side."""
    rows = set_up_of(operation)
    keys = {one.task.id: one.key for one in rows if one.task}
    return {one.key: tuple(keys[id] for id in one.task.after if id in keys) if one.task else () for one in rows}


def _works(operation: Operation) -> list[Work]:
    waits = waits_of(operation)
    return [Work(one.key, one.seconds.expected, waits[one.key]) for one in set_up_of(operation)]


def _shared_out(operation: Operation, people: list[tuple[str, str]]) -> tuple[dict[str, Work], dict[str, str]]:
    """The set-up in its quickest order: each piece for one person, after what it needs and what that person did before."""
    rows = set_up_of(operation)
    works = {one.id: one for one in _works(operation)}
    starts = quickest(list(works.values()), len(people))
    minds = {one.key: one.task.minds for one in rows if one.task}
    free: dict[str, float] = dict.fromkeys((name for name, _ in people), 0.0)
    roles, before, whose = dict(people), dict[str, str](), dict[str, str]()
    for id in sorted(starts, key=lambda one: (starts[one], one)):
        able = [name for name, at in free.items() if at <= starts[id] + 1e-6]
        # Whoever minds it afterwards, else whoever has had least to do.
        who = min(able, key=lambda name: (roles[name] != minds.get(id), free[name]))
        if who in before:
            works[id] = replace(works[id], after=tuple(dict.fromkeys((*works[id].after, before[who]))))
        before[who], whose[id], free[who] = id, who, starts[id] + works[id].seconds
    return works, whose


def _one_more(operation: Operation, people: int, set_up_s: float) -> float | None:
    """What one person more would make of the set-up; None where that changes nothing."""
    works = _works(operation)
    if people >= len(works):
        return None
    starts = quickest(works, people + 1)
    takes = max(starts[one.id] + one.seconds for one in works)
    return takes if takes < set_up_s - 1 else None


def _until_up(operation: Operation) -> set[str]:
    """Steps up to where the load is up, or down where nothing raises it: all but what is struck at the end."""
    sections = list(operation.sections)
    while sections and sections[-1].id == STRUCK.id:
        sections.pop()
    return {one.key for section in sections for one in section.steps}


def _building(works: Mapping[str, Work], whose: Mapping[str, str], begins: Mapping[str, float]) -> Iterator[Busy]:
    for id, who in whose.items():
        yield Busy(who, SET_UP, "", (id,), begins[id], begins[id] + works[id].seconds)


def _working(operation: Operation, begins: Mapping[str, float]) -> Iterator[Busy]:
    """Everybody's duties after the set-up: one that is kept is one stretch, whatever the section, and so is what the same work goes on with."""
    going: dict[tuple[str, str], Busy] = {}
    for section in operation.sections:
        if section.id == SET_UP:
            continue
        for one in section.steps:
            at, until = begins[one.key], begins[one.key] + one.seconds.expected
            pulls = one.asks.haul if one.step.hands or "haul" in one.step.given.who else ()
            duties = [(who, role) for role, who in one.asks.duties.items() if who] + [(who, "haul") for who in pulls]
            for who, role in dict.fromkeys((who, role if role in _STANDING else "") for who, role in duties):
                before = going.get((who, role or section.procedure))
                if before is not None and at - before.ends_s <= _A_WHILE_S:
                    going[who, role or section.procedure] = replace(before, keys=(*before.keys, one.key), ends_s=until)
                    continue
                if before is not None:
                    yield before
                going[who, role or section.procedure] = Busy(who, section.id, role, (one.key,), at, until)
    yield from going.values()


def _never_free(busy: tuple[Busy, ...], from_s: float, until_s: float) -> Iterator[str]:
    """Who has something to do all the while from one moment to another."""
    for who in dict.fromkeys(one.who for one in busy):
        at = from_s
        for begins, ends in sorted(
            (one.begins_s, one.ends_s) for one in busy if one.who == who and one.ends_s > from_s
        ):
            if begins - at > _A_WHILE_S:
                break
            at = max(at, ends)
        if until_s - at <= _A_WHILE_S:
            yield who
