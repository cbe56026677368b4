"""A tension line with the load on it, from end to end: sag, tension, pull on both ends, tag lines, clearance.

The carriage rolls: the line pulls alike on either side of it. What of the load goes along the line is held by tag lines. At
mid-span between level ends T = W·√(L²/4 + s²)/(2s) for span L and sag s. The line's own weight is left out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.tight_line import Line as Tight
from rigging.catalogue import catalogue
from rigging.document import Plan, TensionLine
from rigging.lines.tied import device_strength_n, rope_ea_n
from rigging.lines.way import place_of
from rigging.mechanics.bounds import Box, Cloud, bounded, cloud, every_corner
from rigging.mechanics.legs import unloaded
from rigging.mechanics.vectors import Array, Vector
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range, exactly
from rigging.site.ground import height_at
from rigging.site.load import GRAVITY, load_mass

# So near an end the carriage stops: at the end itself the line has no angle.
_ENDS = 0.04


@dataclass(frozen=True)
class AtPlace:
    """The load at one place: `run_m` along the chord from the near end, where the carriage hangs as expected, sag, tension in
    the line (all its ropes together), pull on either end, pull of the tag lines along the line,
    metres fed through what slips, and what is free under the load (None: the ground there is not entered)."""

    run_m: float
    at: Vector
    sag_m: Range
    tension_n: Range
    near: Cloud
    far: Cloud
    tag_n: Range
    fed_m: float
    clear_m: Range | None


def along_line(plan: Plan, line: TensionLine, count: int = 50) -> list[AtPlace]:
    """The load at `count` places along a tension line, end to end.

    Raises
    ------
    Refused
        If its ends are in one place.
    """
    return places_at(plan, line, np.linspace(_ENDS, 1 - _ENDS, count))


def places_at(plan: Plan, line: TensionLine, shares: Array) -> list[AtPlace]:
    """The load at shares (b,) of the chord from the near end."""
    ends = np.array([place_of(plan, line.anchor), place_of(plan, line.far)])
    chord = ends[1] - ends[0]
    span = float(np.linalg.norm(chord))
    if span < 1.0:
        number = plan.tension_lines.index(line)
        raise refuse(f"tension_lines[{number}].far", f"its ends are {span:.2f} m apart", "take an anchor further off")
    rope, mass = plan.rope(line.rope), load_mass(plan)
    slip = device_strength_n(catalogue().devices[line.slips], rope, plan.tested) if line.slips else None
    # Each corner of stiffness, weight and slip, the first as expected: most sag is the softest rope with the heaviest load.
    box = Box.of([rope_ea_n(rope), mass, *([slip] if slip else [])])
    corners = box.at(np.concatenate([np.zeros((1, len(box.low))), every_corner(len(box.low))]))
    count = len(corners)
    ea, kg = (np.tile(corners[:, column], len(shares)) for column in (0, 1))
    ea = line.ropes * ea / 1000
    rest = np.asarray(unloaded(np.full(len(ea), span), np.full(len(ea), line.pretension_n / 1000), ea))
    load = (kg * GRAVITY / 1000)[:, None] * np.array([0.0, 0.0, -1.0])
    start = np.repeat(ends[0] + shares[:, None] * chord, count, axis=0)
    tight = Tight(ends, np.repeat(ea[:, None], 2, axis=1), np.repeat(rest[:, None] / 2, 2, axis=1), True, start)
    limit = np.tile(line.ropes * corners[:, 2] / 1000 if slip else np.full(count, np.inf), len(shares))
    points, tensions, fed = tight.fed_until(load, limit)
    pulls = tensions[:, :1] * 1000
    to_near, to_far = _units(ends[0] - points), _units(ends[1] - points)
    unit = chord / span
    tag = np.abs((load * 1000 + pulls * (to_near + to_far)) @ unit)
    flat = points - ends[0]
    sag = np.linalg.norm(flat - (flat @ unit)[:, None] * unit, axis=1)
    one = exactly(1.0)
    found = []
    for number, share in enumerate(shares):
        rows = slice(count * number, count * (number + 1))
        found.append(
            AtPlace(
                float(share) * span, _vector(points[count * number]), bounded(sag[rows], one), bounded(pulls[rows, 0], one),
                cloud(-to_near[rows] * pulls[rows], one), cloud(-to_far[rows] * pulls[rows], one), bounded(tag[rows], one),
                float(fed[rows].max()), _clear(plan, line, points[rows]),
            )
        )  # fmt: skip
    return found


def _units(away: Array) -> Array:
    return np.asarray(away / np.linalg.norm(away, axis=1)[:, None])


def _vector(value: Array) -> Vector:
    return float(value[0]), float(value[1]), float(value[2])


def _clear(plan: Plan, line: TensionLine, points: Array) -> Range | None:
    """What is free between the load's lowest part and the ground of the section."""
    grounds = [height_at(plan.site, float(point[0])) for point in points]
    if any(one is None for one in grounds):
        return None
    free = [
        float(point[2]) - line.hang_m - ground
        for point, ground in zip(points, grounds, strict=True)
        if ground is not None
    ]
    return Range(min(free), free[0], max(free))
