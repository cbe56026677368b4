"""Edits that move the load, or bring it from one thing to another; hands put to the rope and let go."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace

from rigging.lines.rig import LOAD
from rigging.mechanics.holds import HANDS, Lying, drop
from rigging.mechanics.vectors import plus
from rigging.procedures.asked import ask, terminals
from rigging.procedures.edits.edit import STAYS_M, Edit, anchor_of, bearing, goes_m, lets_go, metres, there
from rigging.procedures.state import Cord, Item, State, line_of
from rigging.quantities.faults import refuse

_SHORT_M = 0.3
_CLOSE_M = 0.1
# Nobody lets a load go further than this on purpose; common practice, no source.
_FAR_M = 0.5
# Somebody who has eased the load off holds again after this much.
_READY_M = 0.2


# The load from one thing to another


def let_out(state: State, edit: Edit) -> State:
    """What holds gives metres until the next thing bears: rope through a device in the hand, a releasing hitch."""
    item, far = there(state, edit), metres(edit)
    if item.kind == "hitch":
        return _given(state, edit, item, far, "are asked")
    if item.engaged or not _held(state, item):
        raise refuse(edit.words, f"the {edit.part} is locked, or no hand holds the rope", "unlock it, rope in hand")
    return state.changed(item.id, before_m=item.before_m + far)


def _given(state: State, edit: Edit, item: Item, far: float, asked: str) -> State:
    cord = item.cords[0] if item.cords else Cord("")
    if far > cord.gives_m + 1e-9:
        right = f"a releasing hitch longer by {far - cord.gives_m:.2f} m, or less slack to give back"
        raise refuse(edit.words, f"its releasing hitch gives {cord.gives_m:.2f} m, {far:.2f} m {asked}", right)
    given = replace(cord, slack_m=cord.slack_m + far, gives_m=cord.gives_m - far)
    return state.changed(item.id, cords=(given, *item.cords[1:]))


def _held(state: State, item: Item) -> bool:
    rope = state.find(item.id)
    return rope is not None and any(one.kind == "hands" and one.engaged for one in state.ropes[rope[0]])


def ease(state: State, edit: Edit) -> State:
    """The load let down off something onto the next that bears on the same line, by what there is to spare; a hitch only as far as
    it gives. A belay is fed as the load goes down: it is not what the load is eased onto."""
    item = there(state, edit)
    line = line_of(item.id)
    if item.kind == "device" and not _held(state, item):
        raise refuse(edit.words, f"no hand is on the rope of the {edit.part}", "take the rope in hand first")
    # One that locks by itself is held open until the load is on the next.
    lifted = state.changed(item.id, engaged=False, what="" if locks_by_hand(item) else item.what)
    before, behind = drop(state.with_only(line).lying()), ask(lifted.with_only(line)).hands_off.settled
    if behind.drop_m is None:
        raise refuse(edit.words, "nothing but hands is behind it", "set the ratchet, or tie the rope, first")
    far = max(0.0, behind.drop_m - (before.drop_m or 0.0))
    lying = lifted.with_only(line).lying().without(HANDS)
    onto = terminals(lifted, lying, behind)
    done = lifted.changed(item.id, what=item.what)
    for name in onto:
        done = _taken_up(done, name, lying)
    if item.kind == "hands":
        # Eased up, but ready to hold again.
        return done.changed(item.id, engaged=True, before_m=item.before_m + far + _READY_M)
    gives = item.kind == "hitch" and not lets_go(item)
    if gives:
        eased = _given(state, edit, item, far, "have to be given back") if far > STAYS_M else state
        kept = {one.id: one for _, one in eased.items()}[item.id]
        return done.changed(item.id, engaged=True, cords=kept.cords)
    if item.kind == "device" and any(_ahead(state, name, item.id) for name in onto):
        return done.changed(item.id, before_m=item.before_m + far)
    return done


def _ahead(state: State, name: str, of: str) -> bool:
    """Whether something lies nearer the load than another on the same rope."""
    found = state.find(of)
    row = [one.id for one in state.ropes[found[0]]] if found else []
    return name in row and row.index(name) < row.index(of)


def _taken_up(state: State, name: str, lying: Lying) -> State:
    """What the load now hangs on has no slack left: in its cord, and in the rope before it."""
    found = state.find(name)
    if found is not None:
        item = found[1]
        return state.changed(
            name, before_m=0.0, cords=tuple(replace(c, slack_m=0.0) if c.clipped else c for c in item.cords)
        )
    piece = next(one for one in lying.pieces if one.id == name)
    tie = next(one for _, one in state.items() if one.kind == "tie" and one.to == piece.route[-1] and one.to != LOAD)
    return state.changed(tie.id, before_m=0.0)


def take_in(state: State, edit: Edit) -> State:
    """Slack before something, or in its cord, taken in by hand."""
    item = there(state, edit)
    cords = tuple(replace(cord, slack_m=0.0) for cord in item.cords)
    return state.changed(item.id, before_m=0.0, cords=cords)


# Hands and the load


def hands(on: bool) -> Callable[[State, Edit], State]:
    def change(state: State, edit: Edit) -> State:
        part = edit.part or "hands"
        done = state.changed(there(state, edit.model_copy(update={"part": part})).id, engaged=on)
        if not on and not edit.because:
            _goes_far(state, edit, done)
        return done

    return change


def _goes_far(state: State, edit: Edit, done: State) -> None:
    """Refuses where the load would go far by its own weight before something holds it."""
    far_m = goes_m(state, done)
    if _FAR_M < far_m < math.inf:
        raise refuse(
            edit.words, f"the load would go {far_m:.2f} m before something holds it",
            "lock the device, set the hitch or take the slack in first",
        )  # fmt: skip


def haul(state: State, edit: Edit) -> State:
    """The load up by hands on the haul strand. Hitches on the load's strand that are not clipped yet come with it; what gripped
    tight has the way hauled to spare then."""
    by = metres(edit)
    line = line_of(next(iter(state.ropes)))
    hauled = next((name for name, row in state.ropes.items() if line_of(name) == line and _runs_in(row)), None)
    if hauled is None:
        raise refuse(edit.words, "no hand is on a strand that runs", "rope in hand, device and knots out of it")
    if state.stroke_m is not None and state.since_reset_m + by > state.stroke_m + 1e-6:
        left = max(0.0, state.stroke_m - state.since_reset_m)
        raise refuse(
            edit.words, f"the blocks meet after {left:.2f} m", "set the ratchet, ease, and set the grab forward"
        )
    if by > state.to_corner_m() + 1e-6:
        right = "haul that, and lift it over by hand"
        raise refuse(edit.words, f"the load comes to the edge after {state.to_corner_m():.2f} m", right)
    assert state.ground is not None
    found, out = state.moved(by), state.ground.way(line).out
    at, ropes = dict(found.at), dict(state.ropes)
    for name, row in state.ropes.items():
        if line_of(name) == line:
            ropes[name] = tuple(_slackened(row, name == hauled, by))
    ahead = max((math.dist(at[one.id], state.ground.place(line, 0)) for one in _fastened(state, line)), default=0.0)
    for name in _carried(state, line):
        # A grab that comes up to the ratchet stops in front of it.
        room = max(0.0, math.dist(at[name], state.ground.place(line, 0)) - ahead - _CLOSE_M)
        at[name] = plus(at[name], out, -min(by, room))
    hauled_m, since_m = state.hauled_m + by, state.since_reset_m + by
    return replace(found, at=at, ropes=ropes, hauled_m=hauled_m, since_reset_m=since_m)


def _carried(state: State, line: str) -> set[str]:
    """What comes along with the load: haul grabs and travelling blocks, and hitches that are not clipped yet."""
    rows = [
        one for name, one in state.items() if line_of(name) == line and one.kind in ("hitch", "bend") and not one.to
    ]
    return {one.id for one in rows if not any(cord.clipped for cord in one.cords)}


def _fastened(state: State, line: str) -> list[Item]:
    """Hitches that are clipped to an anchor."""
    return [
        one
        for name, one in state.items()
        if line_of(name) == line and one.kind == "hitch" and any(c.clipped for c in one.cords)
    ]


def _runs_in(row: tuple[Item, ...]) -> bool:
    """Whether a hand is on a rope and nothing between it and the load keeps it from being hauled through."""
    held = any(one.kind == "hands" and one.engaged for one in row)
    locked = any(one.kind == "device" and one.engaged for one in row)
    return held and not locked and not any(one.kind == "tie" for one in row[1:-1])


def _slackened(row: tuple[Item, ...], hauled: bool, by_m: float) -> Iterator[Item]:
    """A rope of the line once the load is up: the first thing that gripped it tight has that much to spare; a hitch held open by its
    minder stays where it is."""
    done = not row or (row[0].to != LOAD and not hauled)
    for one in row:
        fast = one.kind == "device" or (one.kind == "tie" and one.to != LOAD)
        if done or not one.grips or not (one.cords or fast):
            yield one
        elif one.kind == "hitch":
            done = True
            cords = tuple(
                replace(c, slack_m=c.slack_m + by_m) if c.clipped and c.slack_m < STAYS_M else c for c in one.cords
            )
            yield replace(one, cords=cords)
        else:
            done = True
            yield one if hauled else replace(one, before_m=one.before_m + by_m)


def lower(state: State, edit: Edit) -> State:
    by = metres(edit)
    if state.grounded:
        raise refuse(edit.words, "the load lies on the ground", "load it first")
    line = line_of(next(iter(state.ropes)))
    row = [one for name, one in state.items() if line_of(name) == line]
    for one in row:
        if (
            one.grips
            and one.kind in ("device", "hitch")
            and one.cords
            and not locks_by_hand(one)
            and bearing(state, one)
        ):
            right = "unlock it, or open the hitch, rope in hand"
            raise refuse(edit.words, f"the {one.id.partition(':')[2]} holds the load", right)
    if not any(one.kind == "hands" and one.engaged for one in row):
        raise refuse(edit.words, "no hand is on the rope", "rope in hand first")
    return replace(state.moved(-by), lowered_m=state.lowered_m + by)


def locks_by_hand(item: Item) -> bool:
    """Whether a device that grips does so only until its handle is held."""
    return item.kind == "device" and not item.engaged


def travel(state: State, edit: Edit) -> State:
    """The load drawn along what it rolls on, level, towards an anchor."""
    by = metres(edit)
    if state.grounded:
        raise refuse(edit.words, "the load lies on the ground", "load it first")
    if not any(one.kind == "bend" and one.to == LOAD for _, one in state.items()):
        raise refuse(edit.words, "there is no line that the load rolls along", "rig the tension line first")
    here, to = state.at[LOAD], state.at[anchor_of(state, edit)]
    far = math.dist(here[:2], to[:2])
    if by > far:
        raise refuse(edit.words, f"the end of the line is {far:.1f} m away", "set the load down before it")
    way = ((to[0] - here[0]) / far, (to[1] - here[1]) / far, 0.0)
    return replace(state, at={**state.at, LOAD: plus(here, way, by)})


def reset(state: State, edit: Edit) -> State:
    """The haul grab slid forward, once it bears nothing."""
    if edit.part and bearing(state, there(state, edit)):
        raise refuse(edit.words, f"the {edit.part} bears the load", "set the ratchet and ease the haul first")
    line = line_of(next(iter(state.ropes)))
    if state.ground is None or not state.since_reset_m:
        return replace(state, since_reset_m=0.0)
    way, at = state.ground.way(line), dict(state.at)
    # Where the load hangs under the system, a grab goes no further forward than to it.
    ends = len(way.points) == 2
    for name in _carried(state, line):
        room = max(0.0, math.dist(at[name], at[LOAD]) - _SHORT_M) if ends else state.since_reset_m
        at[name] = plus(at[name], way.out, min(state.since_reset_m, room))
    return replace(state, at=at, since_reset_m=0.0)


def come(state: State, edit: Edit) -> State:
    """A join comes to a bend and stands there."""
    return replace(state, stands_at=there(state, edit).node)


def let_pass(state: State, edit: Edit) -> State:
    """A join led past what it stood at, which is off the rope or slack meanwhile; one that comes on from the brake hand, past whatever else is
    on the rope behind the hitch that holds.

    Raises
    ------
    Refused
        If another hitch grips the rope there.
    """
    row = next(iter(state.ropes.values()))
    gripping = [one.id.rpartition(":")[2] for one in row if one.kind == "hitch" and one.engaged and one.cords]
    if not state.stands_at and len(gripping) > 1:
        raise refuse(edit.words, f"the {gripping[-1]} grips the rope on which it comes", "hold it open, or take it off")
    return replace(state, stands_at="")


def load_on(state: State, edit: Edit) -> State:
    """The load eased off the ground onto the ropes."""
    return replace(state, grounded=False)


def set_down(state: State, edit: Edit) -> State:
    return replace(state, grounded=True)
