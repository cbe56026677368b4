"""A procedure as data for others: each edit with what holds after it, hands on and hands off, or why it was refused."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from rigging.document import Plan
from rigging.mechanics.holds import Holds
from rigging.procedures.run import Made, Step, made_of


def procedure(plan: Plan, id: str) -> dict[str, Any]:
    """The steps of a procedure on a plan.

    Raises
    ------
    Refused
        If there is no such procedure, or the plan lowers nothing.
    """
    found = made_of(plan, id)
    return {"id": found.id, "name": found.name, "steps": [_step(one) for one in found.steps]}


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
    """A study of what holds, metres to a tenth of a millimetre: beyond that the solver's figures mean nothing."""

    def metres(value: float | None) -> float | None:
        return None if value is None else round(value, 4)

    return {
        "drop_m": metres(found.drop_m),
        "holds": list(found.holds),
        "without": {part: metres(far) for part, far in found.without.items()},
        "single_points": list(found.single_points),
    }
