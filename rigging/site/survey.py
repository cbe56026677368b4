"""Surveying features: from distance, bearing and height, or from a rangefinder."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field, ValidationError

from rigging.document import Frame, Place3
from rigging.document.site import North
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict
from rigging.site.north import heading_rad


class Reading(Strict):
    """One reading of a rangefinder: slope distance, inclination (up positive), bearing, and from which north (None: not said)."""

    distance_m: Annotated[float, Field(gt=0, le=5000)]
    inclination_deg: Annotated[float, Field(ge=-90, le=90)]
    bearing_deg: Annotated[float, Field(ge=0, le=360)]
    north: North | None = None


class Taped(Strict):
    """Measured with tape and compass: level distance, height (up positive), bearing, and from which north (None: not said)."""

    # As far at most as a rangefinder reads along the slope.
    level_m: Annotated[float, Field(gt=0, le=4800)]
    height_m: Annotated[float, Field(ge=-1000, le=1000)]
    bearing_deg: Annotated[float, Field(ge=0, le=360)]
    north: North | None = None

    @property
    def reading(self) -> Reading:
        """The same as a rangefinder would read it."""
        return Reading(
            distance_m=math.hypot(self.level_m, self.height_m),
            inclination_deg=math.degrees(math.atan2(self.height_m, self.level_m)),
            bearing_deg=self.bearing_deg,
            north=self.north,
        )


class Placed(Strict):
    """Where a reading puts a feature, and what about it should be questioned."""

    place: Place3
    doubts: list[str]


def place(reading: Reading, frame: Frame | None, held_at: Place3) -> Placed:
    """The place a reading from `held_at` aims at: x = d·cos i·cos b, y = d·cos i·sin b, z = d·sin i further.

    Raises
    ------
    Refused
        If nobody said which way the fall line runs or from which north, or what is read lies further off than a sheet reaches.
    """
    if frame is None:
        raise refuse(
            "site.frame", "bearings can not be placed yet", "give the compass bearing of the fall line, looking out"
        )
    rise, heading = (
        math.radians(reading.inclination_deg),
        heading_rad(reading.bearing_deg, reading.north, frame, "measured.north"),
    )
    level = reading.distance_m * math.cos(rise)
    along = (level * math.cos(heading), level * math.sin(heading), reading.distance_m * math.sin(rise))
    from_here = zip(("x_m", "y_m", "z_m"), (held_at.x_m, held_at.y_m, held_at.z_m), along, strict=True)
    try:
        spot = Place3.model_validate({name: round(here + further, 2) for name, here, further in from_here})
    except ValidationError as error:
        raise refuse(
            "held_at", "what it reads lies beyond the sheet", "read it from nearer to the working point"
        ) from error
    return Placed(place=spot, doubts=_doubts(reading, heading))


def _doubts(reading: Reading, heading: float) -> list[str]:
    found = []
    if reading.distance_m > 100:
        found.append(f"{reading.distance_m:g} m is far for an anchor: did it read something behind it?")
    if reading.distance_m < 0.5:
        found.append(f"{reading.distance_m:g} m is nearer than such an instrument reads: measure it with a tape.")
    if abs(reading.inclination_deg) > 45:
        found.append(f"{reading.inclination_deg:g}° up or down: was it held still on the feature?")
    if math.cos(heading) > math.cos(math.radians(45)):
        found.append("It lies ahead, towards the edge: is the bearing right?")
    return found
