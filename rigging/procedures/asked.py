"""What holds in a rig as it stands: hands on, hands off, what it hangs on, what is behind."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from rigging.mechanics.holds import HANDS, Drop, Holds, Lying, bears, drop, study
from rigging.procedures.state import State


@dataclass(frozen=True)
class Behind:
    """What takes the load when what bears it lets go, after how far (None: nothing does)."""

    onto: tuple[str, ...]
    far_m: float | None


@dataclass(frozen=True)
class Asked:
    """What holds after an edit, hands on and hands off (the same where no hands hold)."""

    state: State
    holds: Holds
    hands_off: Holds

    @cached_property
    def _standing(self) -> tuple[tuple[str, ...], Behind]:
        lying, settled = self.holds.rig, self.holds.settled
        on, behind = _standing(self.state, lying, settled)
        drops = [self.holds.without.get(part) for part in terminals(self.state, lying, settled).values()]
        if (
            behind.far_m is None
            and len(on) > 1
            and not self.holds.single_points
            and all(far is not None for far in drops)
        ):
            # Nothing of it alone: behind each are the others.
            return on, Behind(on, max(far for far in drops if far is not None))
        return on, behind

    @property
    def on(self) -> tuple[str, ...]:
        """What the load hangs on."""
        return self._standing[0]

    @property
    def behind(self) -> Behind:
        """What is behind that."""
        return self._standing[1]

    @property
    def alone(self) -> tuple[str, ...]:
        """The things without which the load falls, hands off."""
        return self.hands_off.single_points


def ask(state: State) -> Asked:
    lying = state.lying()
    holds = study(lying)
    return Asked(state, holds, study(state.released().lying()) if HANDS in lying.parts else holds)


def _standing(state: State, lying: Lying, found: Drop) -> tuple[tuple[str, ...], Behind]:
    """What the load hangs on; and once that has let go, what takes it."""
    on = terminals(state, lying, found)
    if HANDS in on:
        left = state.released().lying()
    else:
        left = lying
        for part in on.values():
            if part in left.parts:
                left = left.without(part)
    there = drop(left)
    if there.drop_m is None or found.drop_m is None:
        return tuple(on), Behind((), None)
    return tuple(on), Behind(tuple(terminals(state, left, there)), max(0.0, there.drop_m - found.drop_m))


def terminals(state: State, lying: Lying, found: Drop) -> dict[str, str]:
    """Where what bears ends, each with the part that goes when it lets go: hands, hitches and devices, knots that are tied."""
    kinds, items = lying.kinds, {one.id: one for _, one in state.items()}
    hands: dict[str, str] = {}
    grips: dict[str, str] = {}
    tied: dict[str, str] = {}
    for piece in lying.pieces:
        if piece.id not in bears(found, lying.weight_kn) or piece.id.startswith("tie of "):
            continue
        for end in piece.ends:
            cord = not piece.rope.startswith("rope:")
            if kinds[end] == HANDS:
                hands[HANDS] = HANDS
            elif cord and kinds[end] == "anchor":
                name = piece.ends[0] if piece.ends[0] in items else piece.id
                grips[name] = name
            elif kinds[end] == "grab" and end in items and items[end].kind == "device" and items[end].cords:
                grips[end] = end
            elif kinds[end] == "anchor":
                tied[_knot(state, piece.rope, end) or piece.id] = piece.id
    return {**hands, **grips, **tied}


def _knot(state: State, rope: str, anchor: str) -> str | None:
    """The knot that ties a rope to an anchor, where it has a name of its own."""
    row = state.ropes.get(rope.removeprefix("rope:"), ())
    return next((one.id for one in reversed(row) if one.kind == "tie" and one.to == anchor and one.id != anchor), None)
