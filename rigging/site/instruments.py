"""Simulated stand-ins for outside devices, so that everything can be tried without one."""

from __future__ import annotations

import math
import random

from rigging.document import Frame
from rigging.site.survey import Reading


def simulated_rangefinder(luck: random.Random, frame: Frame | None) -> Reading:
    """A reading of some feature 2 to 9 m behind the working point, with the noise such instruments have: ± 0.05 m,
    ± 0.3° of inclination, ± 1° of bearing (standard deviations)."""
    behind = (frame.bearing_deg if frame else 0.0) + 180 + luck.uniform(-50, 50)
    distance, rise = luck.uniform(2, 9), luck.uniform(-4, 12)
    return Reading(
        distance_m=round(max(0.3, luck.gauss(distance, 0.05)), 2),
        inclination_deg=round(luck.gauss(rise, 0.3), 1),
        bearing_deg=round(math.fmod(luck.gauss(behind, 1.0) + 720, 360), 1),
        north=(frame and frame.north) or "magnetic",
    )
