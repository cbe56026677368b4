"""Edits of what is on the rope: put on, set, opened, clipped, taken off; systems built, fresh strands laid."""

from __future__ import annotations

import math
from dataclasses import replace

from rigging.catalogue import catalogue
from rigging.lines.rig import LOAD
from rigging.mechanics.holds import bears, drop
from rigging.mechanics.vectors import Point3
from rigging.procedures.asked import ask
from rigging.procedures.begin import Ground
from rigging.procedures.edits.edit import STAYS_M, Edit, anchor_of, bearing, goes_m, lets_go, metres, name_of, there
from rigging.procedures.forces import borne_n
from rigging.procedures.state import Cord, Item, State, line_of
from rigging.quantities.faults import refuse

# Putting on and taking off


def put_on(state: State, edit: Edit) -> State:
    if state.find(name_of(state, edit.part)) is not None:
        raise refuse(edit.words, f"the {edit.part} is on the rope already", "take it off first")
    values = edit.values
    rope = str(values.get("rope", next(iter(state.ropes))))
    if rope not in state.ropes:
        raise refuse(f"{edit.words}, rope", f"there is no rope {rope!r}", f"one of {', '.join(state.ropes)}")
    id = name_of(state, edit.part, line_of(rope))
    kind = values.get("kind", "hitch")
    cords: tuple[Cord, ...] = ()
    to = ""
    if kind == "tie" or (kind == "bend" and "round" in values):
        to = anchor_of(state, edit, "to" if kind == "tie" else "round")
    elif "to" in values:
        clipped = values.get("clipped", True)
        cord = Cord(
            anchor_of(state, edit),
            values.get("cord_m", 0.0),
            values.get("gives_m", 0.0),
            clipped,
            values.get("long_m", 0.0),
        )
        cords = (cord,)  # fmt: skip
    engaged = values.get("engaged", kind in ("tie", "bend", "edge"))
    item = Item(id, kind, values.get("what", ""), to, engaged, values.get("before_m", 0.0), cords)
    at, place = None if to else _spot(state, edit, line_of(rope)), _place(state, edit, rope)
    done = state.put(rope, item, place, at)
    if kind != "tie" or not item.before_m or state.grounded or goes_m(state, done) <= STAYS_M:
        return done
    # In the loose end below the hand that holds, it may be tied at any time.
    below = state.put(rope, item, place + 1, at)
    if not state.ropes[rope][place:] or state.ropes[rope][place].kind != "hands" or goes_m(state, below) > STAYS_M:
        raise refuse(
            edit.words, "that strand is tight: it bears the load", "ease the load onto what is before it first"
        )
    return below


def _place(state: State, edit: Edit, rope: str) -> int:
    """Where on its rope: in front of something (towards the load), behind it, or last before the hands."""
    row = state.ropes[rope]
    for key, after in (("ahead_of", 0), ("behind", 1)):
        if key in edit.values:
            name = name_of(state, str(edit.values[key]), line_of(rope))
            found = [n for n, one in enumerate(row) if one.id == name]
            if not found:
                raise refuse(
                    f"{edit.words}, {key}", f"there is no {edit.values[key]} on the rope", "name what is on it"
                )
            return found[0] + after
    return len(row) - 1 if row and row[-1].kind == "hands" and "last" not in edit.values else len(row)


def _spot(state: State, edit: Edit, line: str) -> Point3:
    if "at" in edit.values:
        return state.at[anchor_of(state, edit, "at")]
    assert state.ground is not None
    return state.ground.place(line, edit.values.get("out_m", 0.4))


def take_off(state: State, edit: Edit) -> State:
    item = there(state, edit)
    if item.grips and bearing(state, item):
        raise refuse(edit.words, f"the {edit.part} bears the load", "ease the load onto something else first")
    if item.kind in ("bend", "device") and _led_round(state, item):
        raise refuse(edit.words, f"the strand through the {edit.part} pulls", "ease it until it is slack, then open it")
    if any(other.to == item.id and other.kind == "bend" for _, other in state.items()) and edit.verb == "take off":
        raise refuse(edit.words, f"a strand still runs round what the {edit.part} carries", "take the strand out first")
    return state.without(item.id)


def _led_round(state: State, item: Item) -> bool:
    lying = state.lying()
    loaded = set(bears(drop(lying), lying.weight_kn))
    return any(piece.id in loaded and item.node in piece.route[1:-1] for piece in lying.pieces)


# Setting and opening


def set_gripping(state: State, edit: Edit) -> State:
    item = there(state, edit)
    cords = item.cords
    if "cord_m" in edit.values:
        cords = tuple(replace(cord, slack_m=edit.values["cord_m"]) for cord in cords)
    if any(not cord.clipped for cord in cords):
        raise refuse(edit.words, f"the {edit.part} is not clipped to its anchor", "clip it first")
    return state.changed(item.id, engaged=True, cords=cords)


def open_up(state: State, edit: Edit) -> State:
    item = there(state, edit)
    gives = any(cord.gives_m for cord in item.cords)
    if item.kind == "hitch" and item.engaged and not gives and bearing(state, item):
        _opened_by_hand(state, edit, item)
    return state.changed(item.id, engaged=False)


def _opened_by_hand(state: State, edit: Edit, item: Item) -> None:
    """A hitch under load: one that bears no more than a hand holds is slid off by hand, whatever hitch it is.

    Raises
    ------
    Refused
        If it bears more, and is not made to be let off, or bears more than it can be let off at.
    """
    borne = borne_n(state.ground, ask(state)).get(item.id) if isinstance(state.ground, Ground) else None
    slides_n = catalogue().people.hand_hold_n.low
    if borne is not None and borne.high <= slides_n:
        return
    said = f" ({borne.low / 1000:.2f} to {borne.high / 1000:.2f} kN on it)" if borne else ""
    right = "take the load on something else first, or let it out on a releasing hitch"
    if not lets_go(item):
        why = f"the {edit.part} is loaded{said} and does not let go under load"
        raise refuse(edit.words, why, f"{right}; a hand slides it where it bears no more than {slides_n / 1000:.2f} kN")
    most = catalogue().hitches[item.what].releases_below_n
    if most is not None and borne is not None and borne.low > most.high:
        why = f"the {edit.part} bears too much{said}: it lets go of {most.high / 1000:.1f} kN at the most"
        raise refuse(edit.words, why, right)


def clip(state: State, edit: Edit) -> State:
    item = there(state, edit)
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


def build(state: State, edit: Edit) -> State:
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


def slacken(state: State, edit: Edit) -> State:
    """The cord from something to one of its anchors let out a little, so that the others bear."""
    item, to = there(state, edit), anchor_of(state, edit, "from")
    cords = tuple(replace(cord, slack_m=cord.slack_m + metres(edit)) if cord.on == to else cord for cord in item.cords)
    return state.changed(item.id, cords=cords)


def string(state: State, edit: Edit) -> State:
    """A rope or sling laid anew: its things in order, from its first end; `corners` leads it over the edges of the way, outward or up."""
    line = line_of(next(iter(state.ropes)))
    rope = edit.part if ":" in edit.part else f"{line}:{edit.part}"
    if rope in state.ropes:
        raise refuse(edit.words, f"there is a {edit.part} already", "give it another name")
    made = replace(state, ropes={**state.ropes, rope: ()})
    edges = tuple(one for one in state.ropes[line] if one.kind == "edge")
    for values in edit.values.get("items", ()):
        kind, id = values.get("kind"), values.get("id")
        if kind == "corners":
            laid = edges if values.get("up") else edges[::-1]
            made = replace(made, ropes={**made.ropes, rope: (*made.ropes[rope], *laid)})
            continue
        rest = {name: value for name, value in values.items() if name != "id"}
        if kind is None or id is None:
            raise refuse(
                f"{edit.words}, items", "a thing on it has no kind or no id", "give each, as {kind: bend, id: G}"
            )
        more = {"rope": rope, "engaged": rest.get("engaged", kind != "device"), "last": True}
        made = put_on(made, Edit(verb="put on", part=id, values={**rest, **more}))
    return made
