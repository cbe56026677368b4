"""Devices of another friction: no check, but what two are mended by."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import Device, catalogue
from rigging.checks.mending import Mend, device, line_number
from rigging.document import Plan
from rigging.lines.tied import device_holding
from rigging.quantities.ranges import Range
from rigging.site.conditions import hand_hold_n


def fitting(plan: Plan, line: str, hand_n: Range, grip_n: float) -> list[Device]:
    """Devices that would leave no more at the hand than it holds."""
    of = plan.lines[line_number(plan, line)]
    if of.lowering is None:
        return []
    rope, now = plan.rope(of.rope), catalogue().devices[of.lowering.device]
    at_device = hand_n.high * device_holding(now, rope, of.lowering.turns, of.lowering.led).low
    return [
        one
        for one in catalogue().devices.values()
        if not one.special and not one.self_locking and one.id != now.id and at_device / device_holding(one, rope).low <= grip_n
    ]  # fmt: skip


def other_devices(plan: Plan, line: int, hand_n: Range, runs_n: float) -> Iterator[Mend]:
    """Devices that fit the hand and leave it at least `runs_n`; one that locks where the
    hand has too much and nothing else fits."""
    lowering, rope, grip = plan.lines[line].lowering, plan.rope(plan.lines[line].rope), hand_hold_n(plan)
    if lowering is None:
        return
    now = catalogue().devices[lowering.device]
    ratio = device_holding(now, rope, lowering.turns)
    most, least = hand_n.high * ratio.low, hand_n.low * ratio.high
    fit = [
        one
        for one in catalogue().devices.values()
        if not one.self_locking and not one.special and one.mu is None and one.id != now.id
        and most / device_holding(one, rope).low <= grip.low and least / device_holding(one, rope).high >= runs_n
    ]  # fmt: skip
    for one in sorted(fit, key=lambda one: device_holding(one, rope).expected)[:2]:
        yield device(line, one.id)
    if not fit and not runs_n:
        yield device(line, "self-locking")
