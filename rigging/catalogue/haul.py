"""Haul-system notation: what is tied, gripped and bent where, as data. Nothing here knows a system by name."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from rigging.mechanics.bounds import bounded, cloud
from rigging.mechanics.motion import Motion, Stroke, solve_motion, stroke
from rigging.mechanics.network import Network, Node, Pass, Rope
from rigging.mechanics.tension import corner_rows, solve_tensions, strand_ways
from rigging.mechanics.vectors import STILL, Vector
from rigging.quantities.faults import Fault, Refused
from rigging.quantities.ranges import Range, Strict, exactly

NodeName = Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9_]{0,15}$")]
HAND = "hand"


class HaulSystem(Strict):
    """A haul system: nodes by kind, inextensible rope pieces end to end.

    A node in the middle of a piece is a bend there; a node at an end is where the piece is tied or gripped.
    `station` runs from 0 at the load to 1 at the anchors (further back: above 1). `hand` is where people pull.
    `out_of_one`: it is built from one piece of its own, a sling or a cord, not from the line's rope.
    """

    id: Annotated[str, Field(min_length=1, max_length=120)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    nodes: Annotated[dict[NodeName, Literal["anchor", "block", "grab", "load"]], Field(max_length=24)]
    ropes: Annotated[list[Annotated[list[str], Field(min_length=2, max_length=24)]], Field(min_length=1, max_length=16)]
    station: dict[str, Annotated[float, Field(ge=0, le=3)]] = {}
    hand: Literal["away", "toward-load"] = "away"
    out_of_one: bool = False

    @model_validator(mode="after")
    def _whole(self) -> HaulSystem:
        for problem in _notation_problems(self):
            raise ValueError(problem)
        return self

    @cached_property
    def stations(self) -> dict[str, float]:
        """Where every node lies, 0 load to 1 anchors, in the first order in which it moves as one mechanism.

        Raises
        ------
        Refused
            If it does not.
        """
        network, _ = settled(self, {place.id: exactly(1.0) for place in bends(self)})
        return {name: node.at[0] for name, node in network.nodes.items() if name != HAND}

    @property
    def moving(self) -> list[str]:
        return [name for name, kind in self.nodes.items() if kind in ("grab", "block")]

    @property
    def load(self) -> str:
        return next(name for name, kind in self.nodes.items() if kind == "load")


def _notation_problems(system: HaulSystem) -> Iterator[str]:
    used = [name for piece in system.ropes for name in piece]
    for name in used:
        if name != HAND and name not in system.nodes:
            yield f"a rope names node {name}, which nodes does not list; add it to nodes or correct the rope"
    for name in system.nodes:
        if name not in used:
            yield f"no rope reaches node {name}; lead a rope to it or take it out"
    for name in system.station:
        if name not in system.nodes:
            yield f"station names node {name}, which nodes does not list; correct the name"
    if Counter(system.nodes.values())["load"] != 1:
        yield "there must be one load; name exactly one node as load"
    if used.count(HAND) != 1 or not any(HAND in (piece[0], piece[-1]) for piece in system.ropes):
        yield "the hand must hold one rope end; put hand once, at the end of one rope"
    for piece in system.ropes:
        if any(a == b for a, b in itertools.pairwise(piece)):
            yield f"rope {piece} names a node twice in a row; name each bend once"


@dataclass(frozen=True)
class BendPlace:
    """A bend of a system: its id, the node it is at, and its place on its rope."""

    id: str
    node: str
    rope: int
    index: int


def bends(system: HaulSystem) -> list[BendPlace]:
    """Every bend, in rope order. The id is the node's name, numbered where a node carries several."""
    places = [(name, r, i) for r, piece in enumerate(system.ropes) for i, name in enumerate(piece[1:-1])]
    many = Counter(name for name, _, _ in places)
    seen: Counter[str] = Counter()
    found = []
    for name, rope, index in places:
        seen[name] += 1
        found.append(BendPlace(name if many[name] == 1 else f"{name}.{seen[name]}", name, rope, index))
    return found


def station_orders(system: HaulSystem) -> Iterator[dict[str, float]]:
    """Stations of all nodes; those not given are spread evenly, first in the order the nodes are listed."""
    fixed = {name: system.station.get(name, 0.0 if kind == "load" else 1.0) for name, kind in system.nodes.items()}
    open_nodes = [name for name in system.moving if name not in system.station]
    steps = [(i + 1) / (len(open_nodes) + 1) for i in range(len(open_nodes))]
    for order in itertools.islice(itertools.permutations(open_nodes), 720):
        yield {**fixed, **dict(zip(order, steps, strict=True))}


def textbook_network(system: HaulSystem, eta: Mapping[str, Range], station: Mapping[str, float]) -> Network:
    """The system with all strands parallel on a unit length; `eta` by bend id."""
    axis: Vector = (1.0, 0.0, 0.0)
    nodes = {
        name: Node(name, kind, (station[name], 0.0, 0.0), STILL if kind == "anchor" else axis)
        for name, kind in system.nodes.items()
    }
    away = 1.0 if system.hand == "away" else -1.0
    nodes[HAND] = Node(HAND, "hands", (100.0 * away, 0.0, 0.0), (away, 0.0, 0.0))
    places = bends(system)
    ropes = tuple(
        Rope(tuple(piece), tuple(Pass(b.id, b.node, eta[b.id]) for b in places if b.rope == number))
        for number, piece in enumerate(system.ropes)
    )
    return Network(nodes, ropes)


def settled(system: HaulSystem, eta: Mapping[str, Range]) -> tuple[Network, Motion]:
    """The system's network and motion, finding an order for moving nodes whose station was not given.

    Raises
    ------
    Refused
        If it does not move as one mechanism, with the reason.
    """
    first: Refused | None = None
    for station in station_orders(system):
        network = textbook_network(system, eta, station)
        try:
            motion = solve_motion(network)
            solve_tensions(network, motion)
        except Refused as refused:
            first = first or refused
        else:
            return network, motion
    assert first is not None
    raise Refused(Fault(f"{system.id}.{fault.path}", fault.problem, fault.right) for fault in first.faults)


def stroke_of(system: HaulSystem, reach_m: float, clearance_m: float = 0.0) -> Stroke | None:
    """One haul of a system laid out over `reach_m`, station 1 at the anchor and 0 at the reach; None where nothing runs out.

    Raises
    ------
    Refused
        If it does not move as one mechanism.

    Examples
    --------
    A 3:1 whose grab is set the whole 6 m forward lifts 6 m less what hitch and pulley take up.

    >>> z = HaulSystem(id="z", name="3:1", nodes={"A": "anchor", "G": "grab", "L": "load"},
    ...                ropes=[["L", "G"], ["G", "A", "G", "hand"]], station={"G": 0.0})
    >>> found = stroke_of(z, 6.0, 0.4)
    >>> round(found.rise_m, 3), sorted(found.meets)
    (5.6, ['A', 'G'])
    """
    network, motion = settled(system, {place.id: exactly(1.0) for place in bends(system)})
    axis: Vector = (reach_m, 0.0, 0.0)
    nodes = {
        name: replace(node, at=(axis[0] * node.at[0], 0.0, 0.0)) if node.kind != "hands" else node
        for name, node in network.nodes.items()
    }
    return stroke(Network(nodes, network.ropes), motion, clearance_m)


@dataclass(frozen=True)
class Advantage:
    """What a system gives: ideal and actual advantage, tensions and anchor forces per unit of hand pull."""

    ideal: float
    actual: Range
    tensions: list[list[Range]]
    anchors: dict[str, Range]


def advantage(system: HaulSystem, eta: Mapping[str, Range]) -> Advantage:
    """Ideal and actual advantage of `system` with `eta` (share per half turn) at each bend id."""
    network, motion = settled(system, eta)
    _, tensions, gains = corner_rows(network, motion)
    one = exactly(1.0)
    strands = iter(bounded(column, one) for column in tensions.T)
    return Advantage(
        motion.ideal,
        bounded(gains, one),
        [[next(strands) for _ in row] for row in network.strands],
        {node.id: cloud(tensions @ strand_ways(network, {node.id}), one).size for node in network.of_kind("anchor")},
    )


def _fresh(name: str, taken: Mapping[str, str]) -> str:
    candidates = itertools.chain([name], (f"{name}{i}" for i in itertools.count(2)))
    return next(candidate for candidate in candidates if candidate not in taken)


def _hand_end(system: HaulSystem) -> tuple[int, list[str]]:
    """The piece people pull on, as its place and its nodes with the hand last."""
    for number, piece in enumerate(system.ropes):
        if HAND in (piece[0], piece[-1]):
            return number, list(piece if piece[-1] == HAND else reversed(piece))
    raise AssertionError("a checked system has a hand")


def add_redirect(system: HaulSystem) -> HaulSystem:
    """The same system with one more change of direction just before the hand."""
    number, piece = _hand_end(system)
    name = _fresh("R", system.nodes)
    turned: Literal["away", "toward-load"] = "toward-load" if system.hand == "away" else "away"
    station = dict(system.station) if turned == "toward-load" else {**system.station, name: 0.0}
    ropes = [list(p) for p in system.ropes]
    ropes[number] = [*piece[:-1], name, HAND]
    return HaulSystem(
        id=f"{system.id}+redirect", name=f"{system.name} + redirect", nodes={**system.nodes, name: "anchor"},
        ropes=ropes, station=station, hand=turned,
    )  # fmt: skip


def drop_redirect(system: HaulSystem) -> HaulSystem | None:
    """The system without its last change of direction, or None where the last bend is not at an anchor of its own."""
    number, piece = _hand_end(system)
    name = piece[-2]
    uses = sum(p.count(name) for p in system.ropes)
    if len(piece) < 3 or system.nodes[name] != "anchor" or uses != 1:
        return None
    ropes = [list(p) for p in system.ropes]
    ropes[number] = [*piece[:-2], HAND]
    return HaulSystem(
        id=f"{system.id}-straight"[:120], name=f"{system.name}, last redirect out"[:120],
        nodes={n: k for n, k in system.nodes.items() if n != name}, ropes=ropes,
        station={n: s for n, s in system.station.items() if n != name},
        hand="away" if system.hand == "toward-load" else "toward-load",
    )  # fmt: skip


def stack(base: HaulSystem, top: HaulSystem) -> HaulSystem:
    """`top` pulling on the haul strand of `base`, anchored on its own.

    The load of `top` becomes a grab on that strand; where `top` ties its load to a single grab, that grab
    takes its place. `top` is turned round where `base` is pulled towards the load.
    """
    top = _gripping(top)
    number, piece = _hand_end(base)
    spread = next(station_orders(base))
    forward = base.hand == "away"
    rim = spread[piece[-2]]
    # A tenth of the way from where the haul strand leaves, towards where it is pulled.
    far = 1.0 if forward else 0.0
    start = rim + 0.1 * (far - rim)
    span = far - start
    inner = next(station_orders(top))
    names: dict[str, str] = {HAND: HAND}
    nodes = dict(base.nodes)
    station = {n: s for n, s in spread.items() if base.nodes[n] in ("grab", "block") or n in base.station}
    for name, kind in top.nodes.items():
        names[name] = _fresh("C" if kind == "anchor" else "H", nodes)
        nodes[names[name]] = "block" if kind == "load" else kind
        station[names[name]] = start + span * inner[name]
    ropes = [list(p) for p in base.ropes]
    ropes[number] = [*piece[:-1], names[top.load]]
    ropes += [[names[name] for name in p] for p in top.ropes]
    hand: Literal["away", "toward-load"] = "away" if (top.hand == "away") == forward else "toward-load"
    return HaulSystem(id=f"{top.id}*{base.id}"[:120], name=f"{top.name} on {base.name}"[:120],
                      nodes=nodes, ropes=ropes, station=station, hand=hand)  # fmt: skip


def _gripping(top: HaulSystem) -> HaulSystem:
    """`top` with its load node merged into the one grab it is tied to, if it is."""
    ties = [p for p in top.ropes if top.load in p]
    if len(ties) != 1 or len(ties[0]) != 2 or HAND in ties[0]:
        return top
    grab = next(name for name in ties[0] if name != top.load)
    nodes = {n: ("load" if n == grab else k) for n, k in top.nodes.items() if n != top.load}
    return top.model_copy(
        update={
            "nodes": nodes,
            "ropes": [p for p in top.ropes if p is not ties[0]],
            "station": {**top.station, grab: 0.0},
        }
    )
