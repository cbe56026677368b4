"""What lowers, and what hauls, on every ground: each way of it as well as it is known by now."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

import numpy as np

from rigging.advice.rigs.ways import AS_IT_IS, Kind, Slot, Way
from rigging.advice.rigs.worked import (
    NOT,
    Asks,
    Gives,
    but_for_bends,
    exactly,
    hauled,
    quickly,
    side_by_side,
    states_of,
    still,
    worst_places,
)
from rigging.document import Plan
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import Refused

T = TypeVar("T")
# Work on many rows, wherever it is done.
Mapped = Callable[[Callable[..., Any], Iterable[Any]], Iterable[Any]]


@dataclass(frozen=True)
class Frame:
    """What is the same for all of a search: the plan on every ground, parts that are not known in it as it is, the places of its way, as shares of it."""

    grounds: tuple[Plan, ...]
    known: frozenset[str]
    places: tuple[float, ...]


class Part:
    """What lowers, or what hauls, put together of one or more slots (`kinds`), on every ground: `sizes` (ways, grounds, 4) are its least share of the
    rule (negative), pull at the hands, resets and minutes, `depth` (ways, grounds) how well they are known."""

    kinds: tuple[Kind, ...] = ("lowering",)

    def __init__(self, found: Sequence[Slot], frame: Frame, plan: Plan, mapped: Mapped):
        self.slots = [
            next((one for one in found if one.kind == kind), Slot(kind, "", (AS_IT_IS,))) for kind in self.kinds
        ]
        self.frame, self.mapped = frame, mapped
        self.counts = [len(one.ways) for one in self.slots]
        self.states = states_of(plan, self.kinds[0])
        self.worst = worst_places(plan, self.states, frame.places, frame.known) if self.states else ()
        shape = (math.prod(self.counts), len(frame.grounds))
        self.sizes, self.depth = np.zeros((*shape, 4)), np.zeros(shape, dtype=int)
        self.sizes[..., 0] = -np.inf
        if not self.states:
            self.depth[:] = 2

    def way(self, number: int) -> Way:
        """Its slots' ways as one."""
        places = np.unravel_index(number, self.counts)
        return Way(tuple(put for slot, n in zip(self.slots, places, strict=True) if n for put in slot.ways[n].puts))

    def deepen(self, keys: Iterable[tuple[int, int]]) -> None:
        """Ways on their grounds known one depth better."""
        once = list(dict.fromkeys(keys))
        shallow = [key for key in once if self.depth[key] == 0]
        deep = [key for key in once if self.depth[key] == 1]
        self.look(shallow)
        rows = [(self.frame.grounds[g], self.way(n)) for n, g in deep]
        for key, gives in zip(deep, self.mapped(partial(_exactly, self.states, self.frame), rows), strict=True):
            self._worse(self.sizes[key], gives)
            self.depth[key] = 2

    def look(self, keys: Sequence[tuple[int, int]]) -> None:
        """Ways on their grounds looked at where the plan is worst."""
        rows = [(self.frame.grounds[g], self.way(n)) for n, g in keys]
        for key, gives in zip(
            keys, self.mapped(partial(_quickly, self.states, self.worst, self.frame), rows), strict=True
        ):
            self._worse(self.sizes[key], gives)
            self.depth[key] = 1

    def _worse(self, sizes: Array, gives: Gives) -> None:
        """Sizes (..., 4) made no better than what was found."""
        np.maximum(sizes, sizes_of(gives), out=sizes)


class Hauling(Part):
    """Hauls, each with every way to grab the rope and to keep what was won."""

    kinds = ("haul", "grab", "capture")

    def __init__(self, found: Sequence[Slot], frame: Frame, plan: Plan, mapped: Mapped):
        super().__init__(found, frame, plan, mapped)
        self.grounds, self.bent = range(len(frame.grounds)), set[tuple[int, int]]()
        # Views of the same by haul, grab, capture and ground.
        self.each = self.sizes.reshape(*self.counts, len(frame.grounds), 4)
        self.known = self.depth.reshape(*self.counts, len(frame.grounds))
        if "raising" in self.states:
            self._beside_each_other()

    def _beside_each_other(self) -> None:
        """Those that differ only in what sits at their bends, all at once."""
        hauls, _, captures = self.slots
        alike: dict[str, list[int]] = {}
        for n, way in enumerate(hauls.ways):
            alike.setdefault(but_for_bends(way), []).append(n)
        keys = [(numbers, g) for numbers in alike.values() for g in self.grounds]
        rows = [(self.frame.grounds[g], [hauls.ways[n] for n in numbers]) for numbers, g in keys]
        work = partial(_beside, captures.ways, self.states, self.worst, self.frame)
        for (numbers, g), asks in zip(keys, self.mapped(work, rows), strict=True):
            for n, gives in zip(numbers, asks.each, strict=True):
                self._worse(self.each[n, :, :, g], gives)
                if gives.can:
                    self.each[n, :, :, g, 0] = -np.array(asks.kept)
                    self.bent |= {(n, g)} if asks.bent else set()

    def look(self, keys: Sequence[tuple[int, int]]) -> None:
        """Hauls on their grounds while they are hauled, whatever grabs the rope and keeps what was won."""
        hauls, grabs, captures = self.slots
        wanted = list(dict.fromkeys((n // math.prod(self.counts[1:]), g) for n, g in keys))
        rows = [(self.frame.grounds[g], hauls.ways[n], captures.ways if (n, g) in self.bent else ()) for n, g in wanted]
        work = partial(_hauled, grabs.ways, self.states, self.worst, self.frame)
        for (n, g), (gives, gripped, kept) in zip(wanted, self.mapped(work, rows), strict=True):
            self._worse(self.each[n, :, :, g], gives)
            for number, share in enumerate(gripped):
                self._worse(self.each[n, number, :, g], Gives(share))
            for number, share in enumerate(kept):
                self._worse(self.each[n, :, number, g], Gives(share))
            self.known[n, :, :, g] = np.maximum(self.known[n, :, :, g], 1)


def sizes_of(gives: Gives) -> tuple[float, float, float, float]:
    """Least share of the rule (negative), pull, resets and minutes, less being better; no end of it where it can not be."""
    return (-gives.margin, gives.hand_n, float(gives.resets), gives.minutes) if gives.can else (math.inf, 0.0, 0.0, 0.0)


def _unless_refused(nothing: T, work: Callable[..., T], *given: Any) -> T:
    """What can not be laid out, or comes to no balance somewhere, is no way."""
    try:
        return work(*given)
    except Refused:
        return nothing


def _beside(
    captures: Sequence[Way],
    states: frozenset[str],
    places: tuple[float, ...],
    frame: Frame,
    row: tuple[Plan, Sequence[Way]],
) -> Asks:
    nothing = Asks((NOT,) * len(row[1]), (-math.inf,) * len(captures))
    return _unless_refused(nothing, side_by_side, *row, captures, states, places, frame.known)


def _quickly(states: frozenset[str], places: tuple[float, ...], frame: Frame, row: tuple[Plan, Way]) -> Gives:
    return _unless_refused(NOT, quickly, *row, states, places, frame.known)


def _hauled(
    grabs: Sequence[Way],
    states: frozenset[str],
    places: tuple[float, ...],
    frame: Frame,
    row: tuple[Plan, Way, Sequence[Way]],
) -> tuple[Gives, tuple[float, ...], tuple[float, ...]]:
    ground, way, captures = row

    def looked() -> tuple[Gives, tuple[float, ...], tuple[float, ...]]:
        kept = (still(ground, way, one, states - {"raising"}, places, frame.known, bent=True) for one in captures)
        return *hauled(ground, way, grabs, places, frame.known), tuple(one for one in kept if one is not None)

    nothing: tuple[Gives, tuple[float, ...], tuple[float, ...]] = NOT, (), ()
    return _unless_refused(nothing, looked)


def _exactly(states: frozenset[str], frame: Frame, row: tuple[Plan, Way]) -> Gives:
    return _unless_refused(NOT, exactly, *row, states, frame.places, frame.known)
