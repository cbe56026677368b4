"""What pulls on an arrangement: how hard, which way, and through how much rope."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rigging.document import Arrangement
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range


@dataclass(frozen=True)
class Pulling:
    """A pull of `force_n` along `unit` (3,); `rope_n_per_m` is how stiff the rope to the load is (None: no rope between),
    `slip_n` where something in line slips first, and what it is."""

    force_n: Range
    unit: Array
    rope_n_per_m: Range | None
    slip_n: Range | None = None
    slips: str = ""

    def swings_rad(self, arrangement: Arrangement) -> float:
        """How far it may swing to either side; a pull straight down has no side."""
        return arrangement.swing_rad if math.hypot(self.unit[0], self.unit[1]) > 0.05 else 0.0

    @property
    def heading_rad(self) -> float:
        return math.atan2(self.unit[1], self.unit[0])


def direction(heading_rad: float, dip_rad: float) -> Array:
    """Unit vector of a pull: where to in plan, and how far down."""
    level = math.cos(dip_rad)
    return np.array([level * math.cos(heading_rad), level * math.sin(heading_rad), -math.sin(dip_rad)])


def turned(unit: Array, heading_rad: float | None) -> Array:
    """The pull turned to the heading that the leader set, if any, as steep as it was."""
    if heading_rad is None:
        return unit
    return direction(heading_rad, math.asin(float(np.clip(-unit[2], -1, 1))))
