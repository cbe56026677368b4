"""The parts of a line, in the order in which the load travels through them, with the force on each and what it keeps."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from rigging.anchors.wraps import keeps_round
from rigging.catalogue import RopeKind, catalogue
from rigging.catalogue.knots import knot_keeps
from rigging.document import Edge, Plan
from rigging.judging.margins import Kind, Part, rated
from rigging.lines.parts import Crossing
from rigging.lines.rig import LOAD
from rigging.lines.solve import LineForces, Solved
from rigging.lines.tied import (
    HitchHold,
    KnotHold,
    Place,
    device_strength_n,
    device_tested,
    hitch_hold,
    hitches_of,
    holds_symbol,
    knot_holds,
    rope_holds,
)
from rigging.quantities.ranges import Range, times
from rigging.quantities.symbols import Symbol, symbol

# A rope that turns less than this lies nearly straight.
TURNS_RAD = math.radians(10)
# Round less than so many of its diameters it keeps clearly less than straight.
_THIN_DIAMETERS = 2.5


def line_parts(plan: Plan, solved: Solved, line: LineForces) -> Iterator[Part]:
    """Every part of a line from the load to what holds its rope, not judged yet."""
    yield from _at_load(plan, line)
    yield from _turning(plan, line, at_load=True)
    yield from _edges(line)
    yield from _knots_on_the_way(plan, line)
    yield _rope(plan, line)
    yield from _bent(plan, line)
    yield from _own_piece(line)
    yield from grab_parts(plan, line)
    yield from _turning(plan, line, at_load=False)
    yield from _holding(plan, solved, line)


def _at_load(plan: Plan, line: LineForces) -> Iterator[Part]:
    of, force = line.rig.line, line.at_load
    connector, piece = catalogue().connectors[of.load_connector], _to_load(line)
    strength, origin = connector.loaded(of.load_connector_loaded)
    if of.load_connector_crowded:
        strength = times(strength, catalogue().tying.crowded_keeps)
    part = rated(f"{of.id}:load-connector", "load-connector", connector.name, LOAD, piece, force, strength, origin)
    yield replace(part, rule="rating, crowded", where="crowded") if of.load_connector_crowded else part
    for number, id in enumerate(of.load_parts):
        one = catalogue().connectors[id]
        yield rated(
            f"{of.id}:load-part:{number}", "load-connector", one.name, LOAD, piece, force, one.strength_n,
            one.origin("strength_n"),
        )  # fmt: skip
    if not any(LOAD in (one.route[0], one.route[-1]) for one in line.network.ropes):
        return  # The rope only passes round a block at the load: nothing is tied there.
    knot = catalogue().knots[of.load_knot]
    held = knot_holds(knot, plan.rope(of.rope), "loop", tested=plan.tested)
    yield from _knot_parts(f"{of.id}:load-knot", "load-knot", knot.name, LOAD, piece, force, held)


def _knot_parts(
    id: str, kind: Kind, thing: str, about: str, takes: str, force: Range, held: KnotHold, where: str = ""
) -> Iterator[Part]:
    """A knot is judged where it breaks and, where it may run before that, where it runs."""
    yield Part(id, kind, thing, where, about, takes, False, force, held.breaks_n, "breaks", held.rule, held.symbols)
    if held.slips_n is not None:
        runs = (holds_symbol("where the knot runs through", held.slips_n, _RUNS_SOURCE[kind], held.slips_tested),)
        yield Part(
            f"{id}:runs", kind, thing, where, about, takes, False, force, held.slips_n, "slips", "slip load", runs
        )


_RUNS_SOURCE: dict[Kind, str] = {
    "load-knot": "slick-knots", "join": "knot-short-tails", "tied-out": "slick-knots",
}  # fmt: skip


def _knots_on_the_way(plan: Plan, line: LineForces) -> Iterator[Part]:
    """Joins and knots that take damage out, where the rope in the pull reaches them."""
    of, rope = line.rig.line, plan.rope(line.rig.line.rope)
    if not rope.joins and not rope.damage:
        return
    force, piece = _most_on_rope(line), _to_load(line)
    reach_m = line.rig.way.length_m

    def loaded(at_m: float) -> bool:
        return (at_m if of.end == "first" else rope.length_m - at_m) < reach_m

    for number, join in enumerate(rope.joins):
        if loaded(join.at_m):
            knot, where = catalogue().knots[join.knot], f"{join.at_m:g}"
            held = knot_holds(
                knot, rope, "bend" if knot.bend else "along", join.tail_m, onto=join.onto, tested=plan.tested
            )
            yield from _knot_parts(
                f"{of.id}:join:{number}", "join", knot.name, f"{of.id}:rope", piece, force, held, where
            )
    for number, damage in enumerate(rope.damage):
        if damage.taken_out is not None and loaded(damage.at_m):
            knot, where = catalogue().knots[damage.taken_out], f"{damage.at_m:g}"
            held = knot_holds(knot, rope, "along", in_loop=damage.in_loop, tested=plan.tested)
            yield from _knot_parts(
                f"{of.id}:tied-out:{number}", "tied-out", knot.name, f"{of.id}:rope", piece, force, held, where
            )


def _to_load(line: LineForces) -> str:
    """The piece that reaches the load."""
    return next(one.id for one in line.network.ropes if LOAD in one.route)


def _edges(line: LineForces) -> Iterator[Part]:
    for rope, index, one in line.passes():
        crossing = line.rig.crossings[one.id]
        if crossing.role == "edge":
            force = line.on_pass(rope, index)
            yield Part(crossing.id, "edge", crossing.name, "", crossing.id, "", False, force, None, "unrated", "", ())


def _most_on_rope(line: LineForces) -> Range:
    """The highest tension in the line's own rope."""
    rows = enumerate(line.network.strands)
    main = [line.strand(r, s.index) for r, row in rows for s in row if line.network.ropes[r].id in line.rig.main]
    return max(main, key=lambda tension: tension.high)


def _rope(plan: Plan, line: LineForces) -> Part:
    rope, id = plan.rope(line.rig.line.rope), line.rig.line.id
    strength, symbols = rope_holds(rope)
    rule = " · ".join(one.symbol for one in symbols)
    return Part(
        f"{id}:rope", "rope", catalogue().ropes[rope.kind].name, "", f"{id}:rope", _to_load(line), False,
        _most_on_rope(line), strength, "breaks", f"{rule}, no knot", symbols,
    )  # fmt: skip


def _bent(plan: Plan, line: LineForces) -> Iterator[Part]:
    """The line's own rope over each bare edge, and round each pin of its own that is thin for it, with the greater tension there."""
    rope = plan.rope(line.rig.line.rope)
    kind, (strength, symbols) = catalogue().ropes[rope.kind], rope_holds(rope)
    edges = {one.name: one for one in plan.site.edges}
    for number, index, one in line.passes():
        crossing = line.rig.crossings[one.id]
        if line.network.ropes[number].id not in line.rig.main or crossing.turn_rad < TURNS_RAD:
            continue
        edge = edges.get(crossing.name) if crossing.role == "edge" else None
        share = (
            _over_bare(edge) if edge else _round_thin(crossing, kind) if crossing.role in ("bend", "redirect") else None
        )
        if share is None:
            continue
        sides = line.strand(number, index), line.strand(number, index + 1)
        told = (*symbols, share)
        yield Part(
            f"{crossing.id}:rope", "rope", kind.name, share.meaning, crossing.id, _to_load(line), False,
            max(sides, key=lambda side: side.high), times(strength, Range(share.low, share.expected, share.high)), "breaks",
            " · ".join(each.symbol for each in told), told,
        )  # fmt: skip


def _over_bare(edge: Edge) -> Symbol | None:
    """What a rope under tension keeps over an edge with nothing between, where that cuts."""
    surface, number = catalogue().surfaces[edge.surface], "sawn_keeps" if edge.sawn else "edge_keeps"
    keeps: Range | None = getattr(surface, number)
    if keeps is None or edge.protection is not None:
        return None
    how = ", moving sideways" if edge.sawn else ""
    return symbol("k_edge", f"bare over {edge.name}{how}", keeps, "", surface.origin(number))


def _round_thin(crossing: Crossing, rope: RopeKind) -> Symbol | None:
    """What a rope keeps round a pin or sheave that is thin for it."""
    bend = catalogue().bends[crossing.kind]
    if crossing.kind == "unknown" or bend.sheave_m.expected >= _THIN_DIAMETERS * rope.diameter_m:
        return None
    keeps = keeps_round(bend.sheave_m, rope.diameter_m)
    return symbol("k_bend", f"round the {bend.name.lower()}", keeps, "", f"tie-off-bend {bend.origin('sheave_m')}")


def _own_piece(line: LineForces) -> Iterator[Part]:
    """The sling or cord that a haul system is built from, at its butterfly."""
    of = line.rig.line
    if of.haul is None or of.haul.own is None or line.rig.mode != "hauling":
        return
    ropes = [(n, one) for n, one in enumerate(line.network.ropes) if "cord" not in one.id]
    # On a grab it is apart from the line's rope; at the load it is all there is.
    pieces = [n for n, one in ropes if one.id not in line.rig.main] or [n for n, _ in ropes]
    own = [line.strand(n, strand.index) for n in pieces for strand in line.network.strands[n]]
    material, knot = catalogue().slings[of.haul.own.material], catalogue().knots["butterfly-loop"]
    keeps, source = knot_keeps(knot, material.slick, "loop")
    symbols = (
        symbol("S_strand", f"one strand of {material.name}", material.strand_n, "N", material.origin("strand_n")),
        symbol("k_knot", knot.name, keeps, "", source),
    )
    yield Part(
        f"{of.id}:own", "own-piece", material.name, "", f"{of.id}:own", "", False, max(own, key=lambda one: one.high),
        times(material.strand_n, keeps), "breaks", "S_strand · k_knot", symbols,
    )  # fmt: skip


def _held_by(plan: Plan, line: LineForces, place: Place) -> HitchHold:
    """The hitch at a place of a line, as it is tied on the line's rope."""
    rope = plan.rope(line.rig.line.rope)
    here = next(one for one in hitches_of(line.rig.line) if one.place == place)
    return hitch_hold(here.hitch, here.made, rope, plan.tested)


def grab_parts(plan: Plan, line: LineForces) -> Iterator[Part]:
    """What a haul system grabs the rope with, at each place."""
    haul = line.rig.line.haul
    if haul is None or not haul.grabs or line.rig.mode != "hauling":
        return
    hitch = _held_by(plan, line, "grab")
    nodes = [node for node in line.network.nodes.values() if node.travels and node.kind in ("grab", "block")]
    for node in sorted(nodes, key=lambda node: -abs(line.rig.out_m(node))):
        ends = any(node.id in (rope.route[0], rope.route[-1]) for rope in line.network.ropes)
        if not ends or node.id.endswith((":ratchet", ":brake")):
            continue
        place = node.id.partition(":")[2]
        if haul.system.out_of_one and place != haul.system.load:
            continue  # A knot in the sling itself, judged with the sling.
        yield from _hitch_parts(
            f"{line.rig.line.id}:grab:{place}", "grab", node.id, node.id, hitch, _grip_force(line, node.id), place
        )


def _grip_force(line: LineForces, node: str) -> Range:
    """What the grab has to hold: what hangs on it by bends, which the gripped rope's two sides differ by."""
    ends = [
        (r, i)
        for r, rope in enumerate(line.network.ropes)
        for i, name in ((0, rope.route[0]), (len(rope.route) - 2, rope.route[-1]))
        if name == node
    ]
    # Two ends: the same rope passes under the grip. One end: the grab carries all of it.
    if len(ends) == 2:
        return line.difference(*ends)
    return max((line.strand(*one) for one in ends), key=lambda one: one.high)


def _hitch_parts(
    id: str, kind: Kind, about: str, takes: str, hitch: HitchHold, force: Range, where: str = ""
) -> Iterator[Part]:
    """A hitch is judged twice: where it slips on its rope, and where its cord breaks; a clamp, where it cuts the rope."""
    if hitch.slip_n is not None:
        # Teeth cut when dry; full of ice or mud they may slide below that.
        number = "slip_n" if hitch.hitch.slip_n is not None else "breaks_n"
        usual, origin = getattr(hitch.hitch, number), hitch.hitch.origin(number)
        slips = (holds_symbol("where the hitch starts to slip", usual, origin, hitch.slips_tested), *hitch.symbols)
        rule = " · ".join(["slip load", *(one.symbol for one in hitch.symbols)])
        yield Part(id, kind, hitch.name, where, about, takes, False, force, hitch.slip_n, "slips", rule, slips)
    yield _cord(id, about, takes, hitch, force, where)


def _cord(id: str, about: str, takes: str, hitch: HitchHold, force: Range, where: str = "") -> Part:
    cord = hitch.hitch.form == "hitch"
    meaning = "where its cord broke round two ropes" if cord else "where it cuts or breaks"
    told = holds_symbol(meaning, hitch.breaks_n, hitch.hitch.origin("breaks_n"), hitch.breaks_tested)
    return Part(
        f"{id}:cord", "cord" if cord else "clamp", hitch.name, where, about, takes, False, force, hitch.breaks_n, "breaks",
        "cord" if cord else "rating", (told,),
    )  # fmt: skip


def _turning(plan: Plan, line: LineForces, at_load: bool) -> Iterator[Part]:
    """What the rope turns round, nearest the load first: either the blocks on the load itself, or the rest."""
    found: list[tuple[float, str, Part]] = []
    for rope, index, one in line.passes():
        if (one.node == LOAD) != at_load:
            continue
        crossing, force = line.rig.crossings[one.id], line.on_pass(rope, index)
        out = -abs(line.rig.out_m(line.network.nodes[one.node]))
        if crossing.role in ("bend", "redirect"):
            kind = catalogue().bends[crossing.kind]
            known = kind.id != "unknown"
            symbols = (symbol("S", "stamped rating", kind.strength_n, "N", kind.origin("strength_n")),)
            part = Part(
                crossing.id, crossing.role, kind.name, crossing.id.partition(":")[2], crossing.id, one.node, False, force,
                kind.strength_n if known else None, "breaks" if known else "unknown", "rating", symbols,
            )  # fmt: skip
            found.append((out, one.id, part))
        elif crossing.role == "device":
            found += [(0.0, "", part) for part in _device(plan, line, "device", crossing.kind, force)]
    yield from (part for _, _, part in sorted(found, key=lambda item: item[:2]))


def _device(plan: Plan, line: LineForces, kind: Kind, id: str, force: Range) -> Iterator[Part]:
    """A device, and the connector it is on where that is crowded: of no make that was said, so of the least that a standard asks."""
    device, lowering = catalogue().devices[id], line.rig.line.lowering
    node = f"{line.rig.line.id}:{'belay' if kind == 'belay' else 'device'}"
    rope = plan.rope(line.rig.line.rope)
    strength, own = device_strength_n(device, rope, plan.tested), device_tested(device, rope, plan.tested)
    meaning = f"where it {own.gives}" if own else "rating, or where it slips"
    symbols = (holds_symbol(meaning, strength, device.origin("strength_n"), own),)
    yield Part(node, kind, device.name, "", node, node, False, force, strength, device.gives, "rating", symbols)
    if kind != "belay" and lowering is not None and lowering.crowded:
        least, keeps = catalogue().connectors["alloy-b"], catalogue().tying.crowded_keeps
        crowded = rated(
            f"{node}:connector", "device-connector", device.name, node, node, force,
            times(least.strength_n, keeps), least.origin("strength_n"),
        )  # fmt: skip
        yield replace(crowded, rule="rating, crowded")


def _holding(plan: Plan, solved: Solved, line: LineForces) -> Iterator[Part]:
    """What holds the rope's end where no hands do."""
    of, mode = line.rig.line, line.rig.mode
    rope, strand = _last_strand(line)
    force = line.strand(rope, strand)
    if mode == "captured" and of.haul and of.haul.capture:
        yield from _hitch_parts(
            f"{of.id}:capture",
            "capture",
            f"{of.id}:ratchet",
            f"{of.id}:ratchet",
            _held_by(plan, line, "capture"),
            force,
        )
    elif mode == "running" and solved.moment.hands_off and of.lowering and of.lowering.brake_hitch:
        hitch = _held_by(plan, line, "brake")
        yield from _hitch_parts(f"{of.id}:brake", "hitch", f"{of.id}:brake", f"{of.id}:brake", hitch, force)
    elif of.belay is not None:
        if of.belay.holds == "hitch":
            yield from _belay_hitch(of.id, _held_by(plan, line, "belay"), of.belay.round_ropes, force)
        elif of.belay.holds == "device":
            yield from _device(plan, line, "belay", of.belay.what, force)
    elif mode in ("locked", "slack") and of.lowering:
        yield from _device(plan, line, "locked-device", of.lowering.device, force)


def _belay_hitch(line: str, hitch: HitchHold, ropes: int, force: Range) -> Iterator[Part]:
    """Round one rope it slips; round two together it does not, and its cord breaks."""
    node = f"{line}:belay"
    if ropes == 1:
        yield from _hitch_parts(node, "belay", node, node, hitch, force)
    else:
        yield _cord(node, node, node, hitch, force)


def _last_strand(line: LineForces) -> tuple[int, int]:
    """The strand at the far end of the line's rope from the load."""
    ropes = line.network.ropes
    last = len(ropes) - 1
    for number, rope in enumerate(ropes):
        if any(line.rig.nodes[end].kind == "hands" for end in (rope.route[0], rope.route[-1])):
            return number, len(rope.route) - 2 if line.rig.nodes[rope.route[-1]].kind == "hands" else 0
        if line.rig.holder is not None and line.rig.holder in (rope.route[0], rope.route[-1]):
            last = number
    rope = ropes[last]
    return last, 0 if line.rig.holder == rope.route[0] else len(rope.route) - 2
