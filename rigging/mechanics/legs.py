"""Equilibrium of a working point on several legs, in three dimensions.

Legs pull and never push: a leg of rest length r and stiffness EA pulls with T = EA·(L − r)/r when its length L
exceeds r, and with nothing when slack. The elastic energy less the load's work,

    U(p) = Σ EA·max(0, L(p) − r)² / (2r) − F·p

is convex in the point p; its minimum is where forces balance. Found by Newton steps with Levenberg's damping
(any text on nonlinear optimisation; `descent`)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, TypeVar

import numpy as np
from pydantic import Field, model_validator

from rigging.mechanics.vectors import Array, Point3
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict

T = TypeVar("T", float, Array)
BALANCED_KN = 1e-6
_STEPS, FIRM = 2000, 1e-9
# What is left unbalanced is nothing beside the load, or beside what anybody could read off a cell.
_ENOUGH_KN, _ENOUGH = 1e-4, 1e-4


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
    if not np.all(ea.any(axis=1)):
        raise refuse("legs", "no leg is left to hold the load", "give at least one leg")
    acts = np.ones(ea.shape[1]) if acts is None else acts
    found = descended(to, ea, rest, load, acts, start)
    enough = np.maximum(_ENOUGH_KN, _ENOUGH * np.linalg.norm(load, axis=1))
    points, tensions, off = found.points, found.tensions, found.unbalance
    for leg in range(ea.shape[1]):
        # Round a stiff leg the way down is a narrow bend. Where all hangs on one leg there is no way to go.
        rows = np.flatnonzero((off >= enough) & (ea[:, leg] > 0))
        if len(rows):
            ends = np.broadcast_to(to, (len(ea), *to.shape[-2:]))[rows]
            alone = _on_one(ends[:, leg], ea[rows, leg], rest[rows, leg], load[rows])
            again = descended(ends, ea[rows], rest[rows], load[rows], acts, alone)
            better = again.unbalance < off[rows]
            for mine, new in ((points, again.points), (tensions, again.tensions), (off, again.unbalance)):
                mine[rows[better]] = new[better]
    if np.all(off < enough):
        return Hangs(points, tensions)
    raise refuse("legs", "the forces do not come to a balance", "check rest lengths, stiffness and load")


def _on_one(to: Array, ea: Array, rest: Array, load: Array) -> Array:
    """Where the point hangs on one leg alone (b, 3): straight out along the load, as far as that stretches it."""
    force = np.linalg.norm(load, axis=1)
    return np.asarray(to + (rest * (1 + force / ea) / np.maximum(force, 1e-12))[:, None] * load)


@dataclass(frozen=True)
class Descended:
    """Where states came to: points (b, 3) m, tensions (b, n) kN and the unbalance (b,) left in kN."""

    points: Array
    tensions: Array
    unbalance: Array


def descended(to: Array, ea: Array, rest: Array, load: Array, acts: Array, start: Array) -> Descended:
    """Down the energy from starts (b, 3), no step longer than legs go; parameters as in `hang_all`."""
    to = np.array(to if to.ndim == 3 else to[None], dtype=float, order="C")
    far = np.sqrt(np.einsum("bni,bni->bn", to - start[:, None], to - start[:, None]))
    reach_m = rest.max(axis=1) + far.max(axis=1) + 1
    stiff, rest, load, acts, start, reach_m = (
        np.array(one, dtype=float, order="C") for one in (ea / rest, rest, load, acts, start, reach_m)
    )
    # Loaded where legs are first asked for: the compiler behind it takes a second.
    from rigging.mechanics.descent import descend

    points, tensions, _, unbalance, _ = descend(to, stiff, rest, load, acts, start, reach_m, _STEPS, BALANCED_KN, FIRM)
    return Descended(points, tensions, unbalance)


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
