"""A line's way: from its working point by its redirects and over the ground to the load."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from rigging.document import Line, Plan
from rigging.mechanics.vectors import Vector, length, minus, turn_angle, unit
from rigging.quantities.faults import refuse
from rigging.site.ground import RopeWay, check_site, check_start, rope_way


@dataclass(frozen=True)
class LineWay:
    """Where a line runs: its working point, the redirects (anchor id and place), then the ground's own corners.

    `over` is the stretch over the ground, from the last redirect (or the working point) to the load.
    """

    start: Vector
    redirects: tuple[tuple[str, Vector], ...]
    over: RopeWay

    @property
    def points(self) -> tuple[Vector, ...]:
        """Working point, redirects, corners, load."""
        return (
            (self.start, *(at for _, at in self.redirects[:-1]), *self.over.points)
            if self.redirects
            else self.over.points
        )

    @property
    def out(self) -> Vector:
        """The way the rope leaves the working point."""
        return unit(minus(self.points[1], self.start))

    @property
    def first_m(self) -> float:
        """Length of the first stretch, working point to first corner."""
        return length(minus(self.points[1], self.start))

    @property
    def length_m(self) -> float:
        return math.fsum(length(minus(b, a)) for a, b in itertools.pairwise(self.points))

    @property
    def rise_m(self) -> float:
        """Rope from the load to the first corner: how far the load comes up."""
        return self.length_m - (self.first_m if len(self.points) > 2 else 0.0)

    def turn_rad(self, index: int) -> float:
        """Turn of the rope at an inner point."""
        return turn_angle(*self.points[index - 1 : index + 2])


def place_of(plan: Plan, anchor: str) -> Vector:
    """The working point of an anchor."""
    point = plan.anchor(anchor).arrangement.point
    return point.x_m, point.y_m, point.z_m


def load_place(plan: Plan) -> Vector:
    return plan.site.load_at.x_m, 0.0, plan.site.load_at.z_m


def line_way(plan: Plan, line: Line) -> LineWay:
    """Where a line runs.

    Raises
    ------
    Refused
        If it can not be laid out: points under the ground, a load behind the line's last point, a redirect where the
        line starts, more slack than the load could drop.
    """
    here = f"lines[{plan.lines.index(line)}]"
    start = place_of(plan, line.anchor)
    redirects = tuple((one.anchor, place_of(plan, one.anchor)) for one in line.redirects)
    before = start
    for number, (_, at) in enumerate(redirects):
        if length(minus(at, before)) < 0.05:
            problem = "this redirect lies where the rope already is: it turns nothing"
            raise refuse(f"{here}.redirects[{number}].anchor", problem, "move it aside, or take it out")
        before = at
    last = redirects[-1][1] if redirects else start
    way = LineWay(start, redirects, way_from(plan, last, line.redirects[-1].anchor if redirects else line.anchor))
    if line.slack_m > max(1.0, way.rise_m):
        problem = f"{line.slack_m:g} m of slack, and the load hangs on {way.rise_m:.1f} m below the first corner: it would be down before this line holds"
        raise refuse(f"{here}.slack_m", problem, f"give less than {way.rise_m:.1f} m, or take the slack in")
    return way


def way_from(plan: Plan, start: Vector, anchor: str) -> RopeWay:
    """The taut line over the ground from an anchor's working point to the load.

    Raises
    ------
    Refused
        If the ground or the working point do not fit.
    """
    check_site(plan.site)
    number = next(n for n, one in enumerate(plan.anchors) if one.id == anchor)
    check_start(plan.site, f"anchors[{number}].point", start)
    return rope_way(plan.site, start, load_place(plan))
