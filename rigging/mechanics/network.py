"""The compiled rig: nodes, and ropes that run from end to end through passes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal, TypeVar

from rigging.quantities.ranges import Range

T = TypeVar("T")
Vector = tuple[float, float]
NodeKind = Literal["anchor", "edge", "moving", "load", "hand"]
Grip = Literal["draggy", "expected", "slick"]


def minus(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1]


def dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1]


def length(a: Vector) -> float:
    return math.hypot(a[0], a[1])


def unit(a: Vector) -> Vector:
    """Direction of `a`; the zero vector for two nodes in one place, whose strand pulls neither way."""
    size = length(a)
    return (a[0] / size, a[1] / size) if size > 1e-9 else (0.0, 0.0)


@dataclass(frozen=True)
class Node:
    """A point ropes meet at. Moving nodes, the load and the hand travel along `axis` (unit vector)."""

    id: str
    kind: NodeKind
    at: Vector
    axis: Vector = (0.0, 0.0)


@dataclass(frozen=True)
class Pass:
    """A rope going round `node`: `eta` is the share of tension passed on in the direction it runs."""

    id: str
    node: str
    eta: Range
    turn_rad: float = math.pi

    def keeps(self, grip: Grip) -> float:
        if grip == "expected":
            return self.eta.expected
        return self.eta.low if grip == "draggy" else self.eta.high


@dataclass(frozen=True)
class Rope:
    """One inextensible piece: `route` names its nodes end to end, one pass for each node between."""

    route: tuple[str, ...]
    passes: tuple[Pass, ...]


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
    """The rig as one mechanism with one load and one hand (or whatever holds in the hand's place)."""

    nodes: dict[str, Node]
    ropes: tuple[Rope, ...]

    @cached_property
    def strands(self) -> tuple[tuple[Strand, ...], ...]:
        """Strands of each rope, in order."""
        found = []
        for number, rope in enumerate(self.ropes):
            row = []
            for index, (start, end) in enumerate(zip(rope.route, rope.route[1:], strict=False)):
                apart = minus(self.nodes[end].at, self.nodes[start].at)
                row.append(Strand(number, index, start, end, unit(apart), length(apart)))
            found.append(tuple(row))
        return tuple(found)

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
        """Nodes whose speed is unknown: the moving ones and the hand."""
        return tuple(name for name, node in self.nodes.items() if node.kind in ("moving", "hand"))

    @cached_property
    def load(self) -> Node:
        return next(node for node in self.nodes.values() if node.kind == "load")

    def of_kind(self, kind: NodeKind) -> Iterator[Node]:
        return (node for node in self.nodes.values() if node.kind == kind)
