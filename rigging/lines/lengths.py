"""Rope budgets: what the job takes from end to end, and what is left or missing."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import catalogue
from rigging.document import Line, Plan
from rigging.lines.rig import LineRig
from rigging.lines.solve import LineForces
from rigging.lines.way import LineWay
from rigging.mechanics.motion import Stroke, stroke
from rigging.mechanics.network import Network

_NEXT_TO_NOTHING_M = 0.02


@dataclass(frozen=True)
class Budget:
    """A job's rope: there, needed on the line, kept back, and what has to come from other pieces, in metres."""

    job: Literal["lower", "raise", "catch"]
    line: str
    there_m: float
    laid_m: float
    tail_m: float
    other_m: float

    @property
    def needed_m(self) -> float:
        return self.laid_m + self.tail_m

    @property
    def left_m(self) -> float:
        return self.there_m - self.needed_m


def _strand_m(network: Network, rope: int) -> float:
    hands = {node.id for node in network.of_kind("hands")}
    return math.fsum(s.length_m for s in network.strands[rope] if not hands & {s.start, s.end})


def haul_rope_m(rig: LineRig) -> tuple[float, float]:
    """Rope lying in the system at the start of a haul: of the line's own rope, and of other pieces."""
    network = Network(rig.nodes, rig.ropes)
    own = other = 0.0
    for number, rope in enumerate(rig.ropes):
        if not rope.rope.startswith("rope:"):
            continue
        if rope.id in rig.main:
            own += _strand_m(network, number)
        else:
            other += _strand_m(network, number)
    return own, other


def budgets(plan: Plan, ways: dict[str, LineWay], hauling: LineForces | None) -> list[Budget]:
    """What every line's job takes of its rope."""
    found = []
    for line in plan.lines:
        there, way = plan.rope(line.rope).length_m, ways[line.id]
        if line.lowering:
            found.append(Budget("lower", line.id, there, way.length_m, line.tail_m, 0.0))
        elif line.role == "belay":
            found.append(Budget("catch", line.id, there, way.length_m + line.slack_m, line.tail_m, 0.0))
        if hauling and hauling.rig.line is line:
            own, other = haul_rope_m(hauling.rig)
            found.append(Budget("raise", line.id, there, own, line.tail_m, other))
    return found


def clearance_of(line: Line) -> float:
    """What two moving parts take up where they meet."""
    return catalogue().own_clearance_m if line.haul and line.haul.own else catalogue().clearance_m


def resets_of(line: LineForces) -> int | None:
    """How often the system is reset over the whole rise; None where one haul is next to nothing."""
    found, rise = stroke_of(line), line.rig.way.rise_m
    if found is None:
        return 0
    return None if found.rise_m < _NEXT_TO_NOTHING_M else max(0, math.ceil(rise / found.rise_m - 1e-9) - 1)


def stroke_of(line: LineForces) -> Stroke | None:
    """The haul's stroke. The ratchet rides on its strand; it ends no haul."""
    assert line.running is not None
    of = line.rig.line
    return stroke(line.network, line.running.motion, clearance_of(of), frozenset({f"{of.id}:ratchet"}))
