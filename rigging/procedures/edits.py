"""Edits of a rig's state: each a pure function that gives the next state, or refuses with its reason."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from rigging.lines.rig import LOAD, anchor_node
from rigging.mechanics.holds import HANDS, Drop, Holds, Lying, bears, drop, study
from rigging.mechanics.vectors import Point3, plus
from rigging.procedures.state import Cord, Item, State, line_of
from rigging.quantities.faults import Refused, refuse
from rigging.quantities.ranges import Strict

# Hitches that a hand lets off under load.
_LETS_GO = frozenset({"french-8", "takes-in"})
_STAYS_M = 0.01
_SHORT_M = 0.3
_CLOSE_M = 0.1
# Somebody who has eased the load off holds again after this much.
_READY_M = 0.2


class Edit(Strict):
    """One edit: its verb, the part that it is about, and what else it says; `because` accepts what is else refused: that the load
    hangs on hands alone."""

    verb: str
    part: str = ""
    values: dict[str, Any] = {}
    because: str = ""

    @property
    def words(self) -> str:
        return f"{self.verb} {self.part}".strip()


@dataclass(frozen=True)
class Behind:
    """What takes the load when what bears it lets go, after how far (None: nothing does)."""

    onto: tuple[str, ...]
    far_m: float | None


@dataclass(frozen=True)
class Asked:
    """What holds after an edit, hands on and hands off (the same where no hands hold); what it hangs on and what is behind."""

    state: State
    holds: Holds
    hands_off: Holds
    on: tuple[str, ...]
    behind: Behind

    @property
    def alone(self) -> tuple[str, ...]:
        """The things without which the load falls, hands off."""
        return self.hands_off.single_points


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
    try:
        changed = verb(state, edit)
    except Refused:
        raise
    except (KeyError, TypeError, ValueError, IndexError) as error:
        right = "give its part, and metres as numbers, for instance {haul: '', by_m: 1}"
        raise refuse(edit.words, "something that it needs is missing, or no number", right) from error
    asked = ask(changed)
    if asked.holds.drop_m is None:
        raise refuse(edit.words, "nothing would hold the load then", "put something on that holds it first")
    if asked.hands_off.drop_m is None and not edit.because and ask(state).hands_off.drop_m is not None:
        raise refuse(
            edit.words, "the load would hang on hands alone", "set a hitch, lock the device, or tie the rope first"
        )
    return asked


def ask(state: State) -> Asked:
    lying = state.lying()
    holds = study(lying)
    off = study(lying.without(HANDS)) if HANDS in lying.parts else holds
    return Asked(state, holds, off, *_standing(state, lying, holds.settled))


def _standing(state: State, lying: Lying, found: Drop) -> tuple[tuple[str, ...], Behind]:
    """What the load hangs on; and once that has let go, what takes it."""
    on = terminals(state, lying, found)
    left = lying
    for part in [HANDS] if HANDS in on else on.values():
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


# Finding


def _name(state: State, part: str, line: str | None = None) -> str:
    """A part's name in full: within its line, or as it stands."""
    if not part or part in state.at or ":" in part or state.find(part):
        return part
    return f"{line or next(iter(state.ropes))}:{part}"


def _there(state: State, edit: Edit) -> Item:
    found = state.find(_name(state, edit.part))
    if found is None:
        raise refuse(edit.words, f"there is no {edit.part} on the rope", "put it on first")
    return found[1]


def _anchor(state: State, edit: Edit, key: str = "to") -> str:
    to = str(edit.values.get(key, ""))
    for name in (to, anchor_node(to), _name(state, to)):
        if name in state.anchors or name in state.guards or name in state.at:
            return name
    known = ", ".join(sorted(one.partition(":")[2] for one in (*state.anchors, *state.guards)))
    raise refuse(f"{edit.words}, {key}", f"there is no anchor {to!r}", f"one of {known}")


def _bearing(state: State, item: Item) -> bool:
    """Whether the load hangs on something: by what fastens it, by the rope that it ties, or by a strand of another rope at it."""
    lying = state.lying()
    loaded = set(bears(drop(lying), lying.weight_kn))
    pieces = [piece for piece in lying.pieces if piece.id in loaded]
    if item.kind == "tie":
        return any(one.route[-1] == item.to and one.rope.startswith("rope:") for one in pieces)
    if item.cords:
        return any(one.id.startswith((f"{item.id} cord", f"tie of {item.id}")) for one in pieces)
    found = state.find(item.id)
    own = f"rope:{found[0]}" if found else ""
    return any(item.id in one.route[1:-1] or (item.id in one.ends and one.rope != own) for one in pieces)


# Putting on and taking off


def _put_on(state: State, edit: Edit) -> State:
    if state.find(_name(state, edit.part)) is not None:
        raise refuse(edit.words, f"the {edit.part} is on the rope already", "take it off first")
    values = edit.values
    rope = str(values.get("rope", next(iter(state.ropes))))
    if rope not in state.ropes:
        raise refuse(f"{edit.words}, rope", f"there is no rope {rope!r}", f"one of {', '.join(state.ropes)}")
    id = _name(state, edit.part, line_of(rope))
    kind = values.get("kind", "hitch")
    cords: tuple[Cord, ...] = ()
    to = ""
    if kind == "tie" or (kind == "bend" and "round" in values):
        to = _anchor(state, edit, "to" if kind == "tie" else "round")
    elif "to" in values:
        clipped = bool(values.get("clipped", True))
        cord = Cord(
            _anchor(state, edit),
            float(values.get("cord_m", 0)),
            float(values.get("gives_m", 0)),
            clipped,
            float(values.get("long_m", 0)),
        )
        cords = (cord,)  # fmt: skip
    engaged = bool(values.get("engaged", kind in ("tie", "bend", "edge")))
    item = Item(id, kind, str(values.get("what", "")), to, engaged, float(values.get("before_m", 0)), cords)
    at = None if to else _spot(state, edit, line_of(rope))
    return state.put(rope, item, _place(state, edit, rope), at)


def _place(state: State, edit: Edit, rope: str) -> int:
    """Where on its rope: in front of something (towards the load), behind it, or last before the hands."""
    row = state.ropes[rope]
    for key, after in (("ahead_of", 0), ("behind", 1)):
        if key in edit.values:
            name = _name(state, str(edit.values[key]), line_of(rope))
            found = [n for n, one in enumerate(row) if one.id == name]
            if not found:
                raise refuse(
                    f"{edit.words}, {key}", f"there is no {edit.values[key]} on the rope", "name what is on it"
                )
            return found[0] + after
    return len(row) - 1 if row and row[-1].kind == "hands" and "last" not in edit.values else len(row)


def _spot(state: State, edit: Edit, line: str) -> Point3:
    if "at" in edit.values and isinstance(edit.values["at"], str):
        return state.at[_anchor(state, edit, "at")]
    assert state.ground is not None
    return state.ground.place(line, float(edit.values.get("out_m", 0.4)))


def _take_off(state: State, edit: Edit) -> State:
    item = _there(state, edit)
    if item.grips and _bearing(state, item):
        raise refuse(edit.words, f"the {edit.part} bears the load", "ease the load onto something else first")
    if item.kind == "bend" and _led_round(state, item):
        raise refuse(edit.words, f"the strand through the {edit.part} pulls", "ease it until it is slack, then open it")
    if any(other.to == item.id and other.kind == "bend" for _, other in state.items()) and edit.verb == "take off":
        raise refuse(edit.words, f"a strand still runs round what the {edit.part} carries", "take the strand out first")
    return state.without(item.id)


def _led_round(state: State, item: Item) -> bool:
    lying = state.lying()
    loaded = set(bears(drop(lying), lying.weight_kn))
    return any(piece.id in loaded and item.node in piece.route[1:-1] for piece in lying.pieces)


# Setting and opening


def _set(state: State, edit: Edit) -> State:
    item = _there(state, edit)
    cords = item.cords
    if "cord_m" in edit.values:
        cords = tuple(replace(cord, slack_m=float(edit.values["cord_m"])) for cord in cords)
    if any(not cord.clipped for cord in cords):
        raise refuse(edit.words, f"the {edit.part} is not clipped to its anchor", "clip it first")
    return state.changed(item.id, engaged=True, cords=cords)


def _open(state: State, edit: Edit) -> State:
    item = _there(state, edit)
    hard = item.kind == "hitch" and item.what not in _LETS_GO and not any(cord.gives_m for cord in item.cords)
    if hard and item.engaged and _bearing(state, item):
        right = "take the load on something else first, or let it out on a releasing hitch"
        raise refuse(edit.words, f"the {edit.part} is loaded and does not let go under load", right)
    return state.changed(item.id, engaged=False)


def _clip(state: State, edit: Edit) -> State:
    item = _there(state, edit)
    if not item.cords:
        raise refuse(edit.words, f"the {edit.part} has no link to clip", "put it on with one")
    cord = item.cords[0]
    apart = math.dist(state.at[item.id], state.at[cord.on])
    if apart > cord.long_m + 1e-9:
        raise refuse(
            edit.words, f"its link of {cord.long_m:.2f} m does not reach: {apart:.2f} m to the anchor",
            f"haul {apart - cord.long_m:.2f} m on first: clipped short it drags the haul back",
        )  # fmt: skip
    slack = max(0.0, cord.long_m - apart)
    return state.changed(item.id, engaged=True, cords=(replace(cord, clipped=True, slack_m=slack), *item.cords[1:]))


# The load from one thing to another


def _let_out(state: State, edit: Edit) -> State:
    """What holds gives metres until the next thing bears: rope through a device in the hand, a releasing hitch."""
    item, far = _there(state, edit), _metres(edit)
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


def _ease(state: State, edit: Edit) -> State:
    """The load let down off something onto the next that bears on the same line, by what there is to spare; a hitch only as far as
    it gives. A belay is fed as the load goes down: it is not what the load is eased onto."""
    item = _there(state, edit)
    line = line_of(item.id)
    lifted = state.changed(item.id, engaged=False)
    before, behind = drop(state.with_only(line).lying()), ask(lifted.with_only(line)).hands_off.settled
    if behind.drop_m is None:
        raise refuse(edit.words, "nothing but hands is behind it", "set the ratchet, or tie the rope, first")
    far = max(0.0, behind.drop_m - (before.drop_m or 0.0))
    lying = lifted.with_only(line).lying().without(HANDS)
    onto = terminals(lifted, lying, behind)
    done = lifted
    for name in onto:
        done = _taken_up(done, name, lying)
    if item.kind == "hands":
        # Eased up, but ready to hold again.
        return done.changed(item.id, engaged=True, before_m=item.before_m + far + _READY_M)
    gives = item.kind == "hitch" and item.what not in _LETS_GO
    if gives:
        eased = _given(state, edit, item, far, "have to be given back") if far > _STAYS_M else state
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


def _take_in(state: State, edit: Edit) -> State:
    """Slack before something, or in its cord, taken in by hand."""
    item = _there(state, edit)
    cords = tuple(replace(cord, slack_m=0.0) for cord in item.cords)
    return state.changed(item.id, before_m=0.0, cords=cords)


# Anchors, guards, people


def _join(state: State, edit: Edit) -> State:
    """A hitch or a ring fastened to one anchor more."""
    item, to = _there(state, edit), _anchor(state, edit)
    if any(cord.on == to for cord in item.cords):
        raise refuse(edit.words, f"the {edit.part} is fastened there already", "name another anchor")
    return state.changed(item.id, cords=(*item.cords, Cord(to, float(edit.values.get("cord_m", 0)))))


def _leave(state: State, edit: Edit) -> State:
    item, to = _there(state, edit), _anchor(state, edit, "from")
    kept = tuple(cord for cord in item.cords if cord.on != to)
    if len(kept) == len(item.cords):
        raise refuse(edit.words, f"the {edit.part} is not fastened there", "name an anchor that it is fastened to")
    left = state.changed(item.id, cords=kept)
    if not kept and _bearing(state, item):
        raise refuse(edit.words, f"the {edit.part} bears the load on that anchor alone", "join another anchor first")
    return left


def _guard(state: State, edit: Edit) -> State:
    anchor = _anchor(state, Edit(verb=edit.verb, part=edit.part, values={"to": edit.part}))
    return replace(state, guards={**state.guards, anchor: str(edit.values.get("by", "somebody"))})


def _leave_guard(state: State, edit: Edit) -> State:
    anchor = _anchor(state, Edit(verb=edit.verb, part=edit.part, values={"to": edit.part}))
    left = replace(state, guards={**state.guards, anchor: ""})
    used = any(cord.on == anchor for _, one in state.items() if one.engaged for cord in one.cords)
    if used and ask(left).alone and not ask(state).alone:
        right = "have the guard relieved hand over hand, or put something else behind it first"
        raise refuse(edit.words, f"{edit.part} unguarded counts for nothing, and nothing else is behind then", right)
    return left


def _tie_in(state: State, edit: Edit) -> State:
    return replace(state, people={**state.people, edit.part: _anchor(state, edit)})


def _untie_person(state: State, edit: Edit) -> State:
    if edit.part in state.at_lip:
        raise refuse(edit.words, f"{edit.part} is at the lip", "come back from it first, or tie in to something else")
    return replace(state, people={**state.people, edit.part: ""})


def _to_lip(state: State, edit: Edit) -> State:
    if not state.people.get(edit.part):
        raise refuse(edit.words, f"{edit.part} is tied in to nothing", "tie in first")
    return replace(state, at_lip=state.at_lip | {edit.part})


def _from_lip(state: State, edit: Edit) -> State:
    return replace(state, at_lip=state.at_lip - {edit.part})


def _hand_over(state: State, edit: Edit) -> State:
    """A strand or a guard from one person to another, hand over hand: it is never let go meanwhile."""
    to = str(edit.values.get("to", ""))
    if not to:
        raise refuse(f"{edit.words}, to", "nobody is named", "say who takes it")
    anchor = next(
        (one for one in state.guards if one in (edit.part, anchor_node(edit.part), _name(state, edit.part))), None
    )
    if anchor is not None:
        return replace(state, guards={**state.guards, anchor: to})
    item = _there(state, edit)
    return state.changed(item.id, what=to if item.kind == "hands" else item.what)


# Hands and the load


def _hands(on: bool) -> Callable[[State, Edit], State]:
    def change(state: State, edit: Edit) -> State:
        part = edit.part or "hands"
        return state.changed(_there(state, edit.model_copy(update={"part": part})).id, engaged=on)

    return change


def _metres(edit: Edit) -> float:
    by = float(edit.values["by_m"])
    if not 0 < by <= 1000:
        raise refuse(f"{edit.words}, by_m", f"{by:g} m is no way", "give metres, above 0")
    return by


def _haul(state: State, edit: Edit) -> State:
    """The load up by hands on the haul strand. Hitches on the load's strand that are not clipped yet come with it; what gripped
    tight has the way hauled to spare then."""
    by = _metres(edit)
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
    found, out = state.moved(by), state.ground.solver.ways[line].out
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
                replace(c, slack_m=c.slack_m + by_m) if c.clipped and c.slack_m < _STAYS_M else c for c in one.cords
            )
            yield replace(one, cords=cords)
        else:
            done = True
            yield one if hauled else replace(one, before_m=one.before_m + by_m)


def _lower(state: State, edit: Edit) -> State:
    by = _metres(edit)
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
            and _bearing(state, one)
        ):
            right = "unlock it, or open the hitch, rope in hand"
            raise refuse(edit.words, f"the {one.id.partition(':')[2]} holds the load", right)
    if not any(one.kind == "hands" and one.engaged for one in row):
        raise refuse(edit.words, "no hand is on the rope", "rope in hand first")
    return replace(state.moved(-by), lowered_m=state.lowered_m + by)


def locks_by_hand(item: Item) -> bool:
    """Whether a device that grips does so only until its handle is held."""
    return item.kind == "device" and not item.engaged


def _reset(state: State, edit: Edit) -> State:
    """The haul grab slid forward, once it bears nothing."""
    if edit.part and _bearing(state, _there(state, edit)):
        raise refuse(edit.words, f"the {edit.part} bears the load", "set the ratchet and ease the haul first")
    line = line_of(next(iter(state.ropes)))
    if state.ground is None or not state.since_reset_m:
        return replace(state, since_reset_m=0.0)
    way, at = state.ground.solver.ways[line], dict(state.at)
    # Where the load hangs under the system, a grab goes no further forward than to it.
    ends = len(way.points) == 2
    for name in _carried(state, line):
        room = max(0.0, math.dist(at[name], at[LOAD]) - _SHORT_M) if ends else state.since_reset_m
        at[name] = plus(at[name], way.out, min(state.since_reset_m, room))
    return replace(state, at=at, since_reset_m=0.0)


def _come(state: State, edit: Edit) -> State:
    """A join comes to a bend and stands there."""
    return replace(state, stands_at=_there(state, edit).node)


def _pass(state: State, edit: Edit) -> State:
    """A join led past what it stood at, which is off the rope or slack meanwhile."""
    return replace(state, stands_at="")


def _load(state: State, edit: Edit) -> State:
    """The load eased off the ground onto the ropes."""
    return replace(state, grounded=False)


def _ground(state: State, edit: Edit) -> State:
    return replace(state, grounded=True)


def _build(state: State, edit: Edit) -> State:
    """The haul system laid on the rope behind the ratchet that holds it; a knot that backs it up stays tied until the system is up."""
    assert state.ground is not None
    line = line_of(next(iter(state.ropes)))
    if any(one.kind == "device" for one in state.ropes[line]):
        raise refuse(edit.words, "the device is still on the rope", "take it out first")
    up = state.ground.state("raising")
    ropes = {name: row for name, row in up.ropes.items() if line_of(name) == line}
    knots = tuple(one for one in state.ropes[line] if one.kind == "tie" and one.to != LOAD)
    for name, row in ropes.items():
        free = tuple(replace(one, engaged=False) if one.kind == "hands" else one for one in row)
        ropes[name] = (*free[:-1], *knots, free[-1]) if free[-1].kind == "hands" else free
    built = replace(state, ropes={**ropes, **{n: r for n, r in state.ropes.items() if line_of(n) != line}})
    built = replace(built, at={**state.at, **up.at, LOAD: state.at[LOAD]}, since_reset_m=0.0, stroke_m=up.stroke_m)
    ratchet = built.find(f"{line}:ratchet")
    if ratchet is None:
        return built
    # What held the load until now stays set.
    return built.changed(ratchet[1].id, cords=tuple(replace(cord, slack_m=0.0) for cord in ratchet[1].cords))


def _slacken(state: State, edit: Edit) -> State:
    """The cord from something to one of its anchors let out a little, so that the others bear."""
    item, to = _there(state, edit), _anchor(state, edit, "from")
    cords = tuple(replace(cord, slack_m=cord.slack_m + _metres(edit)) if cord.on == to else cord for cord in item.cords)
    return state.changed(item.id, cords=cords)


def _string(state: State, edit: Edit) -> State:
    """A rope or sling laid anew: its things in order, from its first end; `corners` leads it over the edges of the way, outward or up."""
    line = line_of(next(iter(state.ropes)))
    rope = edit.part if ":" in edit.part else f"{line}:{edit.part}"
    if rope in state.ropes:
        raise refuse(edit.words, f"there is a {edit.part} already", "give it another name")
    made = replace(state, ropes={**state.ropes, rope: ()})
    edges = tuple(one for one in state.ropes[line] if one.kind == "edge")
    for values in edit.values["items"]:
        if values["kind"] == "corners":
            laid = edges if values.get("up") else edges[::-1]
            made = replace(made, ropes={**made.ropes, rope: (*made.ropes[rope], *laid)})
            continue
        rest = {name: value for name, value in values.items() if name != "id"}
        more = {"rope": rope, "engaged": rest.get("engaged", rest["kind"] != "device"), "last": True}
        made = _put_on(made, Edit(verb="put on", part=str(values["id"]), values={**rest, **more}))
    return made


VERBS: dict[str, Callable[[State, Edit], State]] = {
    "put on": _put_on, "set": _set, "open": _open, "take off": _take_off, "rig": _put_on, "lock": _set, "unlock": _open, "take out": _take_off,
    "tie": _put_on, "untie": _take_off, "clip": _clip, "let out": _let_out, "take in": _take_in, "ease": _ease, "take in hand": _hands(True),
    "let go": _hands(False), "haul": _haul, "lower": _lower, "reset": _reset, "come": _come, "pass": _pass, "join": _join, "leave": _leave,
    "slacken": _slacken, "guard": _guard, "leave guard": _leave_guard, "tie in": _tie_in, "untie person": _untie_person, "go to lip": _to_lip,
    "come back": _from_lip, "hand over": _hand_over, "load": _load, "ground": _ground, "build": _build, "string": _string,
}  # fmt: skip

__all__ = ["VERBS", "Asked", "Behind", "Edit", "Refused", "ask", "perform", "terminals"]
