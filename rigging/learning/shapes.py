"""Shapes that knots are made of: an end twisted round its own rope and tucked, wraps round something, the same doubled; each drawn as far as its end
has come by then."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from rigging.learning.curves import along
from rigging.mechanics.vectors import Array

# Rope beside rope.
BESIDE = 0.24


def through(points: Iterable[Iterable[float]]) -> Array:
    """A path through points (x, y) or (x, y, z)."""
    return np.array([[*one, 0.0][:3] for one in points], dtype=float)


def twisted(half_turns: int, tucked: Sequence[float] | None = None) -> Array:
    """A bight twisted by half turns, and the end tucked through it: one an overhand, two a figure-eight, three a figure-nine. `tucked`: over (1) or
    under (−1) where the end goes into the bight and out of it (left out, as it holds)."""
    low = -1.2 * (half_turns - 1)
    standing = 1 if half_turns % 2 == 0 else -1
    levels = [-1.2 * number for number in range(half_turns - 1, -1, -1)]
    sign = -1.0
    path: list[tuple[float, float, float]] = [(0.7 * standing, low - 4, 0), (0.7 * standing, low - 0.7, 0)]
    signs: list[float] = []
    side = standing
    for y in levels:
        path.append((0, y, sign))
        signs.append(sign)
        side, sign = -side, -sign
        path.append((0.7 * side, y + 0.6, 0)) if y < 0 else None
    right, left = sign, -sign
    path += [
        (0.9, 0.9, 0),
        (1.1, 1.7, right),
        (0.8, 2.7, 0),
        (0, 3.1, 0),
        (-0.8, 2.7, 0),
        (-1.1, 1.7, left),
        (-0.9, 0.9, 0),
    ]
    side = -1
    for y, before in zip(reversed(levels), reversed(signs), strict=True):
        path.append((0, y, -before))
        side = -side
        path.append((0.7 * side, y - 0.6, 0)) if y > low else None
    near = -right if side > 0 else -left
    into, out = tucked or (near, -near)
    # Laid over both, it comes and goes above them.
    before, after = (0.6 * one if abs(one) > 1 else 0.0 for one in (into, out))
    path += [
        (0.7 * side, low - 0.7, 0), (1.5 * side, low - 0.9, 0), (2.1 * side, low / 2 + 0.2, 0), (1.9 * side, 1.3, before), (1.1 * side, 1.65, into), (0, 1.75, (into + out) / 2),
        (-1.1 * side, 1.65, out), (-2.4 * side, 1.8, after), (-4 * side, 1.9, 0),
    ]  # fmt: skip
    return through(path)


def cut(path: Array, upto: float) -> Array:
    """A path as far as a share of its length."""
    if upto >= 1:
        return path
    lengths = along(path)
    far = upto * lengths[-1]
    at = int(np.searchsorted(lengths, far)) - 1
    share = (far - lengths[at]) / (lengths[at + 1] - lengths[at])
    return np.concatenate([path[: at + 1], [path[at] + share * (path[at + 1] - path[at])]])


def beside(path: Array, by: float) -> Array:
    """A path led along another, so far to its left."""
    ways = np.gradient(path[:, :2], axis=0)
    ways /= np.maximum(np.linalg.norm(ways, axis=1), 1e-9)[:, None]
    found = path.copy()
    found[:, 0] -= by * ways[:, 1]
    found[:, 1] += by * ways[:, 0]
    return found


def on_a_bight(path: Array, crossed_at: int | None = None, by: float = BESIDE) -> Array:
    """The same knot with its rope doubled, the bight where the end was: from the standing part out, round, and back beside itself, each so far from
    the middle. `crossed_at`: a point after which the two have changed sides."""
    out, back = beside(path, by), beside(path, -by)
    if crossed_at is not None:
        out, back = (
            np.concatenate([out[:crossed_at], back[crossed_at:]]),
            np.concatenate([back[:crossed_at], out[crossed_at:]]),
        )
        out[crossed_at - 1, 2] += 0.6
        back[crossed_at - 1, 2] -= 0.6
    way = path[-1, :2] - path[-2, :2]
    way /= np.linalg.norm(way)
    left = np.array([-way[1], way[0]]) * (1 if crossed_at is None else -1)
    long, wide = 1 + 1.3 * (by - BESIDE), by + 0.46
    eye = [(0.8, wide - 0.1), (1.8, wide), (2.6, 0.0), (1.8, -wide), (0.8, 0.1 - wide)]
    return np.concatenate(
        [out, through([path[-1, :2] + long * on * way + aside * left for on, aside in eye]), back[::-1]]
    )


def slipped(half_turns: int, tucked: Sequence[float] | None = None) -> Array:
    """The end tucked through its bight as a bight of its own, so that one pull undoes it."""
    path = twisted(half_turns, tucked)
    side = float(np.sign(path[-9, 0]))
    into, out = path[-5, 2], path[-3, 2]
    back = [
        (-3.1 * side, 1.55, 0), (-2.4 * side, 1.3, 0), (-1.05 * side, 1.22, out), (0, 1.27, (into + out) / 2), (1.0 * side, 1.17, into),
        (2.0 * side, 0.9, 1.1), (3.2 * side, 0.7, 0.4), (4.6 * side, 0.5, 0),
    ]  # fmt: skip
    return np.concatenate([path[:-1], through(back)])


def coil(turns: int, x: float, step: float, high: float) -> list[tuple[float, float, float]]:
    """So many turns round what lies along x, beginning at its upper side in front, a step along each."""
    found: list[tuple[float, float, float]] = []
    for turn in range(turns):
        at = x + turn * step
        found += [(at, high, 0), (at + 0.1 * step, 0, 1.4), (at + 0.35 * step, -high, 0), (at + 0.6 * step, 0, -1.4)]
    return [*found, (x + turns * step, high, 0)]


def barrel(turns: int, y: float = 0.0, start: float = -4.0, ends: str = "inside") -> Array:
    """An end wrapped back round its own rope, which lies at y, and led out through its wraps: three seen from in front make a double overhand.
    `ends`: or it stays outside of them (`outside`)."""
    far = 1.2 + 0.8 * turns
    path: list[tuple[float, float, float]] = [(start, y, 0), (far + 0.2, y, 0), (far + 0.7, y + 0.4, 0.8)]
    path += coil(turns, far, -0.8, 0.95)
    height = y + 0.4 if ends == "inside" else 1.7
    path += [
        (far - 0.8 * turns - 0.5, 0.75, 0),
        (far - 0.8 * turns - 0.3, height, 0),
        (far - 0.2, height, 0),
        (far + 2.6, height + 0.15, 0),
    ]
    return through(path)


def _across(points: list[tuple[float, float, float]], turn: int) -> list[tuple[float, float, float]]:
    """One turn led across the next in front, and back behind it."""
    next_ = 4 * (turn + 1)
    moved = {
        4 * turn + 1: (0.25, 1.0),
        4 * turn + 2: (0.5, 0.0),
        4 * turn + 3: (0.0, -3.0),
        next_ + 1: (-0.25, 0.0),
        next_ + 2: (-0.5, 0.0),
    }
    nothing = (0.0, 0.0)
    return [(x, y + moved.get(n, nothing)[0], z + moved.get(n, nothing)[1]) for n, (x, y, z) in enumerate(points)]


def gripping(turns: int, bridge: float = 1.7, swapped: bool = False, lower: float = 0.35) -> Array:
    """A cord round an upright rope, so many turns up and as many down, and the bridge between them in front of both its strands. `bridge`: how near
    it lies, `lower`: how near the lower strand; `swapped`: one of the upper turns lies across the one above it."""
    above = wrapped(turns, 0.25, 0.5)
    if swapped:
        above = _across(above, 1)
    out = [(5.0, 0.25, 0.3), (1.6, 0.25, 0.35)]
    over = 0.25 + 0.5 * turns
    between = [(1.3, over - 0.4, 0.5 * bridge), (1.35, 0.0, bridge), (1.3, 0.4 - over, 0.5 * bridge)]
    return through(
        [*out, *above, *between, *mirrored(wrapped(turns, 0.25, 0.5)), (1.6, -0.25, lower), (5.0, -0.25, 0.3)]
    )


def wound(turns: int, begin: float, out: float = 5.0, crossed_at: int | None = None, ends: str = "apart") -> Array:
    """A cord or rope wound so many turns up an upright rope or post, both its ends to one side. `crossed_at`: a turn that lies over the one before;
    `ends`: `apart`, or `crossed`, or the one `hitched` round the other."""
    turned = wrapped(turns, begin, 0.5)
    if crossed_at is not None:
        turned = _across(turned, crossed_at)
    top = begin + 0.5 * turns
    last: dict[str, list[tuple[float, float, float]]] = {
        "apart": [(1.6, top, 0.1), (out, top, 0.3)],
        "crossed": [(1.6, top, 0.1), (2.6, top - 0.2, 0.6), (3.4, begin, 1.3), (out, begin - 1.0, 0.6)],
        "hitched": [
            (1.6, top, 0.1), (2.6, top, 0.3), (3.0, begin, 1.4), (3.3, begin - 0.7, 0.4), (3.9, begin - 0.2, -0.7), (3.7, begin + 0.7, -0.2),
            (3.0, begin + 0.8, 1.7), (2.2, begin + 1.2, 1.4), (1.9, top + 2.2, 0.8),
        ],
    }  # fmt: skip
    return through([(out, begin, 0.3), (1.6, begin, 0.3), *turned, *last[ends]])


def bar(y: float = 0.0, half: float = 3.0) -> Array:
    """A level bar, or the back of a connector."""
    return through([(-half, y), (half, y)])


def ring(at: Sequence[float], radius: float, deep: float = 0.0) -> Array:
    """A ring round a place (x, y), seen from in front; `deep`: lying, its far side so much of its radius up, and as much further back."""
    angles = np.linspace(0, 2 * np.pi, 25)[:-1]
    across, along = np.cos(angles), np.sin(angles)
    x = at[0] + radius * across
    if not deep:
        return np.stack([x, at[1] + radius * along, np.zeros_like(x)], axis=1)
    return np.stack([x, at[1] + deep * radius * along, -0.8 * radius * along], axis=1)


def scaled(path: Array, by: float) -> Array:
    """So many times as large, and half as much more from behind to in front."""
    return np.asarray(path * np.array([by, by, 1 + (by - 1) / 2]))


def rope_up(half: float = 4.0) -> Array:
    """The rope that a hitch is tied on."""
    return through([(0, -half), (0, half)])


def wrapped(turns: int, begin: float, step: float) -> list[tuple[float, float, float]]:
    """Turns round an upright rope, from its right side in front to the left, behind to the right, a step up each."""
    found: list[tuple[float, float, float]] = []
    for turn in range(turns):
        at = begin + turn * step
        found += [
            (0.85, at, 0.2),
            (0, at + 0.05 * step, 1.3),
            (-0.85, at + 0.25 * step, 0),
            (0, at + 0.6 * step, -1.3),
        ]
    return [*found, (0.85, begin + turns * step - 0.1 * step, -0.2)]


def mirrored(points: Sequence[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
    """Upside down, from its other end."""
    return [(x, -y, z) for x, y, z in reversed(points)]


def turned_half(path: Array) -> Array:
    """Turned round by half a turn in the plane of the drawing."""
    return np.asarray(path * np.array([-1.0, -1.0, 1.0]))
