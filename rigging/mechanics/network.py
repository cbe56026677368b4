"""Nodes, and ropes that run from end to end through passes, in three dimensions."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, TypeVar

from rigging.mechanics.vectors import STILL, Vector, length, minus, unit
from rigging.quantities.ranges import Range

T = TypeVar("T")
NodeKind = Literal["anchor", "edge", "grab", "block", "load", "hands"]


@dataclass(frozen=True)
class Node:
    """A point ropes meet at. What moves (grabs, blocks, the load, the hands) travels along `axis`, a unit vector.

    `on` names the node that a device or block is fastened to: it then stays where it is.
    """

    id: str
    kind: NodeKind
    at: Vector
    axis: Vector = STILL
    on: str = ""

    @property
    def travels(self) -> bool:
        """Whether its speed is unknown."""
        return self.kind in ("grab", "block", "hands") and self.axis != STILL


@dataclass(frozen=True)
class Pass:
    """A rope going round `node`: `eta` is the share of tension passed on in the direction it runs."""

    id: str
    node: str
    eta: Range
    turn_rad: float = math.pi


@dataclass(frozen=True)
class Rope:
    """One inextensible piece of the rope `rope`: `route` names its nodes end to end, one pass for each node between.

    `slack_m` is how much longer it lies than its route; a slack piece pulls nowhere.
    """

    route: tuple[str, ...]
    passes: tuple[Pass, ...] = ()
    id: str = ""
    rope: str = ""
    slack_m: float = 0.0


@dataclass(frozen=True)
class Strand:
    """A straight stretch of rope between two nodes; `along` is the unit vector from `start` to `end`."""

    rope: int
    index: int
    start: str
    end: str
    along: Vector
    length_m: float


@dataclass(frozen=True)
class Network:
    """Nodes and the ropes between them; where something runs, one mechanism with one load and one hand. `led`: strands, by their
    start and end, that pull along a direction of their own, as hands lead them."""

    nodes: dict[str, Node]
    ropes: tuple[Rope, ...]
    led: Mapping[tuple[str, str], Vector] = field(default_factory=dict)

    @cached_property
    def strands(self) -> tuple[tuple[Strand, ...], ...]:
        """Strands of each rope, in order."""
        found = []
        for number, rope in enumerate(self.ropes):
            row = []
            for index, (start, end) in enumerate(zip(rope.route, rope.route[1:], strict=False)):
                apart = minus(self.nodes[end].at, self.nodes[start].at)
                along = self.led.get((start, end)) or unit(apart)
                row.append(Strand(number, index, start, end, along, length(apart)))
            found.append(tuple(row))
        return tuple(found)

    @cached_property
    def passes(self) -> tuple[Pass, ...]:
        """Every pass, rope by rope in order."""
        return tuple(one for rope in self.ropes for one in rope.passes)

    @cached_property
    def starts(self) -> tuple[int, ...]:
        """Where each rope's strands begin among all strands, rope by rope in order."""
        return tuple(itertools.accumulate((len(rope.route) - 1 for rope in self.ropes[:-1]), initial=0))

    @cached_property
    def series(self) -> tuple[tuple[str, bool], ...]:
        """Edges that the one rope at the load crosses before it meets anything else: each pass's id, and whether its rope is told
        from the load on."""
        at_load = [rope for rope in self.ropes if self.load.id in rope.route]
        if len(at_load) != 1 or at_load[0].route.count(self.load.id) != 1:
            return ()
        from_load = at_load[0].route[0] == self.load.id
        if not from_load and at_load[0].route[-1] != self.load.id:
            return ()
        passes = at_load[0].passes if from_load else at_load[0].passes[::-1]
        edges = itertools.takewhile(lambda one: self.nodes[one.node].kind == "edge", passes)
        return tuple((one.id, from_load) for one in edges)

    @cached_property
    def _kept(self) -> dict[object, Any]:
        return {}

    def once(self, rule: Callable[[Network], T]) -> T:
        """`rule` of this network, worked out once."""
        if rule not in self._kept:
            self._kept[rule] = rule(self)
        return self._kept[rule]  # type: ignore[no-any-return]

    @cached_property
    def travellers(self) -> tuple[str, ...]:
        """Nodes whose speed is unknown."""
        return tuple(name for name, node in self.nodes.items() if node.travels)

    @cached_property
    def load(self) -> Node:
        return next(node for node in self.nodes.values() if node.kind == "load")

    def of_kind(self, kind: NodeKind) -> Iterator[Node]:
        return (node for node in self.nodes.values() if node.kind == kind)
