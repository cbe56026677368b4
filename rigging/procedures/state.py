"""A rig at one moment of a procedure: every rope with what is on it, in order from its first end.

The state is small on purpose: a step of the work changes one of these things, and what holds is asked of it anew. Slack is
kept, not length: where nothing is said, a piece lies as long as its way."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any, Literal, Protocol

from rigging.catalogue import catalogue
from rigging.lines.rig import LOAD
from rigging.lines.way import LineWay
from rigging.mechanics.holds import Kind, Lying, Piece, route_m
from rigging.mechanics.vectors import Point3, minus, plus, unit

ItemKind = Literal["tie", "hitch", "device", "bend", "edge", "hands"]
GROUND = "ground"
# What is said after the name of what belongs to each tension line that is worked with.
TRACKS = ("", "-2")
# A load is brought no nearer than this to the corner above it.
_SHORT_M = 0.3


@dataclass(frozen=True)
class Cord:
    """What fastens a hitch, a device or a pulley to `on`: its slack, how much a releasing hitch in it can still be let out, and
    whether it is clipped there; one that is not reaches `long_m`."""

    on: str
    slack_m: float = 0.0
    gives_m: float = 0.0
    clipped: bool = True
    long_m: float = 0.0


@dataclass(frozen=True)
class Item:
    """One thing along a rope.

    `to`: the node a tie ends at, or that a bend goes round when it has none of its own. `engaged`: tied, set, locked, held; else a
    hitch is open, a device runs, a hand is off. `before_m`: slack of the rope between it and the last thing that grips before it.
    """

    id: str
    kind: ItemKind
    what: str = ""
    to: str = ""
    engaged: bool = True
    before_m: float = 0.0
    cords: tuple[Cord, ...] = ()

    @property
    def node(self) -> str:
        return self.to or self.id

    @property
    def grips(self) -> bool:
        """Whether the rope can not run past it."""
        if self.kind == "device":
            return self.engaged or locks_itself(self.what)
        return self.kind in ("tie", "hitch", "hands") and self.engaged

    @property
    def on_the_way(self) -> bool:
        """Whether the rope is led by it at all: an open hitch rides along, a hand that is off leaves the strand loose."""
        return self.engaged or self.kind in ("device", "bend", "edge")


def locks_itself(device: str) -> bool:
    known = catalogue().devices.get(device)
    return known is not None and known.self_locking


class LaidOut(Protocol):
    """The plan's ground: where a line lies on it, and the rig that a moment of the plan is compiled to."""

    def way(self, line: str) -> LineWay: ...

    def place(self, line: str, out_m: float) -> Point3: ...

    def state(self, begins: str) -> State: ...


@dataclass(frozen=True)
class State:
    """Nodes, ropes by name (a rope's line is its name up to the first colon), anchors that stand still, temporary anchors with who
    guards each ("": nobody does, and it counts for nothing), people with the anchor that each is tied to ("": none), those
    at the lip; whether the load rests on the ground; where a join stands fast at a bend; how far one haul goes (None: no system is
    up), metres hauled since it was last set forward, and in all, and lowered."""

    along: Point3
    weight_kn: float
    at: dict[str, Point3]
    anchors: frozenset[str]
    ropes: dict[str, tuple[Item, ...]]
    guards: dict[str, str] = field(default_factory=dict)
    # What is still to be driven or dug: nothing is fastened to it before.
    unmade: frozenset[str] = frozenset()
    people: dict[str, str] = field(default_factory=dict)
    at_lip: frozenset[str] = frozenset()
    grounded: bool = False
    stands_at: str = ""
    stroke_m: float | None = None
    since_reset_m: float = 0.0
    hauled_m: float = 0.0
    lowered_m: float = 0.0
    ground: LaidOut | None = field(default=None, compare=False, repr=False)

    # Reading

    def items(self) -> Iterator[tuple[str, Item]]:
        for rope, row in self.ropes.items():
            for one in row:
                yield rope, one

    def find(self, id: str) -> tuple[str, Item] | None:
        """The rope that something is on, and the thing: the one that has a node of its own first."""
        found = [(rope, one) for rope, one in self.items() if one.id == id]
        return min(found, key=lambda row: bool(row[1].to), default=None)

    def with_only(self, line: str) -> State:
        """The ropes of one line alone, off the ground: what the load is eased onto is on its own rope."""
        kept = {name: row for name, row in self.ropes.items() if line_of(name) == line}
        return replace(self, ropes=kept, grounded=False)

    def released(self) -> State:
        """All hands off."""
        ropes = {
            name: tuple(replace(one, engaged=False) if one.kind == "hands" else one for one in row)
            for name, row in self.ropes.items()
        }
        return replace(self, ropes=ropes)

    # Changing

    def changed(self, id: str, **update: Any) -> State:
        return replace(
            self,
            ropes={
                name: tuple(replace(one, **update) if one.id == id else one for one in row)
                for name, row in self.ropes.items()
            },
        )

    def without(self, id: str) -> State:
        """Something taken off: the slack that lay before it then lies before the next thing."""
        return replace(self, ropes={name: _taken(row, id) for name, row in self.ropes.items()})

    def put(self, rope: str, item: Item, place: int, at: Point3 | None = None) -> State:
        row = self.ropes.get(rope, ())
        ropes = {**self.ropes, rope: (*row[:place], item, *row[place:])}
        return replace(self, ropes=ropes, at=self.at if at is None else {**self.at, item.id: at})

    def moved(self, up_m: float) -> State:
        """The load nearer by `up_m` to the corner above it, or down its own way where that is less than nothing."""
        here, corner = self.at[LOAD], self.at[self._corner()]
        down = (-self.along[0], -self.along[1], -self.along[2])
        way = unit(minus(corner, here)) if up_m > 0 and corner != here else unit(down)
        return replace(self, at={**self.at, LOAD: plus(here, way, up_m)})

    def to_corner_m(self) -> float:
        """How far the load is from the corner above it, a hand's breadth kept."""
        return max(0.0, route_m(self.at, (LOAD, self._corner())) - _SHORT_M)

    def _corner(self) -> str:
        """What stands still above the load: the first edge, else what its rope is fastened to."""
        row = next(iter(self.ropes.values()))
        still = (one.node for one in row[1:] if one.kind == "edge" or one.cords or one.to in self.anchors)
        return next((name for name in still if name in self.at), LOAD)

    # Asking

    def lying(self) -> Lying:
        """The rig as the question "what holds?" takes it."""
        kinds: dict[str, Kind] = {LOAD: "load", **dict.fromkeys(sorted(self.anchors), "anchor")}
        kinds.update({name: "anchor" if guard else "grab" for name, guard in self.guards.items()})
        used = [one for _, one in self.items() if one.on_the_way]
        kinds.update({one.id: _kind(one) for one in used if not one.to})
        # A rope tied to a block, or led round one, that nothing else says of.
        kinds = {**{one.to: "block" for one in used if one.to}, **kinds}
        pieces = [*self._strung(), *{piece.id: piece for piece in self._cords()}.values()]
        there = {LOAD, *(name for piece in pieces for name in piece.route)}
        kinds = {name: kind for name, kind in kinds.items() if name in there}
        at = {name: self.at[name] for name in kinds}
        if self.grounded:
            at[GROUND], kinds[GROUND] = plus(self.at[LOAD], self.along, -1.0), "anchor"
            pieces.append(Piece("ground under it", f"rope:{GROUND}", (LOAD, GROUND), route_m(at, (LOAD, GROUND))))
        return Lying(LOAD, self.along, self.weight_kn, at, kinds, tuple(pieces))

    def _strung(self) -> Iterator[Piece]:
        """Every rope cut at what grips it."""
        for name, row in self.ropes.items():
            route, slack, number = list[str](), 0.0, 1
            for one in row:
                slack += one.before_m
                if not one.on_the_way:
                    continue
                route.append(one.node)
                if not one.grips or len(route) == 1:
                    continue
                yield Piece(f"{name}:{number}", f"rope:{name}", tuple(route), route_m(self.at, route) + slack)
                route, slack, number = [one.node], 0.0, number + 1

    def _cords(self) -> Iterator[Piece]:
        for _, one in self.items():
            if one.kind == "hitch" and not one.engaged:
                continue
            for number, cord in enumerate(one.cords, start=1):
                if cord.clipped:
                    id = cord_name(one, number)
                    yield Piece(id, id, (one.node, cord.on), route_m(self.at, (one.node, cord.on)) + cord.slack_m)


def cord_name(item: Item, number: int = 1) -> str:
    """The piece that fastens something."""
    if item.kind != "hitch":
        return f"tie of {item.id}"
    return f"{item.id} cord" if number == 1 else f"{item.id} cord {number}"


def line_of(name: str) -> str:
    return name.partition(":")[0]


def _kind(item: Item) -> Kind:
    if item.kind == "edge":
        return "edge"
    if item.kind == "hands":
        return "hands"
    return "grab" if item.grips else "block"


def _taken(row: Iterable[Item], id: str) -> tuple[Item, ...]:
    kept: list[Item] = []
    slack = 0.0
    for one in row:
        if one.id == id:
            slack += one.before_m
        else:
            kept.append(replace(one, before_m=one.before_m + slack))
            slack = 0.0
    return tuple(kept)
