"""What a loaded line does when part of its anchor goes: how far the load drops, and the peak as what is left takes it.

The load is a mass that moves along the line of pull against a constant pull W. Rope and remaining legs are springs in
series, the working point has no mass of its own. With F(x) the force that they have at the load's place x, the load
turns round where the energy is spent,

    ∫ (F(x) − W) dx = 0  from where it was.

For one linear spring and a fall h before it is taut this is F = W·(1 + √(1 + 2·h·k/W)) (any text on mechanics)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, Strict

STANDARD_GRAVITY = 9.80665


@dataclass(frozen=True)
class Catch:
    """Peak force in newtons, the free drop before anything is taut and, with a clutch, how far it slips, in metres."""

    peak_n: float
    drop_m: float
    slips_m: float


def catch(force_n: Array, place_m: Array, before_m: float, weight_n: float, slip_n: float | None = None) -> Catch:
    """How a load is caught by what is left.

    Parameters
    ----------
    force_n, place_m : (k,) rising force of rope and legs, and the load's place along the pull at each
    before_m : the load's place before, at rest
    weight_n : the constant pull W
    slip_n : force at which something in line slips and eats the rest, if anything does
    """
    drop = max(0.0, float(place_m[0]) - before_m)
    force, place = np.asarray(force_n), np.maximum.accumulate(np.asarray(place_m))
    begins = float(np.interp(before_m, place, force)) if not drop else 0.0
    ahead = (place > before_m) & (np.diff(place, prepend=-math.inf) > 0)
    if slip_n is not None and slip_n <= weight_n:
        return Catch(slip_n, drop, math.inf)
    if ahead.sum() < 2:
        # What is left holds the load where it was, or draws it back: it does not fall.
        return Catch(weight_n, 0.0, 0.0)
    place = np.concatenate([[max(before_m, float(place[0]))], place[ahead]])
    force = np.concatenate([[begins if not drop else float(force_n[0])], force[ahead]])
    spent = np.concatenate([[0.0], np.cumsum((force[1:] + force[:-1]) / 2 * np.diff(place))]) - weight_n * (
        place - before_m
    )
    turned = np.flatnonzero((spent[1:] >= 0) & (force[1:] > weight_n))
    # Past the end of the curve the last stretch's stiffness goes on.
    peak = (
        _turning(force, place, spent, int(turned[0]), weight_n)
        if len(turned)
        else _beyond(force, place, spent, weight_n)
    )
    if slip_n is None or peak <= slip_n:
        return Catch(max(peak, weight_n), drop, 0.0)
    energy = -float(np.interp(slip_n, force, spent))
    return Catch(slip_n, drop, max(0.0, energy / (slip_n - weight_n)))


def _turning(force: Array, place: Array, spent: Array, index: int, weight_n: float) -> float:
    """Force where the energy comes to nothing inside a stretch on which force rises in a straight line."""
    step = place[index + 1] - place[index]
    if step <= 0:
        return float(force[index + 1])
    return _straight_on(float(force[index]), (force[index + 1] - force[index]) / step, float(spent[index]), weight_n)


def _beyond(force: Array, place: Array, spent: Array, weight_n: float) -> float:
    stiffness = (force[-1] - force[-2]) / (place[-1] - place[-2])
    return _straight_on(float(force[-1]), stiffness, float(spent[-1]), weight_n)


def _straight_on(force: float, stiffness: float, spent: float, weight_n: float) -> float:
    """F at which spent + (F² − f²)/(2k) − W·(F − f)/k = 0, from force f on stiffness k."""
    square = (force - weight_n) ** 2 - 2 * stiffness * spent
    return weight_n + math.sqrt(max(0.0, square))


def peak_of_fall_n(weight_n: float, fall_m: float, stiffness_n_per_m: float) -> float:
    """F = W·(1 + √(1 + 2·h·k/W)): a fall h onto one linear spring k.

    >>> peak_of_fall_n(1.0, 4.0, 1.0)
    4.0
    """
    return weight_n * (1 + math.sqrt(1 + 2 * fall_m * stiffness_n_per_m / weight_n))


@dataclass(frozen=True)
class Arrest:
    """A fall stopped by one rope: peak in newtons, stretch, what ran through the clutch and where it stops past the
    fall, in metres. Without an end to the sliding, `slid_m` and `stops_in_m` are None."""

    peak_n: float
    stretch_m: float
    slid_m: float | None
    stops_in_m: float | None


def arrest(
    weight_n: float, fall_m: float, rope_m: float, ea_n: float, slip_n: float | None = None, tied_m: float | None = None
) -> Arrest:
    """A weight that falls freely by `fall_m` onto `rope_m` of rope of stiffness EA, with a clutch that slips, or none.

    Without slip F = W·(1 + √(1 + 2·h·EA/(W·L))). Else the rope stretches to the clutch's force S, and what energy is
    left is eaten by sliding y: W·(h + x + y) = S²·L/(2·EA) + S·y, x = S·L/EA. A rope tied behind the clutch ends the
    sliding after `tied_m`; what energy is left then goes into the rope: F = W + √(W² + 2·(EA/L)·(W·h − (S − W)·y)).

    Examples
    --------
    A weight put on without any fall: the peak is twice its own.

    >>> arrest(2000.0, 0.0, 10.0, 50_000.0).peak_n
    4000.0
    >>> arrest(2000.0, 1.0, 3.0, 49_000.0, slip_n=1500.0).slid_m is None
    True
    """
    stiffness = ea_n / rope_m
    peak = peak_of_fall_n(weight_n, fall_m, stiffness)
    if slip_n is None or peak <= slip_n:
        return Arrest(peak, peak / stiffness, 0.0, peak / stiffness)
    stretch = slip_n / stiffness
    slid = None
    if slip_n > weight_n:
        slid = max(0.0, weight_n * (fall_m + stretch) - slip_n * stretch / 2) / (slip_n - weight_n)
    if tied_m is not None and (slid is None or slid > tied_m):
        left = weight_n * fall_m - (slip_n - weight_n) * tied_m
        peak = weight_n + math.sqrt(max(0.0, weight_n**2 + 2 * stiffness * left))
        return Arrest(peak, peak / stiffness, tied_m, peak / stiffness + tied_m)
    return Arrest(slip_n, stretch, slid, None if slid is None else stretch + slid)


@dataclass(frozen=True)
class Arrests:
    """An arrest with what it depends on anywhere in its range. `slid_m` and `stops_in_m` are None where it may not stop,
    `may_stop` whether it does anywhere."""

    peak_n: Range
    may_stop: bool
    slid_m: Range | None
    stops_in_m: Range | None


def arrests(
    weight_n: Range, fall_m: float, rope_m: float, ea_n: Range, slip_n: Range | None = None, tied_m: float | None = None
) -> Arrests:
    """As `arrest`, over every corner of weight, stiffness and slip.

    Peak and slide rise or fall with each of them; where it stops may be least for a slip inside its range,
    S = W + √(W² + 2·W·h·EA/L), which is asked too (d/dS of (S²·L/(2·EA) + W·h)/(S − W) = 0). With a rope tied behind, the
    peak may be least where the tie is just reached; it is never below the slip, nor below what comes without one.
    """
    cases = []
    for weight, ea in itertools.product((weight_n.low, weight_n.high), (ea_n.low, ea_n.high)):
        slips: list[float | None] = [None]
        if slip_n is not None:
            turn = weight + math.sqrt(weight**2 + 2 * weight * fall_m * ea / rope_m)
            slips = [slip_n.low, slip_n.high, min(max(turn, slip_n.low), slip_n.high)]
        cases += [arrest(weight, fall_m, rope_m, ea, slip, tied_m) for slip in slips]
    expected = arrest(weight_n.expected, fall_m, rope_m, ea_n.expected, slip_n.expected if slip_n else None, tied_m)
    peaks = [one.peak_n for one in (*cases, expected)]
    if tied_m is not None and slip_n is not None:
        unchecked = peak_of_fall_n(weight_n.low, fall_m, ea_n.low / rope_m)
        peaks.append(min(unchecked, slip_n.low))
    return Arrests(
        Range(min(peaks), expected.peak_n, max(peaks)),
        any(one.stops_in_m is not None for one in cases),
        _over([one.slid_m for one in (expected, *cases)]),
        _over([one.stops_in_m for one in (expected, *cases)]),
    )


def _over(values: list[float | None]) -> Range | None:
    """The range over values, the first as expected; None if one of them is without end."""
    known = [one for one in values if one is not None]
    return Range(min(known), known[0], max(known)) if len(known) == len(values) else None


class Fall(Strict):
    """A fall as the command line reads it: `fall_m` free before the rope is tight, `rope_m` in service."""

    mass_kg: Annotated[float, Field(gt=0, le=5000)]
    fall_m: Annotated[float, Field(ge=0, le=200)]
    rope_m: Annotated[float, Field(gt=0, le=2000)]
    ea_kN: Annotated[float, Field(gt=0, le=1e5)]
    slip_kN: Annotated[float, Field(gt=0, le=1000)] | None = None

    def arrest(self) -> Arrest:
        """How it is stopped."""
        slip = None if self.slip_kN is None else 1000 * self.slip_kN
        return arrest(self.mass_kg * STANDARD_GRAVITY, self.fall_m, self.rope_m, 1000 * self.ea_kN, slip)
