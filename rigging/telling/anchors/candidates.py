"""The candidates: where each lies, what it holds, the verdict its inspection leads to, best first."""

from __future__ import annotations

import math

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import at
from rigging.document import Anchor, Feature, Plan
from rigging.quantities.ranges import exactly
from rigging.quantities.symbols import symbol
from rigging.quantities.units import Wording
from rigging.site.features import doubtful_readings, estimate, kind_of, missing_answers, verdict
from rigging.telling.anchors.shapes import FeatureReport
from rigging.telling.figures.working import Told, Trace

_RISES_M = (0.5, 1.0, 1.5)


def candidates(
    plan: Plan, anchor: Anchor, pull: Pulling | None, needed_n: float, trace: Trace, say: Wording
) -> list[FeatureReport]:
    """Every feature of the plan, in its order, each with its rank for this anchor under this pull."""
    features = [_feature(anchor, feature, pull, needed_n, trace, say) for feature in plan.features]
    _rank(plan, features)
    return features


def _feature(
    anchor: Anchor, feature: Feature, pull: Pulling | None, needed_n: float, trace: Trace, say: Wording
) -> FeatureReport:
    arrangement = anchor.arrangement
    away = at(feature) - at(arrangement.point)
    level = math.hypot(away[0], away[1])
    rise = math.atan2(-away[2], level)
    found = estimate(feature, rise)
    holds = (
        trace.figure(f"holds:{feature.id}", found.strength_n, "N", lambda: Told(f"{feature.name} holds", found.formula, list(found.symbols)))
        if found.strength_n
        else None
    )  # fmt: skip
    judged = verdict(feature, needed_n, say, rise)
    size = float(np.linalg.norm(away))
    distance = trace.figure(f"distance:{feature.id}", exactly(size), "m", lambda: Told(
        f"Working point to {feature.name}", "√(x² + y² + z²)",
        [symbol(axis, "from the working point", float(part), "m", "leader") for axis, part in zip("xyz", away, strict=True)]))  # fmt: skip
    behind = float(np.clip(-(away @ pull.unit) / size, -1, 1)) if pull and size > 1e-6 else 1.0
    alone = None
    if pull and found.strength_n and pull.force_n.high > 0:
        alone = found.strength_n.low * max(0.0, behind) / pull.force_n.high
    return FeatureReport(
        id=feature.id, kind=feature.kind, distance=distance, bearing_rad=math.atan2(away[1], away[0]), holds=holds,
        why_not=found.why_not, limit=found.limit, higher_up=_higher_up(feature, rise, say), open_questions=len(missing_answers(feature)),
        verdict=judged.verdict, reasons=list(judged.reasons), doubts=doubtful_readings(feature, say),
        guard=kind_of(feature).guarded, loaded=any(leg.feature == feature.id for leg in arrangement.legs),
        off_pull_rad=math.acos(behind), alone=alone, rank=0,
    )  # fmt: skip


def _higher_up(feature: Feature, rise_rad: float, say: Wording) -> str:
    """What a tree would hold with the strap moved up: trunk and roots lose as 1/h."""
    if kind_of(feature).estimate != "tree" or feature.rating_n is not None:
        return ""
    shown = []
    for height in _RISES_M:
        there = estimate(
            feature.model_copy(update={"answers": {**feature.answers, "strap_height_m": height}}), rise_rad
        )
        if there.strength_n:
            shown.append(f"at {say.length(height)} {say.force(there.strength_n)}")
    return f"The strap moved up loses as 1/h: {', '.join(shown)}." if shown else ""


_ORDER = {"sound-alone": 0, "with-others": 1, "temporary": 2, None: 3, "reject": 4}


def _rank(plan: Plan, features: list[FeatureReport]) -> None:
    """Candidates in order: the leader's verdict before the inspection's, then by the margin each alone would leave."""

    def place(pair: tuple[Feature, FeatureReport]) -> tuple[int, float]:
        feature, report = pair
        return _ORDER[feature.verdict or report.verdict], -(report.alone or 0.0)

    for rank, (_, report) in enumerate(sorted(zip(plan.features, features, strict=True), key=place), start=1):
        report.rank = rank
