"""From which north a bearing was taken: true, or the compass's own, by the magnetic declination of the day and place."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Any

from rigging.document import Frame
from rigging.document.site import North
from rigging.quantities.faults import refuse

MODEL = "World Magnetic Model 2025"
_COEFFICIENTS = "wmm/WMM_2025.COF"
# What it says holds so long; beyond, a newer one is needed.
YEARS = (2025.0, 2030.0)
_NORTH = "say magnetic (a compass as it is) or true"


@dataclass(frozen=True)
class Declination:
    """How far magnetic north lies east of true, and how far the model may be off (one standard deviation), in degrees; `doubtful`: near a
    magnetic pole, where a compass itself says little."""

    declination_deg: float
    plus_minus_deg: float
    doubtful: bool
    model: str = MODEL


@cache
def _model() -> Any:
    from pygeomag import GeoMag

    return GeoMag(coefficients_file=_COEFFICIENTS)


def declination(latitude_deg: float, longitude_deg: float, elevation_m: float, year: float) -> Declination:
    """The declination at a place in a year (2026.5: in the middle of it), by the World Magnetic Model.

    Raises
    ------
    Refused
        Where the model that ships does not reach that year.
    """
    if not YEARS[0] <= year < YEARS[1]:
        right = f"read it from a map of that year, and enter it; the model that ships reaches from {YEARS[0]:.0f} to {YEARS[1]:.0f}"
        raise refuse("date", f"{year:.1f} lies outside the {MODEL}", right)
    found = _model().calculate(glat=latitude_deg, glon=longitude_deg, alt=elevation_m / 1000, time=year)
    doubtful = bool(found.in_caution_zone or found.in_blackout_zone)
    return Declination(round(found.d, 2), round(found.calculate_uncertainty().d, 2), doubtful)


def true_bearing_deg(frame: Frame) -> float:
    """The fall line's bearing from true north.

    Raises
    ------
    Refused
        Where nobody said from which north it was taken, or how far the two lie apart.
    """
    return frame.bearing_deg + _from_true(frame.north, "site.frame.north", frame)


def heading_rad(bearing_deg: float, north: North | None, frame: Frame, field: str = "north") -> float:
    """A bearing as a heading on the sheet: 0 along the fall line, positive to the right looking out. Two taken from the same north need no
    declination."""
    if frame.north is None:
        raise refuse("site.frame.north", "nobody said from which north the fall line's bearing was taken", _NORTH)
    if north == frame.north:
        apart = bearing_deg - frame.bearing_deg
    else:
        apart = bearing_deg + _from_true(north, field, frame) - true_bearing_deg(frame)
    return math.radians((apart + 180) % 360 - 180)


def _from_true(north: North | None, field: str, frame: Frame) -> float:
    """What is added to a bearing to have it from true north."""
    if north is None:
        raise refuse(field, "nobody said from which north this bearing was taken", _NORTH)
    if north == "true":
        return 0.0
    if frame.declination_deg is None:
        right = "look it up for the day and the place, or read it from the map's margin"
        raise refuse("site.frame.declination_deg", "how far magnetic north lies from true is not known here", right)
    return frame.declination_deg
