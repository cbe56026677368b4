"""What is rigged, in the order in which it is: each anchor with its ties, each edge, each line with every knot and part on it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.document import Line, Plan, TensionLine
from rigging.document.anchors import Anchor, Leg
from rigging.quantities.units import Wording
from rigging.telling.words.names import line_name, listed, lower_first, upper_first


def rigged(plan: Plan, say: Wording | None = None) -> list[str]:
    """One entry a thing, numbered by whoever reads it from the first on."""
    say = say or Wording()
    return [
        *(_anchor(plan, one, say) for one in plan.anchors),
        *_edges(plan),
        *(_line(plan, one, say) for one in plan.lines),
        *(_tight(plan, one, say) for one in plan.tension_lines),
    ]


def _name(table: str, id: str) -> str:
    return lower_first(getattr(catalogue(), table)[id].name)


def _anchor(plan: Plan, anchor: Anchor, say: Wording) -> str:
    made = anchor.arrangement
    ties = "; ".join(_tie(plan, leg, say) for leg in made.legs)
    return f"{anchor.name}, {lower_first(made.made_as.name)}, on a {_name('connectors', made.connector)}: {ties}."


def _tie(plan: Plan, leg: Leg, say: Wording) -> str:
    turns = f" × {leg.turns}" if leg.turns and leg.turns > 1 else ""
    text = (
        f"{plan.feature(leg.feature).name}, {_name('attachments', leg.method)}{turns}, {_name('slings', leg.material)}"
    )
    if leg.extension is not None:
        text += f", on by {_name('slings', leg.extension)} with a {_name('knots', leg.extension_knot)}"
    if leg.pretension_n is not None:
        text += f", pulled to {say.force(leg.pretension_n)}"
    return text


def _edges(plan: Plan) -> Iterator[str]:
    for edge in plan.site.edges:
        laid = _name("surfaces", edge.protection) if edge.protection else "bare"
        yield f"{edge.name}: {laid}."


def _rope(plan: Plan, id: str, say: Wording) -> str:
    rope = plan.rope(id)
    text = f"{say.length(rope.length_m)} of {_name('ropes', rope.kind)}"
    for join in rope.joins:
        text += f", joined at {say.length(join.at_m)} by a {_name('knots', join.knot)}"
    return text


def _line(plan: Plan, line: Line, say: Wording) -> str:
    parts = [
        _rope(plan, line.rope, say),
        f"{_name('knots', line.load_knot)} and {_name('connectors', line.load_connector)} at the load",
        f"from {lower_first(plan.anchor(line.anchor).name)}",
        *(f"{_name('bends', one.bend)} at {lower_first(plan.anchor(one.anchor).name)}" for one in line.redirects),
    ]
    lowering, haul, belay = line.lowering, line.haul, line.belay
    if lowering is not None:
        behind = f", {_name('hitches', lowering.brake_hitch)} behind it" if lowering.brake_hitch else ""
        parts.append(f"lowered by {_name('devices', lowering.device)}{behind}{_minded(lowering.minder)}")
    if haul is not None:
        bends = listed(f"{_name('bends', kind)} at {place}" for place, kind in haul.bends.items())
        grab = f", {_name('hitches', haul.grab)} as grab" if haul.grabs else ""
        parts.append(f"hauled {haul.system.name}{f', {bends}' if bends else ''}{grab}")
        parts += [
            f"{_name('bends', one.bend)} at {lower_first(plan.anchor(one.anchor).name)}" for one in haul.redirects
        ]
        if haul.capture:
            parts.append(f"{_name('hitches', haul.capture)} as ratchet{_minded(haul.capture_minder)}")
    if belay is not None:
        table = {"hitch": "hitches", "device": "devices", "tied": "knots"}[belay.holds]
        parts.append(f"held by {_name(table, belay.what)}{_minded(belay.minder)}")
        if belay.releasing_m:
            parts.append(f"a releasing hitch that gives {say.length(belay.releasing_m)}")
    if line.slack_m:
        parts.append(f"{say.length(line.slack_m)} slack")
    parts.append(f"{say.length(line.tail_m)} of tail")
    return f"{line_name(plan, line.id)}: {'; '.join(parts)}."


def _minded(by: str) -> str:
    return f" ({by})" if by.strip() else ""


def _tight(plan: Plan, line: TensionLine, say: Wording) -> str:
    near, far = (lower_first(plan.anchor(one).name) for one in (line.anchor, line.far))
    slips = f"; {_name('devices', line.slips)} at its near end" if line.slips else ""
    return upper_first(
        f"tension line {line.id}, {near} to {far}: {line.ropes} × {_rope(plan, line.rope, say)}, {_name('knots', line.end_knot)} "
        f"at its ends, pulled to {say.force(line.pretension_n)}{slips}; the load hangs {say.length(line.hang_m)} below."
    )
