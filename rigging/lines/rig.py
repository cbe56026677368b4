"""A rig: what one line is in one mode, and all lines at one moment. Every question of the core is asked of it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from rigging.document import Line
from rigging.lines.parts import Crossing
from rigging.lines.way import LineWay
from rigging.mechanics.holds import Lying, Piece, route_m
from rigging.mechanics.network import Network, Node, Rope
from rigging.mechanics.vectors import Vector, dot, length, minus

LOAD = "load"
# fast: tied at the anchor; locked: on its locked device; running: through its device; hauling: through its haul system;
# captured: on its progress capture; slack: a belay, or a rope left in as backup.
Mode = Literal["fast", "locked", "running", "hauling", "captured", "slack"]
# Rope with this much to spare pulls on nothing.
OPEN_M = 1e-3


def anchor_node(anchor: str) -> str:
    return f"anchor:{anchor}"


@dataclass(frozen=True)
class LineRig:
    """One line in one mode: its pieces (each with `id`, rope and slack), its nodes, and what sits at each pass.

    `main` are the ids of pieces that are the line itself and not a haul rope; `holder` is the node that keeps the load
    when no hands do; `locks` are devices that lock by themselves when the hands let go. `led`: strands that pull another way than from
    end to end, as a hand leads them.
    """

    line: Line
    mode: Mode
    way: LineWay
    nodes: dict[str, Node]
    ropes: tuple[Rope, ...]
    crossings: dict[str, Crossing]
    main: frozenset[str]
    holder: str | None
    locks: frozenset[str] = frozenset()
    led: Mapping[tuple[str, str], Vector] = field(default_factory=dict)

    @property
    def network(self) -> Network:
        """The ropes that pull."""
        taut = tuple(rope for rope in self.ropes if rope.slack_m < OPEN_M)
        used = {name for rope in taut for name in rope.route}
        return Network({name: node for name, node in self.nodes.items() if name in used}, taut, self.led)

    def out_m(self, node: Node) -> float:
        """How far a node is from the working point along the line's first stretch, outward positive."""
        away = minus(node.at, self.way.start)
        return math.copysign(length(away), dot(away, self.way.out) or 1.0)


@dataclass(frozen=True)
class Rig:
    """All lines at one moment, and the load's own way."""

    lines: tuple[LineRig, ...]
    along: Vector
    weight_n: float
    load_at: Vector

    @property
    def nodes(self) -> dict[str, Node]:
        return {name: node for line in self.lines for name, node in line.nodes.items()}

    def line(self, id: str) -> LineRig:
        return next(one for one in self.lines if one.line.id == id)

    def without(self, id: str) -> Rig:
        """The rig once a line has gone."""
        return replace(self, lines=tuple(one for one in self.lines if one.line.id != id))

    def lying(self) -> Lying:
        """The rig as the question "what holds?" takes it: ties of devices and blocks are pieces, a device that locks
        by itself grips its rope."""
        nodes = {LOAD: Node(LOAD, "load", self.load_at), **self.nodes}
        at = {name: node.at for name, node in nodes.items()}
        kinds = {name: node.kind for name, node in nodes.items()}
        pieces: list[Piece] = []
        for line in self.lines:
            kinds.update(dict.fromkeys(line.locks, "grab"))
            for rope in line.ropes:
                pieces += _cut(rope, line.locks, at)
        for name, node in nodes.items():
            if node.on:
                pieces.append(Piece(f"tie of {name}", f"tie of {name}", (name, node.on), route_m(at, (name, node.on))))
        return Lying(LOAD, self.along, self.weight_n / 1000, at, kinds, tuple(pieces))


def _cut(rope: Rope, locks: frozenset[str], at: dict[str, Vector]) -> Iterator[Piece]:
    """A rope as pieces, divided where a device locks on it."""
    cuts = [i for i, name in enumerate(rope.route) if name in locks and 0 < i < len(rope.route) - 1]
    for number, (a, b) in enumerate(itertools.pairwise([0, *cuts, len(rope.route) - 1])):
        route = rope.route[a : b + 1]
        slack = rope.slack_m if number == 0 else 0.0
        yield Piece(rope.id if number == 0 else f"{rope.id} behind", rope.rope, route, route_m(at, route) + slack)
