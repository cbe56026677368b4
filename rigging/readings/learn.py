"""Friction and weight learnt from readings: what a plan is unsure of, put beside what cells read while the load came up, went down or
hung still.

Bayesian least squares: each unsure value has the catalogue's range as its prior (its logarithm is normal, to each side with a spread of its own, so
that the range holds nine in ten; of a share that is passed on, the logarithm of what is lost), each steady stretch of readings is one observation of a force that the engine works out from those values. The most probable values are found by
Gauss-Newton steps (SciPy), and their spread from the curvature there (A. Gelman and others, Bayesian Data Analysis, normal approximation at
the posterior mode; from memory).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from rigging.document import Plan
from rigging.document.plan import Found
from rigging.lines.parts import Crossing, rule_of
from rigging.lines.solve import LineForces, Solved
from rigging.lines.whole_way import moved
from rigging.mechanics.tension import solve_rows
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, exactly, spanning
from rigging.readings.places import Motion, Place, Predictor
from rigging.site.load import Resting, pull_n

# Nine in ten of a normal distribution lie within so many standard deviations.
_NINETY = 1.6449
# What the engine's picture of a rig is off by besides the values learnt: surges, rope that is not one line.
_PICTURE = 0.015
# Two values that move every reading in the same proportion, as nearly as this, are not told apart, if they move them at all.
_TOGETHER, _MOVES = 0.98, 0.3
_STEP = 1e-4
# A doubt of the picture, in standard deviations: nine in ten lie within these.
_DOUBT = Range(-_NINETY, 0.0, _NINETY)
# What a cell's scale is off by, as a share, and how far ground that was measured by eye may be off: one standard deviation.
_SCALE, _SLOPE_RAD = 0.014, math.radians(1.7)
# Less than this tells more of the cell than of the rig.
_LEAST_N = 50.0


@dataclass(frozen=True)
class Observed:
    """What a cell read in a steady stretch: `force_n` the middle of it, `spread_n` how sure that is; between which places of its way the
    load was, `runs_m` up from its start."""

    where: Place
    motion: Motion
    force_n: float
    spread_n: float
    runs_m: tuple[float, float] = (0.0, 0.0)

    @property
    def halfway_m(self) -> float:
        return sum(self.runs_m) / 2


@dataclass(frozen=True)
class Unsure:
    """A value that the plan is unsure of, as the catalogue or the leader gave it."""

    of: Literal["edge", "bend", "device", "load", "contact", "slope", "cell"]
    kind: str
    name: str
    symbol: str
    given: Range

    @property
    def id(self) -> str:
        return ":".join(part for part in (self.of, self.kind, self.name) if part)

    @property
    def _passes(self) -> bool:
        return self.symbol in ("η", "k")

    @property
    def doubt(self) -> bool:
        """Whether it is a doubt of the picture, in standard deviations, and no value that a plan keeps."""
        return self.symbol == "z"

    def inward(self, value: float) -> float:
        """The logarithm of a value; of a share that is passed on, that of what is lost of it: it stays below 1."""
        if self.doubt:
            return value
        return math.log(-math.log(min(value, 1 - 1e-9))) if self._passes else math.log(value)

    def outward(self, x: float) -> float:
        if self.doubt:
            return x
        return math.exp(-math.exp(x)) if self._passes else math.exp(x)


@dataclass(frozen=True)
class Learnt:
    """A value before and after; `sharper` is how much narrower its range is (1: as before)."""

    value: Unsure
    after: Range
    sharper: float


@dataclass(frozen=True)
class Lesson:
    """Everything learnt; groups of which readings know only all together; what the pull on the rope and at the hands was and is."""

    values: tuple[Learnt, ...]
    together: tuple[tuple[Unsure, ...], ...]
    forces: dict[str, tuple[Range, Range]]

    def found(self) -> list[Found]:
        """As the plan keeps it: what is better known than before."""
        return [
            Found(of=one.value.of, kind=one.value.kind, name=one.value.name, low=one.after.low, expected=one.after.expected, high=one.after.high)
            for one in self.values
            if one.sharper > 1.05
        ]  # fmt: skip


@dataclass(frozen=True)
class _EachNewton:
    """What each newton that the load asks of its rope brings on every anchor, by id, and at the hands."""

    on_anchors: dict[str, float]
    hand: float


def _each_newton(line: LineForces, keeps: list[float]) -> _EachNewton:
    """A line at work, with the share that each of its passes keeps given outright."""
    running = line.running
    assert running is not None
    tensions, gains = solve_rows(line.network, running.motion, np.array([keeps]), 1 if running.rising else -1)
    one, levels = exactly(1.0), np.zeros((1, len(keeps)))
    same = replace(running, gains=gains, scale=one)
    found = LineForces(
        line.network, tensions / gains[:, None], one, rig=line.rig, levels=levels, at_load=one, running=same
    )
    pulls = {anchor: pull.size.expected for anchor, pull in found.on_anchors.items()}
    return _EachNewton(pulls, same.hand.expected)


class Learner:
    """What a plan is unsure of, and what cells would read if it were so."""

    def __init__(self, plan: Plan):
        self.plan = plan
        self.predictor = Predictor(plan)
        self._there: dict[float, Learner] = {0.0: self}
        self.states = {
            motion: solved
            for motion, state in (("raising", "raising"), ("lowering", "lowering"))
            if (solved := self.predictor.solved(state)) is not None
        }

    def there(self, run_m: float) -> Learner:
        """The same with the load at another place of its way."""
        if run_m not in self._there:
            self._there[run_m] = Learner(moved(self.plan, run_m))
        return self._there[run_m]

    def read(self, one: Observed, values: dict[str, float]) -> float | None:
        """What was to be read in an observed stretch, halfway between the places at which it can have been."""
        return self.there(one.halfway_m).force(one.where, one.motion, values)

    @cached_property
    def unsure(self) -> tuple[Unsure, ...]:
        """Every value that the forces of some state hang on, and that is a range."""
        found: dict[str, Unsure] = {}
        for solved in self.states.values():
            for line in solved.lines:
                for one in line.rig.crossings.values():
                    value = Unsure(_of(one), one.kind, one.name if one.role == "edge" else "", one.symbol, one.quantity)
                    if one.quantity.high > one.quantity.low:
                        found.setdefault(value.id, value)
        resting = self.predictor.solver.resting
        if resting is not None and resting.mass_kg.high > resting.mass_kg.low:
            found["load"] = Unsure("load", "", "", "m", resting.mass_kg)
        if resting is not None and not resting.hangs:
            # The ground's friction and steepness are as good as known from no map: one doubt of each, common to all that is read.
            if resting.mu.high > resting.mu.low:
                found["contact"] = Unsure("contact", "", "", "z", _DOUBT)
            found["slope"] = Unsure("slope", "", "", "z", _DOUBT)
        return tuple(found.values())

    def force(self, where: Place, motion: Motion, values: dict[str, float]) -> float | None:
        """What a cell reads while the load moves, if the values were these; hanging, friction may help or hurt: the middle of both."""
        if motion == "still":
            # As the watch expects it: hanging without friction, by what the load then asks for.
            band = self.predictor.band(where, "still")
            if band is None or len(self.states) < 2:
                return None
            load = self.predictor.solver.resting
            assert load is not None
            asked = pull_n(load, load.mass_kg.expected, 0.0, False)
            return band.expected * self._asked(load, values, 0.0, False) / asked if asked > 0 else None
        solved = self.states.get(motion)
        if solved is None or not solved.lines:
            return None
        asked = self._asked_of(solved, values)
        if where.at == "load":
            return asked
        anchor = where.anchor or solved.lines[0].rig.line.anchor
        pulls = self._each_newton(solved, values).on_anchors.get(anchor)
        if where.at == "belay" or pulls is None:
            return None
        return pulls * asked * self._share(where, motion)

    def hand(self, motion: Motion, values: dict[str, float]) -> float | None:
        solved = self.states.get(motion)
        if solved is None or not solved.lines or solved.lines[0].running is None:
            return None
        return self._each_newton(solved, values).hand * self._asked_of(solved, values)

    def _each_newton(self, solved: Solved, values: dict[str, float]) -> _EachNewton:
        """The line at work with every value given outright; who turns one value asks the others again."""
        line, keeps = solved.lines[0], []
        for one in line.network.passes:
            crossing = line.rig.crossings.get(one.id)
            value = values.get(_id(crossing)) if crossing else None
            keeps.append(one.eta.expected if crossing is None or value is None else rule_of(crossing)(value))
        key = solved.id, tuple(keeps)
        if key not in self._worked_out:
            self._worked_out[key] = _each_newton(line, keeps)
        return self._worked_out[key]

    @cached_property
    def _worked_out(self) -> dict[tuple[str, tuple[float, ...]], _EachNewton]:
        return {}

    def _asked_of(self, solved: Solved, values: dict[str, float]) -> float:
        line = solved.lines[0]
        assert line.running is not None
        return self._asked(self.predictor.solver.load_on(line.rig), values, None, line.running.rising)

    def _asked(self, load: Resting, values: dict[str, float], mu: float | None, rising: bool) -> float:
        """What the load asks of the rope, were its mass, its friction on the ground and the ground's slope these."""
        off, steeper = values.get("contact", 0.0), values.get("slope", 0.0) * _SLOPE_RAD
        side = load.mu.high - load.mu.expected if off > 0 else load.mu.expected - load.mu.low
        rubs = max(0.0, load.mu.expected + off / _NINETY * side) if mu is None else mu
        here = replace(load, slope_rad=load.slope_rad + steeper, lift_rad=load.lift_rad - steeper)
        return pull_n(here, values.get("load", load.mass_kg.expected), rubs, rising)

    def _share(self, where: Place, motion: Motion) -> float:
        """A leg's share of what its anchor bears."""
        if where.at != "leg":
            return 1.0
        key = where, motion
        if key not in self._shares:
            leg = self.predictor.band(where, motion)
            solved = self.states[motion]
            whole = solved.on_anchors[where.anchor].size.expected
            self._shares[key] = leg.expected / whole if leg and whole else 0.0
        return self._shares[key]

    @cached_property
    def _shares(self) -> dict[tuple[Place, Motion], float]:
        return {}


def learn(plan: Plan, observed: Sequence[Observed]) -> Lesson:
    """What readings say of a plan's unsure values."""
    learner = Learner(plan)
    places = dict.fromkeys(str(one.where) for one in observed)
    unsure = (*learner.unsure, *(Unsure("cell", "", name, "z", _DOUBT) for name in places))
    centre = np.array([one.inward(one.given.expected) for one in unsure])
    sides = np.array([_sides(one) for one in unsure]).reshape(len(unsure), 2)
    rows = [one for one in _gathered(observed) if learner.read(one, {}) is not None]
    on_the_way = [_on_the_way(learner, one) for one in rows]

    def values(x: Array) -> dict[str, float]:
        return {one.id: one.outward(each) for one, each in zip(unsure, x, strict=True)}

    def off(x: Array) -> Array:
        """How far the readings are from what they should be, and the values from what they were taken for, in standard deviations."""
        now = values(x)
        read = [
            (math.log(one.force_n) - _SCALE * now[f"cell:{one.where}"] - math.log(learner.read(one, now) or 1.0))
            / math.hypot(_doubt(learner, one, now), far)
            for one, far in zip(rows, on_the_way, strict=True)
        ]
        return np.array([*read, *((x - centre) / _side(x, centre, sides))])

    if not unsure:
        return Lesson((), (), {})
    from scipy.optimize import least_squares

    best = least_squares(off, centre, method="lm", diff_step=_STEP)
    doubt = np.linalg.inv(best.jac.T @ best.jac)
    # What readings alone say of each value, with either side of what was known before.
    used = _side(best.x, centre, sides)
    alone = np.maximum(1 / np.diag(doubt) - 1 / used**2, 0.0)
    after = 1 / np.sqrt(alone[:, None] + 1 / sides**2)
    learnt = tuple(
        Learnt(one, spanning(*(one.outward(x + step) for step in (-_NINETY * low, 0.0, _NINETY * high))), float(before / (low + high)))
        for one, x, (low, high), before in zip(unsure, best.x, after, sides.sum(axis=1), strict=True)
        if not one.doubt
    )  # fmt: skip
    spread = sides.mean(axis=1)
    together = tuple(_together(unsure, best.jac[: len(rows)] * spread))
    return Lesson(learnt, together, _forces(learner, unsure, centre, np.diag(spread**2), best.x, doubt))


def _sides(one: Unsure) -> tuple[float, float]:
    """Spread of what is known before, below and above the expected."""
    ends = sorted(one.inward(value) for value in (one.given.low, one.given.high))
    middle = one.inward(one.given.expected)
    least = (ends[1] - ends[0]) / 20
    return max(middle - ends[0], least) / _NINETY, max(ends[1] - middle, least) / _NINETY


def _side(x: Array, centre: Array, sides: Array) -> Array:
    return np.where(x < centre, sides[:, 0], sides[:, 1])


def _gathered(observed: Sequence[Observed]) -> list[Observed]:
    """All stretches of a place, a motion and a piece of the way as one: what the engine's picture is off by, it is off by in each of them."""
    alike: dict[tuple[Place, Motion, tuple[float, float]], list[Observed]] = {}
    for one in observed:
        if one.force_n > _LEAST_N:
            alike.setdefault((one.where, one.motion, one.runs_m), []).append(one)
    found = []
    for (where, motion, runs_m), rows in alike.items():
        forces = np.array([one.force_n for one in rows])
        own = math.sqrt(sum(one.spread_n**2 for one in rows)) / len(rows)
        found.append(
            Observed(
                where,
                motion,
                float(np.median(forces)),
                math.hypot(own, float(forces.std()) / math.sqrt(len(rows))),
                runs_m,
            )
        )
    return found


def _on_the_way(learner: Learner, one: Observed) -> float:
    """How far off, as a share, it is for not knowing where on that piece of the way it was read: anywhere, as likely."""
    return _anywhere(*(learner.there(run_m).force(one.where, one.motion, {}) or 1.0 for run_m in one.runs_m))


def _anywhere(one_n: float, other_n: float) -> float:
    """The standard deviation, as a share, of a force that is anywhere between two, as likely."""
    return abs(math.log(one_n / other_n)) / (2 * math.sqrt(3))


def _doubt(learner: Learner, one: Observed, now: dict[str, float]) -> float:
    """How sure an observation is, as a share: its own scatter, the engine's picture, and while it hangs, where friction left it."""
    own = one.spread_n / one.force_n
    left = 0.0
    if one.motion == "still":
        there = learner.there(one.halfway_m)
        left = _anywhere(*(there.force(one.where, way, now) or 1.0 for way in ("raising", "lowering")))
    return math.hypot(own, _PICTURE, left)


def _together(unsure: Sequence[Unsure], moves: Array) -> list[tuple[Unsure, ...]]:
    """Groups that move every reading in the same proportion: only all together are known. `moves`: by how much each value, off by its own
    spread, moves each reading, in standard deviations."""
    size = np.linalg.norm(moves, axis=0)
    groups: list[list[int]] = []
    for one in np.flatnonzero(size > _MOVES):
        alike = next(
            (g for g in groups if abs(moves[:, one] @ moves[:, g[0]]) > _TOGETHER * size[one] * size[g[0]]), None
        )
        if alike is None:
            groups.append([int(one)])
        else:
            alike.append(int(one))
    named = [tuple(unsure[one] for one in group if not unsure[one].doubt) for group in groups]
    return [group for group in named if len(group) > 1]


def _forces(
    learner: Learner, unsure: Sequence[Unsure], centre: Array, prior: Array, best: Array, doubt: Array
) -> dict[str, tuple[Range, Range]]:
    """Forces that a leader asks for, before and after: nine in ten, by the slope of each in the values."""

    def named(x: Array) -> dict[str, float]:
        return {one.id: one.outward(each) for one, each in zip(unsure, x, strict=True)}

    def of(name: str, x: Array) -> float:
        motion: Motion = "raising" if name.endswith("raising") else "lowering"
        at_hand = name.startswith("hand")
        found = learner.hand(motion, named(x)) if at_hand else learner.force(Place("working-point"), motion, named(x))
        return found or 0.0

    found: dict[str, tuple[Range, Range]] = {}
    for name in ("hand, raising", "working point, raising", "hand, lowering", "working point, lowering"):
        if of(name, centre) > 0:
            found[name] = (_ranged(name, of, centre, prior), _ranged(name, of, best, doubt))
    return found


def _ranged(name: str, of: Callable[[str, Array], float], x: Array, doubt: Array) -> Range:
    middle = math.log(of(name, x))
    slope = np.array([(math.log(of(name, x + _STEP * row)) - middle) / _STEP for row in np.eye(len(x))])
    sd = math.sqrt(float(slope @ doubt @ slope))
    return Range(*(math.exp(middle + way * _NINETY * sd) for way in (-1, 0, 1)))


def _of(crossing: Crossing) -> Literal["edge", "bend", "device", "load"]:
    return "bend" if crossing.role == "redirect" else crossing.role


def _id(crossing: Crossing) -> str:
    return Unsure(
        _of(crossing), crossing.kind, crossing.name if crossing.role == "edge" else "", "", crossing.quantity
    ).id
