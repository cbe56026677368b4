"""A simulated load cell: what a real one would send while a team works, made from the plan's states.

Nothing in it is measured. Hauling comes in pulls with pauses; over edges rope sticks and slips; haulers surge; the cell is noisy, drifts,
rounds and drops readings; things go wrong when they are asked to. Every draw is from the seed.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from rigging.quantities.ranges import Range
from rigging.readings.places import Motion, Place, Predictor
from rigging.site.load import GRAVITY

HERTZ = 20
Event = Literal["jam", "snag", "shock", "creep", "joins"]
# What a cell of 20 kN with a small display does; common practice, no source.
_NOISE_N, _ROUNDS_N, _DRIFT_N_PER_ROOT_MIN = 8.0, 1.0, 0.8
_DROPS, _GAPS_PER_HOUR = 0.002, 6.0
_CREEP_M_PER_MIN = 0.005
# In a step in which the team moves the load it pulls so long, and holds so long.
_PULL_S, _HOLD_S = 9.0, 4.0
# The load comes to another place of its way within so long.
_COMES_S = 3.0


@dataclass(frozen=True)
class Levels:
    """What a place really bears in newtons: hanging, coming up, going down, and with the load stuck and everybody pulling; friction's
    share of it while it moves, that sticks and slips."""

    still: float
    raising: float
    lowering: float
    jammed: float
    friction: float
    creep_n_per_m: float
    weight_n: float

    def nearer(self, other: Levels, share: float) -> Levels:
        """A share of the way to others."""
        return Levels(*(a + (b - a) * share for a, b in zip(vars(self).values(), vars(other).values(), strict=True)))


def levels_of(predictor: Predictor, where: Place, chance: random.Random) -> Levels:
    """The truth of one day, somewhere in what is predicted."""

    def drawn(band: Range | None, instead: float) -> float:
        return chance.triangular(band.low, band.high, band.expected) if band else instead

    still = drawn(predictor.band(where, "still"), 0.0)
    raising = drawn(predictor.band(where, "raising"), still)
    lowering = drawn(predictor.band(where, "lowering"), still)
    jammed = max(drawn(predictor.at(where, "jammed"), 1.8 * raising), 1.4 * max(raising, still))
    state = "between-hauls" if predictor.solved("between-hauls") else "held"
    creep = predictor.creep_n_per_m(where, state) or 0.0
    resting = predictor.solver.resting
    weight = resting.mass_kg.expected * GRAVITY if resting else 0.0
    return Levels(
        still,
        raising,
        lowering,
        jammed,
        0.06 * raising + min(abs(raising - still) * 0.25, 0.06 * raising),
        creep,
        weight,
    )


@dataclass(frozen=True)
class Phase:
    motion: Motion
    seconds: float


def hauling(chance: random.Random, seconds: float) -> Iterator[Phase]:
    """Pull, hold, reset, again, until the time is up."""
    spent = 0.0
    while spent < seconds:
        for motion, low, high in (("still", 6.0, 14.0), ("raising", 7.0, 13.0)):
            phase = Phase(motion, chance.uniform(low, high))  # type: ignore[arg-type]
            spent += phase.seconds
            yield phase


def at_work(moves: Sequence[Motion], since_s: float) -> Motion:
    """What a team does in a step in which it does that, by turns with holding."""
    return moves[0] if moves and since_s % (_PULL_S + _HOLD_S) > _HOLD_S else "still"


class Cell:
    """One cell, read tick by tick: `next(motion)` is its reading in newtons, None where it dropped one."""

    def __init__(self, levels: Levels, seed: int):
        self.levels, self.chance = levels, random.Random(seed)
        self._to = levels
        self.ticks = 0
        self._drift = 0.0
        self._force = levels.still
        self._phase = 0.0
        self._rate = self.chance.uniform(0.8, 3.0)
        self._surge = self.chance.uniform(0.4, 0.9)
        self._held = 1.0
        self._moving: Motion = "still"
        self._since = 0
        self._gap = 0
        self._event: tuple[Event, int, float, float] | None = None

    @property
    def at_s(self) -> float:
        return self.ticks / HERTZ

    def happens(self, event: Event) -> None:
        """Something goes wrong from now on."""
        sizes = {"jam": (0.3, 0.8), "snag": (0.2, 0.6), "shock": (0.1, 0.25), "creep": (0.0, 0.0), "joins": (0.8, 1.6)}
        self._event = (event, self.ticks, self.chance.uniform(*sizes[event]), self.chance.uniform(1.28, 1.6))

    def comes_to(self, levels: Levels) -> None:
        """The load goes on to another place of its way."""
        self._to = levels

    def over(self) -> None:
        """What went wrong is mended."""
        self._event = None

    def next(self, motion: Motion) -> float | None:
        self.ticks += 1
        if self.levels is not self._to:
            self.levels = self.levels.nearer(self._to, 1 / HERTZ / _COMES_S)
        if motion != self._moving:
            self._moving, self._since = motion, self.ticks
            if motion == "still":
                # Where friction leaves it, each time anew.
                self._held = self.chance.uniform(0.97, 1.03)
        wanted = self._after(self._wanted(motion))
        # Rope and haulers give: a quarter of a second until a change is through.
        self._force += (wanted - self._force) * min(1.0, 1 / HERTZ / 0.12)
        self._drift += self.chance.gauss(0, _DRIFT_N_PER_ROOT_MIN / math.sqrt(60 * HERTZ))
        if self._gap > 0 or self.chance.random() < _GAPS_PER_HOUR / 3600 / HERTZ:
            self._gap = self._gap - 1 if self._gap > 0 else round(self.chance.uniform(0.2, 0.8) * HERTZ)
            return None
        if self.chance.random() < _DROPS:
            return None
        read = self._force + self._drift + self.chance.gauss(0, _NOISE_N)
        return round(read / _ROUNDS_N) * _ROUNDS_N

    def _wanted(self, motion: Motion) -> float:
        levels, now = self.levels, self.at_s
        if motion == "still":
            return levels.still * self._held * (1 + 0.004 * math.sin(2 * math.pi * 0.2 * now))
        level = levels.raising if motion == "raising" else levels.lowering
        self._phase += self._rate / HERTZ * self.chance.uniform(0.7, 1.3)
        stick = levels.friction * ((self._phase % 1.0) - 0.5)
        surge = 0.03 * level * math.sin(2 * math.pi * self._surge * now)
        begun = (self.ticks - self._since) / HERTZ
        jerk = 0.10 * level * math.exp(-begun / 0.25) if motion == "raising" else 0.0
        return level + stick + surge + jerk

    def _after(self, wanted: float) -> float:
        """What goes wrong laid over what would be read."""
        if self._event is None:
            return wanted
        kind, began, ramp_s, size = self._event
        since = (self.ticks - began) / HERTZ
        part = min(1.0, since / ramp_s) if ramp_s else 1.0
        if kind == "jam":
            return wanted + (self.levels.jammed - wanted) * part
        if kind == "snag":
            return wanted * (1 + (size - 1) * part)
        if kind == "shock":
            return wanted + 1.2 * wanted * math.exp(-((since - ramp_s) ** 2) / (2 * 0.06**2))
        if kind == "joins":
            return wanted * (1 + 800.0 / max(self.levels.weight_n, 1.0) * part)
        return wanted + self.levels.creep_n_per_m * _CREEP_M_PER_MIN * since / 60
