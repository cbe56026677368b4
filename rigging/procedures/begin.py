"""A plan's line as a procedure finds it: from the compiled rig's own device, hitches and slack."""

from __future__ import annotations

from rigging.document import Plan
from rigging.lines.rig import Rig
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import moments
from rigging.mechanics.holds import Lying
from rigging.procedures.rope import Grip, RopeState
from rigging.quantities.faults import refuse
from rigging.site.load import GRAVITY, own_way


def lowering_line(plan: Plan) -> RopeState:
    """The main line as it lowers: through its device, the hitch on the brake side minded, a hand on the rope.

    Raises
    ------
    Refused
        If no main line lowers, or it can not be laid out.
    """
    main = plan.line("main")
    if main is None or main.lowering is None:
        raise refuse(
            "lines", "no main line with a lowering device is planned", "lay a main line and choose what lowers"
        )
    solver = Solver(plan, ways_of(plan))
    low, way = main.lowering, solver.ways[main.id]
    moment = next(one for one in moments(plan) if one.id == "lowering")
    if moment.missing or solver.resting is None:
        raise refuse("lines", "the lower is not planned yet", "choose what lowers")
    grips = [Grip("device", "device", low.device, main.anchor, low.out_m)]
    if low.brake_hitch:
        grips.append(Grip("brake", "hitch", low.brake_hitch, main.anchor, low.hitch_m, True, low.slack_m))
    load, rig = solver.resting, solver.rig(moment)
    weight = load.mass_kg.expected * GRAVITY / 1000
    return RopeState(main.id, main.rope, way, weight, own_way(load), tuple(grips), True, _others(rig, main.id))


def _others(rig: Rig, line: str) -> Lying:
    """The other lines as they lie: a belay that catches after its slack."""
    lying = rig.lying()
    kept = tuple(one for one in lying.pieces if not one.id.removeprefix("tie of ").startswith(f"{line}:"))
    used = {name for piece in kept for name in piece.route}
    at = {name: where for name, where in lying.at.items() if name in used}
    return Lying(
        lying.load, lying.along, lying.weight_kn, at, {n: k for n, k in lying.kinds.items() if n in used}, kept
    )
