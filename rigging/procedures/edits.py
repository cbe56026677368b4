"""Edits of a rope's state: each a pure function that gives the next state, or refuses with its reason."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

from rigging.mechanics.holds import HANDS, Holds, study
from rigging.procedures.rope import Grip, RopeState
from rigging.quantities.faults import Refused, refuse

# Drops shorter than this are settling.
_STAYS_M = 0.005


@dataclass(frozen=True)
class Edit:
    """One edit: its verb, the grip that it is about, and what else it says."""

    verb: str
    grip: str = ""
    values: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Asked:
    """What holds after an edit, hands on and hands off (the same where no hands hold)."""

    state: RopeState
    holds: Holds
    hands_off: Holds


def perform(state: RopeState, edit: Edit) -> Asked:
    """An edit made, and what then holds.

    Raises
    ------
    Refused
        If it does not go, or the load would then hang on nothing or on hands alone.
    """
    changed = _VERBS[edit.verb](state, edit)
    asked = ask(changed)
    here = f"{edit.verb} {edit.grip}".strip()
    if asked.holds.drop_m is None:
        raise refuse(here, "nothing would hold the load then", "put something on that holds it first")
    if asked.hands_off.drop_m is None:
        raise refuse(here, "the load would hang on hands alone", "set a hitch, lock the device, or tie the rope first")
    return asked


def ask(state: RopeState) -> Asked:
    lying = state.lying()
    holds = study(lying)
    off = study(lying.without(HANDS)) if HANDS in lying.parts else holds
    return Asked(state, holds, off)


def _there(state: RopeState, edit: Edit) -> Grip:
    grip = state.grip(edit.grip)
    if grip is None:
        raise refuse(f"{edit.verb} {edit.grip}", f"there is no {edit.grip} on the rope", "put it on first")
    return grip


def _put_on(state: RopeState, edit: Edit) -> RopeState:
    if state.grip(edit.grip) is not None:
        raise refuse(f"{edit.verb} {edit.grip}", f"the {edit.grip} is on the rope already", "take it off first")
    return state.with_grip(Grip(edit.grip, **edit.values))


def _set(state: RopeState, edit: Edit) -> RopeState:
    grip = _there(state, edit)
    return state.changed(grip.id, engaged=True, cord_m=float(edit.values.get("cord_m", grip.cord_m)))


def _open(state: RopeState, edit: Edit) -> RopeState:
    grip = _there(state, edit)
    hard = grip.kind == "hitch" and grip.what not in _LETS_GO and not grip.gives_m
    if hard and grip.engaged and _bears(state, grip, ask(state).holds):
        right = "take the load on something else first, or let it out on a releasing hitch"
        raise refuse(f"{edit.verb} {edit.grip}", f"the {grip.id} is loaded and does not let go under load", right)
    return state.changed(grip.id, engaged=False)


_LETS_GO = frozenset({"french-8", "takes-in"})


def _take_off(state: RopeState, edit: Edit) -> RopeState:
    grip = _there(state, edit)
    if grip.engaged and _bears(state, grip, ask(state).holds):
        raise refuse(
            f"{edit.verb} {edit.grip}", f"the {grip.id} bears the load", "ease the load onto something else first"
        )
    return _closed_up(state, grip).without(grip.id)


def _closed_up(state: RopeState, grip: Grip) -> RopeState:
    """The slack that lay before a grip lies before the next one once it is gone."""
    order = [one.id for one in state.grips]
    after = order[order.index(grip.id) + 1 :]
    if grip.before_m and after:
        follower = state.grip(after[0])
        assert follower is not None
        return state.changed(follower.id, before_m=follower.before_m + grip.before_m)
    return state


def _let_out(state: RopeState, edit: Edit) -> RopeState:
    """What holds the load first gives metres, until the next thing bears: rope through a device in the hand, a releasing hitch."""
    grip, far = _there(state, edit), float(edit.values["by_m"])
    here = f"{edit.verb} {edit.grip}"
    if grip.kind == "hitch":
        if far > grip.gives_m + 1e-9:
            missing = far - grip.gives_m
            right = f"a releasing hitch longer by {missing:.2f} m, or less slack to give back"
            raise refuse(here, f"its releasing hitch gives {grip.gives_m:.2f} m, {far:.2f} m are asked", right)
        return state.changed(grip.id, cord_m=grip.cord_m + far, gives_m=grip.gives_m - far)
    if grip.engaged or not state.hands:
        raise refuse(here, f"the {grip.id} is locked, or no hand holds the rope", "unlock it, rope in hand")
    return state.changed(grip.id, before_m=grip.before_m + far)


def _ease(state: RopeState, edit: Edit) -> RopeState:
    """The load let down off a grip onto the next thing that bears, by what there is to spare; a hitch only as far as it gives."""
    grip, here = _there(state, edit), f"{edit.verb} {edit.grip}"
    lifted = state.changed(grip.id, engaged=False)
    # A belay is fed as the load goes down: it is not what the load is eased onto.
    alone = replace(state, others=None)
    before, behind = ask(alone).holds, ask(replace(lifted, others=None)).hands_off
    if behind.drop_m is None:
        raise refuse(here, "nothing but hands is behind it", "set the ratchet, or tie the rope, first")
    far = max(0.0, behind.drop_m - (before.drop_m or 0.0))
    if grip.kind == "hitch" and grip.what not in _LETS_GO and far > grip.gives_m + 1e-9:
        missing = far - grip.gives_m
        raise refuse(
            here, f"its releasing hitch gives {grip.gives_m:.2f} m, {far:.2f} m have to be given back",
            f"a releasing hitch longer by {missing:.2f} m, or less slack to give back",
        )  # fmt: skip
    onto = next((one for one in state.engaged if one.id != grip.id and _bears(state, one, behind)), None)
    if onto is None:
        return lifted
    order = [one.id for one in state.grips]
    taken = state.changed(onto.id, cord_m=0.0, before_m=0.0)
    if grip.kind == "device":
        in_front = order.index(onto.id) < order.index(grip.id)
        return taken.changed(grip.id, engaged=False, before_m=grip.before_m + (far if in_front else 0.0))
    return taken.changed(grip.id, cord_m=grip.cord_m + far, gives_m=max(0.0, grip.gives_m - far))


def _bears(state: RopeState, grip: Grip, found: Holds) -> bool:
    """Whether a grip is what the load hangs on."""
    node = state.name(grip.id)
    ends = {f"{node} cord", f"tie of {node}"}
    if grip.kind == "tie":
        # The rope's last piece ends at its anchor; no other piece of the rope does.
        last = state.name(f"rope:{len(state.engaged)}")
        return last in found.holds
    return bool(ends & set(found.holds))


def _hands(on: bool) -> Callable[[RopeState, Edit], RopeState]:
    return lambda state, edit: replace(state, hands=on)


_VERBS: dict[str, Callable[[RopeState, Edit], RopeState]] = {
    "put on": _put_on, "set": _set, "open": _open, "take off": _take_off, "lock": _set, "unlock": _open, "tie": _put_on, "untie": _take_off,
    "let out": _let_out, "ease": _ease, "take in hand": _hands(True), "let go": _hands(False),
}  # fmt: skip

__all__ = ["Asked", "Edit", "Refused", "ask", "perform"]
