"""Edits of a rig's state: each a pure function that gives the next state, or refuses with its reason."""

from __future__ import annotations

from collections.abc import Callable

from rigging.procedures.asked import Asked, ask
from rigging.procedures.edits import load, people, rope
from rigging.procedures.edits.edit import Edit
from rigging.procedures.state import State
from rigging.quantities.faults import refuse

VERBS: dict[str, Callable[[State, Edit], State]] = {
    "put on": rope.put_on, "set": rope.set_gripping, "open": rope.open_up, "take off": rope.take_off, "rig": rope.put_on, "lock": rope.set_gripping, "unlock": rope.open_up, "take out": rope.take_off,
    "tie": rope.put_on, "untie": rope.take_off, "clip": rope.clip, "let out": load.let_out, "take in": load.take_in, "ease": load.ease, "take in hand": load.hands(True),
    "let go": load.hands(False), "haul": load.haul, "lower": load.lower, "travel": load.travel, "reset": load.reset, "come": load.come, "pass": load.let_pass, "join": people.join, "leave": people.leave,
    "slacken": rope.slacken, "guard": people.guard, "leave guard": people.leave_guard, "tie in": people.tie_in, "untie person": people.untie_person, "go to lip": people.to_lip,
    "come back": people.from_lip, "hand over": people.hand_over, "load": load.load_on, "ground": load.set_down, "build": rope.build, "string": rope.string,
}  # fmt: skip


def perform(state: State, edit: Edit) -> Asked:
    """An edit made, and what then holds.

    Raises
    ------
    Refused
        If it does not go, or the load would then hang on nothing or on hands alone.
    """
    verb = VERBS.get(edit.verb)
    if verb is None:
        raise refuse("verb", f"there is no edit {edit.verb!r}", f"one of {', '.join(VERBS)}")
    asked = ask(verb(state, edit))
    if asked.holds.drop_m is None:
        raise refuse(edit.words, "nothing would hold the load then", "put something on that holds it first")
    if asked.hands_off.drop_m is None and not edit.because and ask(state).hands_off.drop_m is not None:
        raise refuse(
            edit.words, "the load would hang on hands alone", "set a hitch, lock the device, or tie the rope first"
        )
    return asked
