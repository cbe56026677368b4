"""Document and phase to network: the rope laid over the real ground, the haul system laid along it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from rigging.catalogue import catalogue
from rigging.document import Haul, Plan
from rigging.site.ground import RopeWay, Turn
from rigging.catalogue.haul import HAND, HaulSystem, bends, settled
from rigging.mechanics.network import Network, Node, NodeKind, Pass, Rope, Vector, length, minus, unit
from rigging.quantities.ranges import Range

Phase = Literal["hold", "lower", "raise", "jam"]
PHASES: tuple[Phase, ...] = ("hold", "lower", "raise", "jam")
LOAD, DEVICE = "line:load", "line:device"
_FAR_M = 1000.0
# A grab in place of the system's load sits just short of the edge, not on it.
_GRAB_STATION = 0.05


@dataclass(frozen=True)
class Crossing:
    """What the rope runs round at a pass: a bend of the haul system, an edge, or the lowering device.

    `kind` is its catalogue id, `quantity` the symbol and range that the pass's η was worked out from.
    """

    id: str
    role: Literal["bend", "edge", "device"]
    node: str
    kind: str
    name: str
    symbol: Literal["η", "μ", "r"]
    quantity: Range
    source: str
    turn_rad: float


@dataclass(frozen=True)
class Rig:
    """A phase's network, what sits at each pass (by pass id), the ropes that are the main line, the working point."""

    network: Network
    crossings: dict[str, Crossing]
    main_ropes: frozenset[int]
    start: Vector

    def out_m(self, node: Node) -> float:
        """How far a node is from the working point, outward positive."""
        away = minus(node.at, self.start)
        return math.copysign(length(away), away[0] or 1)


def edge_crossing(turn: Turn, number: int, site_surface: str) -> Crossing:
    """What the rope meets at a corner of its way: the protection, else the edge's surface, else the ground's."""
    edge = turn.edge
    surface = catalogue().surfaces[(edge.protection or edge.surface) if edge else site_surface]
    name = edge.name if edge else "Ground, no edge entered"
    symbol, quantity = surface.friction
    place = f"edge:{number}"
    return Crossing(place, "edge", place, surface.id, name, symbol, quantity, surface.source, turn.turn_rad)


def passed_on(crossing: Crossing) -> Range:
    """Share of tension that a crossing passes on.

    η^(θ/π) for a bend or roller, e^(−μβ) for an edge (capstan equation), 1/r for a lowering device.
    """
    rule: Callable[[float], float]
    if crossing.symbol == "μ":
        rule = lambda mu: math.exp(-mu * crossing.turn_rad)  # noqa: E731
    elif crossing.symbol == "r":
        rule = lambda ratio: 1 / ratio  # noqa: E731
    else:
        rule = lambda eta: eta ** (crossing.turn_rad / math.pi)  # noqa: E731
    return crossing.quantity.map(rule)


def bend_crossings(haul: Haul) -> dict[str, Crossing]:
    """What sits at each bend of the haul system; where nothing was said, the whole span of what might."""
    found = {}
    for place in bends(haul.system):
        kind = catalogue().bends[haul.bends.get(place.id, "unknown")]
        found[place.id] = Crossing(
            place.id, "bend", place.node, kind.id, kind.name, "η", kind.eta, kind.source, math.pi
        )
    return found


class _Layout:
    """Where things lie: the line's first stretch carries the haul system, its corners are the edges."""

    def __init__(self, plan: Plan, way: RopeWay):
        self.way = way
        self.out = unit(minus(way.points[1], way.start))
        self.edges = [edge_crossing(turn, n, plan.site.surface) for n, turn in enumerate(way.turns, start=1)]
        self.nodes: dict[str, Node] = {
            crossing.node: Node(crossing.node, "edge", turn.at)
            for crossing, turn in zip(self.edges, way.turns, strict=True)
        }
        self.nodes[LOAD] = Node(LOAD, "load", way.points[-1], unit(minus(way.points[-2], way.points[-1])))
        self.crossings: dict[str, Crossing] = {}

    def add(self, name: str, kind: NodeKind, out_m: float, *, axis: float = 0.0) -> None:
        """A node `out_m` in front of the working point; `axis` +1 moves outward, −1 back to the anchor."""
        place = (self.way.start[0] + self.out[0] * out_m, self.way.start[1] + self.out[1] * out_m)
        self.nodes[name] = Node(name, kind, place, (self.out[0] * axis, self.out[1] * axis))

    def rope(self, route: Iterable[str], at: dict[str, list[Crossing]]) -> Rope:
        """A rope along `route`; `at` lists for each node the crossings met there, taken in order."""
        names = tuple(route)
        passes = []
        for name in names[1:-1]:
            crossing = at[name].pop(0) if name in at else self._edge(name)
            self.crossings[crossing.id] = crossing
            passes.append(Pass(crossing.id, name, passed_on(crossing), crossing.turn_rad))
        return Rope(names, tuple(passes))

    def _edge(self, name: str) -> Crossing:
        edge = next(crossing for crossing in self.edges if crossing.node == name)
        again = sum(crossing.node == name for crossing in self.crossings.values())
        return edge if not again else replace(edge, id=f"{edge.id}/{again + 1}")

    def up(self) -> list[str]:
        """Edges in the order met from the load."""
        return [crossing.node for crossing in reversed(self.edges)]


def held(plan: Plan, way: RopeWay) -> Rig:
    """The rope made fast at the working point, by capture or locked device."""
    layout = _Layout(plan, way)
    layout.add(HAND, "hand", 0.0, axis=-1)
    rope = layout.rope([LOAD, *layout.up(), HAND], {})
    return Rig(Network(layout.nodes, (rope,)), layout.crossings, frozenset({0}), way.start)


def lowered(plan: Plan, way: RopeWay) -> Rig:
    """The rope through the lowering device. The brake strand is taken as led forward, which loads the anchor most."""
    assert plan.line.lowering is not None
    device = catalogue().devices[plan.line.lowering.device]
    crossing = Crossing("device", "device", DEVICE, device.id, device.name, "r", device.ratio, device.source, math.pi)
    layout = _Layout(plan, way)
    layout.add(DEVICE, "anchor", 0.0)
    layout.add(HAND, "hand", _FAR_M, axis=1)
    rope = layout.rope([LOAD, *layout.up(), DEVICE, HAND], {DEVICE: [crossing]})
    return Rig(Network(layout.nodes, (rope,)), layout.crossings, frozenset({0}), way.start)


def reach_m(plan: Plan, way: RopeWay) -> float:
    """How far in front of the working point the haul system can reach: as entered, else to the first corner."""
    haul = plan.line.haul
    return haul.reach_m if haul and haul.reach_m else way.first_m


def hauled(plan: Plan, way: RopeWay) -> Rig:
    """The haul system on the line.

    Raises
    ------
    Refused
        If the system does not move as one mechanism.
    """
    haul = plan.line.haul
    assert haul is not None
    system, given = haul.system, bend_crossings(haul)
    settled_network, _ = settled(system, {place: crossing.quantity for place, crossing in given.items()})
    layout = _Layout(plan, way)
    reach = reach_m(plan, way)
    for name, kind in system.nodes.items():
        station = settled_network.nodes[name].at[0]
        if kind == "anchor":
            layout.add(name, "anchor", reach * (1 - station))
        elif kind != "load":
            layout.add(name, "moving", reach * (1 - station), axis=-1)
        elif _needs_own_grab(system, haul):
            layout.add(name, "moving", reach * (1 - _GRAB_STATION), axis=-1)
    toward = 1 if system.hand == "toward-load" else -1
    layout.add(HAND, "hand", toward * _FAR_M, axis=toward)
    at: dict[str, list[Crossing]] = {}
    for crossing in given.values():
        at.setdefault(_real(system, haul, crossing.node), []).append(crossing)
    routes = [_over_edges(piece, system, haul, layout.up()) for piece in system.ropes]
    if _needs_own_grab(system, haul):
        routes.insert(0, [LOAD, *layout.up(), system.load])
    ropes = tuple(layout.rope(route, at) for route in routes)
    main = frozenset(number for number, route in enumerate(routes) if LOAD in route)
    return Rig(Network(layout.nodes, ropes), layout.crossings, main, way.start)


def _needs_own_grab(system: HaulSystem, haul: Haul) -> bool:
    """Whether the system's load node becomes a grab on the main rope: unless the rope itself just ends there."""
    ends = [piece for piece in system.ropes for name in piece if name == system.load]
    simple = len(ends) == 1 and system.load in (ends[0][0], ends[0][-1])
    return haul.attached == "grab" and not simple


def _real(system: HaulSystem, haul: Haul, name: str) -> str:
    return LOAD if name == system.load and not _needs_own_grab(system, haul) else name


def _over_edges(piece: list[str], system: HaulSystem, haul: Haul, up: list[str]) -> list[str]:
    """A piece of the system with the edges put into each strand that reaches the real load."""
    names = [_real(system, haul, name) for name in piece]
    route = names[:1]
    for before, name in itertools.pairwise(names):
        if before == LOAD:
            route += up
        elif name == LOAD:
            route += reversed(up)
        route.append(name)
    return route
