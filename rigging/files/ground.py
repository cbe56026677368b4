"""A way that somebody walked as the ground from the side: laid along the fall line, thinned, and nothing of it further off than is said."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from rigging.document import Frame, Point
from rigging.files.places import OnMap, Track, level_place
from rigging.quantities.faults import Refused

# A profile has at most as many points as a sheet can be read with.
MOST_POINTS = 60
LEAST_THIN_M = 0.25


@dataclass(frozen=True)
class GroundOffer:
    """What a track would be as the ground: `thin_m`, further than which none of its points lies from the line drawn; `side_m`, how far it
    leaves the fall line to the side; `back_m`, how far it goes back on itself, which is left out. `why_not` in words where it can be none."""

    name: str
    count: int
    length_m: float
    profile: tuple[Point, ...] = ()
    thin_m: float = 0.0
    side_m: float = 0.0
    back_m: float = 0.0
    why_not: str = ""


def offered(track: Track, frame: Frame | None) -> GroundOffer:
    """What a track would be as the ground from the side."""
    count, length = len(track.points), _length_m(track.points)

    def not_so(why: str) -> GroundOffer:
        return GroundOffer(track.name, count, length, why_not=why)

    if count < 2:
        return not_so("it has one point only")
    if any(point.height_m is None for point in track.points):
        missing = sum(point.height_m is None for point in track.points)
        return not_so(f"{missing} of its {count} points say no height")
    if frame is None or frame.elevation_m is None:
        return not_so("nobody said how high the working point lies above the sea")
    try:
        level = np.array([level_place(track.where, point, frame) for point in track.points])
    except Refused as error:
        return not_so(f"{error.faults[0].problem}; {error.faults[0].right}")
    up = np.array([point.height_m for point in track.points]) - frame.elevation_m
    out, side = level[:, 0], np.abs(level[:, 1])
    if out[-1] < out[0]:
        out, up = out[::-1], up[::-1]
    # What goes back on itself is drawn no further back than the ground has come.
    onward = np.maximum.accumulate(out)
    back = float((onward - out).max())
    if onward[-1] - onward[0] < 1.0:
        return not_so("it does not run along the fall line")
    if back > 0.2 * (onward[-1] - onward[0]):
        return not_so(f"it goes back on itself by {back:.0f} m: give the stretch that runs out along the fall line")
    keep = out >= onward - 1e-9
    points, thin = thinned(np.column_stack([out[keep], up[keep]]))
    profile = tuple(Point(x_m=round(float(x), 2), z_m=round(float(z), 2)) for x, z in points)
    return GroundOffer(track.name, count, length, profile, thin, float(side.max()), back)


def thinned(points: np.ndarray) -> tuple[np.ndarray, float]:
    """Points (n, 2) of a line with those left out that lie on it to within a tolerance (Douglas and Peucker 1973): the least of 0.25 m, 0.5 m,
    1 m … that leaves few enough."""
    tolerance = LEAST_THIN_M
    while True:
        kept = points[_kept(points, tolerance)]
        if len(kept) <= MOST_POINTS:
            return kept, tolerance
        tolerance *= 2


def _kept(points: np.ndarray, tolerance: float) -> np.ndarray:
    keep = np.zeros(len(points), dtype=bool)
    keep[[0, -1]] = True
    open_: list[tuple[int, int]] = [(0, len(points) - 1)]
    while open_:
        first, last = open_.pop()
        if last - first < 2:
            continue
        off = _off(points[first + 1 : last], points[first], points[last])
        furthest = int(off.argmax())
        if off[furthest] > tolerance:
            middle = first + 1 + furthest
            keep[middle] = True
            open_ += [(first, middle), (middle, last)]
    return keep


def _off(points: np.ndarray, start: np.ndarray, end: np.ndarray) -> np.ndarray:
    """How far points lie from a straight piece."""
    along = end - start
    square = float(along @ along)
    share = np.clip((points - start) @ along / square, 0, 1) if square else np.zeros(len(points))
    found: np.ndarray = np.hypot(*(points - start - share[:, None] * along).T)
    return found


def _length_m(points: tuple[OnMap, ...]) -> float:
    """Along the way, level, on a sphere of the earth's mean radius: good enough to say which track is meant."""
    total = 0.0
    for a, b in itertools.pairwise(points):
        north = math.radians(b.latitude_deg - a.latitude_deg)
        east = math.radians(b.longitude_deg - a.longitude_deg) * math.cos(math.radians(a.latitude_deg))
        total += 6_371_009 * math.hypot(north, east)
    return total
