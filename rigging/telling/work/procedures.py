"""A procedure, and a plan's whole operation, as data for others: each edit with what holds after it, hands on and hands off, or why it was
refused; each step with its minutes and what bears how much."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from rigging.document import Plan
from rigging.mechanics.holds import Holds
from rigging.procedures.begin import Ground
from rigging.procedures.compose import composed
from rigging.procedures.forces import forces_n
from rigging.procedures.operation import Branch, Planned, Section
from rigging.procedures.run import Made, Step, made_of
from rigging.procedures.timing import timing
from rigging.quantities.ranges import Range
from rigging.telling.words.operation import why_unmade


def procedure(plan: Plan, id: str) -> dict[str, Any]:
    """The steps of a procedure on a plan.

    Raises
    ------
    Refused
        If there is no such procedure, or the plan lowers nothing.
    """
    found = made_of(plan, id)
    return {"id": found.id, "name": found.name, "steps": [_step(one) for one in found.steps]}


def operation(plan: Plan) -> dict[str, Any]:
    """A plan's operation from the load on the ground until all is struck; `minutes` until the load is up, or down where nothing raises it.

    Raises
    ------
    Refused
        If no line leads to the load, or it can not be laid out.
    """
    found = composed(plan)
    return {
        "begins": found.begins,
        "sections": [
            {
                "id": section.id, "procedure": section.procedure, "or": [_branch(one) for one in section.instead], **_steps(section),
            }
            for section in found.sections
        ],
        "minutes": _minutes(timing(plan, found).until_s),
        "lacks": [{"duty": one.duty, "steps": list(one.keys), "needed": one.needed, "there": one.there} for one in found.lacks],
    }  # fmt: skip


def _branch(one: Branch) -> dict[str, Any]:
    return {"id": one.id, "when": one.when, "procedure": one.section.procedure, **_steps(one.section)}


def _steps(section: Section) -> dict[str, Any]:
    """A section's steps, or why it has none."""
    return {"refused": why_unmade(section.unmade), "steps": [_planned(one) for one in section.steps]}


def _planned(one: Planned) -> dict[str, Any]:
    after, asks = one.step.after, one.asks
    rests = one.rests
    ground = rests.state.ground
    return {
        "id": one.key, "do": one.step.given.do,
        "who": [*({"duty": duty, "name": name} for duty, name in asks.duties.items()), *({"duty": "haul", "name": name} for name in asks.haul if one.step.hands)],
        "minutes": _minutes(one.seconds), "holds": list(after.on), "behind": list(after.behind.onto), "behind_m": _metres(after.behind.far_m),
        "hands_off_m": _metres(after.hands_off.drop_m),
        "forces_n": {part: _rounded(force) for part, force in forces_n(ground, rests).items()} if isinstance(ground, Ground) else {},
        "refused": [asdict(fault) for made in one.step.made for fault in made.refused],
    }  # fmt: skip


def _minutes(seconds: Range) -> dict[str, float]:
    return {name: round(value / 60, 2) for name, value in asdict(seconds).items()}


def _rounded(force: Range) -> dict[str, float]:
    return {name: round(value, 3) for name, value in asdict(force).items()}


def _metres(value: float | None) -> float | None:
    """To a tenth of a millimetre: beyond that the solver's figures mean nothing."""
    return None if value is None else round(value, 4)


def _step(one: Step) -> dict[str, Any]:
    given = one.given
    told = {"who": ", ".join(one.who), "do": given.do, "look": given.look, "words": given.words, "wrong": given.wrong}
    hands = {"hands": asdict(one.hands)} if one.hands else {}
    return {**told, **hands, "edits": [_edit(each) for each in one.made]}


def _edit(made: Made) -> dict[str, Any]:
    told = {"edit": {"verb": made.edit.verb, "part": made.edit.part, **made.edit.values}}
    if made.asked is None:
        return {**told, "refused": [asdict(fault) for fault in made.refused]}
    return {**told, "holds": holds_json(made.asked.holds), "hands_off": holds_json(made.asked.hands_off)}


def holds_json(found: Holds) -> dict[str, Any]:
    """A study of what holds."""
    return {
        "drop_m": _metres(found.drop_m),
        "holds": list(found.holds),
        "without": {part: _metres(far) for part, far in found.without.items()},
        "single_points": list(found.single_points),
    }
