"""How an arrangement is tied: what it is tied to, angles, gates, tie-offs. The faults a leader stops for, as data."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np

from rigging.anchors.rig import AnchorRig, LegLine, at, material_needs, rig_anchor
from rigging.anchors.wraps import Need, assign, closes_at_m, closing_rad, method_of
from rigging.catalogue import catalogue
from rigging.document import Arrangement, Plan
from rigging.judging.found import Found
from rigging.judging.pulls import lines_on
from rigging.lines.rig import anchor_node
from rigging.quantities.faults import Refused
from rigging.site.features import inspection_rejects, kind_of, overridden, rejected_because

WIDE_RAD, TOO_WIDE_RAD = math.radians(90), math.radians(120)
# Beyond this a connector made for one direction is pulled across (common practice, no source).
_ACROSS_RAD = math.radians(75)
# A leg is against the others from this cosine of its angle with them together (common practice, no source).
_AGAINST = 0.5


def find_anchors(plan: Plan) -> Iterator[Found]:
    """Every anchor that a line runs from or is turned at, as it is taken."""
    yield from _material(plan)
    for anchor in plan.anchors:
        tight = any(anchor.id in (line.anchor, line.far) for line in plan.tension_lines)
        if not tight and not lines_on(plan, anchor.id):
            continue
        where = f"{anchor_node(anchor.id)}:"
        yield from find_tied(plan, anchor.arrangement, where)
        try:
            rig = rig_anchor(plan, anchor.arrangement)
        except Refused:
            continue  # It is said where its pull is worked out.
        yield from find_rigged(rig, where)


def _material(plan: Plan) -> Iterator[Found]:
    """Pieces that no piece of the bags is long enough for, over all anchors in use together: each piece is tied once."""
    if not plan.kit:
        return
    wanted: list[tuple[Need, LegLine, str]] = []
    for anchor in plan.anchors:
        try:
            rig = rig_anchor(plan, anchor.arrangement)
        except Refused:
            continue
        for line in rig.lines:
            for use, material, long in material_needs(line):
                # A piece is told from its like by its leg; legs of several anchors are numbered through.
                wanted.append((Need(len(wanted), use, material, long), line, anchor.id))
    pieces = assign([need for need, _, _ in wanted], plan.kit)
    for need, line, anchor_id in wanted:
        if pieces[need] is None:
            lengths = [one.length_m for one in plan.kit if one.material == need.material]
            values = {
                "anchor": anchor_id, "name": line.feature.name, "use": need.use, "material": catalogue().slings[need.material].name,
                "id": need.material, "needed_m": need.length_m, "longest_m": max(lengths, default=None),
            }  # fmt: skip
            about = f"{anchor_node(anchor_id)}:leg:{line.index}"
            yield Found("material-short", "stop", about, values, f"{anchor_id}:{line.index}:{need.use}")


def find_tied(plan: Plan, arrangement: Arrangement, where: str = "") -> Iterator[Found]:
    """Rejected, guarded or temporary features; `where` goes before the leg that a finding is about."""
    for index, leg in enumerate(arrangement.legs):
        feature, about = plan.feature(leg.feature), f"{where}leg:{index}"
        values = {"feature": feature.id, "name": feature.name, "arrangement": arrangement.id, "leg": index}
        if feature.verdict == "reject":
            yield Found("rejected", "stop", about, {**values, "reason": feature.reason}, feature.id)
        elif rejected := rejected_because(feature):
            yield Found("inspection-rejects", "stop", about, {**values, "reason": "; ".join(rejected)}, feature.id)
        elif overridden(feature):
            found = {"why": "; ".join(inspection_rejects(feature)), "who": feature.judged_by, "reason": feature.reason}
            yield Found("overridden", "look", about, {**values, **found}, feature.id)
        guarded = kind_of(feature).guarded
        if guarded:
            who = feature.guard.strip()
            yield Found(
                "guard", "note" if who else "stop", about, {**values, "guarded": guarded, "who": who}, feature.id
            )
    if all(kind_of(plan.feature(leg.feature)).temporary for leg in arrangement.legs):
        first = plan.feature(arrangement.legs[0].feature)
        values = {"name": first.name, "person": first.kind == "person", "arrangement": arrangement.id}
        yield Found("temporary-last", "stop", f"{where}leg:0", values, f"{where}{arrangement.id}")


def find_rigged(rig: AnchorRig, where: str = "") -> Iterator[Found]:
    """Angles, gates, straps and tie-offs of an arrangement."""
    arrangement, key = rig.arrangement, f"{where}{rig.arrangement.id}"
    widest, pair = widest_rad(rig)
    connector = catalogue().connectors[arrangement.connector]
    gathers = arrangement.scheme in ("two-loop-y", "fixed", "self-adjusting")
    if gathers and widest > WIDE_RAD + 1e-9:
        names = [rig.lines[index].feature.name for index in pair]
        each = 1 / (2 * math.cos(widest / 2)) if widest < math.pi - 0.01 else math.inf
        values = {"widest_rad": widest, "names": names, "each": each, "arrangement": arrangement.id}
        yield Found("wide", "stop" if widest > TOO_WIDE_RAD + 1e-9 else "look", f"{where}point", values, key)
    if gathers and widest > _ACROSS_RAD and not connector.three_way:
        values = {"connector": connector.name, "widest_rad": widest, "arrangement": arrangement.id}
        yield Found("three-ways", "look", f"{where}point", values, key)
    for line in rig.lines:
        yield from _leg(rig, line, where)


def _leg(rig: AnchorRig, line: LegLine, where: str) -> Iterator[Found]:
    arrangement, method, about = rig.arrangement, method_of(line.leg), f"{where}leg:{line.index}"
    key = f"{where}{arrangement.id}:{line.index}"
    values = {"name": line.feature.name, "arrangement": arrangement.id, "leg": line.index}
    if arrangement.scheme == "back-tied" and line.index and not line.leg.pretension_n:
        yield Found("loose-tie", "stop", about, values, key)
    if line.radius_m is not None and method.path in ("basket", "wrap-pull"):
        closing = closing_rad(line.radius_m, closes_at_m(line.leg, line.radius_m, line.spans_m))
        connector = catalogue().connectors[arrangement.connector]
        if closing > TOO_WIDE_RAD:
            yield Found("closing", "stop", about, {**values, "closing_rad": closing}, key)
        elif closing > _ACROSS_RAD and method.path == "basket" and method.connectors and not connector.three_way:
            across = {**values, "closing_rad": closing, "connector": connector.name, "across_n": connector.across_n}
            yield Found("across-gate", "stop", about, across, key)
    tie, span = line.leg.tie_off, arrangement.span
    if line.leg.method != "drum-tie-off" or tie is None:
        return
    unsaid = [name for name, one in (("drum", tie.drum_n), ("axle", tie.axle_n)) if one is None]
    if unsaid:
        yield Found("drum-unsaid", "unknown", about, {**values, "unsaid": unsaid}, key)
    if tie.tail_to != "anchor-behind":
        yield Found("axle", "stop", about, {**values, "tail_to": tie.tail_to}, key)
    if tie.finish == "half-hitch":
        yield Found("half-hitch", "stop", about, values, key)
    if span and span.slips:
        yield Found("limited-behind", "stop", about, {**values, "device": catalogue().devices[span.slips].name}, key)


def widest_rad(rig: AnchorRig) -> tuple[float, tuple[int, int]]:
    """Widest angle between two legs at the working point that bear together, and which two; a leg that lies against all the others
    only keeps the point in its place."""
    away = [at(line.feature) - at(rig.arrangement.point) for line in rig.lines]
    unit = [one / np.linalg.norm(one) for one in away]
    together = np.sum(unit, axis=0)
    ties = {
        n
        for n, one in enumerate(unit)
        if len(unit) > 2 and one @ (together - one) < -_AGAINST * np.linalg.norm(together - one)
    }
    found = (0.0, (0, 0))
    for i, j in itertools.combinations([n for n in range(len(unit)) if len(ties) > 1 or n not in ties], 2):
        found = max(found, (math.acos(float(np.clip(unit[i] @ unit[j], -1, 1))), (i, j)))
    return found
