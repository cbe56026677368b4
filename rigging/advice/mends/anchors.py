"""Mends of how anchors are made."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.advice.mends.holding import free_people
from rigging.advice.mends.mend import Mend, Mender, setting
from rigging.advice.mends.strength import other_feature
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found


def _leg_path(found: Found, plan: Plan) -> str:
    for a, anchor in enumerate(plan.anchors):
        for b, one in enumerate(anchor.alternatives):
            if one.id == found.values["arrangement"]:
                return f"/anchors/{a}/alternatives/{b}"
    raise LookupError(found.values["arrangement"])


def _retie(found: Found, plan: Plan) -> Iterator[Mend]:
    path = _leg_path(found, plan)
    yield from other_feature(plan, f"{path}/legs/{found.values.get('leg', 0)}/feature", 0.0)


def _guard(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.values["who"]:
        return
    at = next(n for n, one in enumerate(plan.features) if one.id == found.values["feature"])
    for who in free_people(plan)[:2]:
        yield setting("guard", f"/features/{at}/guard", who, who=who)


def _link(found: Found, plan: Plan) -> Iterator[Mend]:
    for id in ("screw-link-10", "rigging-plate"):
        yield setting("take", f"{_leg_path(found, plan)}/connector", id, what=catalogue().connectors[id].name)


def _tight(found: Found, plan: Plan) -> Iterator[Mend]:
    yield setting("tight", f"{_leg_path(found, plan)}/legs/{found.values['leg']}/pretension_n", 1000.0)


def _wrap(found: Found, plan: Plan) -> Iterator[Mend]:
    """A longer strap: closed a good way further from the feature, on an extension."""
    leg = f"{_leg_path(found, plan)}/legs/{found.values['leg']}"
    edits = (
        Edit("replace", f"{leg}/method", "round-turn"), Edit("replace", f"{leg}/material", "rope-11"), Edit("replace", f"{leg}/turns", 3),
        Edit("replace", f"{leg}/extension", None),
    )  # fmt: skip
    yield Mend("round-turn", edits)


def _tie_off(found: Found, plan: Plan) -> Iterator[Mend]:
    tie = f"{_leg_path(found, plan)}/legs/{found.values['leg']}/tie_off"
    if found.kind == "axle":
        yield setting("tail-behind", f"{tie}/tail_to", "anchor-behind")
    elif found.kind == "half-hitch":
        yield setting("finish", f"{tie}/finish", "releasable-hitch")
    else:
        yield setting("free-device", f"{_leg_path(found, plan)}/span/slips", None, what=found.values["device"])


def _gather_further(found: Found, plan: Plan) -> Iterator[Mend]:
    """The working point further from the features: until the widest legs meet at 60°."""
    path = _leg_path(found, plan)
    arrangement = next(one for _, _, one in plan.arrangements() if one.id == found.values["arrangement"])
    ends = [plan.feature(leg.feature) for leg in arrangement.legs]
    wide = max(one.y_m for one in ends) - min(one.y_m for one in ends)
    out = max(one.x_m for one in ends) + max(1.0, wide * 0.87)
    edits = [Edit("replace", f"{path}/point/x_m", round(out, 1))]
    edits += [Edit("replace", f"{path}/legs/{n}/length_m", None) for n in range(len(ends))]
    yield Mend("gather", tuple(edits), {"length_m": out - arrangement.point.x_m})


MENDERS: dict[str, Mender] = {
    "rejected": _retie,
    "inspection-rejects": _retie,
    "temporary-last": _retie,
    "guard": _guard,
    "three-ways": _link,
    "across-gate": _link,
    "loose-tie": _tight,
    "closing": _wrap,
    "axle": _tie_off,
    "half-hitch": _tie_off,
    "limited-behind": _tie_off,
    "wide": _gather_further,
}
