"""Edits of anchors, guards and people."""

from __future__ import annotations

import math
from dataclasses import replace

from rigging.lines.rig import anchor_node
from rigging.procedures.asked import ask
from rigging.procedures.edits.edit import STAYS_M, Edit, anchor_of, bearing, goes_m, name_of, plainly, there
from rigging.procedures.state import Cord, State
from rigging.quantities.faults import refuse

# Anchors, guards, people


def join(state: State, edit: Edit) -> State:
    """A hitch or a ring fastened to one anchor more."""
    item, to = there(state, edit), anchor_of(state, edit, making=True)
    if any(cord.on == to for cord in item.cords):
        raise refuse(edit.words, f"the {edit.part} is fastened there already", "name another anchor")
    joined = state.changed(item.id, cords=(*item.cords, Cord(to, edit.values.get("cord_m", 0.0))))
    return replace(joined, unmade=state.unmade - {to})


def leave(state: State, edit: Edit) -> State:
    item, to = there(state, edit), anchor_of(state, edit, "from")
    kept = tuple(cord for cord in item.cords if cord.on != to)
    if len(kept) == len(item.cords):
        raise refuse(edit.words, f"the {edit.part} is not fastened there", "name an anchor that it is fastened to")
    left = state.changed(item.id, cords=kept)
    if not kept and bearing(state, item):
        raise refuse(edit.words, f"the {edit.part} bears the load on that anchor alone", "join another anchor first")
    return left


def guard(state: State, edit: Edit) -> State:
    anchor = anchor_of(state, Edit(verb=edit.verb, part=edit.part, values={"to": edit.part}), making=True)
    guards = {**state.guards, anchor: str(edit.values.get("by", "somebody"))}
    return replace(state, guards=guards, unmade=state.unmade - {anchor})


def leave_guard(state: State, edit: Edit) -> State:
    anchor = anchor_of(state, Edit(verb=edit.verb, part=edit.part, values={"to": edit.part}))
    left = replace(state, guards={**state.guards, anchor: ""})
    if state.guards.get(anchor):
        _nothing_on(state, edit, left, edit.part)
    used = any(cord.on == anchor for _, one in state.items() if one.engaged for cord in one.cords)
    if used and ask(left).alone and not ask(state).alone:
        right = "have the guard relieved hand over hand, or put something else behind it first"
        raise refuse(edit.words, f"{edit.part} unguarded counts for nothing, and nothing else is behind then", right)
    return left


def _nothing_on(state: State, edit: Edit, left: State, anchor: str) -> None:
    """Refuses where the load hangs on an anchor that is left alone, and would go before something else holds it."""
    far_m = goes_m(state, left)
    if far_m <= STAYS_M:
        return
    far = "it would fall" if math.isinf(far_m) else f"it would go {far_m:.2f} m before anything else holds it"
    right = "have the guard relieved hand over hand, or bring the load onto something else first"
    raise refuse(edit.words, f"the load hangs on the {anchor}: unguarded that counts for nothing, and {far}", right)


def tie_in(state: State, edit: Edit) -> State:
    return replace(state, people={**state.people, edit.part: anchor_of(state, edit)})


def untie_person(state: State, edit: Edit) -> State:
    if edit.part in state.at_lip:
        raise refuse(edit.words, f"{edit.part} is at the lip", "come back from it first, or tie in to something else")
    return replace(state, people={**state.people, edit.part: ""})


def to_lip(state: State, edit: Edit) -> State:
    if not state.people.get(edit.part):
        raise refuse(edit.words, f"{edit.part} is tied in to nothing", "tie in first")
    for anchor in (one for one, by in state.guards.items() if by == edit.part):
        _nothing_on(state, edit, replace(state, guards={**state.guards, anchor: ""}), plainly(anchor))
    return replace(state, at_lip=state.at_lip | {edit.part})


def from_lip(state: State, edit: Edit) -> State:
    return replace(state, at_lip=state.at_lip - {edit.part})


def hand_over(state: State, edit: Edit) -> State:
    """A strand or a guard from one person to another, hand over hand: it is never let go meanwhile."""
    to = str(edit.values.get("to", ""))
    if not to:
        raise refuse(f"{edit.words}, to", "nobody is named", "say who takes it")
    anchor = next(
        (one for one in state.guards if one in (edit.part, anchor_node(edit.part), name_of(state, edit.part))), None
    )
    if anchor is not None:
        return replace(state, guards={**state.guards, anchor: to})
    item = there(state, edit)
    return state.changed(item.id, what=to if item.kind == "hands" else item.what)
