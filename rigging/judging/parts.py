"""What each part keeps, and its margin: lowest strength over highest force, against the team's rule.

Parts come in the order in which the load travels through them, through whichever line bears."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from rigging.anchors.wraps import strands_of
from rigging.catalogue import catalogue
from rigging.document import Plan, Rules
from rigging.judging.anchors import AnchorState, LegStrength
from rigging.lines.catch import Caught
from rigging.lines.rig import LOAD, anchor_node
from rigging.lines.solve import LineForces, Solved
from rigging.lines.tied import HitchHold, KnotHold, Place, hitch_hold, hitches_of, knot_holds, rope_holds
from rigging.quantities.ranges import Range, times
from rigging.quantities.symbols import Symbol, symbol

PEAK_RATIO = 2.0
Gives = Literal["breaks", "slips", "unknown", "unrated"]
Verdict = Literal["meets", "below", "unknown", "unrated"]
Kind = Literal[
    "load-connector", "load-knot", "join", "tied-out", "edge", "rope", "own-piece", "grab", "bend", "redirect", "device", "locked-device", "capture", "hitch",
    "belay", "cord", "clamp", "working-point", "attachment", "feature",
]  # fmt: skip


@dataclass(frozen=True)
class Part:
    """A part of the load path with the force on it.

    `thing` is its name in the catalogue or the document, `where` the place that tells it from others of its kind,
    `takes` the part of "what holds?" that it is. `strength_n` is None where nothing is rated or known; `why_not` then
    says why. `wants` is how many more strands would do, where strands would.
    """

    id: str
    kind: Kind
    thing: str
    where: str
    about: str
    takes: str
    anchor: bool
    force_n: Range
    strength_n: Range | None
    gives: Gives
    rule: str
    symbols: tuple[Symbol, ...]
    why_not: str = ""
    wants: int | None = None
    target: float = 0.0
    margin: Range | None = None
    verdict: Verdict = "unrated"

    def judged(self, target: float, margin: Range | None, verdict: Verdict) -> Part:
        """The same part, held against its target."""
        return Part(
            self.id, self.kind, self.thing, self.where, self.about, self.takes, self.anchor, self.force_n, self.strength_n,
            self.gives, self.rule, self.symbols, self.why_not, self.wants, target, margin, verdict,
        )  # fmt: skip


def all_parts(
    plan: Plan, states: Iterable[Solved], anchors: dict[tuple[str, str], AnchorState]
) -> dict[str, list[Part]]:
    """The parts of every state by its id. States in which the same lines and anchors bear alike have the same parts."""
    known: dict[tuple[object, ...], list[Part]] = {}
    shared: Shared = {}
    found = {}
    for state in states:
        pulled = tuple(id(anchors.get((state.id, anchor))) for anchor in state.on_anchors)
        arrested = isinstance(state, Caught) and state.arrests is not None
        key = (
            tuple(map(id, state.lines)),
            pulled,
            state.moment.hands_off and state.moment.solving == "lowering",
            arrested,
        )
        if key not in known:
            known[key] = parts_in_load_order(plan, state, anchors, shared)
        found[state.id] = known[key]
    return found


# Parts of anchors under pulls that several states share, by the pull.
Shared = dict[int, list[Part]]


def parts_in_load_order(
    plan: Plan, solved: Solved, anchors: dict[tuple[str, str], AnchorState], shared: Shared | None = None
) -> list[Part]:
    """Every part from the casualty to the ground, judged."""
    found: list[Part] = []
    shared = {} if shared is None else shared
    pulled: dict[str, None] = {}
    for line in solved.lines:
        found += _line_parts(plan, solved, line)
        others = [one for one in line.on_anchors() if one != line.rig.line.anchor]
        pulled |= dict.fromkeys([*others, line.rig.line.anchor])
    for anchor in pulled:
        state = anchors.get((solved.id, anchor))
        if state is not None:
            if id(state) not in shared:
                shared[id(state)] = list(anchor_parts(plan, state))
            found += shared[id(state)]
    cap = _cap([part for part in found if not tied_behind(plan, part)])
    if isinstance(solved, Caught) and solved.arrests:
        return [at_peak(part) for part in found]
    return [judged(plan.rules, part, cap) for part in found]


def _line_parts(plan: Plan, solved: Solved, line: LineForces) -> Iterator[Part]:
    yield from _at_load(plan, line)
    yield from _turning(line, at_load=True)
    yield from _edges(line)
    yield from _knots_on_the_way(plan, line)
    yield _rope(plan, line)
    yield from _own_piece(line)
    yield from _grabs(plan, line)
    yield from _turning(line, at_load=False)
    yield from _holding(plan, solved, line)


def _rated(
    id: str, kind: Kind, thing: str, about: str, takes: str, force: Range, strength: Range, source: str, **more: str
) -> Part:
    rating = (symbol("S", "rating", strength, "N", source),)
    return Part(
        id, kind, thing, more.get("where", ""), about, takes, False, force, strength, "breaks", "rating", rating
    )


def _at_load(plan: Plan, line: LineForces) -> Iterator[Part]:
    of, force = line.rig.line, line.at_load
    connector, piece = catalogue().connectors[of.load_connector], _to_load(line)
    share = catalogue().tying.crowded_keeps if of.load_connector_crowded else 1.0
    rated = _rated(
        f"{of.id}:load-connector", "load-connector", connector.name, LOAD, piece, force,
        connector.strength_n.map(lambda one: one * share), connector.source,
    )  # fmt: skip
    yield replace(rated, rule="rating, crowded", where="crowded") if of.load_connector_crowded else rated
    if not any(LOAD in (one.route[0], one.route[-1]) for one in line.network.ropes):
        return  # The rope only passes round a block at the load: nothing is tied there.
    knot = catalogue().knots[of.load_knot]
    held = knot_holds(knot, plan.rope(of.rope), "loop")
    yield from _knot_parts(f"{of.id}:load-knot", "load-knot", knot.name, LOAD, piece, force, held)


def _knot_parts(
    id: str, kind: Kind, thing: str, about: str, takes: str, force: Range, held: KnotHold, where: str = ""
) -> Iterator[Part]:
    """A knot is judged where it breaks and, where it may run before that, where it runs."""
    yield Part(id, kind, thing, where, about, takes, False, force, held.breaks_n, "breaks", held.rule, held.symbols)
    if held.slips_n is not None:
        runs = (symbol("S", "where the knot runs through", held.slips_n, "N", _RUNS_SOURCE[kind]),)
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
            held = knot_holds(knot, rope, "bend" if knot.bend else "along", join.tail_m)
            yield from _knot_parts(
                f"{of.id}:join:{number}", "join", knot.name, f"{of.id}:rope", piece, force, held, where
            )
    for number, damage in enumerate(rope.damage):
        if damage.taken_out is not None and loaded(damage.at_m):
            knot, where = catalogue().knots[damage.taken_out], f"{damage.at_m:g}"
            held = knot_holds(knot, rope, "along", in_loop=damage.in_loop)
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
    return Part(
        f"{id}:rope", "rope", catalogue().ropes[rope.kind].name, "", f"{id}:rope", _to_load(line), False,
        _most_on_rope(line), strength, "breaks", "S_rope, no knot", symbols,
    )  # fmt: skip


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
    keeps, source = (catalogue().tying.slick_keeps, "slick-knots") if material.slick else (knot.keeps, knot.source)
    symbols = (
        symbol("S_strand", f"one strand of {material.name}", material.strand_n, "N", material.source),
        symbol("k_knot", knot.name, keeps, "", source),
    )
    yield Part(
        f"{of.id}:own", "own-piece", material.name, "", f"{of.id}:own", "", False, max(own, key=lambda one: one.high),
        times(material.strand_n, keeps), "breaks", "S_strand · k_knot", symbols,
    )  # fmt: skip


def _held_by(plan: Plan, line: LineForces, place: Place) -> HitchHold:
    """The hitch at a place of a line, as it is tied on the line's rope."""
    rope = catalogue().ropes[plan.rope(line.rig.line.rope).kind]
    here = next(one for one in hitches_of(line.rig.line) if one.place == place)
    return hitch_hold(here.hitch, here.made, rope)


def _grabs(plan: Plan, line: LineForces) -> Iterator[Part]:
    haul = line.rig.line.haul
    if haul is None or line.rig.mode != "hauling":
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
    per_case = []
    for case in line.cases:
        pulls = [case[r][i] for r, i in ends]
        per_case.append(abs(pulls[0] - pulls[1]) if len(pulls) == 2 else max(pulls))
    low, expected, high = per_case
    return Range(min(per_case), expected, max(low, expected, high))


def _hitch_parts(
    id: str, kind: Kind, about: str, takes: str, hitch: HitchHold, force: Range, where: str = ""
) -> Iterator[Part]:
    """A hitch is judged twice: where it slips on its rope, and where its cord breaks; a clamp, where it cuts the rope."""
    if hitch.slip_n is not None:
        usual = hitch.hitch.slip_n
        assert usual is not None
        slips = (symbol("S", "where the hitch starts to slip", usual, "N", hitch.hitch.source), *hitch.symbols)
        rule = " · ".join(["slip load", *(one.symbol for one in hitch.symbols)])
        yield Part(id, kind, hitch.name, where, about, takes, False, force, hitch.slip_n, "slips", rule, slips)
    yield _cord(id, about, takes, hitch, force, where)


def _cord(id: str, about: str, takes: str, hitch: HitchHold, force: Range, where: str = "") -> Part:
    cord = hitch.hitch.form == "hitch"
    meaning = "where its cord broke round two ropes" if cord else "where it cuts or breaks"
    breaks = (symbol("S", meaning, hitch.breaks_n, "N", "hitch-two-ropes" if cord else hitch.hitch.source),)
    return Part(
        f"{id}:cord", "cord" if cord else "clamp", hitch.name, where, about, takes, False, force, hitch.breaks_n, "breaks",
        "cord" if cord else "rating", breaks,
    )  # fmt: skip


def _turning(line: LineForces, at_load: bool) -> Iterator[Part]:
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
            symbols = (symbol("S", "stamped rating", kind.strength_n, "N", kind.strength_source),)
            part = Part(
                crossing.id, crossing.role, kind.name, crossing.id.partition(":")[2], crossing.id, one.node, False, force,
                kind.strength_n if known else None, "breaks" if known else "unknown", "rating", symbols,
            )  # fmt: skip
            found.append((out, one.id, part))
        elif crossing.role == "device":
            found.append((0.0, "", _device(line, "device", crossing.kind, force)))
    yield from (part for _, _, part in sorted(found, key=lambda item: item[:2]))


def _device(line: LineForces, kind: Kind, id: str, force: Range) -> Part:
    device = catalogue().devices[id]
    node = f"{line.rig.line.id}:{'belay' if kind == 'belay' else 'device'}"
    symbols = (symbol("S", "rating, or where it slips", device.strength_n, "N", device.strength_source),)
    return Part(
        node, kind, device.name, "", node, node, False, force, device.strength_n, device.gives, "rating", symbols
    )


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
            yield _device(line, "belay", of.belay.what, force)
    elif mode in ("locked", "slack") and of.lowering:
        yield _device(line, "locked-device", of.lowering.device, force)


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


def anchor_parts(plan: Plan, state: AnchorState) -> Iterator[Part]:
    """Working point, straps and features of an anchor under a pull, not judged yet."""
    node = anchor_node(state.anchor)
    anchor = plan.anchor(state.anchor)
    connector = catalogue().connectors[anchor.arrangement.connector]
    yield _rated(
        f"{node}:working-point", "working-point", connector.name, node, node, state.force_n, connector.strength_n,
        connector.source, where=anchor.name,
    )  # fmt: skip
    for leg in state.legs:
        yield from _leg_parts(plan, state, leg)


def _leg_parts(plan: Plan, state: AnchorState, leg: LegStrength) -> Iterator[Part]:
    line, link, holds = leg.line, leg.link, leg.feature
    several = len(state.legs) > 1
    node, number = anchor_node(state.anchor), f":{line.index + 1}" if several else ""
    about = f"{node}:leg:{line.index}"
    # Margins are judged at the worst of swing and luck; without a balance a lone leg carries all of it.
    on_leg = state.states.swung(line.index) if state.states else state.force_n
    force = state.force_n if leg.bears_all else on_leg
    where = line.feature.name if several else ""
    part = Part(
        f"{node}:attachment{number}", "attachment", link.name, where, about, node, True, force,
        link.strength_n, "breaks", link.rule, link.symbols,
        wants=_more_strands(plan.rules, force, leg) if link.id == "attachment" else None,
    )  # fmt: skip
    if state.states is None:
        # The legs come to no balance: what each would bear is not known, and nothing of it is judged.
        why = "; ".join(state.faults)
        yield replace(part, strength_n=None, gives="unknown", why_not=why)
        return
    yield part
    yield Part(
        f"{node}:feature{number}", "feature", line.feature.name, "", about, node, True, on_leg, holds.strength_n,
        "breaks" if holds.strength_n else "unknown", holds.formula, holds.symbols, why_not=holds.why_not,
    )  # fmt: skip


def _more_strands(rules: Rules, force: Range, leg: LegStrength) -> int | None:
    strands = strands_of(leg.line.leg)
    wanted = math.ceil(force.high * rules.anchors_ratio / leg.link.strength_n.low * strands - 1e-9)
    return wanted - strands if wanted > strands else None


# A tie behind what slips, with less slack than this, is reached in a catch.
TIED_REACHED_M = 1.0


def tied_behind(plan: Plan, part: Part) -> bool:
    """Whether the rope is tied so close behind a part that slips that it can not slip."""
    line = next((one for one in plan.lines if part.takes in (f"{one.id}:belay", f"{one.id}:device")), None)
    if line is None or part.gives != "slips":
        return False
    tied = line.belay or line.lowering
    return tied is not None and tied.tied_behind_m is not None and tied.tied_behind_m < TIED_REACHED_M


def _cap(parts: list[Part]) -> Range | None:
    """What slips first on the way: the force that nothing in line with it can exceed."""
    slips = [part.strength_n for part in parts if part.gives == "slips" and part.strength_n and part.kind != "grab"]
    return min(slips, key=lambda one: one.high, default=None)


def judged(rules: Rules, part: Part, cap: Range | None) -> Part:
    """The part held against the rule of the school in force."""
    force_limit = rules.school == "force-limit"
    if part.gives == "slips":
        target = rules.slip_ratio
    elif force_limit:
        target = rules.cap_margin
    else:
        target = rules.anchors_ratio if part.anchor else rules.others_ratio
    if part.strength_n is None:
        return part.judged(target, None, "unknown" if part.gives == "unknown" else "unrated")
    against = part.force_n
    if force_limit and part.gives != "slips":
        if cap is None:
            return part.judged(target, None, "unknown")
        against = cap
    margin = margin_of(part.strength_n, against)
    below = margin is not None and margin.low < target - 1e-9
    return part.judged(target, margin, "below" if below else "meets")


def at_peak(part: Part) -> Part:
    """The part under the peak of a catch. No rule of the team covers that: below `PEAK_RATIO` it is said."""
    if part.strength_n is None:
        return part.judged(PEAK_RATIO, None, "unknown" if part.gives == "unknown" else "unrated")
    margin = margin_of(part.strength_n, part.force_n)
    # What slips under the peak does what it is there for: it caps it.
    below = margin is not None and margin.low < PEAK_RATIO - 1e-9 and part.gives != "slips"
    return part.judged(PEAK_RATIO, margin, "below" if below else "meets")


def margin_of(strength: Range, force: Range) -> Range | None:
    """Strength over force: lowest over highest to highest over lowest; None where there is no force.

    A force that may vanish would make the upper end endless; it is cut at a thousandth of the highest force.
    """
    if force.high <= 1e-9:
        return None
    least = force.high / 1000
    expected = strength.expected / max(force.expected, least)
    return Range(low=strength.low / force.high, expected=expected, high=strength.high / max(force.low, least))


def weakest_of(parts: list[Part]) -> Part | None:
    """The part with the least of its target: margin over what the rule asks."""
    known = [one for one in parts if one.margin is not None]
    return min(known, key=lambda one: one.margin.low / one.target if one.margin else math.inf, default=None)
