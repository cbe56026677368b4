"""The ground from the side and the rope's way over it: a taut line from working point to load.

Ground and edges run level across the fall line. Unfolded, a taut line over them is straight, so its place across is in
proportion to the length along the section (geodesic of a cylinder; any text on differential geometry)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from rigging.document import Edge, Site
from rigging.mechanics.vectors import Vector, length, minus, turn_angle
from rigging.quantities.faults import Fault, Refused

_TOLERANCE_M = 0.05
Flat = tuple[float, float]


@dataclass(frozen=True)
class Turn:
    """The rope bending by `turn_rad` at `at`; `edge` is None where no edge was entered there."""

    at: Vector
    turn_rad: float
    edge: Edge | None


@dataclass(frozen=True)
class RopeWay:
    """The taut line: its corner points from working point to load, the turns at the inner ones, its length."""

    points: tuple[Vector, ...]
    turns: tuple[Turn, ...]
    length_m: float

    @property
    def start(self) -> Vector:
        """The working point."""
        return self.points[0]

    @property
    def first_m(self) -> float:
        """Length of the first stretch, working point to first corner."""
        return length(minus(self.points[1], self.points[0]))


def height_at(site: Site, x_m: float) -> float | None:
    """Highest ground at distance `x_m`, None beyond what was entered."""
    found = [
        b.z_m if b.x_m == a.x_m else a.z_m + (b.z_m - a.z_m) * (x_m - a.x_m) / (b.x_m - a.x_m)
        for a, b in zip(site.profile, site.profile[1:], strict=False)
        if a.x_m <= x_m <= b.x_m
    ]
    found += [p.z_m for p in site.profile if p.x_m == x_m]
    return max(found, default=None)


def lowest_at(site: Site, x_m: float) -> float | None:
    """Lowest ground at distance `x_m`: the foot, where the face is vertical."""
    feet = [p.z_m for p in site.profile if p.x_m == x_m]
    return min(feet) if feet else height_at(site, x_m)


def check_site(site: Site) -> None:
    """Refuse points under the ground or off it.

    Raises
    ------
    Refused
        Naming each field that does not fit the profile.
    """
    faults: list[Fault] = []
    for number, edge in enumerate(site.edges):
        faults += under(
            f"site.edges[{number}]", f"the edge {edge.name!r}", edge.x_m, edge.z_m, height_at(site, edge.x_m)
        )
    at = site.load_at
    faults += under("site.load_at", "the load", at.x_m, at.z_m, lowest_at(site, at.x_m))
    if faults:
        raise Refused(faults)


def check_start(site: Site, path: str, start: Vector) -> None:
    """Refuse a working point under the ground, or one that the load is not in front of or under.

    Raises
    ------
    Refused
        Naming the field.
    """
    x, _, z = start
    faults = under(path, "the working point", x, z, height_at(site, x))
    at = site.load_at
    if at.x_m < x - 1e-9 or (at.x_m <= x + 1e-9 and at.z_m >= z - 1e-9):
        problem = f"the load is {at.x_m:g} m out and {at.z_m:g} m high"
        right = f"put it beyond the working point, above {x:g} m out, or straight below it, under {z:g} m"
        faults.append(Fault("site.load_at.x_m", problem, right))
    if faults:
        raise Refused(faults)


def under(path: str, what: str, x_m: float, z_m: float, ground: float | None) -> list[Fault]:
    """Faults of a point that is off the ground entered, or under it."""
    if ground is None:
        return [
            Fault(f"{path}.x_m", f"{what} is {x_m:g} m out, where no ground is entered", "extend the profile to it")
        ]
    if z_m < ground - _TOLERANCE_M:
        problem = f"{what} is {ground - z_m:.2f} m under the ground at {x_m:g} m"
        return [Fault(f"{path}.z_m", problem, f"give a height of {ground:.2f} m or more, or correct the profile")]
    return []


def rope_way(site: Site, start: Vector, to: Vector) -> RopeWay:
    """Shortest line from `start` to `to` over ground and edges (upper convex hull of the section, monotone chain)."""
    reach = [(e.x_m, e.z_m) for e in site.edges] + [(p.x_m, p.z_m) for p in site.profile]
    first, last = (start[0], start[2]), (to[0], to[2])
    between = sorted(
        {p for p in reach if first[0] < p[0] < last[0] or (first[0] < p[0] == last[0] and p[1] > last[1])},
        key=lambda p: (p[0], -p[1]),
    )
    hull = [first]
    for point in [*between, last]:
        while len(hull) > 1 and _turns_up(hull[-2], hull[-1], point):
            hull.pop()
        hull.append(point)
    points = _across(hull, start[1], to[1])
    edges = {(e.x_m, e.z_m): e for e in site.edges}
    corners = zip(hull[1:], points, points[1:], points[2:], strict=False)
    turns = tuple(Turn(b, turn_angle(a, b, c), edges.get(flat)) for flat, a, b, c in corners)
    return RopeWay(points, turns, math.fsum(length(minus(b, a)) for a, b in itertools.pairwise(points)))


def _across(hull: list[Flat], start_y: float, to_y: float) -> tuple[Vector, ...]:
    """The section's corners with their place across the fall line."""
    along = [0.0, *itertools.accumulate(math.dist(a, b) for a, b in itertools.pairwise(hull))]
    whole = along[-1] or 1.0
    return tuple((x, start_y + (to_y - start_y) * far / whole, z) for (x, z), far in zip(hull, along, strict=True))


def _turns_up(a: Flat, b: Flat, c: Flat) -> bool:
    """Whether the corner at `b` is no support: level within a millionth of a square metre, or a hollow."""
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) >= -1e-6


def slope_at(site: Site, x_m: float, z_m: float) -> float:
    """Steepness in radians of the ground the load rises over at (x, z): of the stretch just uphill of it."""
    stretch = None
    for a, b in zip(site.profile, site.profile[1:], strict=False):
        if a.x_m < x_m <= b.x_m or (a.x_m == x_m == b.x_m and min(a.z_m, b.z_m) <= z_m + _TOLERANCE_M):
            stretch = (a, b)
    if stretch is None:
        return 0.0
    a, b = stretch
    return math.atan2(a.z_m - b.z_m, b.x_m - a.x_m)


def run_up(site: Site, way: RopeWay) -> list[Flat]:
    """The load's own way from where it is up to the first corner of its rope: along the ground; a load that hangs clear comes
    straight up its strand until it meets the ground."""
    x, z = site.load_at.x_m, site.load_at.z_m
    corner = way.points[1] if way.turns else way.start
    first = (corner[0], corner[2])
    run = [(x, z)]
    ground = height_at(site, x)
    if not way.turns or (ground is not None and z > ground + _TOLERANCE_M) or _before_a_wall(site, x, z):
        last = way.points[-2]
        run.append((last[0], last[2]))
    here = run[-1]
    inner = [
        (p.x_m, p.z_m)
        for p in site.profile
        if first[0] <= p.x_m <= here[0]
        and (p.x_m, -p.z_m) < (here[0], -here[1])
        and (p.x_m > first[0] or p.z_m < first[1])
    ]
    run += sorted(inner, key=lambda p: (-p[0], p[1]))
    end = height_at(site, first[0])
    run.append((first[0], first[1] if not way.turns or end is None else end))
    return [p for p, _ in itertools.groupby(run)]


def _before_a_wall(site: Site, x_m: float, z_m: float) -> bool:
    """Whether a place is in front of a vertical face: lower than the ground just behind it."""
    behind = height_at(site, x_m - 2 * _TOLERANCE_M)
    return behind is not None and behind > z_m + 1.0


def along(run: list[Flat], far_m: float) -> Flat:
    """The place `far_m` along a run, its end beyond that.

    >>> along([(0, 0), (3, 4), (3, 10)], 7.0)
    (3.0, 6.0)
    """
    for a, b in itertools.pairwise(run):
        step = math.dist(a, b)
        if far_m <= step:
            share = far_m / step if step else 0.0
            return a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])
        far_m -= step
    return run[-1]


def run_positions(site: Site, way: RopeWay, count: int = 6) -> list[Flat]:
    """Places on the ground between the load and the first turn, where the load comes past on its way."""
    first = way.turns[0].at[0] if way.turns else way.start[0]
    last = site.load_at.x_m
    inner = [p for p in site.profile if first < p.x_m < last]
    steps = [first + (last - first) * (i + 0.5) / count for i in range(count)]
    spots = {(x, height_at(site, x)) for x in steps} | {(p.x_m, p.z_m) for p in inner}
    return sorted((x, z) for x, z in spots if z is not None)
