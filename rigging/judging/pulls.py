"""What pulls on an anchor in a state: the lines that run from it or are turned there, or what is planned for it."""

from __future__ import annotations

import math

import numpy as np

from rigging.anchors.pull import Asked, Pulling, direction, turned
from rigging.catalogue import catalogue
from rigging.document import Anchor, Arrangement, Line, Plan
from rigging.lines.catch import clutch_of
from rigging.lines.planning import PLANNING, planned, planned_rope
from rigging.lines.solve import LineForces, Missing, Solved, Solver, ways_of
from rigging.lines.states import Moment
from rigging.lines.tied import rope_ea_n
from rigging.lines.way import way_from
from rigging.mechanics.vectors import Array, minus, unit
from rigging.quantities.ranges import Range


def pulling(plan: Plan, anchor: Anchor, arrangement: Arrangement, solved: Solved | Missing | None) -> Pulling | None:
    """The pull on an arrangement: its own where it has one, else the lines' in this state, else the load held on it.

    None where lines run from this anchor, but none of them pulls on it in this state.
    """
    if arrangement.pull is not None:
        own, span = arrangement.pull, arrangement.span
        device = catalogue().devices[span.slips] if span and span.slips else None
        along = direction(own.heading_rad, own.dip_rad)
        return Pulling(Asked.straight(own.force_n, along), None, None, device.name if device else "")
    if isinstance(solved, Solved) and anchor.id in solved.on_anchors:
        return _of_lines(plan, anchor, arrangement, solved)
    if lines_on(plan, anchor.id) and not (isinstance(solved, Missing) and not plan_works(plan)):
        return None
    planned = planning_state(plan, anchor)
    return _of_lines(plan, anchor, arrangement, planned) if planned else None


def plan_works(plan: Plan) -> bool:
    """Whether any line can already bear: one that lowers, raises or holds."""
    return any(line.lowering or line.haul or line.belay for line in plan.lines)


def lines_on(plan: Plan, anchor: str) -> list[Line]:
    """The lines that run from an anchor or are turned there."""
    return [line for line in plan.lines if anchor in named_by(line)]


def named_by(line: Line) -> set[str]:
    """Every anchor that a line names."""
    found = {line.anchor, *(one.anchor for one in line.redirects)}
    if line.haul:
        found |= {one.anchor for one in line.haul.redirects} | set(line.haul.anchors.values())
    return found


def tied_to(plan: Plan) -> set[str]:
    """Every feature that an anchor in use is tied to."""
    used = {name for line in plan.lines for name in named_by(line)}
    return {leg.feature for anchor in plan.anchors if anchor.id in used for leg in anchor.arrangement.legs}


def planning_state(plan: Plan, anchor: Anchor) -> Solved | None:
    """The load held on an anchor by a rope made fast there: what it is judged for before there is a line."""
    alone = planned(plan, anchor.id)
    solver = Solver(alone, ways_of(alone))
    found = solver.solve(Moment("held", "held", {PLANNING: "fast"}, (PLANNING,)))
    return found if isinstance(found, Solved) else None


def _of_lines(plan: Plan, anchor: Anchor, arrangement: Arrangement, solved: Solved) -> Pulling:
    pulls = solved.on_anchors[anchor.id]
    planned = anchor.planning_n if solved.line(PLANNING) else None
    along = turned(_along(plan, anchor, arrangement, solved), arrangement.heading_rad)
    line = next((one for one in solved.lines if anchor.id in one.on_anchors), None)
    asked = Asked.straight(planned, along) if planned else Asked.of(pulls, along)
    if line is None:
        return Pulling(asked, None)
    stiff, clutch = _rope_n_per_m(plan, line), clutch_of(plan, line.rig)
    return Pulling(asked, stiff, clutch.slip_n if clutch else None, clutch.name if clutch else "")


def _rope_n_per_m(plan: Plan, line: LineForces) -> Range:
    of = line.rig.line
    # A line that is only planned has a rope of its own, of the first one's kind.
    there = any(one.id == of.rope for one in plan.ropes)
    return rope_ea_n(plan.rope(of.rope) if there else planned_rope(plan, of.rope)).map(
        lambda ea: ea / line.rig.way.length_m
    )


def _along(plan: Plan, anchor: Anchor, arrangement: Arrangement, solved: Solved) -> Array:
    """Direction of the pull; another arrangement's point sees the line from where it would be."""
    vector = solved.on_anchors[anchor.id].along
    starts_here = any(line.rig.line.anchor == anchor.id and not line.rig.way.redirects for line in solved.lines)
    if arrangement is anchor.arrangement or not starts_here:
        return vector
    point = (arrangement.point.x_m, arrangement.point.y_m, arrangement.point.z_m)
    return np.array(unit(minus(way_from(plan, point, anchor.id).points[1], point)))


def line_heading_rad(plan: Plan, arrangement: Arrangement) -> float | None:
    """Bearing in plan of the line that an arrangement starts, to its first corner; None where none starts there.

    An anchor that no line uses is taken to hold one straight to the load.
    """
    anchor = next(anchor for _, anchor, one in plan.arrangements() if one is arrangement)
    starts = next((line for line in plan.lines if line.anchor == anchor.id), None)
    if (starts is None and lines_on(plan, anchor.id)) or (starts and starts.redirects):
        return None
    point = (arrangement.point.x_m, arrangement.point.y_m, arrangement.point.z_m)
    away = minus(way_from(plan, point, anchor.id).points[1], point)
    return math.atan2(away[1], away[0]) if math.hypot(away[0], away[1]) > 1e-6 else None
