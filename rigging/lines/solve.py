"""Rig to forces: each line of each state solved over every corner of what is not known to the digit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.compile import rig_of
from rigging.lines.rig import LineRig, Mode, Rig
from rigging.lines.states import Moment
from rigging.lines.way import LineWay, line_way
from rigging.mechanics.bounds import Cloud, bounded, least_size
from rigging.mechanics.held import least_and_most
from rigging.mechanics.holds import Drop, drop
from rigging.mechanics.motion import Motion, solve_motion
from rigging.mechanics.network import Pass
from rigging.mechanics.strands import StrandForces
from rigging.mechanics.tension import corner_rows
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import Fault, Refused
from rigging.quantities.ranges import Range, exactly
from rigging.site.conditions import heave_n
from rigging.site.load import GRAVITY, Resting, pull_n, resting


@dataclass(frozen=True)
class Running:
    """How a line runs: its motion and, at each corner, what it does for the load per unit of pull at the hand (`gains` (c,)).

    `driven`: the hands' pull is what is given, as against a stuck load; else the load's.
    """

    motion: Motion
    gains: Array
    rising: bool
    driven: bool
    scale: Range

    @cached_property
    def hand(self) -> Range:
        """Pull at the hands in newtons."""
        return self.scale if self.driven else bounded(1 / self.gains, self.scale)

    @cached_property
    def line_advantage(self) -> Range:
        """Force on the load over pull at the hand, everything in between included."""
        return bounded(self.gains, exactly(1.0))


@dataclass(frozen=True)
class LineForces(StrandForces):
    """A line's tensions. `rows` (c, s): every strand of its taut ropes, rope by rope in order, at each corner of the passes'
    ranges, the first as expected, per unit of `scale`: the pull at the load, or the hands' on a stuck one, in newtons.

    `levels` (c, k) says of each corner which passes are at their low (−1) or high (+1) end.
    """

    rig: LineRig = field(kw_only=True)
    levels: Array = field(kw_only=True)
    at_load: Range = field(kw_only=True)
    running: Running | None = field(default=None, kw_only=True)

    def per_hand(self, rope: int, index: int) -> Range:
        """Tension of a strand per unit of pull at the hands."""
        assert self.running is not None
        row = self.rows[:, self.column(rope, index)]
        return bounded(row if self.running.driven else row * self.running.gains, exactly(1.0))

    def difference(self, one: tuple[int, int], other: tuple[int, int]) -> Range:
        """How far the tensions of two strands are apart, in newtons."""
        a, b = self.strand(*one), self.strand(*other)
        if self.boxed:
            apart = np.array([a.expected - b.expected, a.low - b.high, a.high - b.low])
            scale = exactly(1.0)
        else:
            apart, scale = self.rows[:, self.column(*one)] - self.rows[:, self.column(*other)], self.scale
        found = bounded(np.abs(apart), scale)
        return Range(0.0, found.expected, found.high) if apart.min() < 0 < apart.max() else found

    @cached_property
    def _on_passes(self) -> dict[tuple[int, int], Range]:
        return {(rope, index): self._on_pass(rope, index, one.id) for rope, index, one in self.passes()}

    def _on_pass(self, rope: int, index: int, id: str) -> Range:
        column = self.column(rope, index)
        before, after = self.network.strands[rope][index], self.network.strands[rope][index + 1]
        ways = np.array([np.negative(before.along), after.along])
        pair, scale = self.rows[:, column : column + 2], self.scale
        if self.boxed:
            pair, scale = self._boxed_pair(column, self.passed[id]), exactly(1.0)
        elif id in self._in_series:
            # The strand on the side that the pull comes from does not know what this edge keeps of it.
            given = 0 if self._in_series[id] != (self.running is not None and self.running.driven) else 1
            kept = pair[:, 1 - given] / pair[:, given]
            given_n = bounded(pair[:, given], scale)
            pair, scale = np.ones((3, 2)), given_n
            pair[:, 1 - given] = kept[0], kept.min(), kept.max()
        points = pair @ ways
        sizes = np.sqrt(np.einsum("ci,ci->c", points, points))
        expected = float(sizes[0] * scale.expected)
        low, high = least_size(points) * scale.low, float(sizes.max() * scale.high)
        return Range(min(low, expected), expected, max(high, expected))

    def _boxed_pair(self, column: int, passed: Range) -> Array:
        """Corners (c, 2) of what both strands at a pass can bear, each in its range and one a share of the other."""
        a, b = self._strands[column], self._strands[column + 1]
        ends = [(a.expected, b.expected)]
        for share in (passed.low, passed.high):
            ends += [(one, min(max(one * share, b.low), b.high)) for one in (a.low, a.high)]
            ends += [(min(max(one / share, a.low), a.high), one) for one in (b.low, b.high)]
        return np.array(ends)

    @cached_property
    def _in_series(self) -> dict[str, bool]:
        return dict(self.network.series)

    def on_pass(self, rope: int, index: int) -> Range:
        """Force on the part that the rope bends round at a pass, in newtons."""
        return self._on_passes[rope, index]

    def passes(self) -> list[tuple[int, int, Pass]]:
        """Every pass as (rope, index, pass)."""
        return [(r, i, one) for r, rope in enumerate(self.network.ropes) for i, one in enumerate(rope.passes)]

    def behind(self, force: Range) -> Array | None:
        """What a force of this line is at each corner (c,), per unit of scale; None where it is no figure of its own."""
        for column, one in enumerate(self._strands):
            if one == force:
                return np.asarray(self.rows[:, column])
        if self.running is not None and self.running.hand == force:
            return 1 / self.running.gains
        for rope, index, _ in self.passes():
            if self.on_pass(rope, index) == force:
                before, after = self.network.strands[rope][index], self.network.strands[rope][index + 1]
                column = self.column(rope, index)
                points = self.rows[:, column : column + 2] @ np.array([np.negative(before.along), after.along])
                return np.asarray(np.linalg.norm(points, axis=1))
        for pulls in self.on_anchors.values():
            if pulls.size == force:
                return np.asarray(np.linalg.norm(pulls.ways[0][0].points, axis=1))
        return None

    @cached_property
    def on_anchors(self) -> dict[str, Cloud]:
        """Pull on every anchor that this line pulls on, by id."""
        nodes = self.rig.nodes
        found: dict[str, set[str]] = {}
        for name in self.network.nodes:
            on = name if nodes[name].kind == "anchor" else nodes[name].on
            if on:
                found.setdefault(on.removeprefix("anchor:"), set()).add(name)
        return {anchor: self.sum_of(names) for anchor, names in found.items()}


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
    def on_anchors(self) -> dict[str, Cloud]:
        """Pull on every anchor, all lines together."""
        found: dict[str, Cloud] = {}
        for line in self.lines:
            for anchor, pulls in line.on_anchors.items():
                before = found.get(anchor)
                found[anchor] = before.plus(pulls) if before else pulls
        return found


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
    """Solves the states of one plan. Lines that do the same in several states are compiled and solved once. `ratios`: every line under
    the load's whole weight, exactly, so that what is left in ranges is how forces of one line stand to each other."""

    def __init__(self, plan: Plan, ways: dict[str, LineWay], ratios: bool = False):
        self.plan, self.ways, self.ratios = plan, ways, ratios
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
        motion, load, team = self._motions[key], self.load_on(rig), self.plan.team
        rising, driven = moment.solving != "lowering", moment.solving == "jammed"
        levels, tensions, gains = corner_rows(network, motion, 1 if rising else -1, driven)
        scale = (
            heave_n(self.plan).map(lambda one: one * team.haulers)
            if driven
            else self._asked(load) or asks_n(load, share, rising)
        )
        running = Running(motion, gains, rising, driven, scale)
        rows = tensions if driven else tensions / gains[:, None]
        at_load = bounded(gains, scale) if driven else scale
        return LineForces(network, rows, scale, rig=rig, levels=levels, at_load=at_load, running=running)

    def _held(self, rig: LineRig, share: Range) -> LineForces:
        load, network = self.load_on(rig), rig.network
        pull = self._asked(load) or Range(
            share.low * pull_n(load, load.mass_kg.low, load.mu.high, False),
            share.expected * pull_n(load, load.mass_kg.expected, 0.0, False),
            share.high * pull_n(load, load.mass_kg.high, load.mu.high, True),
        )
        found = least_and_most(network, pull)
        return LineForces(network, found.rows, found.scale, found.passed, rig=rig, levels=found.levels, at_load=pull)

    def _asked(self, load: Resting) -> Range | None:
        return exactly(load.mass_kg.expected * GRAVITY) if self.ratios else None

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
    return catalogue().people.second_share if len(moment.works) > 1 else exactly(1.0)


def asks_n(load: Resting, share: Range, rising: bool) -> Range:
    """What a load asks of a rope that moves it, in newtons: its mass and its friction each anywhere in its range."""
    asked = [
        [part * pull_n(load, mass, mu, rising) for mu in (load.mu.low, load.mu.high)]
        for part, mass in ((share.low, load.mass_kg.low), (share.high, load.mass_kg.high))
    ]
    expected = share.expected * pull_n(load, load.mass_kg.expected, load.mu.expected, rising)
    return Range(min(*asked[0], expected), expected, max(*asked[1], expected))
