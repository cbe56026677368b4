"""Drills about a plan told, in the plan's own names."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from rigging.document import Plan
from rigging.learning.drills.drill import Drill, Level
from rigging.learning.drills.own import Ground, Read, own_drill, own_round
from rigging.procedures.compose import composed
from rigging.procedures.operation import Planned
from rigging.procedures.run import own_procedures
from rigging.procedures.state import Item, State
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.learning.drills import (
    NAMES,
    STRIP,
    DrillReport,
    MarkedReport,
    RoundReport,
    Words,
    drops,
    fits,
    shown,
)
from rigging.telling.words.names import line_name, listed, upper_first
from rigging.telling.work.operation import Teller

# Slack of a hitch that only settles is not read out.
_SETTLES_M = 0.02

# A plan as JSON, procedures of its team's own by id, and what was read in runs of it: rows and band.
About = tuple[str, dict[str, Any], Sequence[tuple[Sequence[tuple[float, float]], tuple[float, float, float]]]]


def ground_of(about: About) -> Ground:
    """What is asked about.

    Raises
    ------
    Refused
        If no operation can be composed of it.
    """
    document, own, reads = about
    plan = Plan.model_validate_json(document)
    operation = composed(plan, own_procedures(own), [])
    return Ground(
        plan, operation, [Read(tuple((at, force) for at, force in rows), Range(*band)) for rows, band in reads]
    )


def own_round_report(
    about: About, count: int, levels: dict[str, Level], seed: int, revision: int, say: Wording
) -> RoundReport:
    """Drills about a plan, each at the level of its skill."""
    ground = ground_of(about)
    made = own_round(ground, count, seed, lambda skill: levels.get(skill, 1))
    return RoundReport(drills=[_report(ground, one, revision, say) for one in made])


def own_drill_report(plan: Plan, skill: str, seed: int, level: Level) -> DrillReport:
    """One drill about a plan.

    Raises
    ------
    Refused
        If the plan gives none of that skill.
    """
    ground = Ground(plan, composed(plan, {}, []))
    one = own_drill(ground, skill, seed, level)
    if one is None:
        raise refuse("skill", f"this plan gives nothing to ask of {skill!r}", "another skill, or another plan")
    return _report(ground, one, 0, Wording())


def own_marked_report(about: About, answers: Sequence[tuple[str, int, Level, tuple[int, ...]]]) -> MarkedReport:
    """Answers about a plan marked; None where one is no answer to its drill."""
    ground = ground_of(about)
    made = [(own_drill(ground, skill, seed, level), given) for skill, seed, level, given in answers]
    return MarkedReport(
        right=[one.marks(given) if one is not None and fits(one, given) else None for one, given in made]
    )


def _report(ground: Ground, one: Drill, revision: int, say: Wording) -> DrillReport:
    words = _TELLERS[one.skill](one, _Plan(ground, say))
    return DrillReport(
        skill=one.skill, name=NAMES[one.skill][0], seed=one.seed, level=one.level, question=words.question, facts=list(words.facts),
        options=[upper_first(text) for text in words.options], in_order=one.in_order, right=list(one.right), because=words.because, shown=shown(one), revision=revision,
    )  # fmt: skip


class _Plan:
    """The words of one plan."""

    def __init__(self, ground: Ground, say: Wording):
        self.ground, self.say, self.teller = ground, say, Teller(ground.plan, say)

    def step(self, key: str) -> Planned:
        return next(one for one in self.ground.operation.steps if one.key == key)

    def names(self, state: State, parts: Sequence[str]) -> str:
        return upper_first(listed(dict.fromkeys(self.teller.part(state, one) for one in parts)))

    def lies(self, step: Planned) -> tuple[str, ...]:
        """What is on each rope, from the load up, as somebody who looks would read it out."""
        state = step.rests.state
        found = [f"It is done: {step.step.given.do.rstrip('.')}"]
        for rope, row in state.ropes.items():
            there = [
                self._item(state, one)
                for one in row
                if (one.kind not in ("edge", "tie") and one.on_the_way) or one.kind == "hitch"
            ]
            if there:
                found.append(
                    f"{line_name(self.ground.plan, rope.partition(':')[0])}, from the load: {'; '.join(there)}"
                )
        return tuple(found)

    def _item(self, state: State, one: Item) -> str:
        name, slack_m = (
            self.teller.part(state, one.id),
            one.before_m + max((cord.slack_m for cord in one.cords), default=0.0),
        )
        if one.kind == "hitch" and not one.engaged:
            name += " (open)"
        elif one.kind == "device" and one.grips:
            name += " (locked)"
        return (
            f"{name}, {self.say.length(slack_m)} slack before it holds" if one.grips and slack_m > _SETTLES_M else name
        )


def _holds_now(drill: Drill, plan: _Plan) -> Words:
    step = plan.step(drill.asks["step"])
    state = step.rests.state
    said = [plan.names(state, one) for one in drill.options]
    return Words(
        "What bears the load now?", said, [f"{said[drill.right[0]]}: everything else has slack before it, or is no grip of its own."], plan.lies(step)
    )  # fmt: skip


def _then(drill: Drill, plan: _Plan) -> Words:
    step = plan.step(drill.asks["step"])
    on, behind = step.rests.on, step.rests.behind
    right = drops(drill.options[drill.right[0]], plan.say)
    caught = (
        f" {plan.names(step.rests.state, behind.onto)} takes it." if behind.onto and behind.far_m is not None else ""
    )
    return Words(
        f"It hangs on: {plan.names(step.rests.state, on).lower()}. That goes. What does the load do?", [drops(one, plan.say) for one in drill.options],
        [f"{right}.{caught}"], plan.lies(step),
    )  # fmt: skip


def _let_go(drill: Drill, plan: _Plan) -> Words:
    step = plan.step(drill.asks["step"])
    right = drops(drill.options[drill.right[0]], plan.say)
    return Words(
        "Everybody lets go. What does the load do?", [drops(one, plan.say) for one in drill.options],
        [f"{right}: every strand that ends in hands is gone, the rest is asked again."], plan.lies(step),
    )  # fmt: skip


def _haulers(drill: Drill, plan: _Plan) -> Words:
    step, works = plan.step(drill.asks["step"]), drill.works
    return Words(
        "How many have to pull, as expected?", [str(one) for one in drill.options],
        [f"Ideal {Wording.ratio(works['ideal'])} : 1; {plan.say.force(works['hand_n'])} at the hands there, with friction, shared by what each gives."], plan.lies(step),
    )  # fmt: skip


def _order(drill: Drill, plan: _Plan) -> Words:
    section = next(one for one in plan.ground.operation.sections if one.id == drill.asks["section"])
    return Words(
        f"{section.name}: put these steps in order.", [plan.step(one).step.given.do for one in drill.options],
        ["In any other order an edit is refused, or the rig is not as it has to be."],
    )  # fmt: skip


def _strip(drill: Drill, plan: _Plan) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        f"A stretch of a run of yours, {plan.say.force(drill.asks['band'])} worked out for the cell. Is it stop or go?", [STRIP[one] for one in drill.options],
        [f"{STRIP[right]}. The watch over the cell says the same of it."],
    )  # fmt: skip


_TELLERS: dict[str, Callable[[Drill, _Plan], Words]] = {
    "holds-now": _holds_now, "if-it-goes": _then, "hands-off": _let_go, "haulers": _haulers, "order": _order, "strip": _strip,
}  # fmt: skip
