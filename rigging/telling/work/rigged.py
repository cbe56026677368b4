"""What is rigged, in the order in which it is: each anchor with its ties, each edge, each line with every knot and part on it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.document import Line, Plan, TensionLine
from rigging.document.anchors import Anchor, Leg, OnePiece
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
    gathered = f"on a {_name('connectors', made.connector)}" if made.connector else "gathered without a connector"
    text = f"{anchor.name}, {lower_first(made.made_as.name)}, {gathered}: {ties}."
    if made.piece is not None:
        text += f" {upper_first(_closed(made.piece))}."
    if made.ties:
        text += f" Only held in place by {listed([plan.feature(one.feature).name for one in made.ties])}."
    for stage in made.set_down.stages if made.set_down else ():
        text += f" Set down by {stage.strands} × {_name('slings', stage.material)}, {_name('knots', stage.knot)}."
    return text


def _closed(piece: OnePiece) -> str:
    """How an anchor out of one piece is closed."""
    ends = f", its ends joined by a {_name('knots', piece.joined)}" if piece.joined else ""
    if piece.knot is None:
        return f"all out of one piece that slides{ends}"
    how = "all bights in one" if piece.closed == "one-knot" else "each leg by its own"
    return f"all out of one piece, {how} {_name('knots', piece.knot)}{ends}"


def _tie(plan: Plan, leg: Leg, say: Wording) -> str:
    turns = f" × {leg.turns}" if leg.turns and leg.turns > 1 else ""
    text = (
        f"{plan.feature(leg.feature).name}, {_name('attachments', leg.method)}{turns}, {_name('slings', leg.material)}"
    )
    if leg.pulled is not None:
        text += f", {leg.pulled} pulled"
    if leg.joined:
        text += f", joined by a {_name('knots', leg.joined)}"
    if leg.extension is not None:
        side = f"{leg.extension_strands} × " if leg.extension_strands > 1 else ""
        text += f", on by {side}{_name('slings', leg.extension)} with a {_name('knots', leg.extension_knot)}"
        text += f", joined by a {_name('knots', leg.extension_joined)}" if leg.extension_joined else ""
    if leg.over is not None:
        text += f", over {_name('surfaces', leg.over)}, {_name('surfaces', leg.padding) if leg.padding else 'bare'}"
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
