"""A figure over every corner of its inputs: the least and the most that it can be with each input anywhere in its range.

A strand's tension is a quotient of two expressions that are affine in each input by itself. With all inputs but one held, a
sum of strands as vectors therefore runs along a straight line as that input runs through its range. So, input after input,
every such sum lies in the hull of the sums at the corners of the box: its size, and its part along any direction, are most at a
corner; a part along a direction is least at one, too. The least size may lie inside: what is told for it is the distance from
nothing to the hull, which no input can come below (docs/method.md)."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from rigging.mechanics.vectors import Array, Vector
from rigging.quantities.ranges import Range

# Up to so many inputs every corner is asked; for more they are chosen by the slope of each figure in each input, and checked.
EVERY = 10
_HULL_STEPS, _HULL_EXACT = 600, 1e-12
# What is told as a bound is not undone by the last digits of a sum.
_ROUNDING = 1e-12


@dataclass(frozen=True)
class Box:
    """Inputs, each with its range: `low`, `expected`, `high` (k,)."""

    low: Array
    expected: Array
    high: Array

    @classmethod
    def of(cls, ranges: Sequence[Range]) -> Box:
        return cls(
            *(np.array([getattr(one, end) for one in ranges], dtype=float) for end in ("low", "expected", "high"))
        )

    @property
    def open(self) -> Array:
        """Whether each input is a range at all (k,)."""
        return np.asarray(self.high > self.low)

    def at(self, levels: Array) -> Array:
        """Values (c, k) at levels (c, k) of −1 low, 0 expected, 1 high."""
        return np.where(levels == 0, self.expected, np.where(levels > 0, self.high, self.low))


@lru_cache(maxsize=EVERY + 3)
def every_corner(count: int) -> Array:
    """Levels (2^k, k) of every corner of k inputs."""
    return np.array(list(itertools.product((-1.0, 1.0), repeat=count))).reshape(2**count, count)


@lru_cache(maxsize=EVERY + 3)
def ends_and_middles(count: int) -> Array:
    """Levels (3^k, k) of k inputs at either end and as expected."""
    return np.array(list(itertools.product((-1.0, 0.0, 1.0), repeat=count))).reshape(3**count, count)


# Between the places of a box that were asked a figure may go on by so much of its spread (measured, tests/reference/test_containment.py).
UNASKED = 0.003


def beyond(values: Array, corner: NDArray[np.bool_]) -> tuple[Array, Array]:
    """Least and most (f,) of figures (c, f) that need not be at a corner: where the middle of an input takes a figure past all
    `corner` rows (c,), the bound is moved on by as much again, and in any case by a little of their spread, as other places between
    were not asked."""
    ends = values[corner]
    low, high = np.nanmin(values, axis=0), np.nanmax(values, axis=0)
    little = UNASKED * (high - low)
    return low - (np.nanmin(ends, axis=0) - low) - little, high + (high - np.nanmax(ends, axis=0)) + little


def corners_of(open_: Array, figures: Callable[[Array], Array], every: int = EVERY) -> Array:
    """Levels (c, k) that bound every figure: the expected one, then all corners, or those that the figures ask for.

    Parameters
    ----------
    open_ : (k,) which inputs are ranges; the others stay as expected
    figures : the figures (c, f) at levels (c, k)
    every : up to so many inputs all corners are asked
    """
    inputs = np.flatnonzero(open_)

    def spread(levels: Array) -> Array:
        found = np.zeros((len(levels), len(open_)))
        found[:, inputs] = levels
        return found

    count = len(inputs)
    few = every_corner(count) if count <= every else chosen_corners(count, lambda levels: figures(spread(levels)))
    return np.concatenate([np.zeros((1, len(open_))), spread(few)])


def chosen_corners(count: int, figures: Callable[[Array], Array]) -> Array:
    """Corners (c, k) chosen by slope: for the most and the least of each figure the corner that its slopes in the inputs point
    to, then bettered by turning one input round after another until none betters it."""
    each = np.arange(count)
    singles = np.zeros((2 * count, count))
    singles[each, each], singles[count + each, each] = -1.0, 1.0
    slopes = figures(singles)
    rises = (slopes[count:] >= slopes[:count]).T
    pool = np.concatenate(
        [-np.ones((1, count)), np.ones((1, count)), np.where(rises, 1.0, -1.0), np.where(rises, -1.0, 1.0)]
    )
    pool = np.unique(pool, axis=0)
    values = figures(pool)
    settled: set[bytes] = set()
    while True:
        best = np.unique(np.concatenate([values.argmax(axis=0), values.argmin(axis=0)]))
        turning = [row for row in pool[best] if row.tobytes() not in settled]
        if not turning:
            return pool
        settled |= {row.tobytes() for row in turning}
        around = np.repeat(np.array(turning), count, axis=0)
        around[np.arange(len(around)), np.tile(each, len(turning))] *= -1.0
        pool = np.concatenate([pool, around])
        values = np.concatenate([values, figures(around)])


def least_size(points: Array) -> float:
    """Distance from nothing to the hull of points (c, d): a bound from below, exact to rounding where the search ends."""
    return _least_of_sum([points])


def _least_of_sum(parts: Sequence[Array]) -> float:
    """As `least_size` for all sums of a point out of each part (Gilbert's procedure on a Minkowski sum)."""

    def least_along(way: Array) -> Array:
        return np.sum([one[int((one @ way).argmin())] for one in parts], axis=0)  # type: ignore[no-any-return]

    at = np.sum([one[int(np.einsum("ci,ci->c", one, one).argmin())] for one in parts], axis=0)
    bound = 0.0
    for _ in range(_HULL_STEPS):
        size = float(np.sqrt(at @ at))
        if size < 1e-9:
            return 0.0
        corner = least_along(at)
        bound = max(bound, float(corner @ at) / size)
        step = corner - at
        gap = -float(step @ at)
        if gap <= _HULL_EXACT * size * size:
            break
        at = at + min(1.0, gap / float(step @ step)) * step
    return bound


def _most_of_sum(parts: Sequence[Array]) -> float:
    """The greatest size of a sum of a point out of each part: the sum that goes furthest along its own direction, from many starts."""
    if len(parts) == 1:
        return float(np.sqrt(np.einsum("ci,ci->c", parts[0], parts[0]).max()))
    best = 0.0
    for way in np.concatenate([_WAYS, [np.sum([one[0] for one in parts], axis=0)]]):
        size = 0.0
        while True:
            furthest = np.sum([one[int((one @ way).argmax())] for one in parts], axis=0)
            longer = float(np.sqrt(furthest @ furthest))
            if longer <= size * (1 + 1e-12):
                break
            size, way = longer, furthest
        best = max(best, size)
    return best


# Twenty-six directions: the faces, edges and corners of a cube.
_WAYS = np.array([way for way in itertools.product((-1.0, 0.0, 1.0), repeat=3) if any(way)])
_WAYS /= np.linalg.norm(_WAYS, axis=1)[:, None]


@dataclass(frozen=True)
class Summand:
    """What one line adds to a force: `points` (c, 3) per unit of a scale that lies in a range; the first is the expected one."""

    points: Array
    scale: Range

    def all(self) -> Array:
        """Its points at either end of the scale (2c, 3)."""
        if self.scale.low == self.scale.high:
            return self.points * self.scale.high
        return np.concatenate([self.points * self.scale.low, self.points * self.scale.high])


@dataclass(frozen=True)
class Cloud:
    """A force that is anywhere in the hull of what its lines add up to. `ways`: the sums that there can be, by how lines share."""

    expected: Vector
    ways: tuple[tuple[Summand, ...], ...]

    @cached_property
    def size(self) -> Range:
        """How great it is: a bound from below and one from above, in newtons."""
        points = [[part.points for part in way] for way in self.ways]
        high = max(
            _most_of_sum([one * part.scale.high for one, part in zip(rows, way, strict=True)])
            for rows, way in zip(points, self.ways, strict=True)
        )
        low = min(_least_of_sum([part.all() for part in way]) for way in self.ways)
        expected = float(np.sqrt(np.dot(self.expected, self.expected)))
        return Range(min(low * (1 - _ROUNDING), expected), expected, max(high, expected))

    @cached_property
    def along(self) -> Array:
        """Where it pulls to, a unit vector (3,): as expected, or where nothing is expected, as it pulls most."""
        vector = np.array(self.expected)
        if vector @ vector < 1e-12:
            rows = self.extremes
            vector = rows[int(np.einsum("mi,mi->m", rows, rows).argmax())]
        size = float(np.sqrt(vector @ vector))
        return vector / size if size > 1e-9 else np.array([1.0, 0.0, 0.0])

    @cached_property
    def extremes(self) -> Array:
        """The sums that go furthest along each of many directions (m, 3): the hull's corners, near enough, each once."""
        along = np.array(self.expected)
        size = float(np.sqrt(along @ along))
        ways = np.concatenate([_WAYS, [along / size]]) if size > 1e-9 else _WAYS
        found = []
        for way in self.ways:
            parts = [part.all() for part in way]
            found.append(np.sum([one[(one @ ways.T).argmax(axis=0)] for one in parts], axis=0))
        rows = np.concatenate(found)
        biggest = float(np.abs(rows).max()) or 1.0
        return rows[np.unique(np.round(rows / biggest, 6), axis=0, return_index=True)[1]]

    def plus(self, other: Cloud) -> Cloud:
        """Both together, each by itself."""
        expected = tuple(a + b for a, b in zip(self.expected, other.expected, strict=True))
        return Cloud(expected, tuple(a + b for a in self.ways for b in other.ways))  # type: ignore[arg-type]

    def parted(self, other: Cloud, mine: Sequence[float], its: Sequence[float]) -> Cloud:
        """Both together where what one bears less the other bears more: scales times `mine` and `its`, way by way."""
        expected = tuple(a + b for a, b in zip(self.expected, other.expected, strict=True))
        ways = tuple(
            tuple(Summand(one.points * x, one.scale) for one in a)
            + tuple(Summand(one.points * y, one.scale) for one in b)
            for x, y in zip(mine, its, strict=True)
            for a in self.ways
            for b in other.ways
        )
        return Cloud(expected, ways)  # type: ignore[arg-type]


def cloud(points: Array, scale: Range) -> Cloud:
    """The force of one line: `points` (c, 3) per unit of `scale`, the first the expected one."""
    x, y, z = (float(one) for one in points[0] * scale.expected)
    return Cloud((x, y, z), ((Summand(points, scale),),))


def bounded(values: Array, scale: Range) -> Range:
    """The range of what is `values` (c,) ≥ 0 per unit of `scale` ≥ 0, the first as expected."""
    low, expected, high = (
        float(values.min()) * scale.low,
        float(values[0]) * scale.expected,
        float(values.max()) * scale.high,
    )
    return Range(min(low, expected), expected, max(high, expected))
