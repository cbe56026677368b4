"""What a whole rig asks and gives over the whole of its way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from rigging.advice.best import hauling
from rigging.advice.rigs.ways import Bagged
from rigging.document import Plan
from rigging.judging.margins import Part, share_of_rule
from rigging.lines.people import haulers_needed
from rigging.lines.solve import Solved
from rigging.mechanics.vectors import Array
from rigging.procedures.schedule import Following, Work
from rigging.procedures.set_up import setting_up
from rigging.site.conditions import sustained_n
from rigging.study.place import WORKING
from rigging.study.whole import Study

Goal = Literal["margin", "haulers", "hand_n", "resets", "minutes", "pieces"]
GOALS: tuple[Goal, ...] = ("margin", "haulers", "hand_n", "resets", "minutes", "pieces")
# A number beyond any figure.
NEVER = 1e6
# What they are told in.
_LAST = np.array([1e-4, 1.0, 0.1, 1.0, 0.1, 1.0])


@dataclass(frozen=True)
class Figures:
    """What a rig asks and gives over its whole way. `margin`: the least ratio of any part to its target; `haulers` who sustain `hand_n` between
    them at its most; `minutes` of setting up, as quick as what waits for what allows, and of hauling; `pieces` rigged."""

    margin: float
    haulers: int
    hand_n: float
    resets: int
    minutes: float
    pieces: int

    @property
    def sizes(self) -> tuple[float, ...]:
        """By every goal, less is better."""
        return (-self.margin, self.haulers, self.hand_n, self.resets, self.minutes, self.pieces)


def told(sizes: Array) -> Array:
    """Sizes (r, g) as they are told, in their last digits."""
    return np.asarray(np.round(sizes / _LAST))


def figures_of(plan: Plan, study: Study) -> tuple[Figures, Part] | None:
    """A plan's figures and its weakest part; None where a haul can not be made, or nothing of a margin is known."""
    parts = [row.weakest for row in study.rows if row.state in WORKING and row.weakest is not None]
    places = [study.start, *study.places]
    raising = [one.states.get("raising") for one in places]
    hauls = [one.lines[0] for one in raising if isinstance(one, Solved)]
    if not parts or len(hauls) not in (0, len(places)):
        return None
    weakest = min(parts, key=share_of_rule)
    hand_n = max((one.running.hand.high for one in hauls if one.running), default=0.0)
    resets, minutes = hauling(plan, hauls[0]) if hauls else (0, 0.0)
    if resets is None or minutes is None:
        return None
    haulers = haulers_needed(hand_n, sustained_n(plan).low)
    return Figures(
        share_of_rule(weakest), haulers, hand_n, resets, set_up_min(plan) + minutes, pieces_of(plan)
    ), weakest


def set_up_min(plan: Plan) -> float:
    """Minutes until all is set up, were there hands enough: the longest of what waits for what."""
    given, tasks = setting_up(plan)
    takes = [plan.takes_s(one.takes).expected for one in given.steps]
    there = {task.id for task in tasks}
    works = [
        Work(task.id, seconds, tuple(one for one in task.after if one in there))
        for task, seconds in zip(tasks, takes, strict=True)
    ]  # fmt: skip
    return Following(works).takes_s / 60


def pieces_of(plan: Plan) -> int:
    """How many things are rigged: at bends and edges, devices, hitches, ropes, legs, connectors."""
    return Bagged.of(plan).total + sum(len(one.arrangement.legs) + 1 for one in plan.anchors)
