"""A plan with its load at one place of its way, judged: what holds in every state, what is alone, what is weakest."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

from rigging.catalogue import Device, catalogue
from rigging.document import Haul, Join, Lowering, Rope
from rigging.judging.judged import Judged
from rigging.judging.margins import Part, weakest_of
from rigging.judging.removal import Gone, Standing
from rigging.lines.people import Job, jobs
from rigging.lines.solve import LineForces, Missing, Solved
from rigging.mechanics.holds import HANDS
from rigging.quantities.ranges import Range
from rigging.site.conditions import hand_hold_n

# States whose parts are taken away: in the others hands are off, the load is stuck or something has gone already.
WORKING = ("held", "lowering", "raising", "between-hauls")
T = TypeVar("T")


@dataclass(frozen=True)
class Row:
    """One state of the sheet: asked with its hands on, and its weakest part; `missing` where it can not be. `up_m`: how far up its way the
    load is where that part is so weak (None: where it starts)."""

    state: str
    standing: Standing | None
    weakest: Part | None
    missing: Missing | None = None
    up_m: float | None = None


@dataclass(frozen=True)
class Alone:
    """A part without which nothing holds, in the first of the `states` in which that is so; `thing`: what the part is of."""

    part: str
    thing: str
    states: tuple[str, ...]
    gone: Gone


class AtPlace:
    """One judged plan, asked. A plan that is a tension line and nothing else holds no load on a line of its own: it has no states."""

    def __init__(self, judged: Judged, up_m: float = 0.0):
        tight = not judged.given.lines and bool(judged.given.tension_lines)
        self.judged, self.up_m = judged, up_m
        self.plan = judged.given if tight else judged.plan
        self.states = {} if tight else judged.states
        self.anchors = {} if tight else judged.anchors
        self.parts = {} if tight else judged.parts
        self.ways = {} if tight else judged.solver.ways
        self.hauling = None if tight else judged.hauling
        self._kept: dict[Any, Any] = {}

    def once(self, key: Any, work: Callable[[], T]) -> T:
        """What several checks ask, worked out when the first of them does."""
        if key not in self._kept:
            self._kept[key] = work()
        found: T = self._kept[key]
        return found

    @cached_property
    def solved(self) -> dict[str, Solved]:
        """Every state that can be."""
        return {id: one for id, one in self.states.items() if isinstance(one, Solved)}

    @cached_property
    def standings(self) -> dict[str, Standing]:
        """Every state that can be, asked what holds."""
        return {id: Standing(self.judged.solver, one.moment) for id, one in self.solved.items()}

    @cached_property
    def holding(self) -> dict[str, Standing]:
        """The states of the work in which something holds."""
        found = {id: self.standings[id] for id in WORKING if id in self.standings}
        return {id: standing for id, standing in found.items() if standing.found.drop_m is not None}

    @cached_property
    def rows(self) -> list[Row]:
        """Every state that has hands on it or needs none, in the order of the work."""
        return [self._row(id, one) for id, one in self.states.items() if not one.moment.hands_off]

    def _row(self, id: str, one: Any) -> Row:
        if not isinstance(one, Solved):
            return Row(id, None, None, one if isinstance(one, Missing) else None)
        return Row(id, self.standings[id], weakest_of(self.parts[id]))

    @cached_property
    def alone(self) -> tuple[Alone, ...]:
        """Things without which nothing holds the load, each once; hands apart."""
        singles: dict[str, tuple[str, str, list[str]]] = {}
        for id, standing in self.holding.items():
            for part in standing.single():
                if part != HANDS:
                    singles.setdefault(thing_of(standing, part), (id, part, []))[2].append(id)
        return tuple(
            Alone(part, thing, tuple(states), self.standings[id].gone(part))
            for thing, (id, part, states) in singles.items()
        )

    @cached_property
    def below(self) -> dict[str, tuple[str, Part]]:
        """Every part below the rule, with the state in which it is worst, a stuck load apart."""
        worst: dict[str, tuple[float, str, Part]] = {}
        for id, parts in self.parts.items():
            for part in parts if id != "jammed" else ():
                if part.verdict == "below" and part.margin is not None:
                    share = part.margin.low / part.target
                    if part.id not in worst or share < worst[part.id][0]:
                        worst[part.id] = (share, id, part)
        return {key: (state, part) for key, (_, state, part) in worst.items()}

    @cached_property
    def jobs(self) -> list[Job]:
        """What has to be minded on every line."""
        return [one for line in self.plan.lines for one in jobs(line)]

    @property
    def people_state(self) -> str:
        """The state that what is said of people stands under."""
        return "raising" if self.states else ""

    @property
    def ropes(self) -> Iterator[tuple[Rope, str]]:
        """Every rope as it is today, with the first line that it is on (its own name: none)."""
        for rope in self.plan.ropes:
            yield self.plan.rope(rope.id), next((one.id for one in self.plan.lines if one.rope == rope.id), rope.id)

    @property
    def joins(self) -> Iterator[tuple[Rope, str, int, Join]]:
        """Every join with its rope, line and number."""
        for rope, line in self.ropes:
            for number, join in enumerate(rope.joins):
                yield rope, line, number, join

    def lowered(self, solved: Solved) -> Iterator[tuple[LineForces, Lowering, Device, str]]:
        """Lines that run through a device in a state of lowering, with what tells a finding of theirs from its like."""
        for line in solved.lines if solved.id == "lowering" else ():
            lowering = line.rig.line.lowering
            assert lowering is not None and line.running is not None
            key = "" if line.rig.line.role == "main" else line.rig.line.id
            yield line, lowering, catalogue().devices[lowering.device], key

    def grip_n(self, lowering: Lowering) -> Range:
        """What the hands on a brake strand hold today."""
        return hand_hold_n(self.plan).map(lambda one: one * lowering.hands)

    def hauled(self, solved: Solved) -> Iterator[tuple[LineForces, Haul]]:
        """Lines that are hauled in a state of raising."""
        for line in solved.lines if solved.id == "raising" and self.judged.gives else ():
            haul = line.rig.line.haul
            assert haul is not None and line.running is not None
            yield line, haul


def thing_of(standing: Standing, part: str) -> str:
    """The thing that a part of a state's rig is of: pieces of one rope, a hitch and its cord, a device and its tie."""
    if part.startswith("tie of "):
        return thing_of(standing, part.removeprefix("tie of "))
    line, _, place = part.partition(":")
    if line in ("anchor", "feature"):
        return part
    if place.endswith(" cord"):
        belay = f"{line}:belay" in standing.lying.kinds
        return f"{line}:ratchet" if place == "ratchet cord" else f"{line}:belay" if belay else f"{line}:brake"
    if part in standing.lying.kinds:
        return part
    main = standing.rig.line(line).main
    return f"{line}:rope" if part in main or place.endswith(("behind", "tail")) else f"{line}:haul rope"
