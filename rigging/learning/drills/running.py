"""The work as it runs: is it stop or go on this strip of load, in what order the steps go, what is missing before loading."""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any

from rigging.checks.found import Found
from rigging.checks.gathered import at_place
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.learning.drills.drill import Again, Asked, Level, Made, Sketch
from rigging.procedures.asked import Asked as Standing
from rigging.procedures.begin import Ground
from rigging.procedures.edits import perform
from rigging.procedures.run import Step, given_of, walked
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.readings.watch import Watch
from rigging.study.place import AtPlace

GO = "go"
_HZ, _SECONDS = 10, 24


@cache
def practice_plan() -> Plan:
    """An invented ground with a rig on it that gives nothing to stop for."""
    return Plan.model_validate_json((Path(__file__).parent / "practice.json").read_text(encoding="utf-8"))


def strip(luck: random.Random, level: Level) -> Made:
    """Stop or go: readings of a cell as they came, against what was predicted."""
    low = luck.choice((600.0, 900.0, 1200.0))
    band = Range(low, 1.2 * low, 1.5 * low)
    happens = luck.choice((GO, GO, "rise", "shock", "outside"))
    level_n, noise = 1.2 * low, 0.015 * low
    starts = luck.uniform(10.0, 14.0)
    rows = []
    for number in range(_SECONDS * _HZ):
        at = number / _HZ
        # A haul and a rest by turns, before anything happens.
        rests = happens == GO and 11.0 < at < 15.0
        force = (0.8 if rests else 1.0) * level_n + noise * luck.gauss(0, 1)
        if happens == "rise" and at > starts:
            force += low * (1.2 if level == 3 else 2.0) * min(1.0, (at - starts) / 0.6)
        elif happens == "shock" and starts < at < starts + 0.25:
            force += low * (2.5 if level == 3 else 4.0)
        elif happens == "outside" and at > starts:
            force -= 0.75 * level_n * min(1.0, (at - starts) / 1.5)
        rows.append((round(at, 2), round(max(0.0, force), 1)))
    watch = Watch(bands=[band])
    alarms = [one.kind for one in (watch.feed(at, force) for at, force in rows) if one]
    if (alarms[0] if alarms else GO) != happens or len(set(alarms)) > 1:
        raise Again
    wrong = tuple(one for one in (GO, "rise", "shock", "outside") if one != happens)
    return Made({"band": band}, happens, wrong, sketch=Sketch(strip=tuple(rows), band_n=(band.low, band.high)))  # fmt: skip


# Procedures whose steps can stand in one order only, and where their rig is.
_ORDERED = ("lower", "secure", "change-over", "knot-pass-lowering", "raise")


@cache
def _windows(id: str, count: int) -> tuple[int, ...]:
    """First steps of the stretches of a procedure in which each step changes the rig."""
    steps = _steps(id)
    changes = [bool(one.made) and not one.refused for one in steps]
    return tuple(first for first in range(len(steps) - count + 1) if all(changes[first : first + count]))


@cache
def _steps(id: str) -> tuple[Step, ...]:
    return walked(Ground(practice_plan()), given_of(id)).steps


@cache
def _only_order(id: str, first: int, count: int) -> bool:
    return only_order(_steps(id)[first : first + count])


def only_order(window: Sequence[Step]) -> bool:
    """Whether no other order of these steps goes: every other is refused somewhere, or ends otherwise."""
    ends, planned = window[-1].after.state, tuple(range(len(window)))
    others = (order for order in itertools.permutations(planned) if order != planned)
    made = (_made(window[0].found, [window[number] for number in order]) for order in others)
    return not any(done is not None and done.state == ends for done in made)


def _made(found: Standing, steps: list[Step]) -> Standing | None:
    """The rig after these steps; None where an edit of them does not go."""
    now = found
    try:
        for step in steps:
            for one in step.made:
                now = perform(now.state, one.edit)
    except Refused:
        return None
    return now


def order(luck: random.Random, level: Level) -> Made:
    """Put the steps in order: the only one in which each of them goes and the rig is then as it has to be."""
    id, count = luck.choice(_ORDERED), 3 if level == 1 else 4
    windows = _windows(id, count)
    if not windows:
        raise Again
    first = luck.choice(windows)
    if not _only_order(id, first, count):
        raise Again
    steps = _steps(id)[first : first + count]
    said = tuple((id, first + number) for number in range(count))
    if len({one.given.do for one in steps}) < count:
        raise Again
    return Made({"procedure": id}, None, (), command=Asked(("procedure", id, "FILE"), practice_plan()), order=said)  # fmt: skip


def step_of(place: tuple[str, int]) -> Step:
    """A step that an option names."""
    return _steps(place[0])[place[1]]


# What may be left out of it or done badly: a path of the document, and what stands there instead.
_LEFT_OUT: dict[str, tuple[str, Any]] = {
    "brake-hitch": ("/lines/0/lowering/brake_hitch", None), "brake-minder": ("/lines/0/lowering/minder", ""), "capture": ("/lines/0/haul/capture", None),
    "capture-minder": ("/lines/0/haul/capture_minder", ""), "belay-minder": ("/lines/1/belay/minder", ""), "releasing": ("/lines/1/belay/releasing_m", None),
    "edge": ("/site/edges/1/protection", None), "rope": ("/ropes/0/length_m", 45.0), "tail": ("/lines/0/tail_m", 0.0),
    "bend": ("/lines/0/haul/bends/A", "unknown"), "tied": ("/team/people/4/tied_to", None), "connector": ("/lines/0/load_connector_crowded", True),
}  # fmt: skip


@cache
def lacking(id: str) -> Plan:
    """The practice plan with something left out."""
    path, value = _LEFT_OUT[id]
    return plan_edited(practice_plan(), [Edit("replace", path, value)])


@cache
def _heard_whole() -> frozenset[str]:
    """What the check has to say of the whole plan."""
    return frozenset(one.found.id for one in at_place(AtPlace(judge(practice_plan()))))


@cache
def _heard(id: str) -> tuple[Found, ...]:
    """What the check then has to say that it has not of the whole plan, most urgent first."""
    found = [one.found for one in at_place(AtPlace(judge(lacking(id)))) if one.found.id not in _heard_whole()]
    # What a part's going comes to is told with the drop that it leads to: no line of a choice.
    heard = (one for one in found if one.level != "note" and not hasattr(one, "gone"))
    return tuple(sorted(heard, key=lambda one: one.urgency))


def missing(luck: random.Random, level: Level) -> Made:
    """What is missing before loading: a plan as it is rigged, and what the check would say of it."""
    ids = sorted(_LEFT_OUT)
    id = luck.choice(ids)
    heard = _heard(id)
    if not heard:
        raise Again
    kinds, wrong = {one.kind for one in heard}, list[Found]()
    others = [other for other in ids if other != id]
    luck.shuffle(others)
    while others and len(wrong) < 3:
        first = next(iter(_heard(others.pop())), None)
        if first is not None and first.kind not in kinds:
            kinds.add(first.kind)
            wrong.append(first)
    return Made({"left_out": id}, heard[0], tuple(wrong), command=Asked(("check", "FILE"), lacking(id)))


def _told_apart(one: tuple[float, float], other: tuple[float, float], distance_m: float) -> bool:
    """Whether two places differ by more than anybody rounds away."""
    return max(abs(one[0] - other[0]), abs(one[1] - other[1])) > 0.06 * distance_m


def sighting(luck: random.Random, level: Level) -> Made:
    """A rangefinder read: how far it is level, and how much higher or lower."""
    distance = luck.choice((12.0, 18.5, 24.0, 31.5, 40.0, 55.0))
    most = (20, 35, 50)[level - 1]
    rise = luck.choice([one for one in range(-most, most + 1, 5) if abs(one) >= 10])

    def pair(level_m: float, up_m: float) -> tuple[float, float]:
        return round(level_m, 1), round(up_m, 1)

    cos, sin = math.cos(math.radians(rise)), math.sin(math.radians(rise))
    right = pair(distance * cos, distance * sin)
    tried = (pair(distance, distance * sin), pair(distance * abs(sin), math.copysign(distance * cos, sin)), pair(distance * cos, -distance * sin), pair(distance / cos, distance * sin / cos))  # fmt: skip
    wrong: list[tuple[float, float]] = []
    for one in tried:
        if all(_told_apart(one, other, distance) for other in (right, *wrong)):
            wrong.append(one)
    if len(wrong) < 3:
        raise Again
    return Made({"distance_m": distance, "rise_deg": rise}, right, tuple(wrong[:3]))
