"""Each phase of the work as its own state: hold, lower, raise, jam. Three cases each, low to high."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from rigging.lines.build import PHASES, Phase, Rig, hauled, held, lowered
from rigging.document import Plan
from rigging.quantities.faults import Refused
from rigging.site.ground import RopeWay
from rigging.site.load import Resting, pull_n, resting
from rigging.mechanics.motion import Motion, solve_motion
from rigging.mechanics.network import Grip, Network, Pass, dot
from rigging.quantities.ranges import Range, spanning
from rigging.mechanics.tension import Tensions, force_at, solve_tensions
from rigging.telling.working import Step, step


@dataclass(frozen=True)
class Case:
    """One throw of luck: how much the parts grip, how heavy the load is, which way friction acts."""

    grip: Grip
    weight: Grip
    rising: bool


@dataclass(frozen=True)
class PhaseCases:
    low: Case
    expected: Case
    high: Case
    low_when: str
    high_when: str


_CASES: dict[Phase, PhaseCases] = {
    "hold": PhaseCases(
        Case("draggy", "draggy", False), Case("expected", "expected", False), Case("draggy", "slick", True),
        "edges grip and carry part of the load, the load is at its lightest",
        "just after a haul: edges and ground still hold tension in the rope, the load is at its heaviest",
    ),
    "lower": PhaseCases(
        Case("draggy", "draggy", False), Case("expected", "expected", False), Case("slick", "slick", False),
        "edges and device grip well, the load is at its lightest",
        "edges and device are slick, the load is at its heaviest",
    ),
    "raise": PhaseCases(
        Case("slick", "draggy", True), Case("expected", "expected", True), Case("draggy", "slick", True),
        "every bend and edge runs well, the load is at its lightest",
        "every bend and edge drags, the load is at its heaviest",
    ),
    "jam": PhaseCases(
        Case("draggy", "expected", True), Case("expected", "expected", True), Case("slick", "expected", True),
        "bends and edges drag and eat part of the heave",
        "bends and edges run well, so the whole heave arrives",
    ),
}  # fmt: skip


def plain_node(node: str) -> str:
    """A node's id as a person reads it."""
    return node.removeprefix("line:").replace("edge:", "edge ")


Builder = Callable[[Plan, RopeWay], Rig]
_BUILDERS: dict[Phase, Builder] = {"hold": held, "lower": lowered, "raise": hauled, "jam": hauled}


@dataclass(frozen=True)
class Solved:
    """A phase worked out: absolute tensions in newtons for the low, expected and high case."""

    phase: Phase
    rig: Rig
    motion: Motion
    resting: Resting
    units: tuple[Tensions, Tensions, Tensions]
    hands_n: tuple[float, float, float]
    cases: PhaseCases

    @property
    def network(self) -> Network:
        return self.rig.network

    @cached_property
    def per_unit(self) -> list[list[Range]]:
        """Tension of each rope's strands per unit of pull at the hand."""
        return [
            [self.over([u.strands[rope][index] for u in self.units]) for index in range(len(row))]
            for rope, row in enumerate(self.network.strands)
        ]

    @cached_property
    def walk(self) -> list[Step]:
        """Tension per unit of pull, strand by strand along the ropes."""
        return [
            step(f"{plain_node(strand.start)} – {plain_node(strand.end)}, per unit of pull", value, "")
            for row, values in zip(self.network.strands, self.per_unit, strict=True)
            for strand, value in zip(row, values, strict=True)
        ]

    def over(self, per_case: list[float]) -> Range:
        return spanning(per_case[0], per_case[1], per_case[2])

    @cached_property
    def _tensions(self) -> list[list[Range]]:
        pairs = list(zip(self.units, self.hands_n, strict=True))
        return [
            [self.over([unit.strands[rope][index] * hand for unit, hand in pairs]) for index in range(len(row))]
            for rope, row in enumerate(self.network.strands)
        ]

    def strand(self, rope: int, index: int) -> Range:
        """Tension of one strand, in newtons."""
        return self._tensions[rope][index]

    def hand(self) -> Range:
        return self.over(list(self.hands_n))

    def at_load(self) -> Range:
        return self.over([u.load * h for u, h in zip(self.units, self.hands_n, strict=True)])

    def line_advantage(self) -> Range:
        """Force on the load over pull at the hand, everything in between included."""
        return self.over([u.load for u in self.units])

    def at_nodes(self, names: list[str]) -> Range:
        """Size of the vector sum of the forces on several nodes, in newtons."""
        cases = zip(self.units, self.hands_n, strict=True)
        return self.over([math.hypot(*force_at(self.network, unit.strands, names)) * hand for unit, hand in cases])

    def on_anchor(self) -> Range:
        """Vector sum of everything that pulls on the working point, in newtons."""
        if self.phase == "hold":
            return self.hand()
        return self.at_nodes([node.id for node in self.network.of_kind("anchor")])

    @cached_property
    def _on_passes(self) -> list[list[Range]]:
        ropes = enumerate(self.network.ropes)
        return [[self._bent_round(r, i) for i in range(len(rope.passes))] for r, rope in ropes]

    def on_pass(self, rope: int, index: int) -> Range:
        """Force on the part that the rope bends round at a pass, in newtons."""
        return self._on_passes[rope][index]

    def _bent_round(self, rope: int, index: int) -> Range:
        before, after = self.network.strands[rope][index], self.network.strands[rope][index + 1]
        cosine = -dot(before.along, after.along)
        found = []
        for unit, hand in zip(self.units, self.hands_n, strict=True):
            a, b = unit.strands[rope][index], unit.strands[rope][index + 1]
            found.append(max(0.0, a * a + b * b + 2 * a * b * cosine) ** 0.5 * hand)
        return self.over(found)

    def passes(self) -> list[tuple[int, int, Pass]]:
        """Every pass as (rope, index, pass)."""
        return [(r, i, one) for r, rope in enumerate(self.network.ropes) for i, one in enumerate(rope.passes)]


def _mass(load: Resting, level: Grip) -> float:
    return {"draggy": load.mass_kg.low, "expected": load.mass_kg.expected, "slick": load.mass_kg.high}[level]


def _mu(load: Resting, grip: Grip) -> float:
    return {"draggy": load.mu.high, "expected": load.mu.expected, "slick": load.mu.low}[grip]


def _missing(plan: Plan, phase: Phase) -> str | None:
    if phase == "lower" and plan.line.lowering is None:
        return "no lowering device is chosen"
    if phase in ("raise", "jam") and plan.line.haul is None:
        return "no haul system is chosen"
    if phase == "jam" and plan.team.haulers == 0:
        return "nobody is there to pull"
    return None


def _solve(plan: Plan, phase: Phase, way: RopeWay, rig: Rig, motion: Motion) -> Solved:
    load, cases = resting(plan, way), _CASES[phase]
    units, hands = [], []
    for case in (cases.low, cases.expected, cases.high):
        unit = solve_tensions(rig.network, motion, case.grip, 1 if case.rising else -1)
        pull = pull_n(load, _mass(load, case.weight), _mu(load, case.grip), case.rising)
        units.append(unit)
        hands.append(plan.team.haulers * plan.team.heave_n if phase == "jam" else pull / unit.load)
    return Solved(phase, rig, motion, load, (units[0], units[1], units[2]), (hands[0], hands[1], hands[2]), cases)


def solve_all(plan: Plan, way: RopeWay) -> dict[Phase, Solved | str]:
    """Every phase; one that can not be built says why instead."""
    found: dict[Phase, Solved | str] = {}
    built: dict[Builder, tuple[Rig, Motion]] = {}
    for phase in PHASES:
        missing, builder = _missing(plan, phase), _BUILDERS[phase]
        if missing:
            found[phase] = missing
            continue
        try:
            if builder not in built:
                rig = builder(plan, way)
                built[builder] = rig, solve_motion(rig.network)
            found[phase] = _solve(plan, phase, way, *built[builder])
        except Refused as refused:
            found[phase] = "; ".join(str(fault) for fault in refused.faults)
    return found
