"""Curves in space: ropes and what they go round; where they cross as one looks at them, and the code of that."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse

# A rope's own thickness in the drawing.
THICK = 0.3
# Two places of one rope closer along it than this are neighbours, not one part against another.
_NEAR = 1.6
_HAIR = 1e-4
_PACE = 2.5


@dataclass(frozen=True)
class Strand:
    """A rope or cord, or what it goes round (`solid`): `path` (n, 3), x to the right, y up, z towards whoever looks. `ends`: what its two ends are;
    `closed`: it has none."""

    id: str
    path: Array
    ends: tuple[str, str] = ("", "")
    solid: bool = False
    closed: bool = False


@dataclass(frozen=True)
class Crossing:
    """Where one looks at two parts on top of each other: which strand passes over and which under, each with how far along it (in points)."""

    over: tuple[int, float]
    under: tuple[int, float]
    # Which way the over one goes as seen along the under one: to the left, or to the right.
    leftward: bool


# A planar diagram code: four arcs at each crossing, counter-clockwise from the one that comes in underneath.
Code = list[tuple[int, int, int, int]]


def smooth(path: Array, per_point: int = 4, closed: bool = False) -> Array:
    """A curve (m, 3) through points (n, 3): centripetal Catmull-Rom spline (any text on curves), which makes no loops of its own."""
    path = path if closed else _paced(path)
    around = (
        np.concatenate([path[-1:], path, path[:2]])
        if closed
        else np.concatenate([2 * path[:1] - path[1:2], path, 2 * path[-1:] - path[-2:-1]])
    )
    found = []
    for a, b, c, d in zip(around, around[1:], around[2:], around[3:], strict=False):
        found.append(_spanned(a, b, c, d, per_point))
    return np.concatenate([*found, path[:1] if closed else path[-1:]])


def _paced(path: Array) -> Array:
    """With places put into long straight stretches, so that they stay straight."""
    found = [path[:1]]
    for a, b in itertools.pairwise(path):
        count = max(1, math.ceil(float(np.linalg.norm(b - a)) / _PACE))
        found.append(a + (b - a) * np.linspace(0, 1, count + 1)[1:, None])
    return np.concatenate(found)


def _spanned(a: Array, b: Array, c: Array, d: Array, count: int) -> Array:
    knots = np.concatenate(
        [[0.0], np.cumsum([math.sqrt(max(1e-9, float(np.linalg.norm(q - p)))) for p, q in ((a, b), (b, c), (c, d))])]
    )
    t = np.linspace(knots[1], knots[2], count, endpoint=False)[:, None]

    def between(p: Array, q: Array, low: float, high: float) -> Array:
        return (high - t) / (high - low) * p + (t - low) / (high - low) * q

    first = [between(p, q, knots[n], knots[n + 1]) for n, (p, q) in enumerate(((a, b), (b, c), (c, d)))]
    second = [between(first[n], first[n + 1], knots[n], knots[n + 2]) for n in range(2)]
    return np.asarray(between(second[0], second[1], knots[1], knots[2]))


def along(path: Array) -> Array:
    """How far along a path each of its places lies (n,)."""
    return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])


def come_to(curve: Array, upto: float) -> int:
    """How many places of a curve lie within a share of its length, at least two."""
    lengths = along(curve)
    return max(2, int((lengths <= upto * lengths[-1] + 1e-9).sum()))


def cuts_itself(strands: Sequence[Strand]) -> tuple[str, str] | None:
    """Two strands, or one and itself, that come closer than the rope is thick; None where none do."""
    curves = [smooth(one.path, 6, one.closed) for one in strands]
    lengths = [along(one) for one in curves]
    for a, b in itertools.combinations_with_replacement(range(len(curves)), 2):
        # A ring and the bar that it sits on are one piece.
        if strands[a].solid and strands[b].solid:
            continue
        apart = np.linalg.norm(curves[a][:, None] - curves[b][None], axis=2)
        if a == b:
            between = np.abs(lengths[a][:, None] - lengths[a][None])
            if strands[a].closed:
                between = np.minimum(between, lengths[a][-1] - between)
            apart = np.where(between < _NEAR, np.inf, apart)
        if apart.min() < THICK * 0.9:
            return strands[a].id, strands[b].id
    return None


def crossings(strands: Sequence[Strand]) -> list[Crossing]:
    """Every place where two parts lie on top of each other; what ropes go round is one piece of metal or wood.

    Raises
    ------
    Refused
        If two parts meet at one height, so that neither is over.
    """
    found, polygons = [], [_polygon(one) for one in strands]
    for a, b in itertools.combinations_with_replacement(range(len(strands)), 2):
        if strands[a].solid and strands[b].solid:
            continue
        for at, other, apart in _meetings(polygons[a], polygons[b], a == b, strands[a].closed):
            if abs(apart) < 1e-6:
                raise refuse(
                    f"{strands[a].id}.path", f"it meets {strands[b].id} at one height", "let one of them pass over"
                )
            one, two = (a, at), (b, other)
            way = [polygons[n][int(far) + 1] - polygons[n][int(far)] for n, far in (one, two)]
            over, under = (one, two) if apart > 0 else (two, one)
            ahead, across = (way[1], way[0]) if apart > 0 else (way[0], way[1])
            found.append(Crossing(over, under, bool(ahead[0] * across[1] - ahead[1] * across[0] > 0)))
    return found


def _polygon(strand: Strand) -> Array:
    """Its points, a hair beside where they are: two parts that meet at a corner of each then cross on either side of it."""
    points = np.concatenate([strand.path, strand.path[:1]]) if strand.closed else strand.path.copy()
    number = np.arange(len(points) - 1 if strand.closed else len(points))
    points[number, 0] += _HAIR * np.sin(12.9898 * number + 1)
    points[number, 1] += _HAIR * np.sin(78.233 * number + 2)
    if strand.closed:
        points[-1] = points[0]
    return np.asarray(points)


def _meetings(a: Array, b: Array, same: bool, closed: bool) -> Iterator[tuple[float, float, float]]:
    """Where two polygons meet as one looks at them: how far along each (in points), and how much higher the first is there."""
    p, r, q, s = a[:-1, None], np.diff(a, axis=0)[:, None], b[None, :-1], np.diff(b, axis=0)[None]
    area = r[..., 0] * s[..., 1] - r[..., 1] * s[..., 0]
    flat = np.abs(area) < 1e-12
    whole = np.where(flat, 1.0, area)
    t = ((q[..., 0] - p[..., 0]) * s[..., 1] - (q[..., 1] - p[..., 1]) * s[..., 0]) / whole
    u = ((q[..., 0] - p[..., 0]) * r[..., 1] - (q[..., 1] - p[..., 1]) * r[..., 0]) / whole
    meet = ~flat & (t >= 0) & (t < 1) & (u >= 0) & (u < 1)
    if same:
        row, column = np.indices(meet.shape)
        meet &= column > row + 1
        if closed:
            meet[0, -1] = False
    for i, j in np.argwhere(meet).tolist():
        apart = a[i, 2] + t[i, j] * r[i, 0, 2] - b[j, 2] - u[i, j] * s[0, j, 2]
        yield i + float(t[i, j]), j + float(u[i, j]), float(apart)


def passes(strands: Sequence[Strand]) -> list[list[tuple[str, bool]]]:
    """Of each rope, from its first end: what it meets as one looks at it, and whether it passes over that; what it goes round among it."""
    found: list[list[tuple[float, str, bool]]] = [[] for _ in strands]
    for one in crossings(strands):
        (over, at), (under, below) = one.over, one.under
        found[over].append((at, strands[under].id, True))
        found[under].append((below, strands[over].id, False))
    return [
        [(id, over) for _, id, over in sorted(rows)]
        for rows, strand in zip(found, strands, strict=True)
        if not strand.solid
    ]


def closed_outside(strands: Sequence[Strand]) -> list[Strand]:
    """Every strand that has ends with these led out and joined outside the drawing, each further out and nearer to whoever looks than the one before; an
    end inside the drawing is led out over all that is there."""
    reach = 1.5 * max(float(np.abs(one.path[:, :2]).max()) for one in strands) + 2
    high = max(float(np.abs(one.path[:, 2]).max()) for one in strands) + 2
    found: list[Strand] = []
    for number, one in enumerate(strands):
        if one.closed:
            found.append(one)
            continue
        far, up = reach + number, high + number
        first, last = _led_out(one.path[0], one.path[1], far, up), _led_out(one.path[-1], one.path[-2], far, up)
        joined = np.concatenate([one.path, [last], _round(last, first, up), [first]])
        found.append(Strand(one.id, joined, one.ends, one.solid, True))
    return found


def _led_out(end: Array, before: Array, far: float, up: float) -> Array:
    """On from an end, the way it goes, to so far from the middle."""
    way = (end - before)[:2] / max(1e-9, float(np.linalg.norm((end - before)[:2])))
    along = float(end[:2] @ way)
    reach = -along + math.sqrt(max(0.0, along * along + far * far - float(end[:2] @ end[:2])))
    x, y = end[:2] + reach * way
    return np.array([x, y, up])


def _round(start: Array, end: Array, up: float) -> Array:
    """From one place to another round the outside, the short way."""
    a, b = math.atan2(start[1], start[0]), math.atan2(end[1], end[0])
    turn = (b - a + math.pi) % (2 * math.pi) - math.pi
    far = float(np.linalg.norm(start[:2]))
    angles = a + turn * np.linspace(0, 1, 14)[1:-1]
    return np.stack([far * np.cos(angles), far * np.sin(angles), np.full(len(angles), up)], axis=1)


def code_of(strands: Sequence[Strand]) -> Code:
    """The planar diagram code of ropes closed outside the drawing, what they go round left out; empty where nothing crosses.

    Arcs are numbered along each rope in order. References: any text on knots; D. Bar-Natan's notation as knot tables use it, from memory.
    """
    ropes = closed_outside([one for one in strands if not one.solid])
    found = crossings(ropes)
    passes: list[list[tuple[float, int, bool]]] = [[] for _ in ropes]
    for number, one in enumerate(found):
        passes[one.over[0]].append((one.over[1], number, True))
        passes[one.under[0]].append((one.under[1], number, False))
    arcs: dict[tuple[int, bool], tuple[int, int]] = {}
    begin = 1
    for rope in passes:
        rope.sort()
        count = len(rope)
        for place, (_, number, over) in enumerate(rope):
            arcs[number, over] = (begin + place, begin + (place + 1) % count)
        begin += count
    code = []
    for number, one in enumerate(found):
        (into, out), (a, b) = arcs[number, False], arcs[number, True]
        # From below on the way in: to the right, on, to the left.
        code.append((into, a, out, b) if one.leftward else (into, b, out, a))
    return code
