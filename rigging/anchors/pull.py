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
        return cls(cloud.size, unit, cloud.extremes @ turning(cloud.along, unit).T)

    @property
    def expected(self) -> Array:
        return self.force_n.expected * self.unit


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
    def unit(self) -> Array:
        return self.asked.unit

    @property
    def heading_rad(self) -> float:
        return math.atan2(self.unit[1], self.unit[0])


def turning(a: Array, b: Array) -> Array:
    """The rotation (3, 3) that takes unit vector a to b the short way (Rodrigues' formula, any text on kinematics)."""
    axis, cosine = np.cross(a, b), float(a @ b)
    if cosine < -1 + 1e-12:
        across = np.eye(3)[int(np.abs(a).argmin())]
        across -= (across @ a) * a
        across /= np.linalg.norm(across)
        return np.asarray(2 * np.outer(across, across) - np.eye(3))
    skew = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    return np.asarray(np.eye(3) + skew + skew @ skew / (1 + cosine))


def direction(heading_rad: float, dip_rad: float) -> Array:
    """Unit vector of a pull: where to in plan, and how far down."""
    level = math.cos(dip_rad)
    return np.array([level * math.cos(heading_rad), level * math.sin(heading_rad), -math.sin(dip_rad)])


def turned(unit: Array, heading_rad: float | None) -> Array:
    """The pull turned to the heading that the leader set, if any, as steep as it was."""
    if heading_rad is None:
        return unit
    return direction(heading_rad, math.asin(float(np.clip(-unit[2], -1, 1))))
