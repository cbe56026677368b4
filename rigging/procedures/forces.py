"""What bears how much after a step: the strands that are taut, friction helping or hurting, the load anywhere in its range."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import replace

from rigging.catalogue import catalogue
from rigging.lines.compile import beside
from rigging.lines.rig import LOAD, anchor_node
from rigging.lines.tension_line import along_line
from rigging.mechanics.bounds import Cloud
from rigging.mechanics.held import least_and_most
from rigging.mechanics.holds import HANDS, Lying, Piece, bears
from rigging.mechanics.network import Network, Node, Pass, Rope
from rigging.mechanics.strands import StrandForces
from rigging.mechanics.vectors import Vector, length, minus, turn_angle, unit
from rigging.procedures.asked import Asked, terminals
from rigging.procedures.begin import Ground
from rigging.procedures.state import TRACKS, State, cord_name, line_of
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range, added, exactly, times
from rigging.site.load import pull_n

# A rope round a connector that nothing else is said of.
_ROUND = "carabiner"
# Places of a tension line at which its ends are asked.
_PLACES = 25


def forces_n(ground: Ground, asked: Asked) -> dict[str, Range]:
    """What the load hangs on and every anchor that is pulled on, each with its least, expected and most in newtons; nothing where the
    load is on the ground, or hangs on what can not balance it."""
    if along := _along_tracks(ground, asked):
        return along
    laid = _laid(ground, asked)
    if laid is None:
        return {}
    solved, parts = _solved(laid, None), terminals(asked.state, laid.lying, asked.holds.settled)
    still = {*asked.state.anchors, *asked.state.guards}
    anchors = {name: _pull_on(solved, name) for name in laid.lying.kinds if name in still}
    return _known(_borne(solved, parts) | anchors)


def borne_n(ground: Ground, asked: Asked) -> dict[str, Range]:
    """What the load hangs on alone: quicker than all of `forces_n`."""
    if along := _along_tracks(ground, asked):
        return along
    laid = _laid(ground, asked)
    if laid is None:
        return {}
    parts = terminals(asked.state, laid.lying, asked.holds.settled)
    return _known(_borne(_solved(laid, parts), parts))


def _along_tracks(ground: Ground, asked: Asked) -> dict[str, Range]:
    """Where the load rolls along tension lines: what the ends of each bear, least and most over the whole of it, as the line's own sheet has it. Their
    sag decides that, and a rig that does not stretch knows none."""
    state, found = asked.state, dict[str, Range]()
    name = line_of(next(iter(state.ropes)))
    for mark, tight in zip(TRACKS, ground.plan.tension_lines, strict=False):
        if state.grounded or f"{name}:track{mark}" not in state.ropes:
            continue
        places = along_line(ground.plan, tight, _PLACES)
        here = min(places, key=lambda one: math.dist(one.at[:2], state.at[LOAD][:2]))
        pulls = [one.tension_n for one in places]
        bears = Range(min(one.low for one in pulls), here.tension_n.expected, max(one.high for one in pulls))
        ends = (
            f"{name}:track{mark} device",
            f"{name}:far end{mark}",
            anchor_node(tight.anchor),
            anchor_node(tight.far),
        )
        found |= dict.fromkeys(ends, bears)
    return found


def _borne(solved: list[tuple[_Laid, StrandForces]], parts: Mapping[str, str]) -> dict[str, Range | None]:
    return {name: _on(solved, name, part) for name, part in parts.items()}


def _known(forces: Mapping[str, Range | None]) -> dict[str, Range]:
    return {name: force for name, force in forces.items() if force is not None}


def _laid(ground: Ground, asked: Asked) -> _Laid | None:
    """The pieces that bear, as a network; None where nothing does."""
    lying, settled = asked.holds.rig, asked.holds.settled
    if asked.state.grounded or settled.drop_m is None or ground.solver.resting is None:
        return None
    loaded = bears(settled, lying.weight_kn)
    laid = _Laid(ground, asked.state, lying, [one for one in lying.pieces if one.id in loaded])
    return laid if laid.network.ropes else None


def _solved(laid: _Laid, parts: Mapping[str, str] | None) -> list[tuple[_Laid, StrandForces]]:
    """What bears the load; then, behind each device that runs, what holds its brake strand, which is as much as it keeps. `parts`: the
    only ones that are asked about. Nothing where it can not be balanced."""
    waiting, solved = [(laid, _pull(laid.ground))], list[tuple[_Laid, StrandForces]]()
    while waiting:
        here, pull = waiting.pop()
        runs = [(number, index) for one in here.behind for number, index in _ending_at(here.network, one.top)]
        only = None
        if parts is not None:
            places = [place for name, part in parts.items() for place in _places(here, name, part)]
            only = {here.network.starts[number] + index for number, index in [*places, *runs]}
        try:
            found = least_and_most(here.network, pull, only)
        except Refused:
            return []
        forces = StrandForces(here.network, found.rows, found.scale, found.passed)
        solved.append((here, forces))
        for behind in here.behind:
            front = next((forces.strand(*place) for place in _ending_at(here.network, behind.top)), None)
            if front is not None and behind.network.ropes:
                waiting.append((behind, times(front, here.keeps(behind.top))))
    return solved


def _pull(ground: Ground) -> Range:
    """What the load at rest asks of what holds it."""
    load = ground.solver.resting
    assert load is not None
    return Range(
        pull_n(load, load.mass_kg.low, load.mu.high, False),
        pull_n(load, load.mass_kg.expected, 0.0, False),
        pull_n(load, load.mass_kg.high, load.mu.high, True),
    )


class _Laid:
    """Taut pieces as a network from `top`, the load or a device that runs: what hangs on an anchor stands still, what only rides on rope
    travels along it. `behind`: what is behind each device on the way that runs."""

    def __init__(self, ground: Ground, state: State, lying: Lying, pieces: list[Piece], top: str = LOAD):
        self.ground, self.state, self.lying, self.top = ground, state, lying, top
        self.items = {one.id: one for _, one in state.items()}
        # A tie holds what hangs on an anchor where it is; what is tied to something that moves goes with it.
        ties = [(one.route[0], one.route[-1]) for one in lying.pieces if one.id.startswith("tie of ")]
        self.hung = {name: on for name, on in ties if lying.kinds[on] == "anchor"}
        self.goes_with = {name: on for name, on in ties if lying.kinds[on] != "anchor"}
        self.pieces = {
            one.id: replace(one, route=tuple(self.goes_with.get(name, name) for name in one.route))
            for one in pieces if not one.id.startswith("tie of ")
        }  # fmt: skip
        routes, cut = self._routes()
        self.led = self._led(routes)
        nodes = {name: self._node(name, routes) for _, route in routes for name in route}
        ropes = [self._rope(id, route) for id, route in routes]
        ends = [pair for _, route in routes for pair in itertools.pairwise(route)]
        self.network = Network(nodes, tuple(ropes), dict.fromkeys(ends, self.led) if self.led else {})
        self.behind = [
            _Laid(ground, state, lying, [replace(self.pieces[id], route=route), *self._others(routes)], device)
            for device, (id, route) in cut.items()
        ]

    def _routes(self) -> tuple[list[tuple[str, tuple[str, ...]]], dict[str, tuple[str, tuple[str, ...]]]]:
        """Routes of all that hangs together with the top, from there on, as far as devices that run; and what is behind those."""
        found: list[tuple[str, tuple[str, ...]]] = []
        cut: dict[str, tuple[str, tuple[str, ...]]] = {}
        reached, left = {self.top}, dict(self.pieces)
        while here := next((one for one in left.values() if reached & set(one.route)), None):
            del left[here.id]
            route = here.route[::-1] if here.route[-1] in reached and here.route[0] not in reached else here.route
            runs = next((n for n, name in enumerate(route) if 0 < n < len(route) - 1 and self._runs(name)), None)
            if runs is not None:
                cut[route[runs]] = here.id, route[runs:]
                route = route[: runs + 1]
            found.append((here.id, route))
            reached |= {name for name in route if not self._stands(name)}
        return found, cut

    def _others(self, routes: list[tuple[str, tuple[str, ...]]]) -> list[Piece]:
        there = {id for id, _ in routes}
        return [one for one in self.pieces.values() if one.id not in there]

    def _runs(self, name: str) -> bool:
        item = self.items.get(name)
        return item is not None and item.kind == "device" and not item.grips

    def _stands(self, name: str) -> bool:
        return self.lying.kinds[name] in ("anchor", "hands") or name in self.hung

    def _rope(self, id: str, route: tuple[str, ...]) -> Rope:
        passes = tuple(self._pass(id, route, place) for place in range(1, len(route) - 1))
        return Rope(route, passes, id, self.pieces[id].rope)

    def keeps(self, device: str) -> Range:
        """What is left of a strand behind a device that runs."""
        known = self.ground.passed.get(device)
        kind = catalogue().devices.get(self.items[device].what)
        return known or (kind.holding().map(lambda ratio: 1 / ratio) if kind else exactly(1.0))

    def _pass(self, piece: str, route: tuple[str, ...], place: int) -> Pass:
        name = route[place]
        before, here, after = (self.lying.at[one] for one in route[place - 1 : place + 2])
        turn = turn_angle(before, here, after) if before != here != after else math.pi
        return Pass(f"{piece}@{place}", name, self._eta(name, turn), turn)

    def _eta(self, name: str, turn_rad: float) -> Range:
        known = self.ground.passed.get(name)
        if known is not None:
            return known
        what = self.items[name].what if name in self.items else ""
        half = catalogue().bends[what if what in catalogue().bends else _ROUND].eta
        return half.map(lambda one: one ** (turn_rad / math.pi))

    def _node(self, name: str, routes: list[tuple[str, tuple[str, ...]]]) -> Node:
        kind, at = self.lying.kinds[name], self.lying.at[name]
        if name == self.top:
            return Node(name, "load", at, self._pulled(routes))
        if self._stands(name):
            return Node(name, "anchor", at, on=self.hung.get(name, ""))
        return Node(name, "edge", at) if kind == "edge" else Node(name, kind, at, self.led or self._towards_load(name))

    def _pulled(self, routes: list[tuple[str, tuple[str, ...]]]) -> Vector:
        """What is asked of the rope at the top is asked along it."""
        beside_top = (pair for _, route in routes for pair in itertools.pairwise(route) if self.top in pair)
        here = self.lying.at[self.top]
        ways = (minus(self.lying.at[a if b == self.top else b], here) for a, b in beside_top)
        way = next((one for one in ways if length(one) > 1e-9), None)
        return self.led or (unit(way) if way else self._out())

    def _led(self, routes: list[tuple[str, tuple[str, ...]]]) -> Vector | None:
        """Where hands lead a device's brake strand, where that is not where it lies: beside the load strand. What a hitch holds lies as it is."""
        if self.top == LOAD or not all(self.pieces[id].rope.startswith("rope:") for id, _ in routes):
            return None
        line = next((one for one in self.ground.plan.lines if one.id == line_of(self.top)), None)
        low = line.lowering if line else None
        what = self.items[self.top].what
        return self._out() if beside(what, low.led if low and low.device == what else None) else None

    def _out(self) -> Vector:
        return self.ground.way(self.ground.line("").id).out

    def _towards_load(self, name: str) -> Vector:
        """The way along which something rides: to what is before it on its rope."""
        for row in self.state.ropes.values():
            on = [one.node for one in row if one.on_the_way and one.node in self.lying.at]
            if name in on[1:]:
                before = minus(self.lying.at[on[on.index(name) - 1]], self.lying.at[name])
                if length(before) > 1e-9:
                    return unit(before)
        return self._out()


def _places(laid: _Laid, name: str, part: str) -> list[tuple[int, int]]:
    """The strands that bear on something that the load hangs on: hands those in them, a hitch its cords, a device the one in front of it, a
    knot the one that it ends."""
    item, found = laid.items.get(name), list[tuple[int, int]]()
    for number, rope in enumerate(laid.network.ropes):
        last = number, len(rope.route) - 2
        if name == HANDS:
            found += [last] if laid.lying.kinds[rope.route[-1]] == HANDS else []
        elif item is not None and item.kind == "hitch":
            found += [(number, 0)] if rope.id == cord_name(item) or rope.id.startswith(f"{name} cord ") else []
        elif item is not None and item.kind == "device":
            found += [last] if rope.route[-1] == name else []
        elif rope.id == part:
            found += [last]
    return found


def _on(solved: list[tuple[_Laid, StrandForces]], name: str, part: str) -> Range | None:
    strands = [forces.strand(*place) for laid, forces in solved for place in _places(laid, name, part)]
    return added(*strands) if strands else None


def _pull_on(solved: list[tuple[_Laid, StrandForces]], anchor: str) -> Range | None:
    """What pulls on an anchor, by whatever hangs on it."""
    pulls: Cloud | None = None
    for laid, forces in solved:
        nodes = {name for name in forces.network.nodes if name == anchor or laid.hung.get(name) == anchor}
        if nodes:
            here = forces.sum_of(nodes)
            pulls = pulls.plus(here) if pulls else here
    return pulls.size if pulls else None


def _ending_at(network: Network, name: str) -> list[tuple[int, int]]:
    return [(number, len(rope.route) - 2) for number, rope in enumerate(network.ropes) if rope.route[-1] == name]
