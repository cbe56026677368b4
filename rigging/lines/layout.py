"""Where things of one line lie: nodes, corners, pieces of rope and hitches' cords, put down one by one."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from rigging.document import Line, Plan
from rigging.lines.parts import Crossing, bend_crossing, edge_crossings, passed_on
from rigging.lines.rig import LOAD, LineRig, Mode, anchor_node
from rigging.lines.way import LineWay, place_of
from rigging.mechanics.network import Node, NodeKind, Pass, Rope
from rigging.mechanics.vectors import STILL, Vector, minus, plus, turn_angle, unit


@dataclass
class Layout:
    """Where things of one line lie: its first stretch carries devices and haul systems, its corners are the edges."""

    plan: Plan
    line: Line
    way: LineWay
    nodes: dict[str, Node] = field(default_factory=dict)
    crossings: dict[str, Crossing] = field(default_factory=dict)
    corners: dict[str, Crossing] = field(default_factory=dict)

    def __post_init__(self) -> None:
        points = self.way.points
        self.anchor(self.line.anchor)
        count = len(self.way.redirects)
        edges = edge_crossings(self.way.over.turns, self.plan, lambda number: self.name(f"edge:{number}"))
        for index, at in enumerate(points[1:-1], start=1):
            if index <= count:
                id = self.name(f"redirect:{index}")
                redirect = self.line.redirects[index - 1]
                on = self.anchor(redirect.anchor)
                self.nodes[id] = Node(id, "block", at, on=on)
                self.corners[id] = bend_crossing(self.plan, id, "redirect", id, redirect.bend, self.way.turn_rad(index))
            else:
                number = index - count
                id = self.name(f"edge:{number}")
                self.nodes[id] = Node(id, "edge", at)
                self.corners[id] = edges[number - 1]
        self.nodes[LOAD] = Node(LOAD, "load", points[-1], unit(minus(points[-2], points[-1])))

    def name(self, part: str) -> str:
        return f"{self.line.id}:{part}"

    def anchor(self, id: str) -> str:
        name = anchor_node(id)
        self.nodes[name] = Node(name, "anchor", place_of(self.plan, id))
        return name

    def at(self, out_m: float) -> Vector:
        """A place `out_m` in front of the working point."""
        return plus(self.way.start, self.way.out, out_m)

    def add(self, part: str, kind: NodeKind, at: Vector, *, axis: float = 0.0, on: str = "") -> str:
        """A node; `axis` +1 moves outward, −1 back to the anchor."""
        name = self.name(part)
        out = self.way.out
        self.nodes[name] = Node(name, kind, at, (out[0] * axis, out[1] * axis, out[2] * axis) if axis else STILL, on)
        return name

    def rope(self, id: str, route: Iterable[str], at: dict[str, list[Crossing]] | None = None, **more: float) -> Rope:
        """A piece of the line's rope along `route`; `at` lists for each node the crossings met there, in order."""
        names, passes = tuple(route), []
        for before, name, after in zip(names, names[1:], names[2:], strict=False):
            crossing = at[name].pop(0) if at and at.get(name) else self._corner(name)
            crossing = self._turned(crossing, before, after)
            self.crossings[crossing.id] = crossing
            passes.append(Pass(crossing.id, name, passed_on(crossing), crossing.turn_rad))
        return Rope(names, tuple(passes), self.name(id), f"rope:{self.line.rope}", more.get("slack_m", 0.0))

    def cord(self, id: str, grab: str, slack_m: float, anchor: str = "") -> Rope:
        """A hitch's own cord from its grab to an anchor, the line's own unless another is named."""
        name = self.name(f"{id} cord")
        return Rope((grab, anchor or anchor_node(self.line.anchor)), (), name, name, slack_m)

    def _corner(self, name: str) -> Crossing:
        corner = self.corners[name]
        again = sum(one.node == name for one in self.crossings.values())
        return corner if not again else replace(corner, id=f"{corner.id}/{again + 1}")

    def _turned(self, crossing: Crossing, before: str, after: str) -> Crossing:
        """A bend led aside turns by its real angle; parallel strands by half a turn."""
        a, b, c = self.nodes[before].at, self.nodes[crossing.node].at, self.nodes[after].at
        if crossing.role == "edge" or crossing.role == "device" or STILL in (unit(minus(b, a)), unit(minus(c, b))):
            return crossing
        turn = turn_angle(a, b, c)
        lined_up = math.sin(turn) < 1e-6
        return crossing if lined_up and crossing.role == "bend" else replace(crossing, turn_rad=turn)

    def up(self) -> list[str]:
        """Corners in the order met from the load."""
        return list(reversed(self.corners))

    def led(self, rig: LineRig, axis: int, *strands: tuple[str, str]) -> LineRig:
        """The rig with strands that pull along the line's way out (`axis` +1), or back."""
        x, y, z = self.way.out
        return replace(rig, led=dict.fromkeys(strands, (x * axis, y * axis, z * axis)))

    def rig(
        self, mode: Mode, ropes: Iterable[Rope], main: Iterable[str], holder: str | None, locks: Iterable[str] = ()
    ) -> LineRig:
        """The layout as a rig, without nodes that no rope reaches."""
        ropes = tuple(ropes)
        used = {name for rope in ropes for name in rope.route}
        used |= {self.nodes[name].on for name in used if self.nodes[name].on}
        nodes = {name: node for name, node in self.nodes.items() if name in used}
        return LineRig(
            self.line, mode, self.way, nodes, ropes, self.crossings, frozenset(main), holder, frozenset(locks)
        )
