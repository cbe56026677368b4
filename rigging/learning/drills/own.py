"""Drills about a plan of the team's own: what its operation comes to at a step, in what order that goes, what its cells read in a run of it."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from rigging.document import Plan
from rigging.learning.drills.drill import Again, Asked, Drill, Level, Made, Sketch, lay
from rigging.learning.drills.running import GO, only_order
from rigging.procedures.operation import Operation, Planned
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.readings.watch import Watch

T = TypeVar("T")

# A drop that rounds away is none, and one that rounding could make another is not asked about.
_STAYS_M, _TENTH_M = 0.02, 0.1
_TRIES = 60
_STRIP_S = 24.0


@dataclass(frozen=True)
class Read:
    """What a cell read in a step of a run: (seconds, newtons) as they came, and what was worked out for it."""

    rows: tuple[tuple[float, float], ...]
    band: Range


@dataclass(frozen=True)
class Ground:
    """What is asked about: a plan, its operation, what was read in runs of it."""

    plan: Plan
    operation: Operation
    reads: Sequence[Read] = ()

    @property
    def hanging(self) -> list[Planned]:
        """Steps after which the load hangs, and that go."""
        steps = self.operation.steps
        return [one for one in steps if not one.step.refused and not one.rests.state.grounded and one.rests.on]


def _holds_now(ground: Ground, luck: random.Random, level: Level) -> Made:
    """What bears the load after a step; wrong is what bears it after others, where all of that is there, too."""
    step = _one(luck, ground.hanging)
    there = {item.id for _, item in step.rests.state.items()} | {"hands"}
    right = step.rests.on
    others = {one.rests.on for one in ground.hanging if there.issuperset(one.rests.on)} - {right}
    if len(others) < 2:
        raise Again
    return Made({"step": step.key}, right, tuple(luck.sample(sorted(others), min(3, len(others)))), command=_operation(ground))  # fmt: skip


def _then(ground: Ground, luck: random.Random, level: Level) -> Made:
    """How far the load drops if what it hangs on goes."""
    step = _one(luck, [one for one in ground.hanging if "hands" not in one.rests.on])
    return _drops(ground, step, step.rests.behind.far_m, luck)


def _let_go(ground: Ground, luck: random.Random, level: Level) -> Made:
    """How far it goes when everybody lets go."""
    step = _one(luck, [one for one in ground.hanging if "hands" in one.rests.on])
    return _drops(ground, step, step.rests.hands_off.drop_m, luck)


def _drops(ground: Ground, step: Planned, far_m: float | None, luck: random.Random) -> Made:
    if far_m is not None and (_STAYS_M < far_m < _TENTH_M or abs(far_m * 10 % 1 - 0.5) < 0.1):
        raise Again
    right = None if far_m is None else round(far_m, 1)
    tried = [None, 0.0, 0.3, 0.6, 1.0, 2.0]
    wrong = [one for one in tried if one != right and (one is None or right is None or abs(one - right) > 0.15)]
    luck.shuffle(wrong)
    return Made({"step": step.key}, right, tuple(wrong[:3]), command=_operation(ground))


def _haulers(ground: Ground, luck: random.Random, level: Level) -> Made:
    """How many have to haul in a step, as expected."""
    step = _one(luck, [one for one in ground.hanging if one.step.hands])
    assert step.step.hands is not None
    hands = step.step.hands
    right = hands.haulers
    tried = dict.fromkeys((right + 1, max(1, right - 1), right + 2, 2 * right, right + 3))
    wrong = tuple(one for one in tried if one != right)[:3]
    return Made({"step": step.key}, right, wrong, {"ideal": hands.ideal, "hand_n": hands.hand_n}, command=_operation(ground))  # fmt: skip


def _order(ground: Ground, luck: random.Random, level: Level) -> Made:
    """Steps in the only order in which they go and leave the rig as it has to be."""
    count = 3 if level == 1 else 4
    section = _one(luck, [one for one in ground.operation.sections if len(one.steps) >= count])
    first = luck.randrange(len(section.steps) - count + 1)
    window = section.steps[first : first + count]
    changes = all(one.step.made and not one.step.refused and not one.runs_m[1:] for one in window)
    if (
        not changes
        or len({one.step.given.do for one in window}) < count
        or not only_order([one.step for one in window])
    ):
        raise Again
    return Made({"section": section.id}, None, (), order=tuple(one.key for one in window), command=_operation(ground))


def _strip(ground: Ground, luck: random.Random, level: Level) -> Made:
    """Stop or go on a stretch of what a cell read: as the watch over it has it."""
    read = _one(luck, ground.reads)
    first, last = read.rows[0][0], read.rows[-1][0]
    begins = luck.uniform(first, max(first, last - _STRIP_S))
    rows = [(at, force) for at, force in read.rows if begins <= at < begins + _STRIP_S]
    if len(rows) < _STRIP_S:
        raise Again
    watch = Watch(bands=[read.band])
    alarms = [one.kind for one in (watch.feed(at, force) for at, force in rows) if one]
    kinds = (GO, "rise", "shock", "outside")
    right = alarms[0] if alarms else GO
    if right not in kinds or len(set(alarms)) > 1:
        raise Again
    shown = tuple((round(at - begins, 2), round(max(0.0, force), 1)) for at, force in rows)
    wrong = tuple(one for one in kinds if one != right)
    return Made({"band": read.band}, right, wrong, sketch=Sketch(strip=shown, band_n=(read.band.low, read.band.high)))


def _one(luck: random.Random, rows: Sequence[T]) -> T:
    if not rows:
        raise Again
    return luck.choice(rows)


def _operation(ground: Ground) -> Asked:
    return Asked(("operation", "FILE"), ground.plan)


OWN: dict[str, Callable[[Ground, random.Random, Level], Made]] = {
    "holds-now": _holds_now, "if-it-goes": _then, "hands-off": _let_go, "haulers": _haulers, "order": _order, "strip": _strip,
}  # fmt: skip


def own_drill(ground: Ground, skill: str, seed: int, level: Level = 1) -> Drill | None:
    """The drill of a skill about a plan that a seed makes, always the same; None where the plan gives none.

    Raises
    ------
    Refused
        If no drill of that skill is about a plan.
    """
    if skill not in OWN:
        raise refuse("skill", f"{skill!r} is asked of no plan", f"one of {', '.join(OWN)}")
    luck = random.Random(f"own {skill} {seed} {level}")
    for _ in range(_TRIES):
        try:
            made = OWN[skill](ground, luck, level)
        except Again:
            continue
        return lay(skill, seed, level, made, luck)
    return None


def own_round(ground: Ground, count: int, seed: int, level: Callable[[str], Level]) -> list[Drill]:
    """Drills about a plan, of each skill in turn that it gives any of, none like one before it.

    Raises
    ------
    Refused
        If it gives none.
    """
    found: list[Drill] = []
    skills = list(OWN)
    for number in range(4 * count):
        if len(found) == count or not skills:
            break
        skill = skills[number % len(skills)]
        one = own_drill(ground, skill, seed + number, level(skill))
        if one is None:
            skills.remove(skill)
        elif all((one.skill, one.asks, one.sketch) != (other.skill, other.asks, other.sketch) for other in found):
            found.append(one)
    if not found:
        raise refuse("plan", "nothing of this plan can be asked", "one whose operation has the load hanging")
    return found
