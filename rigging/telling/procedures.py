"""A procedure as data for others: each edit with what holds after it, hands on and hands off, or why it was refused."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from rigging.document import Plan
from rigging.mechanics.holds import Holds
from rigging.procedures.run import Made, made_of


def procedure(plan: Plan, id: str) -> dict[str, Any]:
    """The steps of a procedure on a plan.

    Raises
    ------
    Refused
        If there is no such procedure, or the plan lowers nothing.
    """
    found = made_of(plan, id)
    steps = [
        {
            "who": one.who,
            "do": one.do,
            "look": one.look,
            "words": one.words,
            "edits": [_edit(each) for each in one.made],
        }
        for one in found.steps
    ]
    return {"id": found.id, "name": found.name, "steps": steps}


def _edit(made: Made) -> dict[str, Any]:
    told = {"edit": {"verb": made.edit.verb, "part": made.edit.grip, **made.edit.values}}
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
