"""Equilibrium of a working point on several legs, in three dimensions.

Legs pull and never push: a leg of rest length r and stiffness EA pulls with T = EA·(L − r)/r when its length L
exceeds r, and with nothing when slack. The elastic energy less the load's work,

    U(p) = Σ EA·max(0, L(p) − r)² / (2r) − F·p

is convex in the point p; its minimum is where forces balance. Found by Newton steps with Levenberg's damping
(any text on nonlinear optimisation)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from rigging.faults import refuse
from rigging.ranges import Strict

Array = NDArray[np.float64]
Coordinate = Annotated[float, Field(ge=-10_000, le=10_000)]
Point3 = tuple[Coordinate, Coordinate, Coordinate]
_BALANCED_KN = 1e-7
_STEPS = 400


class Leg(Strict):
    """A leg to `to` (metres), of stiffness `ea` (kN): its `rest` length, or its `pretension` (kN) at the start."""

    to: Point3
    ea: Annotated[float, Field(gt=0, le=1e7)]
    rest: Annotated[float, Field(gt=0, le=10_000)] | None = None
    pretension: Annotated[float, Field(ge=0, le=1000)] | None = None

    @model_validator(mode="after")
    def _one_of_two(self) -> Leg:
        if (self.rest is None) == (self.pretension is None):
            raise ValueError("a leg needs its rest length or its pretension; give exactly one of rest and pretension")
        return self


class LegsProblem(Strict):
    """Legs, the `load` on the working point (kN), and the `point` to start from (metres)."""

    legs: Annotated[list[Leg], Field(min_length=1, max_length=24)]
    load: Point3
    point: Point3


@dataclass(frozen=True)
class Hang:
    """Where the working point comes to rest (metres) and what each leg pulls (kN, 0 for a slack one)."""

    point: Array
    tensions: Array


def rest_lengths(problem: LegsProblem) -> Array:
    """Rest length of each leg; from its pretension at the start point where that was given.

    Raises
    ------
    Refused
        If a pretensioned leg starts at its own anchor: it has no direction to pull in.
    """
    found = []
    for number, leg in enumerate(problem.legs):
        if leg.rest is not None:
            found.append(leg.rest)
            continue
        apart = float(np.linalg.norm(np.subtract(problem.point, leg.to)))
        if apart < 1e-6:
            right = "move the point away, or give the leg a rest length"
            raise refuse(f"legs[{number}].to", "this leg's anchor is at the working point itself", right)
        assert leg.pretension is not None
        found.append(apart / (1 + leg.pretension / leg.ea))
    return np.array(found)


def hang(to: Array, ea: Array, rest: Array, load: Array, start: Array) -> Hang:
    """Equilibrium of the working point.

    Parameters
    ----------
    to : (n, 3) anchors of the legs, m
    ea, rest : (n,) stiffness in kN and rest length in m
    load : (3,) kN
    start : (3,) m

    Raises
    ------
    Refused
        If forces can not be balanced, for instance with no leg left.
    """
    if len(to) == 0:
        raise refuse("legs", "no leg is left to hold the load", "give at least one leg")
    point, damping = start.astype(float), 1e-9
    energy, gradient, hessian, tensions = _state(point, to, ea, rest, load)
    reach = float(np.max(rest) + np.max(np.linalg.norm(to - start, axis=1)) + 1)
    for _ in range(_STEPS):
        if np.linalg.norm(gradient) < _BALANCED_KN:
            return Hang(point, tensions)
        step = np.linalg.solve(hessian + damping * np.eye(3), -gradient)
        size = float(np.linalg.norm(step))
        step *= min(1.0, reach / size)
        trial = _state(point + step, to, ea, rest, load)
        # Near the minimum the energy's last digits are noise: there a smaller unbalance counts as progress.
        lower = trial[0] < energy + 1e-4 * float(gradient @ step)
        if lower or np.linalg.norm(trial[1]) < 0.5 * np.linalg.norm(gradient):
            point = point + step
            energy, gradient, hessian, tensions = trial
            damping = max(damping / 10, 1e-9)
        else:
            damping *= 10
    if np.linalg.norm(gradient) < 1e-4:
        return Hang(point, tensions)
    raise refuse("legs", "the forces do not come to a balance", "check rest lengths, stiffness and load")


def _state(point: Array, to: Array, ea: Array, rest: Array, load: Array) -> tuple[float, Array, Array, Array]:
    """Energy, its gradient and Hessian at a point, and the tensions there."""
    away = point - to
    length = np.maximum(np.linalg.norm(away, axis=1), 1e-12)
    unit = away / length[:, None]
    stretch = np.maximum(0.0, length - rest)
    tension = ea * stretch / rest
    taut = stretch > 0
    along = np.where(taut, ea / rest, 0.0)
    across = tension / length
    outer = unit[:, :, None] * unit[:, None, :]
    hessian = np.tensordot(along - across, outer, axes=1) + across.sum() * np.eye(3)
    energy = float((ea * stretch**2 / (2 * rest)).sum() - load @ point)
    return energy, tension @ unit - load, hessian, tension


@dataclass(frozen=True)
class LegsAnswer:
    """The anchor whole, and with each leg removed in turn (None where nothing is left to hold)."""

    whole: Hang
    without: tuple[Hang | None, ...]


def solve_legs(problem: LegsProblem) -> LegsAnswer:
    """Equilibrium with every leg, and with each one removed.

    Raises
    ------
    Refused
        If a leg has no direction, or forces do not balance.
    """
    to = np.array([leg.to for leg in problem.legs], dtype=float)
    ea = np.array([leg.ea for leg in problem.legs])
    rest, load = rest_lengths(problem), np.array(problem.load)
    whole = hang(to, ea, rest, load, np.array(problem.point))
    without: list[Hang | None] = []
    for number in range(len(to)):
        kept = np.arange(len(to)) != number
        if not kept.any():
            without.append(None)
            continue
        left = hang(to[kept], ea[kept], rest[kept], load, whole.point)
        without.append(Hang(left.point, np.insert(left.tensions, number, 0.0)))
    return LegsAnswer(whole, tuple(without))
