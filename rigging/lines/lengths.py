"""Rope budgets: what the job takes from end to end, and what is left or missing."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from rigging.anchors.material import tied_with_m
from rigging.catalogue import catalogue
from rigging.document import Line, Plan, TensionLine
from rigging.document import Rope as RopeGiven
from rigging.lines.rig import LOAD, LineRig
from rigging.lines.solve import LineForces
from rigging.lines.tied import rope_ea_n
from rigging.lines.way import LineWay, place_of
from rigging.mechanics.motion import Stroke, stroke
from rigging.mechanics.network import Network
from rigging.quantities.ranges import Range, exactly

_NEXT_TO_NOTHING_M = 0.02


BudgetJob = Literal["lower", "raise", "catch", "span", "strands"]


@dataclass(frozen=True)
class Budget:
    """A job's rope, in metres: there, needed on the line, kept back, what has to come from other pieces, what its knots take, and what else the
    same rope does at the same time: other lines, and what it is `used` for all the while."""

    job: BudgetJob
    line: str
    rope: str
    there_m: float
    laid_m: float
    tail_m: float
    other_m: float
    knots_m: float = 0.0
    beside_m: float = 0.0
    used_m: float = 0.0

    @property
    def needed_m(self) -> float:
        return self.laid_m + self.tail_m + self.knots_m + self.beside_m + self.used_m

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
    """What every line's job takes of its rope, with all that the same rope does meanwhile; a tension line among them, and strands of a haul
    system that are of a rope of the plan."""
    return list(_Budgeting(plan, ways, hauling).every())


class _Budgeting:
    """Counts every rope of a plan once."""

    def __init__(self, plan: Plan, ways: dict[str, LineWay], hauling: LineForces | None):
        self.plan, self.ways = plan, ways
        self.hauled = next((one for one in plan.lines if hauling and one.id == hauling.rig.line.id), None)
        self.own_m, self.other_m = haul_rope_m(hauling.rig) if hauling else (0.0, 0.0)
        self.spans = {one.id: _span_m(plan, one) for one in plan.tension_lines}
        self.used = {one.id: used_all_the_while_m(plan, one) for one in plan.ropes}

    def every(self) -> Iterator[Budget]:
        for line in self.plan.lines:
            way_m = self.ways[line.id].length_m
            if line.lowering:
                yield self._of("lower", line, way_m, line.tail_m, load_knot_m(line), self._beside_m(line.rope, line))
            elif line.role == "belay":
                laid, worst = way_m + line.slack_m, self._worst_beside_m(line.rope, line)
                yield self._of("catch", line, laid, line.tail_m, load_knot_m(line), worst)
            if line is self.hauled:
                beside = self._beside_m(line.rope, line) + self._strands_m(line.rope)
                found = self._of("raise", line, self.own_m, line.tail_m, load_knot_m(line), beside)
                yield replace(found, other_m=0.0 if self._strands_of == line.rope else self.other_m)
        if self.hauled is not None and self._strands_of not in (None, self.hauled.rope):
            rope = self._strands_of or ""
            knots = 2 * load_knot_m(self.hauled)
            found = self._of("strands", self.hauled, self.other_m, 0.0, knots, self._beside_m(rope, None, hauled=True))
            yield replace(found, rope=rope, there_m=self.plan.rope(rope).length_m, used_m=self.used[rope])
        for tight in self.plan.tension_lines:
            laid, knots = self.spans[tight.id]
            yield self._of("span", tight, laid, 0.0, knots, self._worst_beside_m(tight.rope, tight))

    def _of(
        self, job: BudgetJob, of: Line | TensionLine, laid_m: float, tail_m: float, knots_m: float, beside_m: float
    ) -> Budget:
        there = self.plan.rope(of.rope).length_m
        return Budget(job, of.id, of.rope, there, laid_m, tail_m, 0.0, knots_m, beside_m, self.used[of.rope])

    @property
    def _strands_of(self) -> str | None:
        """The rope that the strands of the haul besides its line's own are of."""
        haul = self.hauled.haul if self.hauled else None
        return haul.strands_of if haul and haul.own is None and self.other_m else None

    def _strands_m(self, rope: str) -> float:
        """What the haul takes of a rope besides its line's own strands, with a knot at either end."""
        if self.hauled is None or self._strands_of != rope:
            return 0.0
        return self.other_m + 2 * load_knot_m(self.hauled)

    def _beside_m(self, rope: str, of: Line | TensionLine | None, hauled: bool = False) -> float:
        """What all but one line take of a rope; as they lie, or while the load is hauled."""
        lying = [self._lies_m(one, hauled) for one in self.plan.lines if one.rope == rope and one is not of]
        tight = [sum(self.spans[one.id]) for one in self.plan.tension_lines if one.rope == rope and one is not of]
        return math.fsum([*lying, *tight])

    def _worst_beside_m(self, rope: str, of: Line | TensionLine) -> float:
        return max(self._beside_m(rope, of), self._beside_m(rope, of, hauled=True) + self._strands_m(rope))

    def _lies_m(self, line: Line, hauled: bool) -> float:
        lies = self.own_m if hauled and line is self.hauled else self.ways[line.id].length_m + line.slack_m
        return lies + line.tail_m + load_knot_m(line)


def used_all_the_while_m(plan: Plan, rope: RopeGiven) -> float:
    """What a rope of the plan is used for whatever the lines do: knots that take a damaged place out, what is kept of it, legs of anchors."""
    knots = [catalogue().knots[one.taken_out].takes_m for one in rope.damage if one.taken_out]
    return math.fsum([*knots, *(one.length_m for one in rope.kept), tied_with_m(plan, rope.id)])


def load_knot_m(line: Line) -> float:
    """Rope in the knot at a line's load."""
    return catalogue().knots[line.load_knot].takes_m


def _span_m(plan: Plan, line: TensionLine) -> tuple[float, float]:
    """Rope of a tension line from end to end, all that lie side by side, and what its knots take."""
    far = math.dist(place_of(plan, line.anchor), place_of(plan, line.far))
    return line.ropes * far, line.ropes * 2 * catalogue().knots[line.end_knot].takes_m


def clearance_of(line: Line) -> float:
    """What two moving parts take up where they meet."""
    people = catalogue().people
    return people.own_clearance_m if line.haul and line.haul.own else people.clearance_m


def stretch_m(plan: Plan, line: LineForces) -> Range:
    """How far the line's own rope gives as the load comes on it, as the load would have risen: Σ T·L/EA over its strands, shared by
    those that meet at the load. The first haul takes it up before anything lifts."""
    ea = rope_ea_n(plan.rope(line.rig.line.rope))
    hands = {node.id for node in line.network.of_kind("hands")}
    at_load, given = 0, [0.0, 0.0, 0.0]
    for number, (rope, row) in enumerate(zip(line.network.ropes, line.network.strands, strict=True)):
        if rope.id not in line.rig.main:
            continue
        at_load += sum(LOAD in (strand.start, strand.end) for strand in row)
        for strand in row:
            if not hands & {strand.start, strand.end}:
                tension = line.strand(number, strand.index)
                for place, (newtons, stiff) in enumerate(
                    ((tension.low, ea.high), (tension.expected, ea.expected), (tension.high, ea.low))
                ):
                    given[place] += newtons * strand.length_m / stiff
    low, expected, high = (one / max(at_load, 1) for one in given)
    return Range(low, expected, high)


def sinks_m(plan: Plan, line: LineForces) -> Range:
    """How far the load sinks each time it is set on its ratchet: what the minded ratchet gives before it grips, and what the rope
    between it and what the load hung on gives as all of the load comes on it: ΔT·L/EA."""
    haul = line.rig.line.haul
    if haul is None or haul.capture is None:
        return exactly(0.0)
    ratchet, ea = f"{line.rig.line.id}:ratchet", rope_ea_n(plan.rope(line.rig.line.rope))
    low = expected = high = haul.capture_slack_m
    for number, rope in enumerate(line.network.ropes):
        if rope.id not in line.rig.main or rope.route[-1] != ratchet:
            continue
        for strand in line.network.strands[number]:
            bore, bears = line.strand(number, strand.index), line.at_load
            low += strand.length_m * max(0.0, bears.low - bore.high) / ea.high
            expected += strand.length_m * max(0.0, bears.expected - bore.expected) / ea.expected
            high += strand.length_m * max(0.0, bears.high - bore.low) / ea.low
    return Range(low, expected, high)


def can_be_reset(line: LineForces) -> bool:
    """Whether anything of the system can be set forward on the rope: not of a block and tackle reeved to the load, nor while the
    load hangs on it, its ratchet on the haul strand."""
    haul = line.rig.line.haul
    if haul is not None and haul.capture is not None and haul.capture_on == "haul":
        return False
    ratchet = f"{line.rig.line.id}:ratchet"
    return any(node.kind == "grab" and node.id != ratchet for node in line.network.nodes.values())


def resets_of(plan: Plan, line: LineForces) -> int | None:
    """How often the system is reset over the whole rise; None where one haul is next to nothing."""
    found = stroke_of(line)
    if found is None or not can_be_reset(line):
        return 0
    if found.rise_m < _NEXT_TO_NOTHING_M:
        return None
    ends = haul_ends_m(plan, line, found, line.rig.way.rise_m, _NEXT_TO_NOTHING_M)
    return None if ends is None else len(ends)


def haul_ends_m(plan: Plan, line: LineForces, found: Stroke, rise_m: float, least_m: float) -> list[float] | None:
    """How far up each haul but the last ends: the first less what the rope gives as the load comes on, every other less what setting the
    ratchet before it gave back. None where what is left of a haul is less than `least_m`."""
    first, each = found.rise_m - stretch_m(plan, line).expected, found.rise_m - sinks_m(plan, line).expected
    if each < least_m:
        return None
    return [first + number * each for number in range(max(0, math.ceil((rise_m - first) / each - 1e-9)))]


def stroke_of(line: LineForces) -> Stroke | None:
    """The haul's stroke. The ratchet stays in front of its bend; what comes towards that bend stops at it."""
    assert line.running is not None
    of = line.rig.line
    return stroke(line.network, line.running.motion, clearance_of(of), frozenset({f"{of.id}:ratchet"}))
