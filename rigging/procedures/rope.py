"""One line's rope at one moment of a procedure: what grips it, in order from the load, how much slack lies where, who holds it.

The state is small on purpose: a step of the work changes one of these things, and the rig is made from them anew."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from rigging.lines.rig import LOAD, anchor_node
from rigging.lines.way import LineWay
from rigging.mechanics.holds import HANDS, Kind, Lying, Piece, route_m
from rigging.mechanics.vectors import Point3, plus

GripKind = Literal["hitch", "device", "tie"]
_HANDS_M = 1.0


@dataclass(frozen=True)
class Grip:
    """Something on the rope: a hitch on its cord or releasing hitch, a device, a tie to an anchor.

    `out_m`: where it is, metres from the working point towards the load (behind it: minus). `engaged`: set, locked or tied; else it
    is open, or the rope runs through it. `cord_m`: what its cord has to spare before it pulls. `before_m`: slack of the rope between
    it and the next thing towards the load that is engaged. `gives_m`: how much its releasing hitch can still be let out (0: none).
    """

    id: str
    kind: GripKind
    what: str
    anchor: str
    out_m: float
    engaged: bool = False
    cord_m: float = 0.0
    before_m: float = 0.0
    gives_m: float = 0.0


@dataclass(frozen=True)
class RopeState:
    """A line's rope: its way, its grips in order from the load, and whether hands hold it behind them; other lines as they lie
    (`others`: their pieces, kinds and places)."""

    line: str
    rope: str
    way: LineWay
    weight_kn: float
    along: Point3
    grips: tuple[Grip, ...]
    hands: bool
    others: Lying | None = None

    def grip(self, id: str) -> Grip | None:
        return next((one for one in self.grips if one.id == id), None)

    def changed(self, id: str, **update: object) -> RopeState:
        """The state with one grip changed, its place in the order kept by where it lies."""
        made = [replace(one, **update) if one.id == id else one for one in self.grips]  # type: ignore[arg-type]
        return replace(self, grips=_ordered(made))

    def with_grip(self, grip: Grip) -> RopeState:
        return replace(self, grips=_ordered([*self.grips, grip]))

    def without(self, id: str) -> RopeState:
        return replace(self, grips=tuple(one for one in self.grips if one.id != id))

    @property
    def engaged(self) -> tuple[Grip, ...]:
        return tuple(one for one in self.grips if one.engaged)

    def name(self, part: str) -> str:
        return f"{self.line}:{part}"

    def lying(self) -> Lying:
        """The rig as the question "what holds?" takes it."""
        at, kinds = self._nodes()
        pieces = [*self._rope(at, kinds), *self._cords(at)]
        if self.others is not None:
            at, kinds = {**self.others.at, **at}, {**self.others.kinds, **kinds}
            pieces += self.others.pieces
        return Lying(LOAD, self.along, self.weight_kn, at, kinds, tuple(pieces))

    def _nodes(self) -> tuple[dict[str, Point3], dict[str, Kind]]:
        points = self.way.points
        at: dict[str, Point3] = {LOAD: points[-1]}
        kinds: dict[str, Kind] = {LOAD: "load"}
        for number, corner in enumerate(points[1:-1], start=1):
            at[self.name(f"edge:{number}")], kinds[self.name(f"edge:{number}")] = corner, "edge"
        for one in self.grips:
            anchor = anchor_node(one.anchor)
            at.setdefault(anchor, self.way.start)
            kinds.setdefault(anchor, "anchor")
            if one.kind == "tie" and one.engaged:
                continue
            node = self.name(one.id)
            at[node] = plus(self.way.start, self.way.out, one.out_m)
            if one.kind == "device":
                kinds[node] = "grab" if one.engaged else "block"
            elif one.engaged:
                kinds[node] = "grab"
            else:
                del at[node]  # An open hitch is on the rope and holds nothing of it.
        if self.hands:
            at[self.name("hands")] = plus(self.way.start, self.way.out, -_HANDS_M)
            kinds[self.name("hands")] = "hands"
        return at, kinds

    def _rope(self, at: dict[str, Point3], kinds: dict[str, Kind]) -> Iterator[Piece]:
        """The rope from the load on, cut at everything that grips it; through a device that runs it bends."""
        corners = [self.name(f"edge:{number}") for number in range(len(self.way.points) - 2, 0, -1)]
        route, number, slack = [LOAD, *corners], 1, 0.0
        for one in self.grips:
            running = one.kind == "device" and not one.engaged
            slack += one.before_m
            if not one.engaged and not running:
                continue
            node = anchor_node(one.anchor) if one.kind == "tie" else self.name(one.id)
            route.append(node)
            if running:
                continue
            yield self._piece(number, route, at, slack)
            route, number, slack = [node], number + 1, 0.0
            if one.kind == "tie":
                return
        if self.hands:
            yield self._piece(number, [*route, self.name("hands")], at, slack)

    def _piece(self, number: int, route: list[str], at: dict[str, Point3], slack: float) -> Piece:
        return Piece(self.name(f"rope:{number}"), f"rope:{self.rope}", tuple(route), route_m(at, route) + slack)

    def _cords(self, at: dict[str, Point3]) -> Iterator[Piece]:
        """What fastens hitches and devices to their anchors."""
        for one in self.grips:
            node, anchor = self.name(one.id), anchor_node(one.anchor)
            if one.kind == "device":
                yield Piece(f"tie of {node}", f"tie of {node}", (node, anchor), route_m(at, (node, anchor)))
            elif one.kind == "hitch" and one.engaged:
                long = route_m(at, (node, anchor)) + one.cord_m
                yield Piece(f"{node} cord", f"{node} cord", (node, anchor), long)


def _ordered(grips: list[Grip]) -> tuple[Grip, ...]:
    """From the load inward: a tie behind everything else."""
    return tuple(sorted(grips, key=lambda one: math.inf if one.kind == "tie" else -one.out_m))


__all__ = ["HANDS", "Grip", "GripKind", "RopeState"]
