"""What the load asks of the rope: weight, slope, and friction against the ground."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.mechanics.dynamics import STANDARD_GRAVITY
from rigging.mechanics.vectors import Vector, minus
from rigging.quantities.ranges import Range
from rigging.site.ground import RopeWay, height_at, rope_way, run_positions, slope_at

GRAVITY = STANDARD_GRAVITY
_CLEAR_M = 0.5
EdgeFactor = Callable[[RopeWay], float]


@dataclass(frozen=True)
class Resting:
    """The load at one place: its mass, the ground's steepness, the rope's lift above the ground, friction."""

    mass_kg: Range
    slope_rad: float
    lift_rad: float
    mu: Range
    hangs: bool


def own_way(load: Resting) -> Vector:
    """The way the load would go by itself: straight down, or down the slope it lies on."""
    if load.hangs:
        return (0.0, 0.0, -1.0)
    return (math.cos(load.slope_rad), 0.0, -math.sin(load.slope_rad))


def load_mass(plan: Plan) -> Range:
    """Sum of the items, with what each may weigh more or less; where readings have said it, what they say."""
    if (found := plan.found_of("load", "")) is not None:
        return found
    mass = math.fsum(item.mass_kg for item in plan.load.items)
    doubt = math.fsum(item.plus_minus_kg for item in plan.load.items)
    return Range(low=mass - doubt, expected=mass, high=mass + doubt)


def resting(plan: Plan, way: RopeWay) -> Resting:
    """The load at the end of `way`."""
    contact = catalogue().contacts[plan.load.contact]
    at, last = way.points[-1], way.points[-2]
    slope = slope_at(plan.site, at[0], at[2])
    back = minus(last, at)
    lift = math.atan2(back[2], math.copysign(math.hypot(back[0], back[1]), -back[0])) - slope
    ground = height_at(plan.site, at[0])
    # Clear of the ground it hangs, whatever it does where it touches.
    clear = ground is not None and at[2] > ground + _CLEAR_M
    return Resting(load_mass(plan), slope, lift, contact.mu, contact.id == "hangs" or clear)


def pull_n(load: Resting, mass_kg: float, mu: float, rising: bool) -> float:
    """Tension in newtons that just moves the load up (or, `rising` false, just holds it from sliding down).

    T = W·(sin θ ± μ·cos θ) / (cos δ ± μ·sin δ), δ the rope's lift above the slope; the whole weight where the
    load hangs, or where the rope would lift it off the ground.
    """
    weight = mass_kg * GRAVITY
    sign = 1 if rising else -1
    under = math.cos(load.lift_rad) + sign * mu * math.sin(load.lift_rad)
    if load.hangs or under <= 0.05:
        return weight
    pull = weight * (math.sin(load.slope_rad) + sign * mu * math.cos(load.slope_rad)) / under
    lifts_off = weight * math.cos(load.slope_rad) < pull * math.sin(load.lift_rad)
    return weight if lifts_off else max(0.0, pull)


@dataclass(frozen=True)
class HardestPlace:
    """Where on the way up the expected pull at the working point is highest, over the pull where the load is now."""

    x_m: float
    z_m: float
    ratio: float


def hardest_place(plan: Plan, way: RopeWay, edge_factor: EdgeFactor) -> HardestPlace | None:
    """The place between load and first corner that asks most when raising, if it asks more than here."""

    def asked(over: RopeWay) -> float:
        load = resting(plan, over)
        return pull_n(load, load.mass_kg.expected, load.mu.expected, True) * edge_factor(over)

    here, best = asked(way), None
    if here <= 0:
        return None
    for x, z in run_positions(plan.site, way):
        ratio = asked(rope_way(plan.site, way.start, (x, 0.0, z))) / here
        if ratio > (best.ratio if best else 1.02):
            best = HardestPlace(x, z, ratio)
    return best
