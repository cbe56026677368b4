"""Rig to forces: each line of each state solved for three cases, low, expected and high."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.compile import rig_of
from rigging.lines.rig import LOAD, LineRig, Mode, Rig
from rigging.lines.states import Moment
from rigging.lines.way import LineWay, line_way
from rigging.mechanics.held import least_and_most
from rigging.mechanics.holds import Drop, drop
from rigging.mechanics.motion import Motion, solve_motion
from rigging.mechanics.network import Grip, Network, Pass
from rigging.mechanics.tension import Tensions, node_forces, solve_cases
from rigging.mechanics.vectors import Vector, dot, length
from rigging.quantities.faults import Fault, Refused
from rigging.quantities.ranges import Range, exactly, spanning
from rigging.site.load import Resting, pull_n, resting

Rows = tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Case:
    """One throw of luck: how much the parts grip, how heavy the load is, which way friction acts."""

    grip: Grip
    weight: Grip
    rising: bool


_LOWERING = (Case("draggy", "draggy", False), Case("expected", "expected", False), Case("slick", "slick", False))
_RAISING = (Case("slick", "draggy", True), Case("expected", "expected", True), Case("draggy", "slick", True))
_JAMMED = (Case("draggy", "expected", True), Case("expected", "expected", True), Case("slick", "expected", True))
CASES = {"lowering": _LOWERING, "raising": _RAISING, "jammed": _JAMMED}


@dataclass(frozen=True)
class Running:
    """How a line runs: its motion, tensions per unit of hand pull and the hand's pull in newtons, for each case."""

    motion: Motion
    units: tuple[Tensions, Tensions, Tensions]
    hands_n: tuple[float, float, float]
    rising: bool

    @property
    def hand(self) -> Range:
        return spanning(*self.hands_n)

    @property
    def line_advantage(self) -> Range:
        """Force on the load over pull at the hand, everything in between included."""
        return spanning(*(unit.load for unit in self.units))


@dataclass(frozen=True)
class LineForces:
    """A line's tensions in newtons: for each of three cases, for each taut rope, for each strand."""

    rig: LineRig
    network: Network
    cases: tuple[Rows, Rows, Rows]
    running: Running | None = None

    def strand(self, rope: int, index: int) -> Range:
        return self._strands[rope][index]

    @cached_property
    def _strands(self) -> list[list[Range]]:
        counts = [len(row) for row in self.network.strands]
        return [[spanning(*(case[r][i] for case in self.cases)) for i in range(n)] for r, n in enumerate(counts)]

    @cached_property
    def at_load(self) -> Range:
        """What the line does for the load along its way to it."""
        load = self.network.load
        return spanning(*(abs(dot(forces[LOAD], load.axis)) for forces in self._node_forces))

    @cached_property
    def _node_forces(self) -> list[dict[str, Vector]]:
        return [node_forces(self.network, case) for case in self.cases]

    def on_nodes(self, names: set[str]) -> tuple[Vector, Vector, Vector]:
        """Vector sum of the forces on several nodes, in newtons, for each case."""
        sums = ([forces[name] for name in names] for forces in self._node_forces)
        low, expected, high = ((sum(v[0] for v in one), sum(v[1] for v in one), sum(v[2] for v in one)) for one in sums)
        return low, expected, high

    def on_pass(self, rope: int, index: int) -> Range:
        """Force on the part that the rope bends round at a pass, in newtons."""
        before, after = self.network.strands[rope][index], self.network.strands[rope][index + 1]
        cosine = -dot(before.along, after.along)
        sizes = []
        for case in self.cases:
            a, b = case[rope][index], case[rope][index + 1]
            sizes.append(max(0.0, a * a + b * b + 2 * a * b * cosine) ** 0.5)
        return spanning(*sizes)

    def passes(self) -> list[tuple[int, int, Pass]]:
        """Every pass as (rope, index, pass)."""
        return [(r, i, one) for r, rope in enumerate(self.network.ropes) for i, one in enumerate(rope.passes)]

    def on_anchors(self) -> dict[str, tuple[Vector, Vector, Vector]]:
        """Pull on every anchor that this line pulls on, by id, for each case."""
        return self._on_anchors

    @cached_property
    def _on_anchors(self) -> dict[str, tuple[Vector, Vector, Vector]]:
        nodes = self.rig.nodes
        found: dict[str, set[str]] = {}
        for name in self.network.nodes:
            on = name if nodes[name].kind == "anchor" else nodes[name].on
            if on:
                found.setdefault(on.removeprefix("anchor:"), set()).add(name)
        return {anchor: self.on_nodes(names) for anchor, names in found.items()}


@dataclass(frozen=True)
class Solved:
    """A state worked out: its rig, the forces of the lines that bear, and the load's own doing."""

    moment: Moment
    rig: Rig
    lines: tuple[LineForces, ...]
    resting: Resting

    @property
    def id(self) -> str:
        return self.moment.id

    def line(self, id: str) -> LineForces | None:
        return next((one for one in self.lines if one.rig.line.id == id), None)

    @cached_property
    def on_anchors(self) -> dict[str, tuple[Vector, Vector, Vector]]:
        """Pull on every anchor, all lines together."""
        found: dict[str, tuple[Vector, Vector, Vector]] = {}
        for line in self.lines:
            for anchor, pulls in line.on_anchors().items():
                before = found.get(anchor)
                found[anchor] = _sum(before, pulls) if before else pulls
        return found


def _sum(a: Sequence[Vector], b: Sequence[Vector]) -> tuple[Vector, Vector, Vector]:
    low, expected, high = ((p[0] + q[0], p[1] + q[1], p[2] + q[2]) for p, q in zip(a, b, strict=True))
    return low, expected, high


def size_of(pulls: Sequence[Vector]) -> Range:
    """Size of a pull over its three cases."""
    return spanning(*(length(one) for one in pulls))


@dataclass(frozen=True)
class Unasked:
    """A state that nobody asked for: it was not worked out."""

    moment: Moment


@dataclass(frozen=True)
class Missing:
    """A state that can not be, and why: something is not chosen yet, or the faults of what was."""

    moment: Moment
    faults: tuple[Fault, ...] = ()


def ways_of(plan: Plan) -> dict[str, LineWay]:
    """Where every line runs.

    Raises
    ------
    Refused
        Naming each field that does not fit, of all lines.
    """
    found: dict[str, LineWay] = {}
    faults: list[Fault] = []
    for line in plan.lines:
        try:
            found[line.id] = line_way(plan, line)
        except Refused as refused:
            faults += refused.faults
    if faults:
        raise Refused(dict.fromkeys(faults))
    return found


class Solver:
    """Solves the states of one plan. Lines that do the same in several states are compiled and solved once."""

    def __init__(self, plan: Plan, ways: dict[str, LineWay]):
        self.plan, self.ways = plan, ways
        self._rigs: dict[tuple[str, Mode], LineRig] = {}
        self._motions: dict[tuple[str, Mode], Motion] = {}
        self._forces: dict[tuple[str, Mode, str, float], LineForces] = {}
        self._loads: dict[str, Resting] = {}
        self._drops: dict[tuple[int, ...], Drop] = {}
        main = plan.line("main") or (plan.lines[0] if plan.lines else None)
        self.resting = resting(plan, ways[main.id].over) if main else None

    def rig(self, moment: Moment) -> Rig:
        assert self.resting is not None
        return rig_of(self.plan, moment.modes, self.ways, self.resting, self._rigs)

    def solve(self, moment: Moment) -> Solved | Missing:
        """One state in which nothing goes; what can not be built says why instead."""
        assert moment.solving != "goes", "what catches then is asked of every_state"
        if moment.missing or self.resting is None:
            return Missing(moment)
        try:
            rig = self.rig(moment)
            lines = tuple(self._line(rig.line(id), moment) for id in moment.works)
        except Refused as refused:
            return Missing(moment, refused.faults)
        return Solved(moment, rig, lines, self.resting)

    def _line(self, rig: LineRig, moment: Moment) -> LineForces:
        """A line in a state; what it does alike in another is solved once."""
        share = share_of(moment)
        if moment.solving == "held":
            return self.held(rig, share)
        return self._once(rig, moment.solving, share, lambda: self._run(rig, moment, share))

    def held(self, rig: LineRig, share: Range) -> LineForces:
        """A line on which nothing runs: friction may help or hurt."""
        return self._once(rig, "held", share, lambda: self._held(rig, share))

    def _once(self, rig: LineRig, how: str, share: Range, forces: Callable[[], LineForces]) -> LineForces:
        key = rig.line.id, rig.mode, how, share.high
        if key not in self._forces:
            self._forces[key] = forces()
        return self._forces[key]

    def _run(self, rig: LineRig, moment: Moment, share: Range) -> LineForces:
        network, key = rig.network, (rig.line.id, rig.mode)
        if key not in self._motions:
            self._motions[key] = solve_motion(network)
        motion = self._motions[key]
        cases, load, team = CASES[moment.solving], self.load_on(rig), self.plan.team
        hands = []
        units = solve_cases(network, motion, [case.grip for case in cases], 1 if cases[0].rising else -1)
        for unit, case, part in zip(units, cases, (share.low, share.expected, share.high), strict=True):
            pull = part * pull_n(load, mass_at(load, case.weight), mu_at(load, case.grip), case.rising)
            hands.append(team.haulers * team.heave_n if moment.solving == "jammed" else pull / unit.load)
        rows = [
            tuple(tuple(t * hand for t in row) for row in unit.strands) for unit, hand in zip(units, hands, strict=True)
        ]
        running = Running(motion, (units[0], units[1], units[2]), (hands[0], hands[1], hands[2]), cases[0].rising)
        return LineForces(rig, network, (rows[0], rows[1], rows[2]), running)

    def _held(self, rig: LineRig, share: Range) -> LineForces:
        load, network = self.load_on(rig), rig.network
        pull = spanning(
            share.low * pull_n(load, load.mass_kg.low, load.mu.high, False),
            share.expected * pull_n(load, load.mass_kg.expected, 0.0, False),
            share.high * pull_n(load, load.mass_kg.high, load.mu.high, True),
        )
        found = least_and_most(network, pull)
        low, middle, high = (
            tuple(tuple(getattr(t, end) for t in row) for row in found) for end in ("low", "expected", "high")
        )
        return LineForces(rig, network, (low, middle, high))

    def load_on(self, rig: LineRig) -> Resting:
        """The load as this line's rope meets it."""
        if rig.line.id not in self._loads:
            self._loads[rig.line.id] = resting(self.plan, rig.way.over)
        return self._loads[rig.line.id]

    def drop_of(self, rig: Rig) -> Drop:
        """How the load lies in a rig as it is; asked once of lines in the same modes."""
        key = tuple(id(line) for line in rig.lines)
        if key not in self._drops:
            self._drops[key] = drop(rig.lying())
        return self._drops[key]


def share_of(moment: Moment) -> Range:
    """Share of the load on each of the lines that bear it together."""
    return catalogue().second_share if len(moment.works) > 1 else exactly(1.0)


def mass_at(load: Resting, level: Grip) -> float:
    return {"draggy": load.mass_kg.low, "expected": load.mass_kg.expected, "slick": load.mass_kg.high}[level]


def mu_at(load: Resting, grip: Grip) -> float:
    return {"draggy": load.mu.high, "expected": load.mu.expected, "slick": load.mu.low}[grip]
