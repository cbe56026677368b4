"""The candidates: where each lies, what it holds, the verdict its inspection leads to, best first."""

from __future__ import annotations

import math

import numpy as np

from rigging.telling.anchor_report import FeatureReport
from rigging.anchors.rig import at
from rigging.lines.build import Phase
from rigging.document import Feature, Plan
from rigging.site.features import doubtful_readings, estimate, kind_of, missing_answers, verdict
from rigging.lines.phases import Solved
from rigging.quantities.ranges import exactly
from rigging.telling.units import Wording
from rigging.telling.working import Trace, symbol

_RISES_M = (0.5, 1.0, 1.5)


def candidates(plan: Plan, solved: dict[Phase, Solved | str], trace: Trace, say: Wording) -> list[FeatureReport]:
    """Every feature of the plan, in its order, each with its rank."""
    needed = _asked_of_one(plan, solved)
    features = [_feature(plan, feature, needed, trace, say) for feature in plan.features]
    _rank(plan, features)
    return features


def _asked_of_one(plan: Plan, solved: dict[Phase, Solved | str]) -> float:
    """What the rule asks of a feature that stands alone: ratio × the highest pull of hold, lower and raise."""
    pulls = [one.on_anchor().high for name, one in solved.items() if isinstance(one, Solved) and name != "jam"]
    return plan.rules.anchors_ratio * max(pulls, default=0.0)


def _feature(plan: Plan, feature: Feature, needed_n: float, trace: Trace, say: Wording) -> FeatureReport:
    away = at(feature) - at(plan.arrangement.point)
    level = math.hypot(away[0], away[1])
    rise = math.atan2(-away[2], level)
    found = estimate(feature, rise)
    key = f"holds:{feature.id}"
    holds = (
        trace.figure(key, f"{feature.name} holds", found.strength_n, "N", found.formula, list(found.symbols))
        if found.strength_n
        else None
    )
    judged = verdict(feature, needed_n, say)
    distance = trace.figure(
        f"distance:{feature.id}", f"Working point to {feature.name}", exactly(float(np.linalg.norm(away))), "m", "√(x² + y² + z²)",
        [symbol(axis, "from the working point", float(part), "m", "leader") for axis, part in zip("xyz", away, strict=True)],
    )  # fmt: skip
    return FeatureReport(
        id=feature.id, distance=distance, bearing_rad=math.atan2(away[1], away[0]), holds=holds, why_not=found.why_not,
        limit=found.limit, higher_up=_higher_up(feature, rise, say), open_questions=len(missing_answers(feature)),
        verdict=judged.verdict, reasons=list(judged.reasons), doubts=doubtful_readings(feature, say),
        guard=kind_of(feature).guarded, loaded=any(leg.feature == feature.id for leg in plan.arrangement.legs), rank=0,
    )  # fmt: skip


def _higher_up(feature: Feature, rise_rad: float, say: Wording) -> str:
    """What a trunk would hold with the strap moved up: it loses as 1/h."""
    if kind_of(feature).estimate != "trunk" or feature.rating_n is not None:
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
    """Candidates in order: the leader's verdict before the inspection's, then by what they hold."""

    def place(pair: tuple[Feature, FeatureReport]) -> tuple[int, float]:
        feature, report = pair
        return _ORDER[feature.verdict or report.verdict], -(report.holds.low if report.holds else 0.0)

    for rank, (_, report) in enumerate(sorted(zip(plan.features, features, strict=True), key=place), start=1):
        report.rank = rank
