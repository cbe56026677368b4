"""What pulls on an arrangement in a phase: how hard, which way, and through how much rope."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rigging.anchors.rig import at
from rigging.catalogue import catalogue
from rigging.document import Arrangement, Plan
from rigging.lines.phases import Solved
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range
from rigging.site.ground import RopeWay, rope_way


@dataclass(frozen=True)
class Pulling:
    """A pull of `force_n` along `unit` (3,); `rope_n_per_m` is how stiff the rope to the load is (None: no rope between),
    `slip_n` where something in line slips first, and what it is."""

    force_n: Range
    unit: Array
    rope_n_per_m: Range | None
    slip_n: Range | None
    slips: str

    def swings_rad(self, arrangement: Arrangement) -> float:
        """How far it may swing to either side; a pull straight down has no side."""
        return arrangement.swing_rad if math.hypot(self.unit[0], self.unit[1]) > 0.05 else 0.0

    @property
    def heading_rad(self) -> float:
        return math.atan2(self.unit[1], self.unit[0])


def start_of(arrangement: Arrangement) -> tuple[float, float]:
    """The working point in the section."""
    return (arrangement.point.x_m, arrangement.point.z_m)


def way_from(plan: Plan, arrangement: Arrangement) -> RopeWay:
    return rope_way(plan.site, start_of(arrangement), (plan.site.load_at.x_m, plan.site.load_at.z_m))


def _unit(heading_rad: float, dip_rad: float) -> Array:
    level = math.cos(dip_rad)
    return np.array([level * math.cos(heading_rad), level * math.sin(heading_rad), -math.sin(dip_rad)])


def line_heading_rad(plan: Plan, arrangement: Arrangement) -> float:
    """Bearing of the main line in plan: from the working point to its first corner on the fall line."""
    corner = way_from(plan, arrangement).points[1]
    return math.atan2(-arrangement.point.y_m, corner[0] - arrangement.point.x_m)


def line_direction(plan: Plan, arrangement: Arrangement) -> Array:
    """Direction of the main line's pull on the arrangement; its heading where the leader set one."""
    start = at(arrangement.point)
    corner = way_from(plan, arrangement).points[1]
    away = np.array([corner[0], 0.0, corner[1]]) - start
    dip = math.atan2(-away[2], math.hypot(away[0], away[1]))
    heading = arrangement.heading_rad
    return _unit(math.atan2(away[1], away[0]) if heading is None else heading, dip)


def _clutch(plan: Plan, solved: Solved) -> tuple[Range | None, str]:
    """What in the main line slips before it breaks, in this phase."""
    haul, lowering = plan.line.haul, plan.line.lowering
    if solved.phase == "hold" and haul and haul.capture:
        hitch = catalogue().hitches[haul.capture]
        return hitch.slip_n, hitch.name
    if solved.phase in ("hold", "lower") and lowering:
        device = catalogue().devices[lowering.device]
        if device.gives == "slips":
            return device.strength_n, device.name
    return None, ""


def pulling(plan: Plan, arrangement: Arrangement, solved: Solved | None) -> Pulling | None:
    """The pull on an arrangement: its own where it has one, else the main line's in this phase (None if not available)."""
    if arrangement.pull is not None:
        own, span = arrangement.pull, arrangement.span
        device = catalogue().devices[span.slips] if span and span.slips else None
        return Pulling(own.force_n, _unit(own.heading_rad, own.dip_rad), None, None, device.name if device else "")
    if solved is None:
        return None
    length = way_from(plan, arrangement).length_m
    stiff = catalogue().ropes[plan.line.rope].ea_n.map(lambda ea: ea / length)
    slip, name = _clutch(plan, solved)
    return Pulling(solved.on_anchor(), line_direction(plan, arrangement), stiff, slip, name)
