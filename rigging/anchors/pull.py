"""What pulls on an arrangement: how hard, which way, and through how much rope."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.bounds import Cloud
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range


@dataclass(frozen=True)
class Asked:
    """What an anchor is asked to hold: a pull of `force_n` newtons along `unit` (3,), which is anywhere in the hull of `ends` (m, 3)
    newtons."""

    force_n: Range
    unit: Array
    ends: Array

    @classmethod
    def straight(cls, force_n: Range, unit: Array) -> Asked:
        """A pull whose direction is known."""
        return cls(force_n, unit, np.unique([force_n.low, force_n.high])[:, None] * unit)

    @classmethod
    def of(cls, cloud: Cloud, unit: Array) -> Asked:
        """What lines add up to, turned as a whole so that it goes along `unit`."""
        return cls(cloud.size, unit, turned_to(cloud.extremes, cloud.along, unit[None])[0])

    @property
    def expected(self) -> Array:
        return self.force_n.expected * self.unit

    @property
    def every_number(self) -> tuple[object, ...]:
        """What tells it from any other."""
        return self.force_n, self.unit.tobytes(), self.ends.shape, self.ends.tobytes()


@dataclass(frozen=True)
class Pulling:
    """What an arrangement is asked to hold; `rope_n_per_m` is how stiff the rope to the load is (None: no rope between),
    `slip_n` where something in line slips first, and what it is."""

    asked: Asked
    rope_n_per_m: Range | None
    slip_n: Range | None = None
    slips: str = ""

    @property
    def force_n(self) -> Range:
        return self.asked.force_n

    @property
    def every_number(self) -> tuple[object, ...]:
        """What tells it from any other."""
        return self.asked.every_number, self.rope_n_per_m, self.slip_n

    @property
    def unit(self) -> Array:
        return self.asked.unit

    @property
    def heading_rad(self) -> float:
        return math.atan2(self.unit[1], self.unit[0])


def turned_to(vectors: Array, unit: Array, ways: Array) -> Array:
    """Vectors (m, 3) turned as a whole (d, m, 3) so that the unit vector among them goes along each of several ways (d, 3), the
    short way round (Rodrigues' formula, any text on kinematics)."""
    axes, cosines = crossed(unit[None], ways), ways @ unit
    # Straight back there is no short way: round any axis across.
    back = cosines < -1 + 1e-12
    across = np.eye(3)[int(np.abs(unit).argmin())]
    across = across - (across @ unit) * unit
    across /= math.sqrt(float(across @ across))
    once = crossed(axes[:, None], vectors[None])
    found = vectors[None] + once + crossed(axes[:, None], once) / np.where(back, 1.0, 1 + cosines)[:, None, None]
    return np.where(back[:, None, None], 2 * (vectors @ across)[:, None] * across - vectors, found)


def crossed(a: Array, b: Array) -> Array:
    """a × b along the last axis."""
    return np.stack(
        [
            a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1],
            a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2],
            a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0],
        ],
        axis=-1,
    )  # fmt: skip


def direction(heading_rad: float, dip_rad: float) -> Array:
    """Unit vector of a pull: where to in plan, and how far down."""
    level = math.cos(dip_rad)
    return np.array([level * math.cos(heading_rad), level * math.sin(heading_rad), -math.sin(dip_rad)])


def turned(unit: Array, heading_rad: float | None) -> Array:
    """The pull turned to the heading that the leader set, if any, as steep as it was."""
    if heading_rad is None:
        return unit
    return direction(heading_rad, math.asin(float(np.clip(-unit[2], -1, 1))))
