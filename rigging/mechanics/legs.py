"""Equilibrium of a working point on several legs, in three dimensions.

Legs pull and never push: a leg of rest length r and stiffness EA pulls with T = EA·(L − r)/r when its length L
exceeds r, and with nothing when slack. The elastic energy less the load's work,

    U(p) = Σ EA·max(0, L(p) − r)² / (2r) − F·p

is convex in the point p; its minimum is where forces balance. Found by Newton steps with Levenberg's damping
(any text on nonlinear optimisation)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from rigging.mechanics.vectors import Array, Point3
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict

Rows = NDArray[Any] | slice
T = TypeVar("T", float, Array)
_BALANCED_KN = 1e-6
_STEPS = 400
_SNUG_M = 1e-9
_EYE = np.eye(3)


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


def unloaded(length: T, tension: T, ea: T) -> T:
    """Unloaded length of what is `length` long under a tension: r = L / (1 + T/EA), tension and EA in the same unit."""
    return length / (1 + tension / ea)


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
        found.append(unloaded(apart, leg.pretension, leg.ea))
    return np.array(found)


@dataclass(frozen=True)
class Hangs:
    """Several states at once: `points` (b, 3) in metres and `tensions` (b, n) in kN, negative for a pushing prop."""

    points: Array
    tensions: Array


def hang(to: Array, ea: Array, rest: Array, load: Array, start: Array, acts: Array | None = None) -> Hang:
    """Equilibrium of the working point; one state of `hang_all`, with the same parameters less their first axis.

    Raises
    ------
    Refused
        If forces can not be balanced, for instance with no leg left.
    """
    found = hang_all(to, ea[None], rest[None], load[None], start[None], acts)
    return Hang(found.points[0], found.tensions[0])


def hang_all(to: Array, ea: Array, rest: Array, load: Array, start: Array, acts: Array | None = None) -> Hangs:
    """Equilibria of many states of one anchor, worked out side by side.

    Parameters
    ----------
    to : (n, 3) or (b, n, 3) far ends of the legs, m
    ea, rest : (b, n) stiffness in kN (0 takes the leg out) and rest length in m
    load : (b, 3) kN
    start : (b, 3) m
    acts : (n,) +1 a leg that only pulls, −1 a prop that only pushes, 0 ground that does both; all +1 if left out

    Raises
    ------
    Refused
        If the forces of a state can not be balanced, for instance with no leg left.
    """
    state = Legs(to, ea, rest, load, np.ones(ea.shape[1]) if acts is None else acts)
    if not np.all(ea.any(axis=1)):
        raise refuse("legs", "no leg is left to hold the load", "give at least one leg")
    reach = np.max(rest, axis=1) + np.max(np.linalg.norm(state.to - start[:, None], axis=2), axis=1) + 1
    point, at = descended(state, start, reach)
    if np.all(at.unbalance < 1e-4 * np.maximum(1.0, np.linalg.norm(load, axis=1))):
        return Hangs(point, at.tension)
    raise refuse("legs", "the forces do not come to a balance", "check rest lengths, stiffness and load")


def descended(state: Legs, start: Array, reach_m: Array, steps: int = _STEPS) -> tuple[Array, Measured]:
    """Down the energy from starts (b, 3), no step longer than its reach (b,): where each came to, and what is measured there."""
    point = start.astype(float)
    damping = 0.01 * state.stiff.max(axis=1)
    at = state.measure(point)
    for _ in range(steps):
        going = np.flatnonzero(at.unbalance >= _BALANCED_KN)
        if not len(going):
            break
        every = len(going) == len(start)
        rows: Rows = slice(None) if every else going
        here = at if every else at.only(going)
        step = np.linalg.solve(here.hessian + damping[rows, None, None] * _EYE, -here.gradient[..., None])[..., 0]
        size = np.sqrt(np.einsum("bi,bi->b", step, step))
        step *= np.minimum(1.0, reach_m[rows] / np.maximum(size, 1e-30))[:, None]
        trial = state.measure(point[rows] + step, rows)
        # Near the minimum the energy's last digits are noise: there a smaller unbalance counts as progress.
        better = trial.energy < here.energy + 1e-4 * np.einsum("bi,bi->b", here.gradient, step)
        better |= trial.unbalance < 0.5 * here.unbalance
        if every and better.all():
            point, at = point + step, trial
        else:
            moved = going[better]
            point[moved] += step[better]
            at.put(moved, trial.only(better))
        damping[rows] *= np.where(better, 1 / 30, 8.0)
    return point, at


@dataclass
class Measured:
    """Energy (b,), its gradient (b, 3) and Hessian (b, 3, 3), leg tensions (b, n) and the unbalance (b,)."""

    energy: Array
    gradient: Array
    hessian: Array
    tension: Array
    unbalance: Array

    def only(self, rows: Rows) -> Measured:
        return Measured(*(part[rows] for part in vars(self).values()))

    def put(self, rows: Rows, other: Measured) -> None:
        for part, new in zip(vars(self).values(), vars(other).values(), strict=True):
            part[rows] = new


class Legs:
    """The legs of every state, and what they do at given points."""

    def __init__(self, to: Array, ea: Array, rest: Array, load: Array, acts: Array):
        self.to = np.broadcast_to(to, (len(ea), *to.shape[-2:]))
        self.ea, self.rest, self.load, self.stiff = ea, rest, load, ea / rest
        self.pulls, self.pushes = acts >= 0, acts <= 0
        self.only_pull = bool(np.all(acts > 0))

    def measure(self, point: Array, rows: Rows = slice(None)) -> Measured:
        rest, load, stiff = self.rest[rows], self.load[rows], self.stiff[rows]
        away = point[:, None] - self.to[rows]
        length = np.maximum(np.sqrt(np.einsum("bni,bni->bn", away, away)), 1e-12)
        unit = away / length[..., None]
        stretch = length - rest
        # A leg just snug counts as taut, so that the first step knows its stiffness.
        taut = stretch > -_SNUG_M
        if not self.only_pull:
            taut = taut & self.pulls | (stretch < _SNUG_M) & self.pushes
        stretch = stretch * taut
        tension = stiff * stretch
        along, across = stiff * taut, tension / length
        hessian = (unit * (along - across)[..., None]).transpose(0, 2, 1) @ unit
        hessian += across.sum(axis=1)[:, None, None] * _EYE
        energy = 0.5 * np.einsum("bn,bn->b", tension, stretch) - np.einsum("bi,bi->b", load, point)
        gradient = (tension[:, None] @ unit)[:, 0] - load
        return Measured(energy, gradient, hessian, tension, np.sqrt(np.einsum("bi,bi->b", gradient, gradient)))


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
