"""The ground from the side and the rope's way over it: a taut line from working point to load."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from rigging.document import Edge, Site
from rigging.quantities.faults import Fault, Refused
from rigging.mechanics.network import Vector, dot, length, minus, unit

_TOLERANCE_M = 0.05


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


def check_site(site: Site, start: Vector) -> None:
    """Refuse points under the ground or off it; `start` is the working point.

    Raises
    ------
    Refused
        Naming each field that does not fit the profile.
    """
    faults = list(_under("site.working_point", "the working point", *start, height_at(site, start[0])))
    for number, edge in enumerate(site.edges):
        faults += _under(
            f"site.edges[{number}]", f"the edge {edge.name!r}", edge.x_m, edge.z_m, height_at(site, edge.x_m)
        )
    at = site.load_at
    faults += _under("site.load_at", "the load", at.x_m, at.z_m, lowest_at(site, at.x_m))
    if at.x_m <= start[0]:
        faults.append(
            Fault(
                "site.load_at.x_m",
                f"the load is {at.x_m:g} m out",
                f"put it beyond the working point, above {start[0]:g}",
            )
        )
    if faults:
        raise Refused(faults)


def _under(path: str, what: str, x_m: float, z_m: float, ground: float | None) -> list[Fault]:
    if ground is None:
        return [
            Fault(f"{path}.x_m", f"{what} is {x_m:g} m out, where no ground is entered", "extend the profile to it")
        ]
    if z_m < ground - _TOLERANCE_M:
        problem = f"{what} is {ground - z_m:.2f} m under the ground at {x_m:g} m"
        return [Fault(f"{path}.z_m", problem, f"give a height of {ground:.2f} m or more, or correct the profile")]
    return []


def rope_way(site: Site, start: Vector, to: Vector) -> RopeWay:
    """Shortest line from the working point `start` to `to` over ground and edges (upper convex hull, monotone chain)."""
    reach = [(e.x_m, e.z_m) for e in site.edges] + [(p.x_m, p.z_m) for p in site.profile]
    between = sorted(
        {p for p in reach if start[0] < p[0] < to[0] or (p[0] == to[0] and p[1] > to[1])}, key=lambda p: (p[0], -p[1])
    )
    hull = [start]
    for point in [*between, to]:
        while len(hull) > 1 and _turns_up(hull[-2], hull[-1], point):
            hull.pop()
        hull.append(point)
    edges = {(e.x_m, e.z_m): e for e in site.edges}
    turns = tuple(Turn(b, turn_angle(a, b, c), edges.get(b)) for a, b, c in zip(hull, hull[1:], hull[2:], strict=False))
    steps = itertools.pairwise(hull)
    return RopeWay(tuple(hull), turns, math.fsum(length(minus(b, a)) for a, b in steps))


def _turns_up(a: Vector, b: Vector, c: Vector) -> bool:
    """Whether the corner at `b` is no support: level within a millionth of a square metre, or a hollow."""
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) >= -1e-6


def turn_angle(a: Vector, b: Vector, c: Vector) -> float:
    """Angle in radians by which the rope changes direction at `b`."""
    return math.acos(max(-1.0, min(1.0, dot(unit(minus(b, a)), unit(minus(c, b))))))


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


def run_positions(site: Site, way: RopeWay, count: int = 8) -> list[Vector]:
    """Places on the ground between the load and the first turn, where the load comes past on its way."""
    first = way.turns[0].at[0] if way.turns else way.start[0]
    last = site.load_at.x_m
    inner = [p for p in site.profile if first < p.x_m < last]
    steps = [first + (last - first) * (i + 0.5) / count for i in range(count)]
    spots = {(x, height_at(site, x)) for x in steps} | {(p.x_m, p.z_m) for p in inner}
    return sorted((x, z) for x, z in spots if z is not None)
