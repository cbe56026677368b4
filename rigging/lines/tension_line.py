"""A tension line with the load on it, from end to end: sag, tension, pull on both ends, tag lines, clearance.

The carriage rolls: the line pulls alike on either side of it. What of the load goes along the line is held by tag lines. At
mid-span between level ends T = W·√(L²/4 + s²)/(2s) for span L and sag s. The line's own weight is left out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.tight_line import Line as Tight
from rigging.catalogue import catalogue
from rigging.document import Plan, TensionLine
from rigging.lines.way import place_of
from rigging.mechanics.legs import unloaded
from rigging.mechanics.vectors import Array, Vector
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range, spanning
from rigging.site.ground import height_at
from rigging.site.load import GRAVITY, load_mass

# So near an end the carriage stops: at the end itself the line has no angle.
_ENDS = 0.04
# Stiff rope with a heavy load bears most; soft with a light one sags most.
_EA = ("low", "expected", "high")


@dataclass(frozen=True)
class AtPlace:
    """The load at one place: `run_m` along the chord from the near end, where the carriage hangs as expected, sag, tension in
    the line (all its ropes together), pull on either end for each of three cases, pull of the tag lines along the line,
    metres fed through what slips, and what is free under the load (None: the ground there is not entered)."""

    run_m: float
    at: Vector
    sag_m: Range
    tension_n: Range
    near: tuple[Vector, Vector, Vector]
    far: tuple[Vector, Vector, Vector]
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
    start = np.repeat(ends[0] + shares[:, None] * chord, 3, axis=0)
    kind = catalogue().ropes[plan.rope(line.rope).kind]
    ea = np.tile([line.ropes * getattr(kind.ea_n, level) / 1000 for level in _EA], len(shares))
    rest = np.asarray(unloaded(np.full(len(ea), span), np.full(len(ea), line.pretension_n / 1000), ea))
    mass = load_mass(plan)
    weight = np.tile([mass.low, mass.expected, mass.high], len(shares)) * GRAVITY / 1000
    load = weight[:, None] * np.array([0.0, 0.0, -1.0])
    tight = Tight(ends, np.repeat(ea[:, None], 2, axis=1), np.repeat(rest[:, None] / 2, 2, axis=1), True, start)
    slip = catalogue().devices[line.slips].strength_n if line.slips else None
    limit = np.tile([getattr(slip, level) / 1000 * line.ropes for level in _EA] if slip else [np.inf] * 3, len(shares))
    points, tensions, fed = tight.fed_until(load, limit)
    # Luck in stiffness and in weight need not go the same way: the three cases are told as least and most.
    pulls = tensions[:, :1] * 1000
    to_near, to_far = _units(ends[0] - points), _units(ends[1] - points)
    unit = chord / span
    tag = np.abs((load * 1000 + pulls * (to_near + to_far)) @ unit)
    flat = points - ends[0]
    sag = np.linalg.norm(flat - (flat @ unit)[:, None] * unit, axis=1)
    found = []
    for number, share in enumerate(shares):
        rows = slice(3 * number, 3 * number + 3)
        found.append(
            AtPlace(
                float(share) * span, _vector(points[3 * number + 1]), _three(sag[rows]), _three(pulls[rows, 0]),
                _vectors(-to_near[rows] * pulls[rows]), _vectors(-to_far[rows] * pulls[rows]), _three(tag[rows]), float(fed[rows].max()),
                _clear(plan, line, points[rows]),
            )
        )  # fmt: skip
    return found


def _units(away: Array) -> Array:
    return np.asarray(away / np.linalg.norm(away, axis=1)[:, None])


def _three(values: Array) -> Range:
    return spanning(*(float(one) for one in values))


def _vector(value: Array) -> Vector:
    return float(value[0]), float(value[1]), float(value[2])


def _vectors(values: Array) -> tuple[Vector, Vector, Vector]:
    return _vector(values[0]), _vector(values[1]), _vector(values[2])


def _clear(plan: Plan, line: TensionLine, points: Array) -> Range | None:
    """What is free between the load's lowest part and the ground of the section."""
    grounds = [height_at(plan.site, float(point[0])) for point in points]
    if any(one is None for one in grounds):
        return None
    return _three(np.array([point[2] - line.hang_m - ground for point, ground in zip(points, grounds, strict=True)]))
