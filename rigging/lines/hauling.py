"""The haul system laid along a line's first stretch, its haul strand led on, its ratchet put on; and the line on that ratchet."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from dataclasses import replace

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HAND, bends
from rigging.document import Haul, Line
from rigging.lines.layout import Layout
from rigging.lines.parts import Crossing, bend_crossing, minded
from rigging.lines.rig import LOAD, OPEN_M, LineRig, anchor_node
from rigging.lines.way import LineWay
from rigging.mechanics.network import Node, Rope
from rigging.mechanics.vectors import Vector, dot, length, minus, plus, unit

_HANDS_M = 6.0
# A grab in place of the system's load sits just short of the edge, not on it.
_GRAB_STATION = 0.05
RATCHET_M = 0.4


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
    return max(0.3, (haul.own.gives_m - catalogue().people.own_takes_m) / max(strands, 1.0))


def hauling_rig(layout: Layout) -> LineRig:
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


def _hauled(layout: Layout, haul: Haul, hitch_slack_m: float | None) -> LineRig:
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


def _placed(layout: Layout, haul: Haul) -> dict[str, str]:
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
        elif haul.load_grabbed:
            names[name] = layout.add(name, "grab", layout.at(reach * (1 - _GRAB_STATION)), axis=-1)
        else:
            names[name] = LOAD
    names[HAND] = layout.name("hands")
    return names


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


def _led_on(layout: Layout, haul: Haul, routes: list[list[str]], at: dict[str, list[Crossing]]) -> None:
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


def _walk(layout: Layout, haul: Haul, route: list[str]) -> Vector:
    """The way the hands go: as entered; else on along the line's own way, back from the load or towards it."""
    if haul.walk_rad is not None:
        return math.cos(haul.walk_rad), math.sin(haul.walk_rad), 0.0
    if haul.redirects:
        before, last = layout.nodes[route[-3]].at, layout.nodes[route[-2]].at
        return unit(minus(last, before))
    out = layout.way.out
    return out if haul.system.hand == "toward-load" else (-out[0], -out[1], -out[2])


def _ratchet(layout: Layout, routes: list[list[str]], behind: str | None) -> str:
    """The ratchet's hitch put on the strand that would run back, dividing its rope; the node of the hitch.

    That is the first strand from the load into a bend at the anchor; where there is none, or it is asked for, the last
    that comes from something that travels.
    """
    haul = layout.line.haul
    on_haul = haul is not None and haul.capture_on == "haul"
    if behind is not None and not on_haul:
        grab = layout.add("ratchet", "grab", layout.at(RATCHET_M), axis=-1)
        routes.insert(1, [behind, grab])
        return grab
    number, place = _haul_strand(layout, routes) if on_haul else _runs_back(layout, routes)
    route = routes[number]
    near, far = layout.nodes[route[place]].at, layout.nodes[route[place + 1]].at
    gap = length(minus(far, near))
    start = layout.way.start
    ahead = min(RATCHET_M, 0.5 * length(minus(near, start)))
    on_line = layout.at(ahead)
    # On the line's own stretch it sits just in front of the anchor, elsewhere in the middle of its strand.
    beside = abs(length(minus(near, on_line)) + length(minus(on_line, far)) - gap) < 1e-6
    middle = plus(near, unit(minus(far, near)), gap / 2 if gap < _HANDS_M else gap - RATCHET_M)
    grab = layout.add("ratchet", "grab", on_line if beside else middle, axis=-1)
    if not beside:
        # It goes with its strand, wherever that is led.
        layout.nodes[grab] = replace(layout.nodes[grab], axis=unit(minus(far, near)))
    routes[number : number + 1] = [[*route[: place + 1], grab], [grab, *route[place + 1 :]]]
    return grab


def _runs_back(layout: Layout, routes: list[list[str]]) -> tuple[int, int]:
    """The first strand from the load that would run back: which route, and the place of its first node."""
    for number, route in enumerate(routes):
        for place, (before, name) in enumerate(itertools.pairwise(route)):
            travels = layout.nodes[before].travels or before == LOAD or before in layout.corners
            if travels and 0 < place + 1 < len(route) - 1 and layout.nodes[name].on == anchor_node(layout.line.anchor):
                return number, place
    return _haul_strand(layout, routes)


def _haul_strand(layout: Layout, routes: list[list[str]]) -> tuple[int, int]:
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
