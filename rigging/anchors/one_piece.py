"""An anchor out of one piece: where it runs, what lies between what holds it, and what goes with a cut or with a knot undone.

The piece is stations in order, at features and at the working point, with a strand between each two. At some it is held, by a knot or a hitch; at the
others it only leads. A run is the strands between two stations that hold: one strand of it cut, or one of its ends free, and all of it runs out. Friction
where it leads is not counted on."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from rigging.anchors.wraps import method_of, strands_of
from rigging.document import Arrangement, Leg


@dataclass(frozen=True)
class Station:
    """Where the piece turns: at the feature of a leg (None: at the working point), held there or only led."""

    leg: int | None
    holds: bool


@dataclass(frozen=True)
class PieceKnot:
    """What can come undone: `where`, of which legs, the stations that it held, and the strands that it itself is in."""

    where: Literal["point", "end", "between", "feature", "join"]
    legs: tuple[int, ...]
    stations: frozenset[int]
    strands: frozenset[int] = frozenset()


@dataclass(frozen=True)
class Course:
    """The whole way of a piece; a `loop` comes back to its first station."""

    stations: tuple[Station, ...]
    loop: bool
    legs: int
    knots: tuple[PieceKnot, ...]

    @cached_property
    def strands(self) -> tuple[int, ...]:
        """The leg of each strand, in order."""
        ends = [*self.stations, self.stations[0]] if self.loop else self.stations
        return tuple(
            next(at.leg for at in pair if at.leg is not None) for pair in itertools.pairwise(ends)
        )  # fmt: skip

    def left(self, cut: int | None = None, undone: PieceKnot | None = None) -> tuple[int, ...]:
        """Strands that each leg still has with one strand cut, or a knot undone."""
        opened = undone.stations if undone else frozenset()
        broken = {cut} if cut is not None else set(undone.strands if undone else ())
        holds = [at.holds and n not in opened for n, at in enumerate(self.stations)]
        there = [0] * self.legs
        for run, held in self._runs(holds):
            if held and not broken & set(run):
                for strand in run:
                    there[self.strands[strand]] += 1
        return tuple(there)

    def _runs(self, holds: list[bool]) -> Iterator[tuple[list[int], bool]]:
        """Every run's strands, and whether it is held at both ends."""
        count, ends = len(self.strands), [n for n, one in enumerate(holds) if one]
        if self.loop:
            if not ends:
                yield list(range(count)), True
                return
            for at, on in zip(ends, [*ends[1:], ends[0] + count], strict=True):
                yield [n % count for n in range(at, on)], True
            return
        ends = sorted({0, *ends, count})
        for at, on in itertools.pairwise(ends):
            yield list(range(at, on)), holds[at] and holds[on]

    def lost(self, cut: int | None = None, undone: PieceKnot | None = None) -> tuple[int, ...]:
        """Legs that have no strand left then."""
        return tuple(leg for leg, left in enumerate(self.left(cut, undone)) if not left)

    def at_feature(self, number: int) -> bool:
        """Whether the strand of that number and the next one turn at a feature."""
        return self.stations[number + 1].leg is not None

    def worst_cut(self, of: int | None = None) -> int:
        """The strand whose cut takes away most legs, then most strands; of one leg's strands, or of all."""
        asked = [n for n, leg in enumerate(self.strands) if of in (None, leg)]
        return max(asked, key=lambda one: (len(self.lost(one)), -sum(self.left(one))))


def bights_of(leg: Leg) -> int:
    """How often the piece goes out to a leg's feature and comes back."""
    return max(1, strands_of(leg) // 2)


def course_of(arrangement: Arrangement) -> Course:
    """The way of an arrangement's piece.

    Raises
    ------
    ValueError
        If it is not made out of one piece.
    """
    piece, legs = arrangement.piece, arrangement.legs
    if piece is None:
        raise ValueError(f"{arrangement.name!r} is not made out of one piece")
    # Limiting knots jam on the slider: beyond them nothing runs out.
    point = Station(None, piece.closed != "slides" or arrangement.limit_m is not None)
    ends = [method_of(leg).in_piece == "end" for leg in legs]
    stations = [] if ends[0] else [point]
    for number, leg in enumerate(legs):
        for _ in range(bights_of(leg)):
            stations += [Station(number, method_of(leg).grips), point]
    if (ends[-1] and len(legs) > 1) or piece.joined:
        stations.pop()
    return Course(tuple(stations), piece.joined is not None, len(legs), tuple(_knots(arrangement, stations)))


def _knots(arrangement: Arrangement, stations: list[Station]) -> Iterator[PieceKnot]:
    piece = arrangement.piece
    assert piece is not None
    at_point = [n for n, one in enumerate(stations) if one.leg is None]
    if piece.closed == "one-knot":
        yield PieceKnot("point", (), frozenset(at_point))
    elif piece.closed == "leg-by-leg":
        count = len(stations)
        for n in at_point:
            beside = [stations[at % count].leg for at in (n - 1, n + 1) if piece.joined or 0 <= at < count]
            legs = tuple(dict.fromkeys(leg for leg in beside if leg is not None))
            yield PieceKnot("between" if len(beside) > 1 else "end", legs, frozenset([n]))
    for n, one in enumerate(stations):
        if one.leg is not None and one.holds:
            yield PieceKnot("feature", (one.leg,), frozenset([n]))
    if piece.joined:
        yield PieceKnot("join", (), frozenset(), frozenset([len(stations) - 1]))
