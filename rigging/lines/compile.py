"""Document and mode to rig: every line laid over the real ground, what holds it made fast, the haul system laid along it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from rigging.catalogue import Led, catalogue
from rigging.catalogue.haul import HAND, HaulSystem, bends
from rigging.document import Haul, Line, Plan
from rigging.lines.parts import Crossing, bend_crossing, device_crossing, edge_crossings, minded, passed_on
from rigging.lines.rig import LOAD, OPEN_M, LineRig, Mode, Rig, anchor_node
from rigging.lines.way import LineWay, place_of
from rigging.mechanics.network import Node, NodeKind, Pass, Rope
from rigging.mechanics.vectors import STILL, Vector, dot, length, minus, plus, turn_angle, unit
from rigging.site.load import GRAVITY, Resting, own_way

_HANDS_M = 6.0
# A grab in place of the system's load sits just short of the edge, not on it.
_GRAB_STATION = 0.05
_RATCHET_M, _BELAY_M = 0.4, 0.3


@dataclass
class _Layout:
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


def compiled(plan: Plan, line: Line, way: LineWay, mode: Mode) -> LineRig:
    """A line in a mode.

    Raises
    ------
    Refused
        If its haul system does not move as one mechanism.
    """
    if mode == "captured":
        return captured(compiled(plan, line, way, "hauling"))
    return {
        "fast": _fast, "locked": _locked, "running": _running, "hauling": _hauling, "slack": _slack,
    }[mode](_Layout(plan, line, way))  # fmt: skip


def _fast(layout: _Layout) -> LineRig:
    fast = anchor_node(layout.line.anchor)
    rope = layout.rope("rope", [LOAD, *layout.up(), fast], slack_m=layout.line.slack_m)
    return layout.rig("fast", [rope], [rope.id], fast)


def _locked(layout: _Layout) -> LineRig:
    lowering = layout.line.lowering
    assert lowering is not None
    device = layout.add("device", "grab", layout.at(lowering.out_m), on=anchor_node(layout.line.anchor))
    rope = layout.rope("rope", [LOAD, *layout.up(), device], slack_m=layout.line.slack_m)
    ropes = [rope]
    if lowering.brake_hitch:
        brake = layout.add("brake", "grab", layout.at(lowering.hitch_m * 0.8))
        ropes += [
            layout.rope("tail", [device, brake], slack_m=OPEN_M),
            layout.cord("hitch", brake, 0.2 * lowering.hitch_m + lowering.slack_m),
        ]
    ropes += _tied(layout, lowering.tied_behind_m, ropes[1].route[-1] if lowering.brake_hitch else device)
    return layout.rig("locked", ropes, [rope.id], device)


def _tied(layout: _Layout, behind_m: float | None, grip: str) -> list[Rope]:
    """The rope behind what grips it last, tied to the anchor."""
    if behind_m is None:
        return []
    return [layout.rope("tied", [grip, anchor_node(layout.line.anchor)], slack_m=max(OPEN_M, behind_m))]


def _running(layout: _Layout) -> LineRig:
    """The rope through the lowering device, the brake hand behind it, the hitch minded open."""
    lowering = layout.line.lowering
    assert lowering is not None
    fast = anchor_node(layout.line.anchor)
    device = layout.add("device", "block", layout.at(lowering.out_m), on=fast)
    # The hand's strand pulls where it is led to; where it lies decides only how far what is minded is from gripping.
    axis = 1 if beside(lowering.device, lowering.led) else -1
    hands = layout.add("hands", "hands", layout.at(-1.0), axis=axis)
    crossing = device_crossing(layout.plan, device, lowering.device, lowering.turns, lowering.led)
    locks = [device] if catalogue().devices[lowering.device].self_locking else []
    if lowering.brake_hitch is None:
        rope = layout.rope("rope", [LOAD, *layout.up(), device, hands], {device: [crossing]})
        return layout.led(layout.rig("running", [rope], [rope.id], None, locks), axis, (device, hands))
    brake = layout.add("brake", "grab", layout.at(lowering.hitch_m), axis=axis)
    rope = layout.rope("rope", [LOAD, *layout.up(), device, brake], {device: [crossing]})
    tail = layout.rope("tail", [brake, hands])
    hitch = layout.cord("hitch", brake, max(OPEN_M, lowering.slack_m))
    rig = layout.rig("running", [rope, tail, hitch], [rope.id, tail.id], None, locks)
    return layout.led(rig, axis, (device, brake), (brake, hands))


def beside(device: str, led: Led | None) -> bool:
    """Whether a device's brake strand is led beside the load strand."""
    return (led or catalogue().devices[device].led) == "parallel"


def _slack(layout: _Layout) -> LineRig:
    """A belay on its hitches, device or knot, or a rope left in as backup on what held it."""
    line, fast = layout.line, anchor_node(layout.line.anchor)
    if line.belay is None:
        return replace(_locked(layout) if line.lowering else _fast(layout), mode="slack")
    if line.belay.holds == "tied":
        return replace(_fast(layout), mode="slack")
    if line.belay.holds == "hitch":
        grab = layout.add("belay", "grab", layout.at(_BELAY_M), axis=-1)
        rope = layout.rope("rope", [LOAD, *layout.up(), grab], slack_m=line.slack_m)
        cord = replace(layout.cord("hitch", grab, 0.0), slack_m=0.0)
        return layout.rig("slack", [rope, cord, *_tied(layout, line.belay.tied_behind_m, grab)], [rope.id], grab)
    locking = catalogue().devices[line.belay.what].self_locking
    device = layout.add("belay", "grab" if locking else "block", layout.at(_BELAY_M), on=fast)
    if locking:
        rope = layout.rope("rope", [LOAD, *layout.up(), device], slack_m=line.slack_m)
        return layout.rig("slack", [rope, *_tied(layout, line.belay.tied_behind_m, device)], [rope.id], device)
    hands = layout.add("hands", "hands", layout.at(-1.0))
    crossing = device_crossing(layout.plan, device, line.belay.what, led=line.belay.led)
    rope = layout.rope("rope", [LOAD, *layout.up(), device, hands], {device: [crossing]}, slack_m=line.slack_m)
    axis = 1 if beside(line.belay.what, line.belay.led) else -1
    return layout.led(layout.rig("slack", [rope], [rope.id], device), axis, (device, hands))


def reach_m(haul: Haul, way: LineWay) -> float:
    """How far in front of the working point the haul system can reach: as entered, else to the first corner; a system out of a
    piece of its own no further than that lets it."""
    far = haul.reach_m or way.first_m
    return min(far, own_reach_m(haul)) if haul.own else far


def own_reach_m(haul: Haul) -> float:
    """How far the piece that a system is built from lets it reach: what its knots and the hands leave, over all its strands."""
    assert haul.own is not None
    stations = haul.system.stations
    strands = sum(
        abs(stations[a] - stations[b])
        for piece in haul.system.ropes
        for a, b in itertools.pairwise(piece)
        if HAND not in (a, b)
    )
    return max(0.3, (haul.own.gives_m - catalogue().own_takes_m) / max(strands, 1.0))


def _hauling(layout: _Layout) -> LineRig:
    haul = layout.line.haul
    assert haul is not None
    grips = haul.capture is not None and minded(haul)
    return _hauled(layout, haul, max(OPEN_M, haul.capture_slack_m) if grips else None)


def captured(hauling: LineRig) -> LineRig:
    """The line that was hauled, on its ratchet: set, and the hands off."""
    found, grab, line = hauling, hauling.holder, hauling.line
    assert grab is not None
    name = f"{line.id}:ratchet cord"
    cord = Rope((grab, _behind_ratchet(found.nodes, line, found.ropes, grab)), (), name, name, 0.0)
    ropes = [rope for rope in found.ropes if rope.id != name and not _reaches_hands(found, rope)]
    held = _without_loose(found, [*ropes, cord])
    used = {name for rope in held for name in rope.route}
    used |= {found.nodes[name].on for name in used}
    crossings = {p.id: found.crossings[p.id] for rope in held for p in rope.passes}
    nodes = {name: node for name, node in found.nodes.items() if name in used}
    return replace(found, mode="captured", ropes=held, nodes=nodes, crossings=crossings)


def _behind_ratchet(nodes: dict[str, Node], line: Line, ropes: Iterable[Rope], grab: str) -> str:
    """The anchor that a ratchet hangs from: that of the bend its strand runs into, else the line's own."""
    into = next((nodes[rope.route[1]].on for rope in ropes if rope.route[0] == grab), "")
    return into or anchor_node(line.anchor)


def _reaches_hands(rig: LineRig, rope: Rope) -> bool:
    return any(rig.nodes[end].kind == "hands" for end in (rope.route[0], rope.route[-1]))


def _without_loose(rig: LineRig, ropes: list[Rope]) -> tuple[Rope, ...]:
    """The ropes less those with an end at a travelling node that nothing else is on."""
    while True:
        touched = [name for rope in ropes for name in rope.route]
        kept = [
            rope for rope in ropes
            if not any(rig.nodes[end].travels and touched.count(end) < 2 for end in (rope.route[0], rope.route[-1]))
        ]  # fmt: skip
        if len(kept) == len(ropes):
            return tuple(kept)
        ropes = kept


def _hauled(layout: _Layout, haul: Haul, hitch_slack_m: float | None) -> LineRig:
    """The haul system along the first stretch. `hitch_slack_m`: what the ratchet gives (None: open, it grips nothing)."""
    system = haul.system
    names = _placed(layout, haul)
    at: dict[str, list[Crossing]] = {}
    for place in bends(system):
        node = names[place.node]
        id = layout.name(place.id)
        at.setdefault(node, []).append(
            bend_crossing(layout.plan, id, "bend", node, haul.bends.get(place.id, "unknown"), math.pi)
        )
    routes = [_over_corners([names[name] for name in piece], layout.up()) for piece in system.ropes]
    own_grab = names[system.load] != LOAD
    if own_grab:
        routes.insert(0, [LOAD, *layout.up(), names[system.load]])
    _led_on(layout, haul, routes, at)
    grab = None
    if haul.capture is not None:
        # The rope that runs on behind a haul grab of its own comes in through the ratchet.
        grab = _ratchet(layout, routes, names[system.load] if own_grab else None)
    named = {number: f"rope:{number + 1}" for number in range(len(routes))}
    ropes = [layout.rope(named[number], route, at) for number, route in enumerate(routes)]
    if grab is not None and hitch_slack_m is not None:
        ropes.append(
            layout.cord("ratchet", grab, hitch_slack_m, _behind_ratchet(layout.nodes, layout.line, ropes, grab))
        )
    return layout.rig("hauling", ropes, _runs_on(ropes), grab)


def _placed(layout: _Layout, haul: Haul) -> dict[str, str]:
    """The system's nodes laid out along the first stretch: node of the notation to node of the rig."""
    system, fast = haul.system, anchor_node(layout.line.anchor)
    stations = system.stations
    reach = reach_m(haul, layout.way)
    names = {}
    for name, kind in system.nodes.items():
        out = reach * (1 - stations[name])
        if kind == "anchor":
            own = haul.anchors.get(name)
            on = layout.anchor(own) if own else fast
            names[name] = layout.add(name, "block", layout.nodes[on].at if own else layout.at(out), on=on)
        elif kind != "load":
            names[name] = layout.add(name, kind, layout.at(out), axis=-1)
        elif _needs_own_grab(system, haul):
            names[name] = layout.add(name, "grab", layout.at(reach * (1 - _GRAB_STATION)), axis=-1)
        else:
            names[name] = LOAD
    names[HAND] = layout.name("hands")
    return names


def _needs_own_grab(system: HaulSystem, haul: Haul) -> bool:
    """Whether the system's load node becomes a grab on the main rope: unless the rope itself just ends there."""
    ends = [piece for piece in system.ropes for name in piece if name == system.load]
    simple = len(ends) == 1 and system.load in (ends[0][0], ends[0][-1])
    return haul.attached == "grab" and not simple


def _over_corners(piece: list[str], up: list[str]) -> list[str]:
    """A piece of the system with the corners put into each strand that reaches the real load."""
    route = piece[:1]
    for before, name in itertools.pairwise(piece):
        if before == LOAD:
            route += up
        elif name == LOAD:
            route += reversed(up)
        route.append(name)
    return route


def _led_on(layout: _Layout, haul: Haul, routes: list[list[str]], at: dict[str, list[Crossing]]) -> None:
    """The haul strand led by its redirects to the hands, who stand where they will walk."""
    hands = layout.name("hands")
    route = next(route for route in routes if hands in (route[0], route[-1]))
    turned = route[0] == hands
    if turned:
        route.reverse()
    last = route[-2]
    for number, redirect in enumerate(haul.redirects, start=1):
        id = layout.name(f"haul:{number}")
        on = layout.anchor(redirect.anchor)
        layout.nodes[id] = Node(id, "block", layout.nodes[on].at, on=on)
        at[id] = [bend_crossing(layout.plan, id, "redirect", id, redirect.bend, math.pi)]
        route.insert(-1, id)
        last = id
    walk = _walk(layout, haul, route)
    # Pulling straight back they stand behind the working point.
    back = max(0.0, -dot(walk, layout.way.out)) * length(minus(layout.nodes[last].at, layout.way.start))
    layout.nodes[hands] = Node(hands, "hands", plus(layout.nodes[last].at, walk, _HANDS_M + back), walk)
    if turned:
        route.reverse()


def _walk(layout: _Layout, haul: Haul, route: list[str]) -> Vector:
    """The way the hands go: as entered; else on along the line's own way, back from the load or towards it."""
    if haul.walk_rad is not None:
        return math.cos(haul.walk_rad), math.sin(haul.walk_rad), 0.0
    if haul.redirects:
        before, last = layout.nodes[route[-3]].at, layout.nodes[route[-2]].at
        return unit(minus(last, before))
    out = layout.way.out
    return out if haul.system.hand == "toward-load" else (-out[0], -out[1], -out[2])


def _ratchet(layout: _Layout, routes: list[list[str]], behind: str | None) -> str:
    """The ratchet's hitch put on the strand that would run back, dividing its rope; the node of the hitch.

    That is the first strand from the load into a bend at the anchor; where there is none, or it is asked for, the last
    that comes from something that travels.
    """
    haul = layout.line.haul
    on_haul = haul is not None and haul.capture_on == "haul"
    if behind is not None and not on_haul:
        grab = layout.add("ratchet", "grab", layout.at(_RATCHET_M), axis=-1)
        routes.insert(1, [behind, grab])
        return grab
    number, place = _haul_strand(layout, routes) if on_haul else _runs_back(layout, routes)
    route = routes[number]
    near, far = layout.nodes[route[place]].at, layout.nodes[route[place + 1]].at
    gap = length(minus(far, near))
    start = layout.way.start
    ahead = min(_RATCHET_M, 0.5 * length(minus(near, start)))
    on_line = layout.at(ahead)
    # On the line's own stretch it sits just in front of the anchor, elsewhere in the middle of its strand.
    beside = abs(length(minus(near, on_line)) + length(minus(on_line, far)) - gap) < 1e-6
    middle = plus(near, unit(minus(far, near)), gap / 2 if gap < _HANDS_M else gap - _RATCHET_M)
    grab = layout.add("ratchet", "grab", on_line if beside else middle, axis=-1)
    if not beside:
        # It goes with its strand, wherever that is led.
        layout.nodes[grab] = replace(layout.nodes[grab], axis=unit(minus(far, near)))
    routes[number : number + 1] = [[*route[: place + 1], grab], [grab, *route[place + 1 :]]]
    return grab


def _runs_back(layout: _Layout, routes: list[list[str]]) -> tuple[int, int]:
    """The first strand from the load that would run back: which route, and the place of its first node."""
    for number, route in enumerate(routes):
        for place, (before, name) in enumerate(itertools.pairwise(route)):
            travels = layout.nodes[before].travels or before == LOAD or before in layout.corners
            if travels and 0 < place + 1 < len(route) - 1 and layout.nodes[name].on == anchor_node(layout.line.anchor):
                return number, place
    return _haul_strand(layout, routes)


def _haul_strand(layout: _Layout, routes: list[list[str]]) -> tuple[int, int]:
    hands = layout.name("hands")
    number = next(n for n, route in enumerate(routes) if hands in (route[0], route[-1]))
    if routes[number][0] == hands:
        routes[number].reverse()
    travels = [layout.nodes[name].travels or name == LOAD for name in routes[number][:-1]]
    return number, max((place for place, one in enumerate(travels) if one), default=len(travels) - 1)


def _runs_on(ropes: list[Rope]) -> set[str]:
    """Ids of the pieces that go on under grabs from those that reach the load."""
    found = {rope.id for rope in ropes if LOAD in rope.route}
    ends: dict[str, list[Rope]] = {}
    for rope in ropes:
        for name in (rope.route[0], rope.route[-1]):
            ends.setdefault(name, []).append(rope)
    while more := {
        rope.id for name, here in ends.items() if name != LOAD and not name.startswith("anchor:")
        for rope in here if len(here) >= 2 and rope.rope.startswith("rope:") and any(o.id in found for o in here)
    } - found:  # fmt: skip
        found |= more
    return found


def rig_of(
    plan: Plan,
    modes: dict[str, Mode],
    ways: dict[str, LineWay],
    resting: Resting,
    cache: dict[tuple[str, Mode], LineRig],
) -> Rig:
    """All lines in their modes at once. Lines already compiled in a mode come from `cache`."""
    lines = []
    for line in plan.lines:
        mode = modes.get(line.id)
        if mode is None:
            continue
        if (line.id, mode) not in cache:
            hauled = cache.get((line.id, "hauling")) if mode == "captured" else None
            cache[line.id, mode] = captured(hauled) if hauled else compiled(plan, line, ways[line.id], mode)
        lines.append(cache[line.id, mode])
    at = (plan.site.load_at.x_m, 0.0, plan.site.load_at.z_m)
    return Rig(tuple(lines), own_way(resting), resting.mass_kg.expected * GRAVITY, at)
