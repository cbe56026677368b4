"""The rig as it is found at a step, where that is not what the plan has: taken as it lies, and the steps go on from there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any

from pydantic import Field

from rigging.lines.rig import LOAD
from rigging.procedures.asked import Asked, ask
from rigging.procedures.edits import VERBS, perform
from rigging.procedures.edits.edit import Edit, name_of, there
from rigging.procedures.operation import Lies
from rigging.procedures.run import Bound, EditRow, Step, StepGiven, edit_of, step_made
from rigging.procedures.state import Item, State
from rigging.quantities.faults import Refused, refuse
from rigging.quantities.ranges import Strict

# How a thing that is on the rope can be found, and the edit that says so: what it is now, and what else.
_OFF = {"hitch": "take off", "device": "take out", "tie": "untie", "bend": "take off"}
_ON = ("put on", "rig", "tie", "join", "guard")
# A hitch minded open keeps this much slack in its cord.
_MINDED_M = 0.05


class Otherwise(Strict):
    """What was found before a step of a run: `edits` that say how it lies. `done`: it was not found so but is done now, besides, and has to go as
    any step does."""

    at: Annotated[str, Field(max_length=160)]
    edits: Annotated[list[EditRow], Field(min_length=1, max_length=20)]
    done: bool = False


@dataclass(frozen=True)
class Way:
    """One thing, and how it may lie otherwise than the plan has it."""

    part: str
    item: Item | None
    edit: Edit


def found(asked: Asked, one: Otherwise) -> Asked:
    """The rig as it was found, or with what was done besides.

    Raises
    ------
    Refused
        If an edit names what is not there, nothing would hold, or what is done besides does not go.
    """
    for row in one.edits:
        edit = edit_of(row, {})
        asked = perform(asked.state, edit) if one.done else _as_it_lies(asked.state, edit)
    return asked


def _as_it_lies(state: State, edit: Edit) -> Asked:
    asked = ask(lies(state, edit))
    if asked.holds.drop_m is None:
        raise refuse(edit.words, "nothing would hold the load then", "look again; if it is so, call stop")
    return asked


def lies(state: State, edit: Edit) -> State:
    """A state with one thing as it was found: nothing is asked of how it came so.

    Raises
    ------
    Refused
        If there is no such thing, or it can not lie so.
    """
    if edit.verb in _ON:
        return VERBS[edit.verb](state, edit)
    if edit.verb == "leave guard":
        return replace(state, guards={**state.guards, name_of(state, edit.part): ""})
    item = there(state, edit)
    if edit.verb == _OFF.get(item.kind):
        return state.without(item.id)
    if edit.verb in ("open", "unlock", "let go"):
        return state.changed(item.id, engaged=False)
    if edit.verb in ("set", "lock", "take in hand"):
        slack = edit.values.get("cord_m", 0.0)
        cords = tuple(replace(cord, slack_m=slack) for cord in item.cords) if item.kind == "hitch" else item.cords
        return state.changed(item.id, engaged=True, cords=cords)
    raise refuse(edit.words, "that says nothing of how it lies", f"one of {', '.join(_HOW)}")


_HOW = (*_ON, *sorted(set(_OFF.values())), "open", "unlock", "let go", "set", "lock", "take in hand", "leave guard")


def still_so(state: State, standing: Mapping[str, Edit]) -> State:
    """A rig that the plan has, with what was found otherwise before and that nobody has touched since."""
    for edit in standing.values():
        if state.find(name_of(state, edit.part)) is not None:
            state = lies(state, edit)
    return state


def standing_on(standing: Mapping[str, Edit], state: State, lies: Sequence[Lies], step: Step) -> dict[str, Edit]:
    """What is still otherwise than the plan has it, by the thing's name, once more was found or done before a step and its edits were made."""
    left = dict(standing)
    for one in lies:
        for edit in one.edits if not one.faults else ():
            left.pop(name_of(state, edit.part), None)
            if not one.done and edit.verb not in _ON:
                left[name_of(state, edit.part)] = edit
    for made in step.made:
        if made.asked:
            left.pop(name_of(state, made.edit.part), None)
    return left


def ways(state: State, later: Sequence[StepGiven], bound: Mapping[str, Any]) -> Iterator[Way]:
    """How the things that are there may lie otherwise; and what later steps put on, as if it were on already."""
    for one, edit in _lying(state):
        yield Way(one.id, one, edit)
    for anchor, by in state.guards.items():
        row = {"leave guard": anchor} if by else {"guard": anchor, "by": "somebody"}
        if anchor not in state.unmade:
            yield Way(anchor, None, edit_of(row, {}))
    for edit in puts_on(later, bound):
        if edit.verb != "guard" and state.find(name_of(state, edit.part)) is None and _goes(state, edit):
            yield Way(name_of(state, edit.part), None, edit)


def _lying(state: State) -> Iterator[tuple[Item, Edit]]:
    """Everything on the ropes, each with every other way in which it may lie."""
    for _, one in state.items():
        if one.to != LOAD and one.id != LOAD and one.kind != "edge":
            yield from ((one, edit_of(row, {})) for row in _how(one))


def _how(one: Item) -> Iterator[dict[str, Any]]:
    if one.kind == "hands":
        yield {"let go" if one.engaged else "take in hand": one.id}
        return
    if one.kind == "hitch" and one.cords:
        minded = one.engaged and one.cords[0].slack_m > 0
        if not one.engaged or minded:
            yield {"set": one.id, "cord_m": 0.0}
        if one.engaged and not minded:
            yield {"set": one.id, "cord_m": _MINDED_M}
        if one.engaged:
            yield {"open": one.id}
    if one.kind == "device":
        yield {"unlock" if one.engaged else "lock": one.id}
    if one.kind in _OFF and (one.kind != "bend" or one.cords):
        yield {_OFF[one.kind]: one.id}


def puts_on(steps: Sequence[StepGiven], bound: Mapping[str, Any]) -> Iterator[Edit]:
    """Everything that steps put on the ropes."""
    for step in steps:
        for row in step.edits:
            if any(verb in row for verb in _ON):
                yield edit_of(row, bound)


def _goes(state: State, edit: Edit) -> bool:
    try:
        return _as_it_lies(state, edit) is not None
    except Refused:
        return False


def would_bring(bound: Bound, row: StepGiven, before: Asked, given: Sequence[StepGiven]) -> list[Edit]:
    """What could be done first, one thing, so that a step that does not go then goes: each an edit that goes itself."""
    rows: dict[str, Edit] = {}
    for edit in (*(edit for _, edit in _lying(before.state)), *puts_on(given, bound.values)):
        rows.setdefault(f"{edit.words} {edit.values}", edit)
    brings = []
    for edit in rows.values():
        try:
            after = perform(before.state, edit)
        except Refused:
            continue
        if not step_made(bound, row, after).refused:
            brings.append(edit)
    return brings
