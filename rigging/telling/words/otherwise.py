"""How a thing on the ropes lies, in words."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from rigging.procedures.edits.edit import Edit, name_of
from rigging.procedures.operation import Lies
from rigging.procedures.state import Item, State
from rigging.telling.words.names import listed

# What a part is called in a state.
Named = Callable[[State, str], str]
_SAID = {
    "take off": "not on", "take out": "not in the rope", "untie": "not tied", "open": "held open", "unlock": "not locked", "lock": "locked", "set": "set",
    "let go": "nobody holds it", "take in hand": "in hand", "leave guard": "nobody guards it", "guard": "guarded", "put on": "on", "rig": "rigged", "tie": "tied",
    "join": "joined", "tie in": "tied in",
}  # fmt: skip
_MINDED = "minded, its cord slack"


def how(edit: Edit) -> str:
    """How a thing lies after an edit."""
    return _MINDED if edit.verb == "set" and edit.values.get("cord_m") else _SAID.get(edit.verb, edit.verb)


def now(item: Item | None, state: State, part: str) -> str:
    """How a thing lies; empty where it is not there."""
    if item is None:
        return ("guarded" if state.guards[part] else "unguarded") if part in state.guards else ""
    if item.kind == "hands":
        return "in hand" if item.engaged else "loose"
    if item.kind == "hitch":
        minded = item.engaged and any(cord.slack_m for cord in item.cords)
        return "minded" if minded else "set" if item.engaged else "held open"
    if item.kind == "device":
        return "locked" if item.engaged else "runs"
    return "tied" if item.kind == "tie" else "on"


def said(named: Named, state: State, edits: Iterable[Edit]) -> str:
    """In words, how things lie: brake hitch not on."""
    return listed(f"{named(state, name_of(state, one.part))} {how(one)}" for one in edits)


def lies_text(named: Named, state: State, one: Lies) -> str:
    """What was found before a step, or done besides; and why it can no longer be so."""
    problem = f" (no longer so: {one.faults[0].problem})" if one.faults else ""
    return f"{'Done besides' if one.done else 'Found'}: {said(named, state, one.edits)}{problem}."
