"""Rope budgets: what the job takes from end to end, and what is left or missing."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rigging.document import Plan
from rigging.site.ground import RopeWay
from rigging.mechanics.network import Network
from rigging.lines.phases import Solved


@dataclass(frozen=True)
class HaulRope:
    """Main rope laid in the haul system when the grab is set forward, and what has to come from other ropes."""

    main_m: float
    other_m: float


def rise_m(way: RopeWay) -> float:
    """Rope from the load to the first corner: how far the load comes up."""
    return way.length_m - (way.first_m if way.turns else 0.0)


def _strand_m(network: Network, rope: int) -> float:
    hand = {node.id for node in network.of_kind("hand")}
    return math.fsum(s.length_m for s in network.strands[rope] if not hand & {s.start, s.end})


def _main_rope(solved: Solved) -> set[int]:
    """The piece that reaches the load and the pieces that continue it under the grabs it passes."""
    ropes = solved.network.ropes
    chain = set(solved.rig.main_ropes)
    ends: dict[str, list[int]] = {}
    for number, rope in enumerate(ropes):
        for name in (rope.route[0], rope.route[-1]):
            ends.setdefault(name, []).append(number)
    grabs = {name: at for name, at in ends.items() if len(at) == 2 and solved.network.nodes[name].kind == "moving"}
    while more := {n for at in grabs.values() if chain & set(at) for n in at} - chain:
        chain |= more
    return chain


def haul_rope(solved: Solved) -> HaulRope:
    """Rope lying in the system at the start of a haul."""
    main = _main_rope(solved)
    count = len(solved.network.ropes)
    return HaulRope(
        math.fsum(_strand_m(solved.network, n) for n in main),
        math.fsum(_strand_m(solved.network, n) for n in range(count) if n not in main),
    )


def lowering_rope_m(plan: Plan, way: RopeWay) -> float:
    """Station to edge, drop and tail."""
    return way.length_m + plan.line.tail_m
