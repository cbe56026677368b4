"""What holds, and what backs it up.

Rope does not stretch: a piece may be as long as its route where things lie now, plus its slack, and no longer. So the
question "what holds?" is convex: move the load as far along its way a as every piece's length allows,

    max s   such that   p_L = p_L⁰ + s·a   and   Σ |p_i − p_{i+1}| ≤ ℓ   for every piece.

The optimum is the drop before something holds; unbounded, the load falls. The pieces with a multiplier stop it, and the
multipliers are their tensions without friction. With a part taken away the same question gives the drop onto the
backup. Sums of Euclidean norms make it a second-order cone programme (any text on convex optimisation, e.g. Boyd and
Vandenberghe, 2004, 4.4.2); Clarabel solves it."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from rigging.mechanics.vectors import Array, Point3, plus, unit
from rigging.quantities.ranges import Strict

if TYPE_CHECKING:
    from rigging.mechanics.cones import Way

Kind = Literal["anchor", "edge", "grab", "block", "load", "hands"]
FREE = frozenset({"grab", "block", "load"})
HANDS = "hands"
FAST = frozenset({"anchor", HANDS})
# A constraint with more room than this at the optimum is idle: without it the optimum is the same.
_IDLE_M = 1e-4
_BEARS = 1e-4


class LyingNode(Strict):
    """A node where it lies now, metres. `edge` only leads; `grab`, `block` and `load` are free to move."""

    at: Point3
    kind: Kind = "anchor"


class LyingPiece(Strict):
    """A piece of rope, cord or sling along its route, with `slack_m` to spare; `rope` is the rope it is part of."""

    id: Annotated[str, Field(min_length=1, max_length=120)]
    rope: str = ""
    route: Annotated[list[str], Field(min_length=2, max_length=60)]
    slack_m: Annotated[float, Field(ge=0, le=2000)] = 0


class LyingLoad(Strict):
    """The node that is the load, its weight, and the way it would go."""

    node: str
    weight_kN: Annotated[float, Field(gt=0, le=1000)] = 2.0
    along: Point3 = (0.0, 0.0, -1.0)

    @model_validator(mode="after")
    def _some_way(self) -> LyingLoad:
        if np.linalg.norm(self.along) < 1e-9:
            raise ValueError("along has no length; give a direction such as [0, 0, -1]")
        return self


class LyingRig(Strict):
    """A rig as it lies: what the question is asked of, and the file that the command line reads."""

    load: LyingLoad
    nodes: Annotated[dict[str, LyingNode], Field(min_length=1, max_length=200)]
    pieces: Annotated[list[LyingPiece], Field(max_length=400)]

    @model_validator(mode="after")
    def _whole(self) -> LyingRig:
        ids = [piece.id for piece in self.pieces]
        twice = next((one for one, count in Counter([*ids, *self.nodes, HANDS]).items() if count > 1), None)
        if twice is not None:
            raise ValueError(f"{twice!r} names two parts; give every piece and node a name of its own, hands to none")
        for number, piece in enumerate(self.pieces):
            stray = next((name for name in piece.route if name not in self.nodes), None)
            if stray is not None:
                raise ValueError(f"pieces[{number}].route names {stray!r}, which nodes does not list; add it to nodes")
        loads = [name for name, node in self.nodes.items() if node.kind == "load"]
        if self.nodes.get(self.load.node, LyingNode(at=(0, 0, 0))).kind != "load" or len(loads) != 1:
            raise ValueError(
                f"load.node names {self.load.node!r}, which is not the one node of kind load; name that node"
            )
        return self


@dataclass(frozen=True)
class Piece:
    """A piece that may be `length_m` long along `route`."""

    id: str
    rope: str
    route: tuple[str, ...]
    length_m: float

    @property
    def ends(self) -> tuple[str, str]:
        return self.route[0], self.route[-1]


@dataclass(frozen=True)
class Lying:
    """Nodes and pieces of one question. `at`: (3,) metres by name; `kinds` by name.

    Examples
    --------
    A load on two ropes from one anchor, the second with 0.3 m to spare. Cut the first: it drops 0.3 m. The anchor is
    what both hang on.

    >>> at = {"A": (0, 0, 0), "L": (0, 0, -10)}
    >>> kinds = {"A": "anchor", "L": "load"}
    >>> pieces = (Piece("first", "1", ("A", "L"), 10.0), Piece("second", "2", ("A", "L"), 10.3))
    >>> rig = Lying("L", (0, 0, -1), 2.0, at, kinds, pieces)
    >>> found = study(rig)
    >>> round(found.drop_m, 3), found.holds
    (0.0, ('first',))
    >>> {part: None if far is None else round(far, 3) for part, far in found.without.items()}
    {'first': 0.3, 'second': 0.0, 'A': None}
    """

    load: str
    along: Point3
    weight_kn: float
    at: dict[str, Point3]
    kinds: dict[str, Kind]
    pieces: tuple[Piece, ...]

    def free(self, name: str) -> bool:
        return self.kinds[name] in FREE

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """Everything that can be taken away: pieces, anchors, grabs and blocks, and the hands taken as one."""
        nodes = [name for name, kind in self.kinds.items() if kind in ("anchor", "grab", "block")]
        held = any(self.kinds[end] == HANDS for piece in self.pieces for end in piece.ends)
        return (*(piece.id for piece in self.pieces), *nodes, *([HANDS] if held else []))

    @cached_property
    def bearing(self) -> tuple[Piece, ...]:
        """The pieces that can hold anything.

        Passes and edges only lead. A piece whose end is loose (at a free node with nothing else on it) holds nothing, nor
        do pieces that hang together through free nodes with no end tied at an anchor or held by hands.
        """
        return _bearing(self)

    def without(self, part: str) -> Lying:
        """The same with a part taken away: a piece cut, hands off, an anchor gone, a grab slipped, a block broken."""
        if part == HANDS:
            kept = tuple(p for p in self.pieces if not any(self.kinds[end] == HANDS for end in p.ends))
            return replace(self, pieces=kept)
        if part not in self.kinds:
            return replace(self, pieces=tuple(p for p in self.pieces if p.id != part))
        kind = self.kinds[part]
        if kind == "anchor":
            return replace(self, kinds={**self.kinds, part: "grab"})
        pieces = _slipped(self.pieces, part) if kind == "grab" else self.pieces
        ended = [p for p in pieces if part not in p.ends]
        return replace(self, pieces=tuple(replace(p, route=_straight_on(p.route, part)) for p in ended))


def _straight_on(route: tuple[str, ...], gone: str) -> tuple[str, ...]:
    kept = [name for name in route if name != gone]
    return tuple(name for name, _ in itertools.groupby(kept))


def _slipped(pieces: tuple[Piece, ...], grab: str) -> tuple[Piece, ...]:
    """The two pieces of the rope that the grab was on, made one."""
    by_rope: dict[str, list[Piece]] = {}
    for piece in pieces:
        if grab in piece.ends:
            by_rope.setdefault(piece.rope, []).append(piece)
    found = list(pieces)
    for here in by_rope.values():
        if len(here) != 2:
            continue
        a, b = here
        first = a.route if a.route[-1] == grab else a.route[::-1]
        second = b.route if b.route[0] == grab else b.route[::-1]
        joined = Piece(a.id, a.rope, first[:-1] + second[1:], a.length_m + b.length_m)
        found = [joined if piece is a else piece for piece in found if piece is not b]
    return tuple(found)


def lying(rig: LyingRig) -> Lying:
    """The question that a file asks."""
    at = {name: node.at for name, node in rig.nodes.items()}
    pieces = tuple(
        Piece(piece.id, piece.rope or piece.id, tuple(piece.route), route_m(at, piece.route) + piece.slack_m)
        for piece in rig.pieces
    )
    kinds = {name: node.kind for name, node in rig.nodes.items()}
    return Lying(rig.load.node, rig.load.along, rig.load.weight_kN, at, kinds, pieces)


def route_m(at: dict[str, Point3], route: Iterable[str]) -> float:
    """Length of a route where its nodes lie.

    >>> route_m({"A": (0, 0, 0), "B": (3, 4, 0), "C": (3, 4, 12)}, ["A", "B", "C"])
    17.0
    """
    return math.fsum(math.dist(at[a], at[b]) for a, b in itertools.pairwise(route))


def _bearing(rig: Lying) -> tuple[Piece, ...]:
    pieces = list(rig.pieces)
    loose = {name for name, kind in rig.kinds.items() if kind in FREE and name != rig.load}
    while True:
        touched = Counter(name for piece in pieces for name in piece.route)
        alone = {name for name in loose if touched[name] < 2}
        tight = [piece for piece in pieces if alone.isdisjoint(piece.ends)] if alone else pieces
        tight = _tied(rig, tight, loose)
        if len(tight) == len(pieces):
            return tuple(pieces)
        pieces = tight


def _tied(rig: Lying, pieces: list[Piece], loose: set[str]) -> list[Piece]:
    """Pieces of every group that has an end made fast somewhere."""
    through = {name: [n for n, piece in enumerate(pieces) if name in piece.route] for name in loose}
    reached: set[int] = set()
    ahead = [n for n, p in enumerate(pieces) if rig.kinds[p.route[0]] in FAST or rig.kinds[p.route[-1]] in FAST]
    while ahead:
        here = ahead.pop()
        if here not in reached:
            reached.add(here)
            ahead += [one for name in loose.intersection(pieces[here].route) for one in through[name]]
    return [piece for n, piece in enumerate(pieces) if n in reached]


@dataclass(frozen=True)
class Drop:
    """How far the load goes (None: it falls), each piece's tension in kN without friction (0: not bearing), how much of
    it is left over in metres, and where every node then lies."""

    drop_m: float | None
    tensions_kn: dict[str, float]
    spare_m: dict[str, float]
    at: dict[str, Point3]


def drop(rig: Lying) -> Drop:
    """The load moved as far along its way as the pieces allow.

    >>> at = {"A": (0, 0, 0), "L": (0, 0, -10)}
    >>> rig = Lying("L", (0, 0, -1), 2.0, at, {"A": "anchor", "L": "load"}, (Piece("rope", "rope", ("A", "L"), 10.5),))
    >>> found = drop(rig)
    >>> round(found.drop_m, 3), round(found.tensions_kn["rope"], 3)
    (0.5, 2.0)
    """
    pieces = [piece for piece in rig.bearing if any(rig.free(name) for name in piece.route)]
    if not any(rig.load in piece.route for piece in pieces):
        return Drop(None, {}, {}, rig.at)
    used = dict.fromkeys(n for p in pieces for n in p.route)
    names = tuple(n for n in used if rig.free(n) and n != rig.load)
    spots = tuple((name, rig.at[name]) for name in used)
    found = _longest(spots, names, tuple((p.route, p.length_m) for p in pieces), rig.load, rig.along)
    if found is None:
        return Drop(None, {}, {}, rig.at)
    way = unit(rig.along)
    at = {**rig.at, **{name: _point(spot) for name, spot in zip(names, found.spots, strict=True)}}
    at[rig.load] = plus(rig.at[rig.load], way, found.far_m)
    tensions = {p.id: float(pull) * rig.weight_kn for p, pull in zip(pieces, found.multipliers, strict=True)}
    spare = {p.id: p.length_m - route_m(at, p.route) for p in pieces}
    return Drop(max(0.0, found.far_m), tensions, spare, at)


@lru_cache(maxsize=20_000)
def _longest(
    at: tuple[tuple[str, Point3], ...],
    names: tuple[str, ...],
    pieces: tuple[tuple[tuple[str, ...], float], ...],
    load: str,
    along: Point3,
) -> Way | None:
    """The programme solved; many parts taken away leave the same pieces holding, and are the same question."""
    from rigging.mechanics.cones import longest_way

    return longest_way(dict(at), list(names), pieces, load, along)


def _point(spot: Array) -> Point3:
    return float(spot[0]), float(spot[1]), float(spot[2])


@dataclass(frozen=True)
class Holds:
    """The whole study of a rig: `settled` says what bears it and where its nodes then lie; what is asked of `parts` taken away is worked
    out when it is asked for."""

    rig: Lying
    settled: Drop
    parts: tuple[str, ...]

    @property
    def drop_m(self) -> float | None:
        """How far the load goes as it is; None: it falls."""
        return self.settled.drop_m

    @property
    def holds(self) -> tuple[str, ...]:
        """What bears the load."""
        return bears(self.settled, self.rig.weight_kn)

    @cached_property
    def without(self) -> dict[str, float | None]:
        """For every part the further drop when it is taken away; None: nothing holds."""
        return {part: further(self.rig, self.settled, part) for part in self.parts}

    @property
    def single_points(self) -> tuple[str, ...]:
        """The parts without which nothing holds."""
        return tuple(sorted(part for part, far in self.without.items() if far is None))


def bears(found: Drop, weight_kn: float) -> tuple[str, ...]:
    """Pieces that bear the load, in their order."""
    return tuple(name for name, pull in found.tensions_kn.items() if pull > _BEARS * weight_kn)


def study(rig: Lying, parts: Iterable[str] | None = None) -> Holds:
    """What holds, and with each part taken away in turn (all of them unless `parts` names some)."""
    return Holds(rig, drop(rig), rig.parts if parts is None else tuple(parts))


def further(rig: Lying, whole: Drop, part: str) -> float | None:
    """How much further the load goes with a part taken away."""
    if whole.drop_m is None:
        return None
    left = rig.without(part)
    if _nothing_lost(rig, left, part, whole):
        return 0.0
    there = drop(left).drop_m
    return None if there is None else max(0.0, there - whole.drop_m)


def _nothing_lost(rig: Lying, left: Lying, part: str, whole: Drop) -> bool:
    """Whether only idle pieces went or were loosened: the optimum lies between that of the rig and that without all of them, and by
    convexity those are the same."""
    kept = set(left.bearing)
    touched = (p for p in rig.bearing if p not in kept or part in p.route)
    return all(whole.spare_m.get(p.id, math.inf) > _IDLE_M for p in touched)
