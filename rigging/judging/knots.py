"""What is tied: joins and damaged places of the ropes in use, their age, hitches and their cords, connectors crowded."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rigging.catalogue import catalogue
from rigging.catalogue.knots import in_line
from rigging.document import Line, Plan, Rope
from rigging.judging.found import Found, Level
from rigging.lines.tied import (
    HitchPlace,
    cord_length_m,
    cord_of,
    hitch_hold,
    hitches_of,
    tail_wanted_m,
    too_thick,
    unlike,
    wraps_of,
)
from rigging.lines.way import LineWay


def find_knots(plan: Plan, ways: dict[str, LineWay]) -> Iterator[Found]:
    """Everything tied that a careful leader would ask about."""
    for number, rope in enumerate(plan.ropes):
        on = next((one.id for one in plan.lines if one.rope == rope.id), rope.id)
        yield from _rope(plan.rope(rope.id), number, on)
        yield from _damage(rope, number, on)
        yield from _joins(rope, number, on)
    for line in plan.lines:
        for place in hitches_of(line):
            yield from _hitch(plan, line, place)
        yield from _connector(line)
        yield from _twist(line, ways[line.id])


def _rope(rope: Rope, number: int, line: str) -> Iterator[Found]:
    tying = catalogue().tying
    values = {"line": line, "rope": number}
    if rope.age_years is not None and rope.age_years > tying.textile_years:
        told = {**values, "years": rope.age_years, "most": tying.textile_years}
        yield Found("too-old", "stop", f"{line}:rope", told, rope.id)
    if rope.stood in ("sunlight", "chemicals"):
        level: Level = "stop" if rope.stood == "chemicals" else "look"
        yield Found("stood", level, f"{line}:rope", {**values, "stood": rope.stood}, rope.id)
    if rope.wear == "worn":
        yield Found("worn", "look", f"{line}:rope", values, rope.id)


def _damage(rope: Rope, number: int, line: str) -> Iterator[Found]:
    """Damage still in the pull; a loop that may roll out or be drawn through."""
    slick, knots = catalogue().ropes[rope.kind].slick, catalogue().knots
    for at, damage in enumerate(rope.damage):
        values = {"line": line, "rope": number, "number": at, "at_m": damage.at_m}
        key = f"{rope.id}:{at}"
        if damage.taken_out is None:
            yield Found("damage-in-pull", "stop", f"{line}:rope", values, key)
        elif not in_line(knots[damage.taken_out]):
            yield Found("out-of-line", "unknown", f"{line}:rope", {**values, "knot": knots[damage.taken_out].name}, key)
        elif slick and damage.in_loop != "overhand":
            yield Found("loop-slick", "stop", f"{line}:rope", values, key)
        elif damage.in_loop == "nothing" and knots[damage.taken_out].along is not None:
            yield Found("loop-open", "look", f"{line}:rope", values, key)


def _joins(rope: Rope, number: int, line: str) -> Iterator[Found]:
    """Joins by a knot that is no bend, or with tails too short or not said."""
    for at, join in enumerate(rope.joins):
        knot = catalogue().knots[join.knot]
        wanted = tail_wanted_m(knot, catalogue().ropes[rope.kind])
        values = {
            "line": line, "rope": number, "number": at, "at_m": join.at_m, "knot": knot.name, "tail_m": join.tail_m,
            "wanted_m": wanted, "slips": knot.slips_n,
        }  # fmt: skip
        if not knot.bend:
            yield Found("no-bend", "stop", f"{line}:rope", values, f"{rope.id}:{at}")
        elif join.tail_m is None:
            yield Found("tail-unsaid", "unknown", f"{line}:rope", values, f"{rope.id}:{at}")
        elif join.tail_m < wanted - 1e-9:
            yield Found("tail-short", "stop", f"{line}:rope", values, f"{rope.id}:{at}")
        if knot.creeps:
            yield Found("creeps", "look", f"{line}:rope", values, f"{rope.id}:{at}")
        if unlike(knot, rope, join.onto):
            told = {**values, "onto": catalogue().ropes[join.onto or rope.kind].name}
            yield Found("unlike", "look" if knot.slips_n is None else "stop", f"{line}:rope", told, f"{rope.id}:{at}")


def _hitch(plan: Plan, line: Line, place: HitchPlace) -> Iterator[Found]:
    """Wraps, thickness and length of a hitch's cord; what breaks before it slips; teeth on a rope."""
    tying, tied_on = catalogue().tying, plan.rope(line.rope)
    rope, hitch, made = catalogue().ropes[tied_on.kind], place.hitch, place.made
    about = f"{line.id}:{'ratchet' if place.place == 'capture' else place.place}"
    key = f"{line.id}:{place.place}"
    held = hitch_hold(hitch, made, tied_on)
    wraps = wraps_of(hitch, made)
    values: dict[str, Any] = {"line": line.id, "place": place.place, "hitch": held.name, "rope_m": rope.diameter_m}
    if hitch.form == "clamp" and held.slip_n is None:
        yield Found("cuts", "note", about, {**values, "breaks": held.breaks_n}, key)
    if hitch.form != "hitch":
        return
    cord = cord_of(hitch, made)
    values |= {"cord": cord.name, "cord_m": cord.thickness_m, "wraps": wraps, "usual": hitch.wraps}
    if wraps > tying.wraps_most:
        yield Found("wraps-many", "look", about, values, key)
    elif made.wraps is not None and hitch.wraps is not None and made.wraps < (hitch.wraps_least or hitch.wraps):
        yield Found("wraps-few", "look", about, values, key)
    if too_thick(cord, rope):
        yield Found("cord-thick", "stop" if cord.thickness_m >= rope.diameter_m else "look", about, values, key)
    wanted = cord_length_m(hitch, made, rope, place.reach_m)
    if made.cord_length_m is not None and made.cord_length_m < wanted - 1e-9:
        yield Found("cord-short", "stop", about, {**values, "there_m": made.cord_length_m, "wanted_m": wanted}, key)
    if made.knot_on_rope:
        yield Found("knot-on-rope", "look", about, values, key)
    if made.glazed:
        yield Found("glazed", "look", about, values, key)
    if held.slip_n is not None and place.ropes == 1 and held.breaks_n.expected < held.slip_n.expected:
        told = {**values, "breaks": held.breaks_n, "slips": held.slip_n}
        yield Found("breaks-first", "look", about, told, key)


def _connector(line: Line) -> Iterator[Found]:
    keeps = catalogue().tying.crowded_keeps
    if line.load_connector_crowded:
        values = {"line": line.id, "keeps": keeps, "what": catalogue().connectors[line.load_connector].name}
        yield Found("crowded", "look", "load", {**values, "at": "load"}, f"{line.id}:load")
    if line.lowering and line.lowering.crowded:
        values = {"line": line.id, "keeps": keeps, "what": catalogue().devices[line.lowering.device].name}
        yield Found("crowded", "look", f"{line.id}:device", {**values, "at": "device"}, f"{line.id}:device")


def _twist(line: Line, way: LineWay) -> Iterator[Found]:
    """A munter over a long lower twists the rope."""
    if line.lowering is None or catalogue().devices[line.lowering.device].twists != "yes":
        return
    far, most = way.rise_m, catalogue().tying.munter_m
    if far > most:
        values = {"line": line.id, "far_m": far, "most_m": most}
        yield Found("twists", "look", f"{line.id}:device", values, line.id)
