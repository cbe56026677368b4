"""A line goes: how far the load drops, what is left that catches it, the peak, what slips and where it stops."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.rig import LOAD, LineRig, Rig
from rigging.lines.solve import LineForces, Missing, Solved, Solver, asks_n, share_of
from rigging.lines.states import Moment
from rigging.lines.tied import device_holding, device_strength_n, hitch_hold, rope_ea_n
from rigging.mechanics.dynamics import Arrests, arrests
from rigging.mechanics.holds import bears, drop, route_m
from rigging.mechanics.network import Rope
from rigging.quantities.ranges import Range, exactly, times
from rigging.site.conditions import hand_hold_n
from rigging.site.ground import lowest_at
from rigging.site.load import GRAVITY

# The belay competence test: 200 kg, in later use 280 kg, fall 1 m on 3 m of rope, stop within 1 m more, under 15 kN.
TEST_KG, TEST_FALL_M, TEST_ROPE_M, TEST_STOP_M, TEST_PEAK_N = (200.0, 280.0), 1.0, 3.0, 1.0, 15_000.0


@dataclass(frozen=True)
class Clutch:
    """What in a catching line slips first: part, name in the catalogue, force. `hand_n`: what the hands on it hold, where it slips
    because they do no more."""

    part: str
    name: str
    slip_n: Range
    hand_n: Range | None = None


@dataclass(frozen=True)
class Caught(Solved):
    """A state after a line went. `by` is the line that catches (None: nothing does); `drop_m` the free drop; `arrests` how it was
    stopped (None: nothing had to be); `rope_m` the rope in service; `clearance_m` what is free below a load that hangs; `tested`
    the same belay under the competence test's falls, by mass."""

    gone: str = ""
    by: str | None = None
    drop_m: float | None = None
    rope_m: float = 0.0
    arrests: Arrests | None = None
    clutch: Clutch | None = None
    clearance_m: float | None = None
    tested: tuple[tuple[float, Arrests], ...] = ()

    @property
    def peak(self) -> Range | None:
        return self.arrests.peak_n if self.arrests else None

    @property
    def stops_in(self) -> Range | None:
        """Metres past the free drop; None where the sliding may not end, or nothing catches."""
        return self.arrests.stops_in_m if self.arrests else None

    @property
    def may_stop(self) -> bool:
        """Whether the sliding ends at least where everything is at its best."""
        return self.arrests is not None and self.arrests.may_stop

    @property
    def slid(self) -> Range | None:
        return self.arrests.slid_m if self.arrests else None


def passes_test(tested: Arrests) -> bool:
    """Whether a belay passes the competence test wherever in their ranges its rope and its clutch are."""
    stops = tested.stops_in_m
    return stops is not None and stops.high <= TEST_STOP_M and tested.peak_n.high <= TEST_PEAK_N


def passes_as_expected(tested: Arrests) -> bool:
    """Whether it passes with rope and clutch as expected; whether it does wherever they are is said once it is rigged."""
    stops = tested.stops_in_m
    return stops is not None and stops.expected <= TEST_STOP_M and tested.peak_n.expected <= TEST_PEAK_N


def caught(solver: Solver, moment: Moment, rig: Rig) -> Solved | Missing:
    """The state after `moment.gone` has gone."""
    assert moment.gone is not None and solver.resting is not None
    left, clearance = rig.without(moment.gone), clearance_m(solver)
    before = solver.drop_of(rig)
    bore = [name for name in bears(before, rig.weight_n / 1000) if name.startswith(f"{moment.gone}:")]
    if before.drop_m is not None and not bore:
        # It bore nothing: the rest holds as before.
        forces = tuple(solver.held(one, share_of(moment)) for one in left.lines if one.line.id in moment.works)
        by = forces[0].rig.line.id if forces else None
        return Caught(moment, left, forces, solver.resting, moment.gone, by, 0.0, clearance_m=clearance)
    after = drop(left.lying())
    if after.drop_m is None or before.drop_m is None:
        return Caught(moment, left, (), solver.resting, moment.gone, clearance_m=clearance)
    holding = bears(after, left.weight_n / 1000)
    by_line = next(one for one in left.lines if any(name.startswith(f"{one.line.id}:") for name in holding))
    return _arrested(solver, moment, left, by_line, max(0.0, after.drop_m - before.drop_m), clearance)


def _arrested(solver: Solver, moment: Moment, left: Rig, by: LineRig, far: float, clearance: float | None) -> Caught:
    rope = solver.plan.rope(by.line.rope)
    ea, clutch = rope_ea_n(rope, catching=True), clutch_of(solver.plan, by)
    taut = replace(by, ropes=tuple(_pulled(by)))
    network = taut.network
    in_service = _length_m(by)
    weight = asks_n(solver.load_on(by), exactly(1.0), False).map(lambda one: max(one, 1.0))
    # What each pass passes on, from the load to what holds.
    kept = [one.eta for one in network.ropes[0].passes]
    # What slips is behind every pass but the one that it is itself.
    before = len(kept) - (clutch is not None and clutch.hand_n is not None)
    slip = None if clutch is None else _over_edges(clutch.slip_n, kept[:before])
    found = arrests(weight, far, in_service, ea, slip, tied_behind_m(by))
    rows = _down_the_chain(found.peak_n, kept, clutch, before, len(network.ropes))
    if tied_behind_m(by) is not None and clutch is not None:
        # Once the tie is reached nothing slips any more.
        rows = _down_the_chain(found.peak_n, kept, None, before, len(network.ropes))
    levels = np.zeros((len(rows), len(network.passes)))
    passed = {one.id: one.eta for one in network.passes} or {"": exactly(1.0)}
    forces = LineForces(network, rows, exactly(1.0), passed, rig=taut, levels=levels, at_load=found.peak_n)
    belayed = by.line.role == "belay"
    slips = clutch.slip_n if clutch else None
    tested = tuple((kg, arrests(exactly(kg * GRAVITY), TEST_FALL_M, TEST_ROPE_M, ea, slips)) for kg in TEST_KG)
    assert solver.resting is not None
    return Caught(
        moment, left, (forces,), solver.resting, moment.gone or "", by.line.id, far, in_service, found, clutch, clearance,
        tested if belayed else (),
    )  # fmt: skip


def _over_edges(slip_n: Range, kept: list[Range]) -> Range:
    """What slips, as the load feels it over what lies between."""
    whole = times(exactly(1.0), *kept)
    return Range(slip_n.low / whole.high, slip_n.expected / whole.expected, slip_n.high / whole.low)


def _down_the_chain(peak_n: Range, kept: list[Range], clutch: Clutch | None, before: int, count: int) -> np.ndarray:
    """Least and most of each strand by itself, from the load to what holds: rows expected, low, high. No strand bears more than
    what slips lets through: what has passed on what comes from the load, and what it takes to make it slip."""
    found = []
    for number in range(len(kept) + 1):
        arrives = times(peak_n, *kept[:number])
        if clutch is not None and number <= before:
            lets = _over_edges(clutch.slip_n, kept[number:before])
        elif clutch is not None and clutch.hand_n is not None:
            lets = clutch.hand_n
        else:
            lets = arrives
        found.append([min(getattr(arrives, end), getattr(lets, end)) for end in ("expected", "low", "high")])
    rows = np.array(found).T
    return np.concatenate([rows, np.repeat(rows[:, -1:], count - 1, axis=1)], axis=1)


def _pulled(rig: LineRig) -> list[Rope]:
    """The pieces of the line from the load to what holds, without slack: they are tight now."""
    rope = next(one for one in rig.ropes if LOAD in one.route)
    tight = [replace(rope, slack_m=0.0)]
    cords = [one for one in rig.ropes if one.id.endswith("cord") and one.route[0] == rope.route[-1]]
    return [*tight, *(replace(one, slack_m=0.0) for one in cords)]


def _length_m(rig: LineRig) -> float:
    rope = next(one for one in rig.ropes if LOAD in one.route)
    at = {name: node.at for name, node in rig.nodes.items()}
    return max(0.5, route_m(at, rope.route) + rope.slack_m)


def clutch_of(plan: Plan, rig: LineRig) -> Clutch | None:
    """What slips in a catching line before it breaks."""
    line, known = rig.line, catalogue()
    if line.belay is not None:
        if line.belay.holds == "hitch":
            held = hitch_hold(known.hitches[line.belay.what], line.belay.made, plan.rope(line.rope), plan.tested)
            slips = line.belay.round_ropes == 1 and held.slip_n
            return Clutch(f"{line.id}:belay", held.name, slips) if slips else None
        if line.belay.holds != "device":
            return None
        device = known.devices[line.belay.what]
        if device.gives == "slips":
            return Clutch(f"{line.id}:belay", device.name, device_strength_n(device, plan.rope(line.rope), plan.tested))
        # In the hand it bears what the hand holds, times its ratio; above that rope runs.
        hand = hand_hold_n(plan)
        slip = times(hand, device_holding(device, plan.rope(line.rope), led=line.belay.led))
        return Clutch(f"{line.id}:belay", f"{device.name} in the hand", slip, hand)
    if rig.mode == "captured" and line.haul and line.haul.capture:
        held = hitch_hold(known.hitches[line.haul.capture], line.haul.capture_made, plan.rope(line.rope), plan.tested)
        return Clutch(f"{line.id}:ratchet", held.name, held.slip_n) if held.slip_n else None
    if line.lowering and known.devices[line.lowering.device].gives == "slips":
        device = known.devices[line.lowering.device]
        return Clutch(f"{line.id}:device", device.name, device_strength_n(device, plan.rope(line.rope), plan.tested))
    return None


def tied_behind_m(rig: LineRig) -> float | None:
    """The slack of the rope tied behind what slips in a line; None where it runs free."""
    line = rig.line
    part = line.belay or (line.lowering if rig.mode in ("locked", "slack") else None)
    return part.tied_behind_m if part else None


def clearance_m(solver: Solver) -> float | None:
    """How far below a hanging load the ground is; None for a load that lies on it."""
    load = solver.resting
    at = solver.plan.site.load_at
    ground = lowest_at(solver.plan.site, at.x_m)
    return max(0.0, at.z_m - ground) if load and load.hangs and ground is not None else None
