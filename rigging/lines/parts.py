"""What a rope runs round: edges, bends, redirects and devices, and the share of tension that each passes on."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import Led, catalogue
from rigging.catalogue.haul import HAND, bends
from rigging.document import Haul, Plan, Rope
from rigging.lines.tied import device_holding
from rigging.quantities.ranges import Range, times
from rigging.site.conditions import condition
from rigging.site.ground import Turn

# What was learnt on this plan, with where the readings are.
_READINGS = "readings"


@dataclass(frozen=True)
class Crossing:
    """What the rope runs round at a pass: a bend of a haul system, an edge, a redirect, or the lowering device.

    `kind` is its catalogue id, `quantity` the symbol and range that the pass's η was worked out from.
    """

    id: str
    role: Literal["bend", "edge", "redirect", "device"]
    node: str
    kind: str
    name: str
    symbol: Literal["η", "μ", "k", "r"]
    quantity: Range
    source: str
    turn_rad: float


def passed_on(crossing: Crossing) -> Range:
    """Share of tension that a crossing passes on.

    η^(θ/π) for a bend or roller, e^(−μβ) for an edge (capstan equation), k as it is where
    the rope has bitten in, 1/r for a lowering device.
    """
    return crossing.quantity.map(rule_of(crossing))


def rule_of(crossing: Crossing) -> Callable[[float], float]:
    """From one value of a crossing's quantity to the share that it passes on."""
    turn = crossing.turn_rad
    rules: dict[str, Callable[[float], float]] = {
        "μ": lambda mu: math.exp(-mu * turn), "r": lambda ratio: 1 / ratio, "k": lambda share: share, "η": lambda eta: eta ** (turn / math.pi),
    }  # fmt: skip
    return rules[crossing.symbol]


# What snow is where the rope has not bitten into it.
_UNBITTEN = "snow-firm"


def edge_crossings(turns: Sequence[Turn], plan: Plan, named: Callable[[int], str] = str) -> list[Crossing]:
    """What the rope meets at the corners of its way, each with its id by `named` (counted from 1). Snow that it has bitten into is one
    place: an edge that was entered so, else the ground's sharpest corner; at its other kinks it lies on firm snow."""
    bites = [
        number for number, turn in enumerate(turns) if catalogue().surfaces[_surface(turn, plan)].friction[0] == "k"
    ]
    entered = [number for number in bites if turns[number].edge]
    lip = entered or [max(bites, key=lambda number: turns[number].turn_rad, default=-1)]
    return [
        _edge_crossing(turn, named(number + 1), plan, number not in bites or number in lip)
        for number, turn in enumerate(turns)
    ]


def _surface(turn: Turn, plan: Plan) -> str:
    """The protection, else the edge's surface, else the ground's."""
    return (turn.edge.protection or turn.edge.surface) if turn.edge else plan.site.surface


def _edge_crossing(turn: Turn, id: str, plan: Plan, there: bool) -> Crossing:
    edge = turn.edge
    surface = catalogue().surfaces[_surface(turn, plan) if there else _UNBITTEN]
    name = edge.name if edge else "Ground, no edge entered"
    symbol, quantity = surface.friction
    found = plan.found_of("edge", surface.id, name)
    source = _READINGS if found else surface.source
    wet = condition((edge.state if edge else None) or plan.day.state)
    if symbol == "μ" and found is None and wet.id != "dry":
        quantity, source = times(quantity, wet.edge), f"{source} {wet.origin('edge')}"
    return Crossing(id, "edge", id, surface.id, name, symbol, found or quantity, source, turn.turn_rad)


def bend_crossing(
    plan: Plan, id: str, role: Literal["bend", "redirect"], node: str, kind: str, turn_rad: float
) -> Crossing:
    """A bend of a haul system or a redirect; where nobody said what sits there, the whole span of what might."""
    bend = catalogue().bends[kind]
    found = plan.found_of("bend", kind)
    source = _READINGS if found else bend.origin("eta")
    return Crossing(id, role, node, bend.id, bend.name, "η", found or bend.eta, source, turn_rad)


def device_crossing(
    plan: Plan, id: str, kind: str, rope: Rope, turns: float | None = None, led: Led | None = None
) -> Crossing:
    device = catalogue().devices[kind]
    found = plan.found_of("device", kind)
    source = _READINGS if found else device.origin("ratio" if device.ratio else "mu")
    holding = found or device_holding(device, rope, turns, led)
    return Crossing(id, "device", id, device.id, device.name, "r", holding, source, math.pi)


def eta_of(plan: Plan, haul: Haul) -> dict[str, Range]:
    """η range at each bend; the unknown span where nothing was said."""
    kinds = {b.id: haul.bends.get(b.id, "unknown") for b in bends(haul.system)}
    return {id: plan.found_of("bend", kind) or catalogue().bends[kind].eta for id, kind in kinds.items()}


def bend_at_ratchet(haul: Haul) -> str | None:
    """The bend of the system that the ratchet is beside: the first at one of its anchors, on the haul strand the last of all; none where
    that is led on and the ratchet is beside a redirect."""
    system, places = haul.system, bends(haul.system)
    if haul.capture_on == "haul" and haul.redirects:
        return None
    if haul.capture_on == "haul":
        beside = (p.id for p in places if HAND in system.ropes[p.rope][p.index : p.index + 3])
    else:
        beside = (p.id for p in places if system.nodes.get(p.node) == "anchor")
    return next(beside, None)


def at_ratchet(haul: Haul) -> str:
    """What sits at the bend that the ratchet is beside."""
    if haul.capture_on == "haul" and haul.redirects:
        return haul.redirects[0].bend
    return haul.bends.get(bend_at_ratchet(haul) or "", "unknown")


def minded(haul: Haul) -> bool:
    """Whether the ratchet is kept from running in: by somebody, or by a pulley made for its hitch, or it minds itself."""
    if haul.capture and catalogue().hitches[haul.capture].minds_itself:
        return True
    return bool(haul.capture_minder.strip()) or haul.capture in catalogue().bends[at_ratchet(haul)].minds


def open_bends(haul: Haul) -> list[str]:
    """Bends nobody has said anything about."""
    return [b.id for b in bends(haul.system) if haul.bends.get(b.id, "unknown") == "unknown"]
