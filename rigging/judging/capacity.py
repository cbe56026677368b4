"""What each part keeps, and its margin: lowest strength over highest force, against the team's static ratio."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.anchors.chain import Link, least, leg_chain
from rigging.anchors.rig import AnchorRig, LegLine
from rigging.anchors.states import States
from rigging.anchors.wraps import strands_of
from rigging.lines.build import LOAD
from rigging.catalogue import Hitch, catalogue
from rigging.document import Plan
from rigging.site.features import Estimate, estimate
from rigging.lines.phases import Solved
from rigging.quantities.ranges import Range, times
from rigging.telling.report import Rung
from rigging.telling.units import Wording
from rigging.telling.working import JUDGED, KNOWN, Figure, Symbol, Trace, step, symbol

Gives = Literal["breaks", "slips", "unknown", "unrated"]


@dataclass(frozen=True)
class Part:
    """A part of the load path with the force on it. `strength` is None where nothing is rated or known."""

    id: str
    name: str
    group: Literal["anchors", "others"]
    about: str
    force_n: Range
    strength_n: Range | None
    gives: Gives
    rule: str
    symbols: tuple[Symbol, ...]
    mend: str


def parts_in_load_order(
    plan: Plan, solved: Solved, legs: list[LegStrength], states: States, say: Wording
) -> list[Part]:
    """Every part from the casualty to the ground."""
    return [
        *_at_load(plan, solved),
        *_turning(solved, at_load=True),
        *_edges(solved),
        _rope(plan, solved),
        *_grabs(plan, solved),
        *_turning(solved, at_load=False),
        *_holding(plan, solved),
        *_anchor(plan, solved, legs, states, say),
    ]


def _at_load(plan: Plan, solved: Solved) -> Iterator[Part]:
    line, force = plan.line, solved.at_load()
    rope, knot = catalogue().ropes[line.rope], catalogue().knots[line.load_knot]
    connector = catalogue().connectors[line.load_connector]
    yield Part(
        "load-connector", f"Load, {connector.name.lower()}", "others", "load", force, connector.strength_n, "breaks",
        "rating", (symbol("S", "rating", connector.strength_n, "N", connector.source),),
        "use a stronger connector, or two side by side, gates opposed",
    )  # fmt: skip
    if not any(LOAD in (one.route[0], one.route[-1]) for one in solved.network.ropes):
        return  # The rope only passes round a block at the load: nothing is tied there.
    kept = times(rope.strength_n, knot.keeps)
    yield Part(
        "load-knot", f"Load knot, {knot.name.lower()}", "others", "load", force, kept, "breaks", "S_rope · k_knot",
        (symbol("S_rope", rope.name, rope.strength_n, "N", rope.source), symbol("k_knot", knot.name, knot.keeps, "", knot.source)),
        "tie a knot that keeps more, or use a stronger rope",
    )  # fmt: skip


def _edges(solved: Solved) -> Iterator[Part]:
    for rope, index, one in solved.passes():
        crossing = solved.rig.crossings[one.id]
        if crossing.role == "edge":
            yield Part(
                crossing.id, crossing.name, "others", crossing.id, solved.on_pass(rope, index), None, "unrated",
                "", (), "judge the edge by eye: sharpness, padding, and what it does to the rope",
            )  # fmt: skip


def _rope(plan: Plan, solved: Solved) -> Part:
    rope = catalogue().ropes[plan.line.rope]
    most = max(
        (
            solved.strand(s.rope, s.index)
            for row in solved.network.strands
            for s in row
            if s.rope in solved.rig.main_ropes
        ),
        key=lambda tension: tension.high,
    )
    return Part(
        "rope", f"Rope, {rope.name}", "others", "rope", most, rope.strength_n, "breaks", "rating",
        (symbol("S", "rope, no knot", rope.strength_n, "N", rope.source),), "use a stronger rope",
    )  # fmt: skip


def _grabs(plan: Plan, solved: Solved) -> Iterator[Part]:
    haul = plan.line.haul
    if haul is None or solved.phase not in ("raise", "jam"):
        return
    hitch = catalogue().hitches[haul.grab]
    for node in sorted(solved.network.of_kind("moving"), key=lambda node: -abs(solved.rig.out_m(node))):
        if haul.system.nodes[node.id] == "block" and not _grips(solved, node.id):
            continue
        yield _hitch_part(
            f"grab:{node.id}", f"Haul grab {node.id}, {hitch.name}", node.id, hitch, _grip_force(solved, node.id)
        )


def _grips(solved: Solved, node: str) -> bool:
    """Whether a rope end is gripped at the node rather than everything bending round it."""
    return any(node in (rope.route[0], rope.route[-1]) for rope in solved.network.ropes)


def _grip_force(solved: Solved, node: str) -> Range:
    """What the grab has to hold: what hangs on it by bends, which the gripped rope's two sides differ by."""
    per_case = []
    for case in range(3):
        unit, hand = solved.units[case], solved.hands_n[case]
        ends = [
            unit.strands[r][i]
            for r, rope in enumerate(solved.network.ropes)
            for i, name in ((0, rope.route[0]), (len(rope.route) - 2, rope.route[-1]))
            if name == node
        ]
        # Two ends: the same rope passes under the grip. One end: the grab carries all of it.
        per_case.append((abs(ends[0] - ends[1]) if len(ends) == 2 else max(ends)) * hand)
    return solved.over(per_case)


def _hitch_part(name: str, title: str, about: str, hitch: Hitch, force: Range) -> Part:
    return Part(
        name, title, "others", about, force, hitch.slip_n, "slips", "slip load",
        (symbol("S", "where the hitch starts to slip", hitch.slip_n, "N", hitch.source),),
        "use two hitches in line, or lower the force on it",
    )  # fmt: skip


def _turning(solved: Solved, at_load: bool) -> Iterator[Part]:
    """What the rope turns round, nearest the load first: either the blocks on the load itself, or the rest."""
    found = []
    for rope, index, one in solved.passes():
        if (one.node == LOAD) != at_load:
            continue
        crossing = solved.rig.crossings[one.id]
        if crossing.role == "bend":
            kind = catalogue().bends[crossing.kind]
            strength = None if kind.id == "unknown" else kind.strength_n
            found.append((-abs(solved.rig.out_m(solved.network.nodes[one.node])), one.id, Part(
                f"bend:{one.id}", f"{kind.name} at {one.id}", "others", one.id, solved.on_pass(rope, index), strength,
                "breaks" if strength else "unknown", "rating", (symbol("S", "stamped rating", kind.strength_n, "N", kind.strength_source),),
                "say what sits at this bend" if strength is None else "read its stamp, or use a stronger one",
            )))  # fmt: skip
        elif crossing.role == "device":
            device = catalogue().devices[crossing.kind]
            found.append((0.0, "", Part(
                "device", device.name, "others", "device", solved.on_pass(rope, index), device.strength_n, device.gives,
                "rating", (symbol("S", "rating, or where it slips", device.strength_n, "N", device.strength_source),),
                "use a stronger device",
            )))  # fmt: skip
    yield from (part for _, _, part in sorted(found, key=lambda item: item[:2]))


def _holding(plan: Plan, solved: Solved) -> Iterator[Part]:
    if solved.phase != "hold":
        return
    force, haul, lowering = solved.hand(), plan.line.haul, plan.line.lowering
    if haul and haul.capture:
        hitch = catalogue().hitches[haul.capture]
        yield _hitch_part("capture", f"Progress capture, {hitch.name}", "capture", hitch, force)
    elif lowering:
        device = catalogue().devices[lowering.device]
        yield Part(
            "device", f"{device.name}, locked off", "others", "device", force, device.strength_n, device.gives,
            "rating", (symbol("S", "rating, or where it slips", device.strength_n, "N", device.strength_source),),
            "use a stronger device",
        )  # fmt: skip


@dataclass(frozen=True)
class LegStrength:
    """A leg's least link and what its feature holds: the same in every phase. The first of a tied back anchor bears all."""

    line: LegLine
    link: Link
    feature: Estimate
    bears_all: bool


def leg_strengths(rig: AnchorRig) -> list[LegStrength]:
    """Strength of every leg of the anchor."""
    return [
        LegStrength(
            line, least(leg_chain(rig.arrangement, line)), estimate(line.feature, line.rise_rad),
            rig.arrangement.scheme == "back-tied" and line.index == 0,
        )
        for line in rig.lines
    ]  # fmt: skip


def _anchor(plan: Plan, solved: Solved, legs: list[LegStrength], states: States, say: Wording) -> Iterator[Part]:
    force, connector = solved.on_anchor(), catalogue().connectors[plan.arrangement.connector]
    yield Part(
        "working-point", f"Working point, {connector.name.lower()}", "others", "anchor", force, connector.strength_n,
        "breaks", "rating", (symbol("S", "rating", connector.strength_n, "N", connector.source),),
        "use a stronger connector, or two side by side, gates opposed",
    )  # fmt: skip
    for leg in legs:
        yield from _leg(plan, leg, force, states.swung(leg.line.index), len(legs) > 1, say)


def _leg(plan: Plan, leg: LegStrength, whole: Range, on_leg: Range, several: bool, say: Wording) -> Iterator[Part]:
    """A leg's strap and its feature. A front leg that is tied back carries the whole pull up to its feature."""
    line, link, holds = leg.line, leg.link, leg.feature
    number, about = f":{line.index + 1}" if several else "", f"leg:{line.index}"
    name = f"{line.feature.name}: {link.id}" if several else link.name
    force = whole if leg.bears_all else on_leg
    yield Part(
        f"attachment{number}", name, "anchors", about, force, link.strength_n, "breaks", link.rule, link.symbols,
        _more_strands(plan, force, leg) if link.id == "attachment" else "use a stronger one, or two side by side",
    )  # fmt: skip
    asked = say.force(on_leg.high * plan.rules.anchors_ratio)
    yield Part(
        f"feature{number}", line.feature.name, "anchors", about, on_leg, holds.strength_n,
        "breaks" if holds.strength_n else "unknown", holds.formula, holds.symbols,
        f"find one that holds {asked}, or share the load with another" if holds.strength_n
        else holds.why_not or "judge the feature and enter what it holds, with the basis",
    )  # fmt: skip


def _more_strands(plan: Plan, force: Range, leg: LegStrength) -> str:
    strands = strands_of(leg.line.leg)
    wanted = math.ceil(force.high * plan.rules.anchors_ratio / leg.link.strength_n.low * strands - 1e-9)
    more = wanted - strands
    return f"{more} more strand{'s' if more > 1 else ''} would do" if more > 0 else ""


def rung(plan: Plan, part: Part, trace: Trace, known: Trace) -> Rung:
    """A part judged against the team's static ratio. Its strength is the same in every phase, and is traced once."""
    force = trace.figure(
        f"force:{part.id}", f"Force on {part.name}", part.force_n, "N", "sum of the strands that meet there",
        [symbol("F", "equilibrium at the part", part.force_n, "N", "statics")],
    )  # fmt: skip
    target = plan.rules.anchors_ratio if part.group == "anchors" else plan.rules.others_ratio
    if part.strength_n is None:
        verdict: Literal["unknown", "unrated"] = "unknown" if part.gives == "unknown" else "unrated"
        return Rung(
            id=part.id, name=part.name, group=part.group, about=part.about, force=force, strength=None,
            gives=part.gives, margin=None, target=target, verdict=verdict, mend=part.mend,
        )  # fmt: skip
    key = f"strength:{part.id}:{part.name}"
    strength = known.traced(key) or known.figure(
        key, f"Strength of {part.name}", part.strength_n, "N", f"S = {part.rule}", list(part.symbols), None, KNOWN
    )
    margin = _margin(part, trace)
    below = margin is not None and margin.low < target - 1e-9
    return Rung(
        id=part.id, name=part.name, group=part.group, about=part.about, force=force, strength=strength,
        gives=part.gives, margin=margin, target=target, verdict="below" if below else "meets",
        mend=part.mend if below else "",
    )  # fmt: skip


def _margin(part: Part, trace: Trace) -> Figure | None:
    strength, force = part.strength_n, part.force_n
    if strength is None or force.high <= 0:
        return None
    # A force that may vanish would make the upper end endless; it is cut at a thousandth of the highest force.
    least = force.high / 1000
    value = Range(
        low=strength.low / force.high,
        expected=strength.expected / max(force.expected, least),
        high=strength.high / max(force.low, least),
    )
    return trace.figure(
        f"margin:{part.id}", f"Margin of {part.name}", value, "", "m = S / F, judged at S_low / F_high",
        [symbol("S", "strength", strength, "N", part.symbols[0].source), symbol("F", "force", force, "N", "statics")],
        [step("judged: lowest strength over highest force", Range(low=value.low, expected=value.low, high=value.low), ":1")], JUDGED,
    )  # fmt: skip
