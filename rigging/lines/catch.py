"""A line goes: how far the load drops, what is left that catches it, the peak, what slips and where it stops."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.rig import LOAD, LineRig, Rig
from rigging.lines.solve import LineForces, Missing, Rows, Solved, Solver, mass_at, mu_at, share_of
from rigging.lines.states import Moment
from rigging.lines.tied import hitch_hold
from rigging.mechanics.dynamics import Arrest, arrest
from rigging.mechanics.holds import bears, drop, route_m
from rigging.mechanics.network import Pass, Rope
from rigging.quantities.ranges import Range, spanning
from rigging.site.ground import lowest_at
from rigging.site.load import GRAVITY, pull_n

# The belay competence test: 200 kg fall 1 m on 3 m of rope, stop within 1 m more, under 15 kN.
TEST_KG, TEST_FALL_M, TEST_ROPE_M, TEST_STOP_M, TEST_PEAK_N = 200.0, 1.0, 3.0, 1.0, 15_000.0


@dataclass(frozen=True)
class Clutch:
    """What in a catching line slips first: part, name in the catalogue, force."""

    part: str
    name: str
    slip_n: Range


@dataclass(frozen=True)
class Caught(Solved):
    """A state after a line went. `by` is the line that catches (None: nothing does); `drop_m` the free drop; for low,
    expected and high case how it was stopped; `rope_m` the rope in service; `clearance_m` what is free below a load that
    hangs; `tested` the same belay under the competence test's fall."""

    gone: str = ""
    by: str | None = None
    drop_m: float | None = None
    rope_m: float = 0.0
    arrests: tuple[Arrest, Arrest, Arrest] | None = None
    clutch: Clutch | None = None
    clearance_m: float | None = None
    tested: Arrest | None = None

    @property
    def peak(self) -> Range | None:
        return spanning(*(one.peak_n for one in self.arrests)) if self.arrests else None

    @property
    def stops_in(self) -> Range | None:
        """Metres past the free drop; None where the sliding does not end, or nothing catches."""
        if self.arrests is None or any(one.stops_in_m is None for one in self.arrests):
            return None
        return spanning(*(one.stops_in_m or 0.0 for one in self.arrests))

    @property
    def slid(self) -> Range | None:
        if self.arrests is None or any(one.slid_m is None for one in self.arrests):
            return None
        return spanning(*(one.slid_m or 0.0 for one in self.arrests))


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
    ea, slips = catalogue().ropes[rope.kind].ea_n, clutch_of(solver.plan, by)
    load = solver.load_on(by)
    taut = replace(by, ropes=tuple(_pulled(by)))
    network = taut.network
    in_service = _length_m(by)
    arrests, rows = [], []
    for level, grip in (("low", "draggy"), ("expected", "expected"), ("high", "slick")):
        pull = pull_n(load, mass_at(load, grip), mu_at(load, grip), False)  # type: ignore[arg-type]
        weight = max(pull, 1.0)
        shares = [
            getattr(one.eta, "low" if level == "high" else level if level == "expected" else "high")
            for one in network.ropes[0].passes
        ]
        kept = math.prod(shares)
        slip = getattr(slips.slip_n, level) / kept if slips else None
        found = arrest(weight, far, in_service, getattr(ea, level), slip)
        tied = tied_behind_m(by)
        if slip is not None and tied is not None and (found.slid_m is None or found.slid_m > tied):
            # It has slid as far as the rope tied behind it lets it: nothing slips any more.
            found = arrest(weight, far, in_service, getattr(ea, level))
        arrests.append(found)
        rows.append(_down_the_chain(network.ropes[0].passes, len(network.ropes), found.peak_n, level))
    three = (arrests[0], arrests[1], arrests[2])
    cases: tuple[Rows, Rows, Rows] = (rows[0], rows[1], rows[2])
    tested = arrest(TEST_KG * GRAVITY, TEST_FALL_M, TEST_ROPE_M, ea.expected, slips.slip_n.expected if slips else None)
    assert solver.resting is not None
    return Caught(
        moment, left, (LineForces(taut, network, cases),), solver.resting, moment.gone or "", by.line.id, far, in_service,
        three, slips, clearance, tested if by.line.role == "belay" else None,
    )  # fmt: skip


def _pulled(rig: LineRig) -> list[Rope]:
    """The pieces of the line from the load to what holds, without slack: they are tight now."""
    rope = next(one for one in rig.ropes if LOAD in one.route)
    tight = [replace(rope, slack_m=0.0)]
    cords = [one for one in rig.ropes if one.id.endswith("cord") and one.route[0] == rope.route[-1]]
    return [*tight, *(replace(one, slack_m=0.0) for one in cords)]


def _down_the_chain(passes: tuple[Pass, ...], count: int, peak_n: float, level: str) -> Rows:
    """Tensions from the load to what holds; where much arrives, the edges are taken as slick, and the reverse."""
    row = [peak_n]
    for one in passes:
        row.append(row[-1] * {"low": one.eta.low, "expected": one.eta.expected, "high": one.eta.high}[level])
    return (tuple(row), *((row[-1],) for _ in range(count - 1)))


def _length_m(rig: LineRig) -> float:
    rope = next(one for one in rig.ropes if LOAD in one.route)
    at = {name: node.at for name, node in rig.nodes.items()}
    return max(0.5, route_m(at, rope.route) + rope.slack_m)


def clutch_of(plan: Plan, rig: LineRig) -> Clutch | None:
    """What slips in a catching line before it breaks."""
    line, known = rig.line, catalogue()
    if line.belay is not None:
        if line.belay.holds == "hitch":
            held = hitch_hold(known.hitches[line.belay.what], line.belay.made, known.ropes[plan.rope(line.rope).kind])
            slips = line.belay.round_ropes == 1 and held.slip_n
            return Clutch(f"{line.id}:belay", held.name, slips) if slips else None
        if line.belay.holds == "device" and known.devices[line.belay.what].gives == "slips":
            device = known.devices[line.belay.what]
            return Clutch(f"{line.id}:belay", device.name, device.strength_n)
        return None
    if rig.mode == "captured" and line.haul and line.haul.capture:
        held = hitch_hold(
            known.hitches[line.haul.capture], line.haul.capture_made, known.ropes[plan.rope(line.rope).kind]
        )
        return Clutch(f"{line.id}:ratchet", held.name, held.slip_n) if held.slip_n else None
    if line.lowering and known.devices[line.lowering.device].gives == "slips":
        device = known.devices[line.lowering.device]
        return Clutch(f"{line.id}:device", device.name, device.strength_n)
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
