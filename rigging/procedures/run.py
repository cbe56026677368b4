"""A procedure bound to a plan and made, edit by edit: what holds after each, hands on and hands off."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from rigging.document import Plan
from rigging.procedures.begin import lowering_line
from rigging.procedures.edits import Asked, Edit, perform
from rigging.procedures.rope import RopeState
from rigging.quantities.faults import Fault, Refused, refuse

_HERE = Path(__file__).parent
# A grab is put this far in front of what holds the load; an arm's length of rope is drawn through to pass a join.
_IN_FRONT_M, _PASSING_M = 0.6, 0.4


@dataclass(frozen=True)
class Made:
    """An edit of a step: what then holds, or why it was refused."""

    edit: Edit
    asked: Asked | None
    refused: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Step:
    """A step of the work: who, what they do, what is looked at, the word that is called, and its edits as they went."""

    who: str
    do: str
    look: str
    words: str
    made: tuple[Made, ...]
    after: RopeState


@dataclass(frozen=True)
class Procedure:
    id: str
    name: str
    steps: tuple[Step, ...]


@cache
def known() -> dict[str, dict[str, Any]]:
    """The procedures that ship, by id."""
    import yaml

    found = (yaml.safe_load(file.read_text(encoding="utf-8")) for file in sorted(_HERE.glob("*.yaml")))
    return {one["id"]: one for one in found}


def made_of(plan: Plan, id: str) -> Procedure:
    """A procedure on the plan's own lowering line, every edit made and asked.

    Raises
    ------
    Refused
        If there is no such procedure, or the plan lowers nothing.
    """
    given = known().get(id)
    if given is None:
        raise refuse("procedure", f"there is no procedure {id!r}", f"one of {', '.join(known())}")
    state, bound = lowering_line(plan), _bound(plan)
    steps = []
    for row in given["steps"]:
        edits = []
        for one in row["edits"]:
            edit = edit_of(one, bound)
            try:
                asked = perform(state, edit)
            except Refused as refused:
                edits.append(Made(edit, None, refused.faults))
                continue
            edits.append(Made(edit, asked))
            state = asked.state
        steps.append(Step(_named(plan, row["who"]), row["do"], row["look"], row["words"], tuple(edits), state))
    return Procedure(id, given["name"], tuple(steps))


def edit_of(row: dict[str, Any], bound: dict[str, Any]) -> Edit:
    """An edit from its row: the verb with its grip first, then what else it says."""
    verb, grip = next(iter(row.items()))
    values = {
        name: bound[value[1:]] if isinstance(value, str) and value.startswith("$") else value
        for name, value in row.items()
        if name != verb
    }
    return Edit(verb, grip, values)


def _bound(plan: Plan) -> dict[str, Any]:
    """What a procedure's names stand for in this plan."""
    main = plan.line("main")
    assert main is not None and main.lowering is not None
    low, haul = main.lowering, main.haul
    return {
        "anchor": main.anchor, "device": low.device, "device_out": low.out_m, "brake": low.brake_hitch or "french-8", "brake_out": low.hitch_m,
        "brake_slack": low.slack_m, "ratchet": (haul and haul.capture) or "prusik-8", "in_front": low.out_m + _IN_FRONT_M, "passing": _PASSING_M,
        "ratchet_gives": (haul and haul.capture_releasing_m) or 0.0, "releasing": (haul and haul.capture_releasing_m) or 1.0,
    }  # fmt: skip


def _named(plan: Plan, role: str) -> str:
    """The person of a role by name, else the role."""
    return next((one.name for one in plan.team.people if one.role == role), role)
