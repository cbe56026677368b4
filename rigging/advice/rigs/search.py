"""Every whole rig out of a plan's bags, and those that no other betters in everything.

A rig is a way for each slot. Its figures are the worst of its ways'; what lowers and what hauls are asked by themselves. Each is known in one of
three depths: what can be said of many side by side, what a look at the worst places says, and all of the way exactly. From one to the next figures
only get worse, so whatever is beaten by a rig that is known exactly is beaten for good. Those that look best are looked at more closely, a few at a
time, until the ones that are left to show are known exactly and the check stops for none of them (docs/method.md)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Executor
from dataclasses import dataclass, field
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rigging.advice.rigs.figures import GOALS, NEVER, Figures, figures_of, pieces_of, set_up_min
from rigging.advice.rigs.front import front, worth_a_look
from rigging.advice.rigs.parts import Frame, Hauling, Mapped, Part
from rigging.advice.rigs.ways import GROUND, Bagged, slots
from rigging.advice.rigs.worked import unknown_in
from rigging.checks.found import Found as Finding
from rigging.checks.gathered import everywhere
from rigging.checks.identity import mark_of
from rigging.document import Bags, Plan, Table
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.judging.margins import Part as Weakest
from rigging.lines.people import haulers_needed
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import Refused, refuse
from rigging.quantities.progress import Tell, silent
from rigging.site.conditions import sustained_n
from rigging.study.whole import TENTHS, Study

Places = NDArray[np.intp]
# So many are shown.
SHOWN = 8
# More whole rigs than this are not gone through.
MOST = 4_000_000
# Work is shared out in no more pieces than this.
_PIECES = 4
# So many are looked at more closely at a time; so many that the check stops for, one after another, and no more are asked; all for the same.
_AT_A_TIME, _IN_A_ROW, _ALL_ALIKE = 300, 40, 6


@dataclass(frozen=True)
class Rig:
    """A whole rig, exactly as told: the edits that make it of the plan, and the plan that it then is."""

    edits: tuple[Edit, ...]
    figures: Figures
    plan: Plan
    weakest: Weakest


@dataclass(frozen=True)
class Lacks:
    """What stands in the way of any rig at all, as far as figures go: so many more to haul, or else the most of the rule that any keeps."""

    people: int | None
    margin: float | None


@dataclass(frozen=True)
class Found:
    """Rigs that no other betters in everything, the best margin first. `tried`: whole rigs that the bags hold; `exactly`: how many of them were put in
    checks, and what these stopped for; `whole`: whether nothing is left that could better them; `short`: where the bags hold none at all, what the one that
    is nearest to them wants more of, and how many."""

    rigs: list[Rig]
    tried: int
    exactly: int = 0
    stops: list[tuple[Finding, ...]] = field(default_factory=list)
    whole: bool = False
    lacks: Lacks | None = None
    short: tuple[tuple[Table, str, int], ...] = ()


def best_rigs(
    plan: Plan,
    most: int | None = SHOWN,
    executor: Executor | None = None,
    tell: Tell = silent,
    bags: Bags | None = None,
) -> Found:
    """Rigs out of a plan's bags that no other betters in everything and that the check does not stop for, at most so many.

    Parameters
    ----------
    most : so many of them (None: all that none betters)
    executor : where the parts of the search are worked out (left out: here)
    tell : how many of those to show are there
    bags : all bags, where one is left at home. What the plan uses beyond what they hold is there, whatever they say

    Raises
    ------
    Refused
        If the plan can not be laid out, or there are more rigs than anybody could go through.
    """
    *_, found = search(plan, most, executor, tell, bags)
    return found


def search(
    plan: Plan,
    most: int | None = SHOWN,
    executor: Executor | None = None,
    tell: Tell = silent,
    bags: Bags | None = None,
) -> Iterator[Found]:
    """The same as it comes: better ones each time, the last one whole."""
    yield from _Search(plan, most, _mapped(executor), tell, bags).found()


def _mapped(executor: Executor | None) -> Mapped:
    """Work on many rows, here or shared out in a few pieces."""
    if executor is None:
        return map

    def shared(work: Callable[[Any], Any], rows: Iterable[Any]) -> Iterator[Any]:
        given = list(rows)
        size = max(1, math.ceil(len(given) / _PIECES))
        pieces = [given[begin : begin + size] for begin in range(0, len(given), size)]
        return itertools.chain.from_iterable(executor.map(partial(_each, work), pieces))

    return shared


def _each(work: Callable[[Any], Any], rows: Sequence[Any]) -> list[Any]:
    return [work(row) for row in rows]


class _Search:
    def __init__(self, plan: Plan, most: int | None, mapped: Mapped, tell: Tell, bags: Bags | None = None):
        self.plan, self.most, self.mapped, self.tell = plan, most, mapped, tell
        self.bags = bags or plan.bags
        if not plan.lines:
            raise refuse("lines", "there is no line yet", "lay a line out first")
        found = slots(plan)
        count = math.prod(len(one.ways) for one in found)
        if count > MOST:
            problem = f"{count} rigs could be built out of them"
            raise refuse("bags", problem, f"take kinds out, or ways to rig an anchor: up to {MOST}")
        self.ground = [one for one in found if one.kind in GROUND]
        frame = self._frame()
        self.parts = [kind(found, frame, plan, mapped) for kind in (Part, Hauling)]
        # In the order of the columns of `index`.
        self.slots = [
            *(slot for part in self.parts for slot in part.slots),
            *(one for one in found if one.kind == "belay"),
            *self.ground,
        ]
        self.counts = [len(one.ways) for one in self.slots]
        self.set_up = np.array([set_up_min(one) for one in frame.grounds])

    def _frame(self) -> Frame:
        known = frozenset(id for parts in judge(self.plan).parts.values() for id in unknown_in(parts))
        grounds = []
        for rig in itertools.product(*(one.ways for one in self.ground)):
            plan = self.plan
            for way in rig:
                plan = way.put(plan)
            grounds.append(plan)
        return Frame(tuple(grounds), known, tuple(tenth / TENTHS for tenth in range(TENTHS + 1)))

    def found(self) -> Iterator[Found]:
        index = self._held()
        tried, picked = len(index), list[int]()
        if not tried:
            yield Found([], 0, whole=True, short=self._short())
            return
        self.pieces, self.changed = self._pieces(index), (index > 0).sum(axis=1)
        good: dict[int, Rig] = {}
        stops: list[tuple[Finding, ...]] = []
        yield Found([], tried)
        while True:
            sizes = self._sizes(index)
            can = self._can(sizes)
            if not can.any():
                yield Found([], tried, len(stops), stops, True, self._lacks(sizes))
                return
            if not can.all():
                keep = np.flatnonzero(can)
                index, sizes, good = self._only(index, keep), sizes[keep], _renumbered(good, keep)
            rows = front(sizes, self.changed)
            shown = range(len(rows)) if self.most is None else worth_a_look(sizes[rows], self.most)
            picked = [int(rows[n]) for n in shown]
            raw = [one for one in picked if self._depth(index[one]) < 2]
            if raw:
                near = [int(one) for one in rows[:_AT_A_TIME] if self._depth(index[one]) < 1]
                self._deepen(index[list(dict.fromkeys([*raw, *near]))])
                continue
            new = [one for one in picked if one not in good]
            if not new:
                break
            edits = [self._edits(index[one]) for one in new]
            dropped = []
            for one, checked in zip(new, self.mapped(partial(_checked, self.plan), edits), strict=True):
                if isinstance(checked, Rig):
                    good[one] = checked
                else:
                    dropped.append(one)
                    stops.append(checked)
            if dropped:
                keep = np.setdiff1d(np.arange(len(index)), dropped)
                index, good = self._only(index, keep), _renumbered(good, keep)
            self.tell(len(good), len(picked))
            yield Found(_ordered(good.values()), tried, len(good) + len(stops), stops)
            if not good and (len(stops) >= _IN_A_ROW or (len(stops) >= _ALL_ALIKE and common(stops))):
                break
        yield Found(
            _ordered(good[one] for one in picked if one in good), tried, len(good) + len(stops), stops, bool(good)
        )

    def _only(self, index: Array, keep: Places) -> Array:
        self.pieces, self.changed = self.pieces[keep], self.changed[keep]
        return index[keep]

    def _edits(self, rig: Array) -> tuple[Edit, ...]:
        return tuple(edit for slot, n in zip(self.slots, rig, strict=True) if n for edit in slot.ways[n].edits)

    def _places(self, index: Array) -> Iterator[tuple[Part, Array, Array]]:
        """Of every rig the way of each part, and its ground."""
        ground = _joined(index[:, len(self.slots) - len(self.ground) :], [len(one.ways) for one in self.ground])
        begin = 0
        for part in self.parts:
            end = begin + len(part.slots)
            yield part, _joined(index[:, begin:end], part.counts), ground
            begin = end

    def _sizes(self, index: Array) -> Array:
        """The least that the figures of rigs (r, g) can be, as far as they are known."""
        sizes = np.zeros((len(index), len(GOALS)))
        sizes[:, 0] = -np.inf
        for part, way, ground in self._places(index):
            rows = part.sizes[way, ground]
            sizes[:, 0] = np.maximum(sizes[:, 0], rows[:, 0])
            sizes[:, 2:5] += rows[:, 1:]
            minutes = self.set_up[ground]
        sizes[:, 4] += minutes
        sizes[:, 1] = haulers_of(self.plan, sizes[:, 2])
        sizes[:, 5] = self.pieces
        return sizes

    def _can(self, sizes: Array) -> Array:
        """Every part keeps its rule, and there are people enough to haul."""
        return np.asarray((sizes[:, 0] <= -1 + 1e-9) & (sizes[:, 1] <= self.plan.team.haulers))

    def _lacks(self, sizes: Array) -> Lacks | None:
        """The least that is missing: people where a rig keeps the rule, else the rule."""
        keeps = sizes[:, 0] <= -1 + 1e-9
        if keeps.any():
            return Lacks(int(sizes[keeps, 1].min()) - self.plan.team.haulers, None)
        best = -float(sizes[:, 0].min(initial=math.inf))
        return Lacks(None, best) if math.isfinite(best) else None

    def _depth(self, rig: Array) -> int:
        return min(int(part.depth[way[0], ground[0]]) for part, way, ground in self._places(rig[None]))

    def _deepen(self, rigs: Array) -> None:
        for part, way, ground in self._places(rigs):
            part.deepen(zip(way.tolist(), ground.tolist(), strict=True))

    def _held(self) -> Array:
        """Every rig that the bags hold, by the number of its way in each slot."""
        index = self._every()
        can = np.ones(len(index), dtype=bool)
        for _, _, beyond in self._beyond(index):
            can &= beyond <= 0
        return index[can]

    def _every(self) -> Array:
        return np.stack([one.ravel() for one in np.indices(self.counts, dtype=np.int32)], axis=1)

    def _beyond(self, index: Array) -> Iterator[tuple[Table, str, Array]]:
        """Of each kind that is counted, how many more every rig wants than there are."""
        now = Bagged.of(self.plan)
        more = [[Bagged.of(way.put(self.plan)).more_than(now) for way in slot.ways] for slot in self.slots]
        used = {(table, id) for table, counts in now.counts.items() for id in counts}
        for table, id in sorted(used | {key for slot in more for way in slot for key in way}):
            said = self.bags.there(table)
            # Of a bend that nobody said there is none in any bag.
            if said is None or id == "unknown":
                continue
            wanted = np.full(len(index), now.counts[table][id])
            for number, slot in enumerate(more):
                each = np.array([way.get((table, id), 0) for way in slot])
                if each.any():
                    wanted += each[index[:, number]]
            left = (self.plan.bags.there(table) or said - said)[id]
            # What the plan has beyond all its bags is there, whatever they say.
            yield table, id, wanted - left - max(0, now.counts[table][id] - said[id])

    def _short(self) -> tuple[tuple[Table, str, int], ...]:
        """What the rig that is nearest to the bags wants more of."""
        rows = [(table, id, np.maximum(beyond, 0)) for table, id, beyond in self._beyond(self._every())]
        least = int(np.argmin(np.sum([beyond for _, _, beyond in rows], axis=0)))
        return tuple((table, id, int(beyond[least])) for table, id, beyond in rows if beyond[least])

    def _pieces(self, index: Array) -> Array:
        now = pieces_of(self.plan)
        found = np.full(len(index), now)
        for number, slot in enumerate(self.slots):
            found += np.array([pieces_of(way.put(self.plan)) - now for way in slot.ways])[index[:, number]]
        return found


def haulers_of(plan: Plan, hands_n: Array) -> Array:
    """How many haulers each of many pulls takes."""
    each_n = sustained_n(plan).low
    different, places = np.unique(hands_n, return_inverse=True)
    return np.array([haulers_needed(min(one, NEVER), each_n) for one in different.tolist()])[places]


def _joined(index: Array, counts: Sequence[int]) -> Array:
    """Of rows of numbers (r, s), each below its count, one number each."""
    found = np.zeros(len(index), dtype=int)
    for column, count in enumerate(counts):
        found = found * count + index[:, column]
    return found


def _renumbered(rigs: dict[int, Rig], keep: Places) -> dict[int, Rig]:
    places = {int(old): new for new, old in enumerate(keep)}
    return {places[old]: rig for old, rig in rigs.items() if old in places}


def _checked(plan: Plan, edits: tuple[Edit, ...]) -> Rig | tuple[Finding, ...]:
    """A rig put in and checked as any plan is; what it stops for, where it does."""
    try:
        put = plan_edited(plan, edits)
        study = Study(put)
        stops = tuple(
            one.found for one in everywhere(study) if one.found.level == "stop" and not _accepted(put, one.found)
        )
        found = None if stops else figures_of(put, study)
    except Refused:
        return ()
    return Rig(edits, found[0], put, found[1]) if found else stops


def _accepted(plan: Plan, found: Finding) -> bool:
    """Whether somebody accepted it as it still is."""
    return any((one.check, one.answer) == (found.id, mark_of(found)) for one in plan.accepted)


def common(stops: Sequence[tuple[Finding, ...]]) -> list[Finding]:
    """What every rig that was put in checks is stopped for."""
    said = [rows for rows in stops if rows]
    return [one for one in said[0] if all(any(other.id == one.id for other in rows) for rows in said)] if said else []


def _ordered(rigs: Iterable[Rig]) -> list[Rig]:
    return sorted(rigs, key=lambda one: one.figures.sizes)
