"""How long an operation takes and who is busy when: the set-up shared out, then one section after another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from rigging.document import Plan
from rigging.procedures.crew import KEPT_FREE
from rigging.procedures.operation import Operation, Planned
from rigging.procedures.schedule import Following, Work, draws, quickest, spread
from rigging.quantities.ranges import Range

SET_UP, STRUCK = "set-up", "derig"
# Whoever has less to spare than this has nothing.
_NEVER_FREE_S = 60.0


@dataclass(frozen=True)
class Busy:
    """Somebody at one stretch of the work: its steps, from when to when; `role` as the steps have it."""

    who: str
    section: str
    role: str
    keys: tuple[str, ...]
    begins_s: float
    ends_s: float


@dataclass(frozen=True)
class Timing:
    """Seconds until the load is up, or down where nothing raises it, and until all is struck; when each step begins; what takes longest;
    who is busy when, who never is free; what the set-up takes, and with one person more."""

    until_s: Range
    all_s: Range
    begins_s: Mapping[str, float]
    longest: frozenset[str]
    busy: tuple[Busy, ...]
    never_free: tuple[str, ...]
    set_up_s: float
    one_more_s: float | None

    def left_s(self, key: str) -> float:
        """From when a step begins until the load is up."""
        return self.until_s.expected - self.begins_s[key]


def timing(plan: Plan, operation: Operation) -> Timing:
    """An operation's course in time."""
    people = builders(plan)
    works, whose = _shared_out(operation, people)
    rows = [one for section in operation.sections if section.id != SET_UP for one in section.steps]
    kinds = {one.key: one.step.given.takes or section.procedure for section in operation.sections for one in section.steps}
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
    set_up_s = max((begins[id] + works[id].seconds for id in whose), default=0.0)
    return Timing(
        until_s, all_s, begins, frozenset(network.longest), busy, tuple(_never_free(busy, set_up_s, until_s.expected)), set_up_s,
        _one_more(operation, len(people), set_up_s),
    )  # fmt: skip


def builders(plan: Plan) -> list[tuple[str, str]]:
    """Who sets up, each with the role: those who neither lead nor write, unless nobody else is there; haulers without a name after those
    who have one."""
    named = [(one.name, one.role) for one in plan.team.people]
    free = [row for row in named if row[1] not in KEPT_FREE]
    more = max(0, plan.team.haulers - sum(role in ("haul", "other") for _, role in named))
    return [*free, *((f"Hauler {number}", "haul") for number in range(1, more + 1))] or named or [("", "main")]


def set_up_of(operation: Operation) -> list[Planned]:
    return [one for section in operation.sections if section.id == SET_UP for one in section.steps]


def _works(rows: list[Planned]) -> list[Work]:
    keys = {one.task.id: one.key for one in rows if one.task}
    return [
        Work(one.key, one.seconds.expected, tuple(keys[id] for id in one.task.after if id in keys) if one.task else ())
        for one in rows
    ]


def _shared_out(operation: Operation, people: list[tuple[str, str]]) -> tuple[dict[str, Work], dict[str, str]]:
    """The set-up in its quickest order: each piece for one person, after what it needs and what that person did before."""
    rows = set_up_of(operation)
    works = {one.id: one for one in _works(rows)}
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
    works = _works(set_up_of(operation))
    if people >= len(works):
        return None
    starts = quickest(works, people + 1)
    takes = max(starts[one.id] + one.seconds for one in works)
    return takes if takes < set_up_s - 1 else None


def _until_up(operation: Operation) -> set[str]:
    """Steps up to where the load is up, or down where nothing raises it."""
    return {one.key for section in operation.sections if section.id != STRUCK for one in section.steps}


def _building(works: Mapping[str, Work], whose: Mapping[str, str], begins: Mapping[str, float]) -> Iterator[Busy]:
    for id, who in whose.items():
        yield Busy(who, SET_UP, "", (id,), begins[id], begins[id] + works[id].seconds)


def _working(operation: Operation, begins: Mapping[str, float]) -> Iterator[Busy]:
    """Everybody's duties after the set-up; what goes on from step to step in one section is one stretch."""
    for section in operation.sections:
        if section.id == SET_UP:
            continue
        going: dict[tuple[str, str], Busy] = {}
        for one in section.steps:
            at, until = begins[one.key], begins[one.key] + one.seconds.expected
            pulls = one.asks.haul if one.step.hands or "haul" in one.step.given.who else ()
            duties = [(who, role) for role, who in one.asks.duties.items() if who] + [(who, "haul") for who in pulls]
            for who, role in duties:
                before = going.get((who, role))
                if before is not None and before.ends_s >= at - 1e-6:
                    going[who, role] = replace(before, keys=(*before.keys, one.key), ends_s=until)
                    continue
                if before is not None:
                    yield before
                going[who, role] = Busy(who, section.id, role, (one.key,), at, until)
        yield from going.values()


def _never_free(busy: tuple[Busy, ...], from_s: float, until_s: float) -> Iterator[str]:
    """Who has something to do all the while, from when the set-up is done until the load is up."""
    for who in dict.fromkeys(one.who for one in busy):
        mine = sorted((one.begins_s, min(one.ends_s, until_s)) for one in busy if one.who == who and one.begins_s < until_s)
        at, idle = 0.0, 0.0
        for begins, ends in mine:
            idle += max(0.0, begins - at)
            at = max(at, ends)
        if idle + max(0.0, until_s - at) <= _NEVER_FREE_S:
            yield who
