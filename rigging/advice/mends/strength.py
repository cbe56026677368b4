"""Mends of what is too weak: the next stronger of its kind, another feature, more strands, less load."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from rigging.advice.mends.holding import best_feature
from rigging.advice.mends.mend import HITCH, PULLEY, Mend, Mender, line_at, setting, straight_back
from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends
from rigging.document import Feature, Leg, Line, Place3, Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found
from rigging.judging.pulls import tied_to
from rigging.site.features import estimate, kind_of, rejected_because


def _stronger(found: Found, plan: Plan) -> Iterator[Mend]:
    """More of what the part is made of, or the next stronger thing in the catalogue."""
    part = found.values["part"]
    if part.id.startswith("anchor:"):
        yield from _stronger_anchor(part, plan)
        return
    number, line = line_at(plan, part.id.partition(":")[0])
    wanted = part.force_n.high * part.target
    if part.kind == "device-connector":
        yield setting("uncrowd", f"/lines/{number}/lowering/crowded", False, what="Larger connector")
    elif part.kind == "load-connector":
        if line.load_connector_crowded:
            yield setting("uncrowd", f"/lines/{number}/load_connector_crowded", False, what="Larger connector")
        yield from _next_up("connectors", f"/lines/{number}/load_connector", line.load_connector, wanted)
    elif part.kind in ("rope", "load-knot"):
        if part.kind == "load-knot":
            yield from _better_knot(f"/lines/{number}/load_knot", line.load_knot)
        at = next(n for n, one in enumerate(plan.ropes) if one.id == line.rope)
        yield from _next_up("ropes", f"/ropes/{at}/kind", plan.ropes[at].kind, wanted)
    elif part.kind in ("bend", "redirect") and line.haul:
        yield from _stronger_bend(plan, number, line, part.where)
    elif part.kind in ("grab", "capture", "hitch", "belay", "cord"):
        yield from _two_hitches(number, line, part)
    elif part.kind in ("device", "locked-device") and line.lowering:
        kinds = sorted(catalogue().devices.values(), key=lambda one: one.strength_n.low)
        fit = [one for one in kinds if one.strength_n.low >= wanted and one.gives == "breaks"]
        for one in fit[:1]:
            yield setting("device", f"/lines/{number}/lowering/device", one.id, what=one.name)


def _next_up(table: str, path: str, now: str, wanted: float) -> Iterator[Mend]:
    entries = getattr(catalogue(), table)
    fit = sorted(
        (one for one in entries.values() if one.strength_n.low > entries[now].strength_n.low and not one.special),
        key=lambda one: (one.strength_n.low < wanted, one.strength_n.low),
    )
    for one in fit[:1]:
        yield setting("take", path, one.id, what=one.name)


def _better_knot(path: str, now: str) -> Iterator[Mend]:
    loops = [
        one
        for one in catalogue().knots.values()
        if one.id.endswith("-loop") and one.keeps.low > catalogue().knots[now].keeps.low
    ]
    for one in sorted(loops, key=lambda one: -one.keeps.low)[:1]:
        yield setting("take", path, one.id, what=one.name)


def _stronger_bend(plan: Plan, number: int, line: Line, where: str) -> Iterator[Mend]:
    assert line.haul is not None
    if where in line.haul.bends or where in [place.id for place in bends(line.haul.system)]:
        yield setting(
            "bend",
            f"/lines/{number}/haul/bends",
            {**line.haul.bends, where: PULLEY},
            what=catalogue().bends[PULLEY].name,
            at=where,
        )


def _two_hitches(number: int, line: Line, part: Any) -> Iterator[Mend]:
    path = {
        "grab": "haul/grab", "capture": "haul/capture", "hitch": "lowering/brake_hitch", "belay": "belay/what",
        "cord": {"brake": "lowering/brake_hitch", "ratchet": "haul/capture", "belay": "belay/what"}.get(part.takes.rpartition(":")[2], "haul/grab"),
    }[part.kind]  # fmt: skip
    if part.kind == "belay" and line.belay and line.belay.holds != "hitch":
        return
    yield setting(
        "take", f"/lines/{number}/{path}", "tandem-prusik-8", what=catalogue().hitches["tandem-prusik-8"].name
    )


def _stronger_anchor(part: Any, plan: Plan) -> Iterator[Mend]:
    anchor = part.id.split(":")[1]
    a, there = next((n, one) for n, one in enumerate(plan.anchors) if one.id == anchor)
    b, arrangement = next((n, one) for n, one in enumerate(there.alternatives) if one.id == there.taken)
    here = f"/anchors/{a}/alternatives/{b}"
    wanted = part.force_n.high * part.target
    if part.kind == "working-point":
        yield from _next_up("connectors", f"{here}/connector", arrangement.connector, wanted)
        return
    index = int(part.about.rpartition(":")[2])
    onward = arrangement.legs[index].extension
    if part.kind == "attachment" and onward is not None and not catalogue().slings[onward].slick:
        shelf = catalogue().slings
        fit = [
            one
            for one in shelf.values()
            if not (one.sewn or one.slick or one.section) and one.strand_n.low > shelf[onward].strand_n.low
        ]
        for one in sorted(fit, key=lambda one: one.strand_n.low)[-1:]:
            yield setting("take", f"{here}/legs/{index}/extension", one.id, what=one.name)
    if part.kind == "attachment" and part.wants:
        leg = arrangement.legs[index]
        method = catalogue().attachments[leg.method]
        turns = (leg.turns or method.turns.usual) + math.ceil(part.wants / max(method.strands_per_turn, 1))
        if method.strands_per_turn and turns <= method.turns.most:
            yield setting("turns", f"{here}/legs/{index}/turns", turns, turns=turns)
        elif leg.method != "wrap-pull" and not catalogue().slings[leg.material].sewn:
            edits = (
                Edit("replace", f"{here}/legs/{index}/method", "wrap-pull"),
                Edit("replace", f"{here}/legs/{index}/turns", 4),
            )
            yield Mend("turns", edits, {"turns": 4})
    yield from other_feature(plan, f"{here}/legs/{index}/feature", wanted)
    for number, line in enumerate(plan.lines):
        if line.haul and any(one.anchor == anchor for one in line.haul.redirects):
            yield straight_back(number)


def other_feature(plan: Plan, path: str, wanted: float) -> Iterator[Mend]:
    """The leg onto the strongest feature that nothing is tied to."""
    best = best_feature(plan, tied_to(plan))
    if best is not None and (found := estimate(plan.feature(best)).strength_n) and found.low >= wanted:
        yield setting("feature", path, best, feature=plan.feature(best).name)


def _slip_less(found: Found, plan: Plan) -> Iterator[Mend]:
    part = found.values["part"]
    if part.kind in ("locked-device", "device"):
        number, _ = line_at(plan, part.id.partition(":")[0])
        kinds = [
            one for one in catalogue().devices.values() if one.gives == "breaks" and one.mu is None and not one.special
        ]
        best = max(kinds, key=lambda one: one.holding().expected)
        edits = [Edit("replace", f"/lines/{number}/lowering/device", best.id)]
        edits.append(Edit("replace", f"/lines/{number}/lowering/brake_hitch", HITCH))
        yield Mend("device", tuple(edits), {"what": best.name})
        return
    yield from _stronger(found, plan)


def _no_tie(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, str(found.values["line"]))
    yield setting("untie", f"/lines/{number}/{'belay' if line.belay else 'lowering'}/tied_behind_m", None)


def _something_slips(found: Found, plan: Plan) -> Iterator[Mend]:
    main = plan.line("main")
    if main is not None and main.lowering is not None:
        number, _ = line_at(plan, main.id)
        yield setting(
            "device", f"/lines/{number}/lowering/device", "self-locking", what=catalogue().devices["self-locking"].name
        )


def _guy(found: Found, plan: Plan) -> Iterator[Mend]:
    """A guy from the head to a feature on the far side of the pull."""
    number = next(n for n, one in enumerate(plan.anchors) if one.id == found.values["anchor"])
    anchor = plan.anchors[number]
    at_way = next(n for n, one in enumerate(anchor.alternatives) if one.id == anchor.taken)
    made = anchor.arrangement
    tied = {leg.feature for one in plan.anchors for leg in one.arrangement.legs}
    behind = [
        one for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not rejected_because(one) and not kind_of(one).pushes and not kind_of(one).temporary
        and _behind(one, made.point, found.values["toward"]) > 0.7
    ]  # fmt: skip
    for one in sorted(behind, key=lambda one: -_behind(one, made.point, found.values["toward"]))[:1]:
        leg = Leg(
            feature=one.id, method="wrap-pull", material="tubular-25", turns=3, extension="rope-11", pretension_n=300
        )
        edit = Edit("add", f"/anchors/{number}/alternatives/{at_way}/legs/-", leg.model_dump(mode="json"))
        yield Mend("guy", (edit,), {"feature": one.name})


def _behind(feature: Feature, head: Place3, toward: tuple[float, float]) -> float:
    """How straight a feature lies behind a head that is pulled that way: 1 straight behind, −1 ahead."""
    away = (feature.x_m - head.x_m, feature.y_m - head.y_m)
    size = math.hypot(*away) * math.hypot(*toward)
    return -(away[0] * toward[0] + away[1] * toward[1]) / size if size > 1e-6 else 0.0


def _span(found: Found, plan: Plan) -> Iterator[Mend]:
    """Less pull on a tension line by what slips, or by more sag; more room by less sag, or a load hung shorter."""
    path, line = f"/tension_lines/{found.values['number']}", plan.tension_lines[found.values["number"]]
    slips = next(one for one in catalogue().devices.values() if one.gives == "slips")
    if found.kind == "span-low":
        short = round(max(0.3, line.hang_m - (1.0 - found.values["clear_m"])), 1)
        if short < line.hang_m:
            yield setting("hang", f"{path}/hang_m", short, length_m=short)
        tight = line.pretension_n + 1000
        yield setting("pretension", f"{path}/pretension_n", tight, force_n=tight)
        return
    if line.slips is None:
        yield setting("slips", f"{path}/slips", slips.id, what=slips.name)
    if found.kind == "span-below" and line.pretension_n > 0:
        yield setting("pretension", f"{path}/pretension_n", 0.0, force_n=0.0)


MENDERS: dict[str, Mender] = {
    "below": _stronger,
    "slips-under-load": _slip_less,
    "cap-defeated": _no_tie,
    "no-cap": _something_slips,
    "span-below": _span,
    "span-low": _span,
    "span-unlimited": _span,
    "frame-tips": _guy,
    "frame-may-tip": _guy,
}
