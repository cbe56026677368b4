"""Document and mode to rig: every line laid over the real ground, what holds it made fast, the haul system laid along it."""

from __future__ import annotations

from dataclasses import replace

from rigging.catalogue import Led, catalogue
from rigging.document import Line, Plan
from rigging.lines.hauling import captured, hauling_rig
from rigging.lines.layout import Layout
from rigging.lines.parts import device_crossing
from rigging.lines.rig import LOAD, OPEN_M, LineRig, Mode, Rig, anchor_node
from rigging.lines.way import LineWay
from rigging.mechanics.network import Rope
from rigging.site.load import GRAVITY, Resting, own_way

_BELAY_M = 0.3


def compiled(plan: Plan, line: Line, way: LineWay, mode: Mode) -> LineRig:
    """A line in a mode.

    Raises
    ------
    Refused
        If its haul system does not move as one mechanism.
    """
    if mode == "captured":
        return captured(compiled(plan, line, way, "hauling"))
    return {
        "fast": _fast, "locked": _locked, "running": _running, "hauling": hauling_rig, "slack": _slack,
    }[mode](Layout(plan, line, way))  # fmt: skip


def _fast(layout: Layout) -> LineRig:
    fast = anchor_node(layout.line.anchor)
    rope = layout.rope("rope", [LOAD, *layout.up(), fast], slack_m=layout.line.slack_m)
    return layout.rig("fast", [rope], [rope.id], fast)


def _locked(layout: Layout) -> LineRig:
    lowering = layout.line.lowering
    assert lowering is not None
    device = layout.add("device", "grab", layout.at(lowering.out_m), on=anchor_node(layout.line.anchor))
    rope = layout.rope("rope", [LOAD, *layout.up(), device], slack_m=layout.line.slack_m)
    ropes = [rope]
    if lowering.brake_hitch:
        brake = layout.add("brake", "grab", layout.at(lowering.hitch_m * 0.8))
        ropes += [
            layout.rope("tail", [device, brake], slack_m=OPEN_M),
            layout.cord("hitch", brake, 0.2 * lowering.hitch_m + lowering.slack_m),
        ]
    ropes += _tied(layout, lowering.tied_behind_m, ropes[1].route[-1] if lowering.brake_hitch else device)
    return layout.rig("locked", ropes, [rope.id], device)


def _tied(layout: Layout, behind_m: float | None, grip: str) -> list[Rope]:
    """The rope behind what grips it last, tied to the anchor."""
    if behind_m is None:
        return []
    return [layout.rope("tied", [grip, anchor_node(layout.line.anchor)], slack_m=max(OPEN_M, behind_m))]


def _running(layout: Layout) -> LineRig:
    """The rope through the lowering device, the brake hand behind it, the hitch minded open."""
    lowering = layout.line.lowering
    assert lowering is not None
    fast = anchor_node(layout.line.anchor)
    device = layout.add("device", "block", layout.at(lowering.out_m), on=fast)
    # The hand's strand pulls where it is led to; where it lies decides only how far what is minded is from gripping.
    axis = 1 if beside(lowering.device, lowering.led) else -1
    hands = layout.add("hands", "hands", layout.at(-1.0), axis=axis)
    crossing = device_crossing(
        layout.plan, device, lowering.device, layout.plan.rope(layout.line.rope), lowering.turns, lowering.led
    )
    locks = [device] if catalogue().devices[lowering.device].self_locking else []
    if lowering.brake_hitch is None:
        rope = layout.rope("rope", [LOAD, *layout.up(), device, hands], {device: [crossing]})
        return layout.led(layout.rig("running", [rope], [rope.id], None, locks), axis, (device, hands))
    brake = layout.add("brake", "grab", layout.at(lowering.hitch_m), axis=axis)
    rope = layout.rope("rope", [LOAD, *layout.up(), device, brake], {device: [crossing]})
    tail = layout.rope("tail", [brake, hands])
    hitch = layout.cord("hitch", brake, max(OPEN_M, lowering.slack_m))
    rig = layout.rig("running", [rope, tail, hitch], [rope.id, tail.id], None, locks)
    return layout.led(rig, axis, (device, brake), (brake, hands))


def beside(device: str, led: Led | None) -> bool:
    """Whether a device's brake strand is led beside the load strand."""
    return (led or catalogue().devices[device].led) == "parallel"


def _slack(layout: Layout) -> LineRig:
    """A belay on its hitches, device or knot, or a rope left in as backup on what held it."""
    line, fast = layout.line, anchor_node(layout.line.anchor)
    if line.belay is None:
        return replace(_locked(layout) if line.lowering else _fast(layout), mode="slack")
    if line.belay.holds == "tied":
        return replace(_fast(layout), mode="slack")
    if line.belay.holds == "hitch":
        grab = layout.add("belay", "grab", layout.at(_BELAY_M), axis=-1)
        rope = layout.rope("rope", [LOAD, *layout.up(), grab], slack_m=line.slack_m)
        cord = replace(layout.cord("hitch", grab, 0.0), slack_m=0.0)
        return layout.rig("slack", [rope, cord, *_tied(layout, line.belay.tied_behind_m, grab)], [rope.id], grab)
    locking = catalogue().devices[line.belay.what].self_locking
    device = layout.add("belay", "grab" if locking else "block", layout.at(_BELAY_M), on=fast)
    if locking:
        rope = layout.rope("rope", [LOAD, *layout.up(), device], slack_m=line.slack_m)
        return layout.rig("slack", [rope, *_tied(layout, line.belay.tied_behind_m, device)], [rope.id], device)
    hands = layout.add("hands", "hands", layout.at(-1.0))
    crossing = device_crossing(layout.plan, device, line.belay.what, layout.plan.rope(line.rope), led=line.belay.led)
    rope = layout.rope("rope", [LOAD, *layout.up(), device, hands], {device: [crossing]}, slack_m=line.slack_m)
    axis = 1 if beside(line.belay.what, line.belay.led) else -1
    return layout.led(layout.rig("slack", [rope], [rope.id], device), axis, (device, hands))


def rig_of(
    plan: Plan,
    modes: dict[str, Mode],
    ways: dict[str, LineWay],
    resting: Resting,
    cache: dict[tuple[str, Mode], LineRig],
) -> Rig:
    """All lines in their modes at once. Lines already compiled in a mode come from `cache`."""
    lines = []
    for line in plan.lines:
        mode = modes.get(line.id)
        if mode is None:
            continue
        if (line.id, mode) not in cache:
            hauled = cache.get((line.id, "hauling")) if mode == "captured" else None
            cache[line.id, mode] = captured(hauled) if hauled else compiled(plan, line, ways[line.id], mode)
        lines.append(cache[line.id, mode])
    at = (plan.site.load_at.x_m, 0.0, plan.site.load_at.z_m)
    return Rig(tuple(lines), own_way(resting), resting.mass_kg.expected * GRAVITY, at)
