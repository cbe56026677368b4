"""Readings of a cell watched as they come: a sudden rise, a band left, silence, creep.

A rise is found by Page's cumulative sum (E. S. Page, Continuous inspection schemes, Biometrika 41, 1954) of how far readings stand over
the level where they last settled, in units of their own scatter there. Most rises are ordinary: from hanging to hauling and
back. What a rise came to is looked at a moment later: what readings rose to before and settled at, or, where they never did, the predicted
bands, is ordinary; anything over it is an alarm.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, field
from statistics import median
from typing import Literal

import numpy as np

from rigging.quantities.ranges import Range

Kind = Literal["rise", "shock", "outside", "creep", "silence", "unit", "sign", "frozen"]

# The cumulative sum: how many scatters a reading may stand over the level for nothing, and how many add up to a rise.
_ALLOWED, _DECIDES = 2.5, 8.0
# A scatter is never taken for less than this share of the level, nor than this force.
_SCATTER, _SCATTER_N = 0.02, 8.0
# From the sum's decision until it is looked at what the rise came to; while it still goes up by so much in four readings, until this at most.
_LOOK_S, _LOOK_MOST_S, _STILL_RISES = 0.35, 0.45, 1.08
# A level that has stood so long, within so much, is settled; what was risen to in so many pulls is known. Looked at so often.
_SETTLED_S, _SETTLED_WITHIN, _PULLS, _LOOK_EVERY_S = 1.6, 0.05, 6, 0.2
# Of what was to be read where it pulls less, a level that is at least so much tells that it does; nothing on the cell does not.
_COME_DOWN = 0.4
# A rise to no more than so much over a level risen to before is ordinary; before that, to so much over the predicted bands.
_NEAR, _BAND = 0.12, 0.05
_OUTSIDE_S = 6.0
# A rise of which no more than this share is left has passed; one that came so far over all that is ordinary was a shock.
_PASSED, _SHOCK = 0.4, 1.3
# A rise goes on for so long after it was said; one that then comes to so much more is another.
_RISES_S, _AGAIN = 2.0, 1.3
_CREEP_S, _CREEP_LEAST_S = 110, 60
_CREEP_SURE = 4.0
SILENCE_S = 1.5
# What pulls by jerks is said once; a rise no higher than jerks of the last while counts only if it stays so long.
_JERKS_S, _JERK_NEAR, _STAYS_S = 60.0, 1.3, 1.5
# Readings have their right unit and sign once so many were what could be; what else a force might have been sent in.
_RIGHT = 10
UNITS = {"kN": 1000.0, "kgf": 9.80665, "lbf": 4.4482216}
_UNIT_WITHIN = 1.25
# Readings that are less than so many times too high may be just that: they are never taken for less on their own.
_MUCH = 8.0
# A cell whose last digit has not moved for so long is frozen; a reading so far ahead of the next had a wrong clock.
_FROZEN_S, _FROZEN_ROWS, _AHEAD_S = 45.0, 100, 5.0


@dataclass(frozen=True)
class Alarm:
    """Something a leader would stop for, or look at: `at_s` by the cell's clock, what it stands at, the level before; `rate` of a creep in
    newtons a minute; `unit` that readings seem to be in."""

    kind: Kind
    at_s: float
    force_n: float
    level_n: float
    rate_n_min: float = 0.0
    unit: str = ""


@dataclass
class Watch:
    """One cell's readings watched. `bands` are predicted for what the step now does; `creep_n_min`: the change of a leg's force that
    counts as creep (None: not a leg, or a leg alone)."""

    bands: Sequence[Range] = ()
    creep_n_min: float | None = None
    _last: deque[tuple[float, float]] = field(default_factory=lambda: deque(maxlen=80))
    _risen: deque[float] = field(default_factory=lambda: deque(maxlen=_PULLS))
    _pull: Range | None = None
    _eases: float = 1.0
    _level: float | None = None
    _scatter: float = 0.0
    _sum: float = 0.0
    _rising_since: float | None = None
    _peak: float = 0.0
    _raised: float | None = None
    _raised_s: float = -math.inf
    _rose: bool = False
    _from_s: float = -math.inf
    _next_look: float = -math.inf
    _outside_since: float | None = None
    _said_outside: bool = False
    _second: list[float] = field(default_factory=list)
    _seconds: deque[tuple[float, float]] = field(default_factory=lambda: deque(maxlen=_CREEP_S))
    _next_creep: float = -math.inf
    _jerks: deque[tuple[float, float]] = field(default_factory=lambda: deque(maxlen=40))
    _right: int = 0
    _factor: float = 1.0
    _same: tuple[float, float, int] | None = None
    _said_frozen: bool = False

    def feed(self, at_s: float, force_n: float) -> Alarm | None:
        """A reading: what it gives reason to say, if anything."""
        last = self._last
        if last and at_s < last[-1][0] - _AHEAD_S:
            self._clock_back(at_s)
        if last and at_s <= last[-1][0]:
            return None
        frozen = self._frozen(at_s, force_n)
        force_n *= self._factor
        last.append((at_s, force_n))
        if not self._known(force_n):
            return self._outside(at_s, force_n)
        found = self._rise(at_s, force_n)
        self._settle(at_s)
        return found or frozen or self._outside(at_s, force_n) or self._creep(at_s, force_n)

    # Whether the cell itself is right

    def _clock_back(self, at_s: float) -> None:
        """What was read with a clock ahead is forgotten, and every wait that was counted from it."""
        while self._last and self._last[-1][0] > at_s:
            self._last.pop()
        self._from_s, self._next_look = min(self._from_s, at_s), min(self._next_look, at_s)
        self._raised_s, self._next_creep = min(self._raised_s, at_s), min(self._next_creep, at_s)
        self._rising_since = None if self._rising_since is None else min(self._rising_since, at_s)
        self._outside_since = None if self._outside_since is None else min(self._outside_since, at_s)
        self._same = None
        self._seconds.clear()

    def _known(self, force_n: float) -> bool:
        """Whether readings have shown that they are in the unit and the sign that was said: by being what they could be."""
        if self._right < _RIGHT and any(self._could(force_n, band) for band in self.bands):
            self._right += 1
        return self._right >= _RIGHT or not self.bands or self._said_outside

    def _could(self, force_n: float, band: Range) -> bool:
        return band.low / _UNIT_WITHIN - _SCATTER_N <= force_n <= band.high * _UNIT_WITHIN + _SCATTER_N

    def _other_unit(self, at_s: float) -> Alarm | None:
        """Readings that fit what is predicted in another unit, or the other way round: taken so from now on, and asked about."""
        rows = [force for _, force in self._last]
        read = median(rows)
        if self._right >= _RIGHT or len(rows) < 20 or abs(read) < 5 * median(abs(one - read) for one in rows):
            return None
        for sign in (1.0, -1.0):
            for unit, factor in [
                ("", 1.0),
                *UNITS.items(),
                *((f"1/{unit}", 1 / one) for unit, one in UNITS.items() if one > _MUCH),
            ]:
                if sign * factor == 1.0 or not any(self._could(sign * factor * read, band) for band in self.bands):
                    continue
                self._factor, self._right = sign * factor, _RIGHT
                self._last.clear()
                self._level = self._raised = self._rising_since = self._outside_since = None
                kind: Kind = "unit" if unit else "sign"
                return Alarm(kind, at_s, sign * factor * read, read, unit=unit)
        return None

    def _frozen(self, at_s: float, force_n: float) -> Alarm | None:
        if self._same is None or self._same[1] != force_n:
            self._same, self._said_frozen = (at_s, force_n, 1), False
            return None
        since, force, count = self._same
        self._same = (since, force, count + 1)
        if self._said_frozen or at_s - since < _FROZEN_S or count < _FROZEN_ROWS:
            return None
        self._said_frozen = True
        return Alarm("frozen", at_s, force_n * self._factor, force_n, at_s - since)

    def expect(self, bands: Sequence[Range], creep_n_min: float | None = None, pull: Range | None = None) -> None:
        """The step has changed, and with it what is predicted. `pull`: what the load pulls, coming up, where it now is: by as much as it pulls
        harder there than before, what was risen to may be more; by as much as it pulls less, it is less, once readings say so too."""
        if list(bands) != list(self.bands):
            self._said_outside, self._outside_since = False, None
        self.bands, self.creep_n_min = bands, creep_n_min
        if pull is None or pull.low <= 0:
            return
        times = self._eases * (_harder(self._pull, pull) if self._pull else 1.0)
        most_n = pull.high * (1 + _BAND)
        self._risen = deque((max(one, min(one * times, most_n)) for one in self._risen), maxlen=_PULLS)
        self._eases, self._pull = min(times, 1.0), pull

    def _eased(self, level: float) -> None:
        """A level that has come down as was predicted: what was risen to before has, too."""
        if (
            self._eases < 1
            and self._risen
            and _COME_DOWN * self._eases < level / max(self._risen) < (1 + self._eases) / 2
        ):
            self._risen = deque((one * self._eases for one in self._risen), maxlen=_PULLS)
            self._eases = 1.0

    # A sudden rise

    def _rise(self, at_s: float, force_n: float) -> Alarm | None:
        if self._raised is not None:
            # Said already: it is over once the force has come down to what is ordinary, and said anew where it rises as far again.
            if force_n <= self._most:
                self._jerks.append((at_s, max(self._peak, self._raised)))
                self._raised, self._sum = None, 0.0
                return None
            now, before = median(force for _, force in list(self._last)[-4:]), self._raised
            if at_s - self._raised_s < _RISES_S:
                self._raised = max(now, before)
            elif now > _AGAIN * before:
                self._raised, self._raised_s = now, at_s
                return Alarm("rise", at_s, now, before)
            return None
        if self._rising_since is not None:
            self._peak = max(self._peak, force_n)
            least_s = _STAYS_S if self._jerking(at_s) else _LOOK_MOST_S if self._still_rises else _LOOK_S
            return self._came_to(at_s) if at_s - self._rising_since >= least_s else None
        if self._level is None:
            return self._unsettled(at_s, force_n)
        self._sum = max(0.0, self._sum + (force_n - self._level) / self._scatter - _ALLOWED)
        if self._sum > _DECIDES:
            self._rising_since, self._peak = at_s, force_n
        return None

    def _unsettled(self, at_s: float, force_n: float) -> Alarm | None:
        """Between two levels: only what stands over all that is ordinary."""
        most = self._most
        over = force_n - most
        scatter = max(_SCATTER * most, _SCATTER_N) if math.isfinite(most) else math.inf
        self._sum = max(0.0, self._sum + over / scatter) if math.isfinite(scatter) else 0.0
        if self._sum > _DECIDES:
            self._rising_since, self._peak = at_s, force_n
            self._level, self._scatter = most, scatter
        return None

    def _came_to(self, at_s: float) -> Alarm | None:
        level, self._rising_since, self._sum = self._level or 0.0, None, 0.0
        now = median(force for _, force in list(self._last)[-4:])
        if now <= level + max(_ALLOWED * self._scatter, _PASSED * (self._peak - level)):
            over = self._peak > _SHOCK * max([level, *(band.high for band in self.bands)])
            again = self._jerking(at_s)
            if over:
                self._jerks.append((at_s, self._peak))
            return Alarm("shock", at_s, self._peak, level) if over and not again else None
        if self._ordinary(now):
            self._level = None
            self._rose, self._from_s = True, at_s
            return None
        self._raised, self._raised_s = now, at_s
        return Alarm("rise", at_s, now, level)

    def _jerking(self, at_s: float) -> bool:
        """Whether it came as high before in the last while, and went down again."""
        return any(at > at_s - _JERKS_S and self._peak < _JERK_NEAR * peak for at, peak in self._jerks)

    @property
    def _still_rises(self) -> bool:
        forces = [force for _, force in self._last][-8:]
        return len(forces) == 8 and median(forces[4:]) > _STILL_RISES * median(forces[:4])

    @property
    def _most(self) -> float:
        """The most that is ordinary: what readings have risen to and settled at, else what is predicted."""
        return max(self._risen) * (1 + _NEAR) + _SCATTER_N if self._risen else self._predicted

    @property
    def _predicted(self) -> float:
        return max((band.high for band in self.bands), default=math.inf) * (1 + _BAND)

    def _ordinary(self, force_n: float) -> bool:
        return force_n <= self._most

    def _settle(self, at_s: float) -> None:
        """Where readings have stood still for a while is the level that the next are held against."""
        if self._rising_since is not None or self._raised is not None or at_s < self._next_look:
            return
        self._next_look = at_s + _LOOK_EVERY_S
        if at_s - self._from_s < _SETTLED_S:
            return
        rows = [force for at, force in self._last if at > at_s - _SETTLED_S]
        if len(rows) < 12:
            return
        half = len(rows) // 2
        first, second = median(rows[:half]), median(rows[half:])
        if abs(first - second) > max(_SETTLED_WITHIN * max(first, second), _SCATTER_N):
            return
        level = median(rows)
        scatter = 1.4826 * median(abs(one - level) for one in rows)
        self._level, self._scatter = level, max(scatter, _SCATTER * level, _SCATTER_N)
        self._eased(level)
        if self._rose:
            self._risen.append(level)
            self._rose = False
        elif self._risen:
            # It grows while the load comes to a harder place of its way: as far as that is predicted, that is ordinary.
            self._risen[-1] = max(self._risen[-1], min(level, self._predicted))

    # A band left for good

    def _outside(self, at_s: float, force_n: float) -> Alarm | None:
        if not self.bands or self._said_outside or self._raised is not None:
            return None
        low = min(band.low for band in self.bands) * (1 - _BAND) - _SCATTER_N
        high = max(band.high for band in self.bands) * (1 + _BAND) + _SCATTER_N
        if low <= force_n <= high:
            self._outside_since = None
            return None
        self._outside_since = self._outside_since if self._outside_since is not None else at_s
        if at_s - self._outside_since < _OUTSIDE_S:
            return None
        if (other := self._other_unit(at_s)) is not None:
            return other
        self._said_outside = True
        return Alarm("outside", at_s, median(force for _, force in self._last), low if force_n < low else high)

    # Creep

    def _creep(self, at_s: float, force_n: float) -> Alarm | None:
        """A leg's force that goes one way slowly while nothing else moves: the slope of a line through each second's middle reading."""
        if self.creep_n_min is None:
            return None
        self._second.append(force_n)
        if self._seconds and at_s - self._seconds[-1][0] < 1.0:
            return None
        middle = median(self._second)
        self._second = []
        if self._seconds and abs(middle - self._seconds[-1][1]) > max(0.04 * middle, 4 * _SCATTER_N):
            # The rig was moved: what came before says nothing of creep.
            self._seconds.clear()
        self._seconds.append((at_s, middle))
        if len(self._seconds) < _CREEP_LEAST_S or at_s < self._next_creep:
            return None
        slope, sure = _slope(np.array(self._seconds))
        if abs(slope) * 60 < self.creep_n_min or abs(slope) < _CREEP_SURE * sure:
            return None
        self._next_creep = at_s + 120
        return Alarm("creep", at_s, middle, self._seconds[0][1], slope * 60)


def _harder(before: Range, now: Range) -> float:
    """How many times harder it pulls, at most: whatever is true of this day."""
    return max(now.low / before.low, now.expected / before.expected, now.high / before.high)


def _slope(rows: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> tuple[float, float]:
    """Slope of a line through (time, force) rows and its standard error, in newtons a second. The error is taken for readings that
    hang together over several seconds, as a load that sways makes them."""
    at, force = rows[:, 0] - rows[:, 0].mean(), rows[:, 1] - rows[:, 1].mean()
    spread = float(at @ at)
    slope = float(at @ force) / spread
    left = force - slope * at
    alike = float(left[1:] @ left[:-1] / max(left @ left, 1e-12))
    inflated = (1 + max(alike, 0.0)) / max(1 - max(alike, 0.0), 0.05)
    return slope, math.sqrt(float(left @ left) / max(len(rows) - 2, 1) / spread * inflated)
