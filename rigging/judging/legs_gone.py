"""A leg of an anchor goes: which of those left is worst off on the peak, and whether it holds."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.anchors.failure import Peak, peaks
from rigging.anchors.rig import rig_anchor
from rigging.document import Anchor, Plan
from rigging.judging.anchors import AnchorState, LegStrength
from rigging.judging.pulls import pulling
from rigging.lines.solve import Solved
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range

Outcome = Literal["holds", "below", "gives", "unknown", "nothing"]
# What is left on a peak, beyond which nobody stops to look.
LEFT_RATIO = 2.0


@dataclass(frozen=True)
class LegGone:
    """What becomes of an anchor without one leg: `taker` is the worst off of those left and `ratio` its strength over its
    peak (None: its feature is not judged); `busiest` is the one that takes most, with its peak. No one left: `nothing`."""

    leg: LegStrength
    peak: Peak | None
    outcome: Outcome
    ratio: float | None = None
    taker: LegStrength | None = None
    busiest: LegStrength | None = None
    busiest_n: Range | None = None


def leg_gone(legs: tuple[LegStrength, ...] | list[LegStrength], gone: LegStrength, peak: Peak | None) -> LegGone:
    """Judged on the peak as it goes."""
    left = [one for one in legs if one is not gone and peak and peak.on_legs[one.line.index].high > 1.0]
    if peak is None or not left:
        return LegGone(gone, peak, "nothing")
    judged = [(one, *_after(one, peak)) for one in left]
    taker, ratio, _ = min(judged, key=lambda row: math.inf if row[1] is None else row[1])
    busiest, _, most = max(judged, key=lambda row: row[2].expected)
    outcome = _outcome(ratio, any(row[1] is None for row in judged))
    if math.isinf(peak.slips_m):
        outcome = "gives"
    return LegGone(gone, peak, outcome, ratio, taker, busiest, most)


def _after(leg: LegStrength, peak: Peak) -> tuple[float | None, Range]:
    """Strength over peak for a leg that takes over (None: its feature is not judged), and its peak."""
    on_leg = peak.on_legs[leg.line.index]
    rated = leg.feature.strength_n
    strap = leg.link.strength_n.low / max(on_leg.high, 1.0)
    if rated is None:
        return (strap if strap < 1 else None), on_leg
    return min(strap, rated.low / max(on_leg.high, 1.0)), on_leg


def _outcome(ratio: float | None, unknown: bool) -> Outcome:
    if ratio is not None and ratio < 1:
        return "gives"
    if unknown or ratio is None:
        return "unknown"
    return "below" if ratio < LEFT_RATIO else "holds"


def legs_gone(plan: Plan, anchor: Anchor, judged: AnchorState, solved: Solved) -> Iterator[LegGone]:
    """Each leg of an anchor taken away in one state; nothing for a lone leg, or legs that come to no balance."""
    arrangement = anchor.arrangement
    if len(arrangement.legs) < 2 or judged.states is None:
        return
    try:
        rig = rig_anchor(plan, arrangement)
        pull = pulling(plan, anchor, arrangement, solved)
        if pull is None:
            return
        if not rig.removable:
            return
        found = peaks(rig, pull)
    except Refused:
        return
    for leg in judged.legs:
        yield leg_gone(judged.legs, leg, found.get(leg.line.index))
