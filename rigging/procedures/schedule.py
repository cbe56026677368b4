"""The quickest order of work for so many people, and how long a network of work takes: a resource-constrained schedule by constraint programming
(any text on scheduling; CP-SAT), the longest path of what then follows on what (critical path method), and its spread by simulation."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import networkx as nx
import numpy as np

from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range

# So much work of the solver's own count, whatever the machine: the same question has the same answer.
_EFFORT = 0.4
_DRAWS, _SEED = 1000, 2026
_TAIL = 0.05


@dataclass(frozen=True)
class Work:
    """A piece of work for so many `people` at once, begun when all of `after` is done."""

    id: str
    seconds: float
    after: tuple[str, ...] = ()
    people: int = 1


def quickest(works: Sequence[Work], people: int) -> dict[str, float]:
    """When each piece of work begins, in seconds, so that the last is done as early as can be with so many people.

    Raises
    ------
    Refused
        If a piece asks for more people than there are, or pieces wait for each other in a ring.
    """
    for one in works:
        if one.people > people:
            raise refuse("people", f"{one.id} asks for {one.people}", f"{people} are there")
    network = Following(works)
    if len(works) <= people:
        return network.earliest_s
    starts = _solved(works, people)
    # Nothing waits for nothing: each in its turn as soon as people and what it follows on allow.
    return _leftmost(sorted(works, key=lambda one: (starts[one.id], network.order.index(one.id))), people)


def _solved(works: Sequence[Work], people: int) -> dict[str, int]:
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    long = {one.id: max(0, round(one.seconds)) for one in works}
    horizon = sum(long.values())
    begins = {one.id: model.new_int_var(0, horizon, one.id) for one in works}
    end = model.new_int_var(0, horizon, "end")
    lasts = [model.new_fixed_size_interval_var(begins[one.id], long[one.id], one.id) for one in works]
    model.add_cumulative(lasts, [one.people for one in works], people)
    for one in works:
        model.add(end >= begins[one.id] + long[one.id])
        for before in one.after:
            model.add(begins[one.id] >= begins[before] + long[before])
    model.minimize(end)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = _EFFORT
    solver.solve(model)
    return {id: solver.value(one) for id, one in begins.items()}


def _leftmost(works: Iterable[Work], people: int) -> dict[str, float]:
    """In the order given, each as early as it can be (serial schedule generation)."""
    begins: dict[str, float] = {}
    placed: list[tuple[float, float, int]] = []
    ends: dict[str, float] = {}
    for one in works:
        ready = max((ends[before] for before in one.after), default=0.0)
        moments = sorted({ready, *(end for _, end, _ in placed if end > ready)})
        at = next(moment for moment in moments if _free(placed, moment, moment + one.seconds, people) >= one.people)
        begins[one.id], ends[one.id] = at, at + one.seconds
        placed.append((at, at + one.seconds, one.people))
    return begins


def _free(placed: Sequence[tuple[float, float, int]], begins: float, ends: float, people: int) -> int:
    """People who are free all the while."""
    marks = [begins, *(start for start, _, _ in placed if begins < start < ends)]
    busy = (sum(count for start, end, count in placed if start <= mark < end) for mark in marks)
    return people - max(busy)


class Following:
    """Pieces of work that follow on each other.

    Raises
    ------
    Refused
        If they wait for each other in a ring, or for what is not among them.
    """

    def __init__(self, works: Sequence[Work]):
        self.works = {one.id: one for one in works}
        self.graph = nx.DiGraph()
        self.graph.add_nodes_from(self.works)
        for one in works:
            for before in one.after:
                if before not in self.works:
                    raise refuse("after", f"{one.id} waits for {before}, which nobody does", "one of the others")
                self.graph.add_edge(before, one.id, seconds=self.works[before].seconds)
        if not nx.is_directed_acyclic_graph(self.graph):
            ring = " → ".join(start for start, _ in nx.find_cycle(self.graph))
            raise refuse("after", f"they wait for each other: {ring}", "take one of these out")

    @cached_property
    def order(self) -> list[str]:
        return list(nx.lexicographical_topological_sort(self.graph))

    @cached_property
    def earliest_s(self) -> dict[str, float]:
        """When each can begin."""
        begins: dict[str, float] = {}
        for id in self.order:
            befores = self.graph.predecessors(id)
            begins[id] = max((begins[one] + self.works[one].seconds for one in befores), default=0.0)
        return begins

    @property
    def takes_s(self) -> float:
        return max((begin + self.works[id].seconds for id, begin in self.earliest_s.items()), default=0.0)

    @cached_property
    def longest(self) -> list[str]:
        """What takes longest, one after another: nothing of it can be late without all being late."""
        if not self.works:
            return []
        graph = self.graph.copy()
        for id, one in self.works.items():
            graph.add_edge(id, "", seconds=one.seconds)
        path: list[str] = nx.dag_longest_path(graph, weight="seconds")
        return path[:-1]

    def drawn_s(self, seconds: Mapping[str, Array]) -> Array:
        """How long all of it takes in each draw (d,), where each piece takes `seconds` (d,)."""
        ends: dict[str, Array] = {}
        for id in self.order:
            befores = [ends[one] for one in self.graph.predecessors(id)]
            ends[id] = (np.max(befores, axis=0) if befores else 0.0) + seconds[id]
        return np.asarray(np.max(list(ends.values()), axis=0)) if ends else np.zeros(_DRAWS)


def draws(seconds: Mapping[str, Range], kinds: Mapping[str, str]) -> dict[str, Array]:
    """What each takes in each of a thousand draws (PERT's beta distribution over its range); those of one kind are quick or slow together."""
    from scipy.special import betaincinv

    random = np.random.default_rng(_SEED)
    quantiles = {kind: random.random(_DRAWS) for kind in sorted(set(kinds.values()))}
    found: dict[str, Array] = {}
    for id, one in seconds.items():
        wide = one.high - one.low
        if wide <= 0:
            found[id] = np.full(_DRAWS, one.expected)
            continue
        alpha = 1 + 4 * (one.expected - one.low) / wide
        found[id] = one.low + wide * betaincinv(alpha, 6 - alpha, quantiles[kinds[id]])
    return found


def spread(drawn: Array, expected: float) -> Range:
    """The middle nine tenths of draws about what is expected."""
    low, high = (float(one) for one in np.quantile(drawn, (_TAIL, 1 - _TAIL)))
    return Range(min(low, expected), expected, max(high, expected))
