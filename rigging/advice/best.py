"""What buys most: every single change tried on the engine, and what it does to the weakest margin, the hands, the haulers, the
resets, the single points and the minutes; and what each part that is there costs."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rigging.advice.changes import Change, changes
from rigging.catalogue import catalogue
from rigging.checks.gathered import Listed, at_place
from rigging.document import Feature, Plan
from rigging.judging.anchors import AnchorState, anchor_states
from rigging.judging.judged import judge
from rigging.judging.margins import Part, share_of_rule, weakest_of
from rigging.judging.parts import parts_in_load_order
from rigging.judging.removal import Standing
from rigging.lines.lengths import haul_rope_m, resets_of, stretch_m
from rigging.lines.parts import Crossing
from rigging.lines.people import haulers_needed
from rigging.lines.solve import LineForces, Solved, Solver, ways_of
from rigging.lines.states import Moment, moments
from rigging.lines.swaps import priced
from rigging.quantities.faults import Refused
from rigging.quantities.progress import Tell, silent
from rigging.quantities.ranges import Range
from rigging.site.conditions import hand_hold_n, sustained_n
from rigging.site.features import kind_of, missing_answers, rejected_because
from rigging.study.place import AtPlace, thing_of

Job = Literal["lowering", "raising"]
Goal = Literal["margin", "hand", "brake", "haulers", "resets", "singles", "minutes"]
GOALS: tuple[Goal, ...] = ("margin", "hand", "brake", "haulers", "resets", "singles", "minutes")
_JOBS: tuple[Job, ...] = ("lowering", "raising")
# Changes of what the rope runs over or is led by: the lines are laid out anew.
_LAID_ANEW = frozenset({"edge", "redirect-bend", "straight-back"})
# What changes a goal by less than this share is no help that anybody would rig for.
_HELPS = 0.005
# For the hands or the margin a leader takes few more resets and minutes than now.
_MORE_RESETS, _MORE_TIME, _MORE_MINUTES = 3, 1.5, 5.0
# States that are asked for their single points.
_HOLDING = ("lowering", "raising", "between-hauls")


@dataclass(frozen=True)
class Effect:
    """What a plan asks and gives: pull at the haulers' hands and at the brake hand, haulers, resets, minutes of hauling, parts
    alone, the weakest part of lowering and raising (None: not known, or that job is not planned), and rope left (negative: it
    does not reach). `unknown`: parts of which nobody has said what they hold."""

    hand_n: Range | None
    brake_n: Range | None
    haulers: int | None
    resets: int | None
    minutes: float | None
    singles: int | None
    weakest: Part | None
    rope_left_m: float | None
    unknown: int = 0
    grip_n: float = 0.0

    @property
    def fits(self) -> bool:
        """Whether there is rope enough."""
        return self.rope_left_m is None or self.rope_left_m >= 0

    def size(self, goal: Goal) -> float:
        """How good it is by one goal: less is better; what is not known is worst."""
        share = -share_of_rule(self.weakest) if self.weakest else None
        hand = self.hand_n.high if self.hand_n else None
        brake = _off(self.brake_n, self.grip_n) if self.brake_n else None
        value: float | None = {
            "margin": share, "hand": hand, "brake": brake, "haulers": self.haulers, "resets": self.resets, "singles": self.singles,
            "minutes": self.minutes,
        }[goal]  # fmt: skip
        return math.inf if value is None else value


@dataclass(frozen=True)
class Tried:
    """A change, and what the plan then asks and gives."""

    change: Change
    effect: Effect


@dataclass(frozen=True)
class Cost:
    """What the friction of one bend or edge costs at the haulers' hands, as expected."""

    crossing: Crossing
    line: str
    hand_n: float


@dataclass(frozen=True)
class Best:
    """The plan as it is, every change tried, and what each part costs."""

    now: Effect
    tried: list[Tried]
    refused: int
    costs: list[Cost]

    def ranked(self, goal: Goal) -> list[Tried]:
        """Changes that help by a goal, most first, none that another betters in everything; what costs many more resets or minutes
        after what does not. What is put on something that nobody has looked at counts as no help."""
        here = self.now.size(goal)
        gain = [
            one
            for one in self.tried
            if one.effect.fits
            and one.effect.unknown <= self.now.unknown
            and one.effect.size(goal) < here - _HELPS * abs(here)
        ]
        return sorted(
            _undominated(gain),
            key=lambda one: (
                self._burden(one, goal), float(f"{one.effect.size(goal):.3g}"), self._worse(one), one.effect.size("hand"),
            ),
        )  # fmt: skip

    def _burden(self, one: Tried, goal: Goal) -> bool:
        """Whether a leader would rather not: for the hands or the margin, but for many more resets or minutes."""
        if goal in ("resets", "minutes"):
            return False
        now, then = self.now, one.effect
        resets = (then.resets or 0) > 2 * (now.resets or 0) + _MORE_RESETS
        return resets or (then.minutes or 0.0) > _MORE_TIME * (now.minutes or 0.0) + _MORE_MINUTES

    def _worse(self, one: Tried) -> int:
        """How many other things a change makes worse."""
        return sum(one.effect.size(goal) > self.now.size(goal) + 1e-6 for goal in GOALS)


def _undominated(tried: list[Tried]) -> list[Tried]:
    """Those that no other is at least as good as in everything, and better than in something."""
    sizes = np.array([[one.effect.size(goal) for goal in GOALS] for one in tried]).reshape(len(tried), len(GOALS))
    sizes = np.where(np.isfinite(sizes), np.round(sizes, 6), 1e12)
    no_worse = (sizes[:, None] <= sizes[None]).all(axis=2)
    better = (sizes[:, None] < sizes[None]).any(axis=2)
    beaten = np.any(no_worse & better, axis=0)
    return [one for number, one in enumerate(tried) if not beaten[number]]


@dataclass(frozen=True)
class Offered:
    """Changes to offer, most first, and apart from them those that bring a stop which the plan has not, each with what it brings."""

    changes: list[Tried]
    stopped: list[tuple[Tried, list[Listed]]]


def offered(plan: Plan, found: Best, goal: Goal, most: int) -> Offered:
    """The first of the changes that help by a goal, each put in and checked as any plan is."""
    here = {one.found.id for one in _stops(plan)}
    changes: list[Tried] = []
    stopped: list[tuple[Tried, list[Listed]]] = []
    for one in found.ranked(goal):
        if len(changes) >= most or len(changes) + len(stopped) >= 2 * most:
            break
        brings = [line for line in _stops(one.change.plan) if line.found.id not in here]
        if brings:
            stopped.append((one, brings))
        else:
            changes.append(one)
    return Offered(changes, stopped)


def _stops(plan: Plan) -> list[Listed]:
    return [one for one in at_place(AtPlace(judge(plan))) if one.found.level == "stop"]


def to_inspect(plan: Plan) -> list[Feature]:
    """Features that could be tied to, were they inspected."""
    tied = {leg.feature for anchor in plan.anchors for leg in anchor.arrangement.legs}
    return [
        one
        for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not rejected_because(one) and not kind_of(one).pushes
        and one.rating_n is None and missing_answers(one)
    ]  # fmt: skip


def _off(brake: Range, grip_n: float) -> float:
    """How far a brake hand's pull is from what one hand holds and what still runs by itself; up to 1 it fits."""
    return max(brake.high / grip_n, catalogue().people.device_runs_n / max(brake.low, 1.0), 1.0)


def best(plan: Plan, tell: Tell = silent) -> Best:
    """Every change tried. `tell`: how many have been.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    return _Trial(plan).all(tell)


@dataclass
class _Seen:
    """A plan's jobs worked out."""

    jobs: dict[Job, Solved]
    weakest: dict[Job, Part | None]
    singles: int | None
    unknown: dict[Job, int]


def effect_of(plan: Plan) -> Effect:
    """What a plan asks and gives.

    Raises
    ------
    Refused
        If it can not be laid out.
    """
    return _Trial(plan).now()


class _Trial:
    """The plan as it is, kept at hand: a change is worked out only where it touches something."""

    def __init__(self, plan: Plan):
        self.plan = plan
        self.ways = ways_of(plan)
        self.solver = Solver(plan, self.ways)
        self.jobs = _solved(self.solver, plan, _JOBS)
        self.anchors = anchor_states(plan, self.jobs.values())
        weighed = {job: self._weakest(plan, one, self.anchors) for job, one in self.jobs.items()}
        weakest, unknown = _parted(weighed)
        self.here = _Seen(self.jobs, weakest, singles_of(self.solver, plan), unknown)

    def now(self) -> Effect:
        """What the plan asks and gives as it is."""
        return self._told(self.plan, self.here)

    def all(self, tell: Tell) -> Best:
        tried: list[Tried] = []
        refused = 0
        given = list(changes(self.plan))
        solved = [self._resolved(one) for one in given]
        pulled = self._pulled(given, solved)
        for number, (change, jobs) in enumerate(zip(given, solved, strict=True)):
            tell(number, len(given))
            if jobs is None:
                refused += 1
                continue
            try:
                tried.append(Tried(change, self._effect(number, change, jobs, pulled)))
            except Refused:
                refused += 1
        return Best(self.now(), tried, refused, list(self._costs()))

    def _resolved(self, change: Change) -> dict[Job, Solved] | None:
        """The jobs that a change touches, solved anew; None where it can not be laid out."""
        wanted = [job for job in _JOBS if job in change.touches]
        if not wanted:
            return {}
        moved = ("holding" in change.touches and bool(change.anchors)) or change.kind == "second"
        try:
            ways = ways_of(change.plan) if moved or change.kind in _LAID_ANEW else self.ways
            found = _solved(Solver(change.plan, ways), change.plan, wanted)
        except Refused:
            return None
        return found if all(job in found or job not in self.jobs for job in wanted) else None

    def _pulled(
        self, given: list[Change], solved: list[dict[Job, Solved] | None]
    ) -> dict[tuple[str, str], AnchorState]:
        """Anchors that stay as they are, under the pulls of all changes at once."""
        named = [
            _named(one, f"{job}@{number}")
            for number, (change, jobs) in enumerate(zip(given, solved, strict=True))
            if jobs and not change.anchors
            for job, one in jobs.items()
        ]
        try:
            return anchor_states(self.plan, named)
        except Refused:
            return {}

    def _effect(
        self, number: int, change: Change, jobs: dict[Job, Solved], pulled: dict[tuple[str, str], AnchorState]
    ) -> Effect:
        plan, both = change.plan, {**self.here.jobs, **jobs}
        weakest, unknown = dict(self.here.weakest), dict(self.here.unknown)
        if change.anchors:
            states = self._other_anchors(change, both)
            weakest, unknown = _parted({job: self._weakest(plan, one, states) for job, one in both.items()})
        else:
            for job, one in jobs.items():
                weakest[job], unknown[job] = self._weakest(plan, _named(one, f"{job}@{number}"), pulled)
        singles = self.here.singles
        if "holding" in change.touches:
            singles = singles_of(Solver(plan, ways_of(plan)), plan)
        return self._told(plan, _Seen(both, weakest, singles, unknown))

    def _other_anchors(self, change: Change, both: dict[Job, Solved]) -> dict[tuple[str, str], AnchorState]:
        """The anchors that a change rigs otherwise, worked out; where no pull changed, the rest as they were."""
        whole = set(both) <= set(change.touches)
        found = anchor_states(change.plan, both.values(), None if whole else change.anchors)
        return found if whole else {**self.anchors, **found}

    def _weakest(
        self, plan: Plan, solved: Solved, anchors: dict[tuple[str, str], AnchorState]
    ) -> tuple[Part | None, int]:
        """The weakest part of a job, and how many of its parts are not known."""
        parts = parts_in_load_order(plan, solved, anchors)
        return weakest_of(parts), sum(one.verdict == "unknown" for one in parts)

    def _told(self, plan: Plan, seen: _Seen) -> Effect:
        raising = seen.jobs["raising"].lines[0] if "raising" in seen.jobs else None
        lowering = seen.jobs.get("lowering")
        brakes = [one.running.hand for one in lowering.lines if one.running] if lowering else []
        hand = raising.running.hand if raising and raising.running else None
        resets, minutes = hauling(plan, raising) if raising else (None, None)
        parts = [one for one in seen.weakest.values() if one is not None]
        return Effect(
            hand, max(brakes, key=lambda one: one.high, default=None),
            haulers_needed(hand.high, sustained_n(plan).low) if hand else None, resets, minutes, seen.singles,
            min(parts, key=share_of_rule, default=None), _left_m(plan, raising) if raising else None, sum(seen.unknown.values()), hand_hold_n(plan).low,
        )  # fmt: skip

    def _costs(self) -> Iterator[Cost]:
        """What every bend and edge costs at the hands, most first."""
        raising = self.jobs.get("raising")
        if raising is None:
            return
        line = raising.lines[0]
        found = [
            Cost(line.rig.crossings[id], line.rig.line.id, price.cost_n.expected) for id, price in priced(line).items()
        ]
        yield from sorted(found, key=lambda one: -one.hand_n)


def _parted(weighed: dict[Job, tuple[Part | None, int]]) -> tuple[dict[Job, Part | None], dict[Job, int]]:
    return {job: one for job, (one, _) in weighed.items()}, {job: count for job, (_, count) in weighed.items()}


def _named(solved: Solved, id: str) -> Solved:
    return replace(solved, moment=replace(solved.moment, id=id))


def _solved(solver: Solver, plan: Plan, jobs: list[Job] | tuple[Job, ...]) -> dict[Job, Solved]:
    by_id: dict[str, Moment] = {one.id: one for one in moments(plan)}
    found = {job: solver.solve(by_id[job]) for job in jobs}
    return {job: one for job, one in found.items() if isinstance(one, Solved)}


def hauling(plan: Plan, line: LineForces) -> tuple[int | None, float | None]:
    """Resets over the whole rise, and the minutes that rope through the hands and resets take."""
    assert line.running is not None
    rise = line.rig.way.rise_m
    resets = resets_of(plan, line)
    if resets is None:
        return None, None
    through = (rise + stretch_m(plan, line).expected) * line.running.motion.ideal
    seconds = through * plan.takes_s("haul").expected + resets * plan.takes_s("reset").expected
    return resets, seconds / 60


def _left_m(plan: Plan, line: LineForces) -> float:
    of = line.rig.line
    return plan.rope(of.rope).length_m - haul_rope_m(line.rig)[0] - of.tail_m


def singles_of(solver: Solver, plan: Plan) -> int:
    """Things alone: parts without which nothing holds the load, in lowering, raising or between hauls."""
    found: set[str] = set()
    for moment in moments(plan):
        if moment.id not in _HOLDING or moment.missing:
            continue
        try:
            standing = Standing(solver, moment)
            found |= {thing_of(standing, part) if part != "hands" else part for part in standing.single()}
        except Refused:
            continue
    return len(found)
