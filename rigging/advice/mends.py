"""What would mend a finding, as edits of the document: each can be made, and taken back. Best first."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from rigging.catalogue import RopeKind, SlingMaterial, catalogue
from rigging.catalogue.haul import bends, drop_redirect, stack
from rigging.document import Haul, Leg, Line, Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found
from rigging.judging.people import jobs
from rigging.judging.pulls import named_by
from rigging.lines.tied import HitchPlace, hitch_hold, hitches_of, too_thick
from rigging.quantities.faults import Refused
from rigging.site.features import estimate, kind_of

_PULLEY, _MINDING, _HITCH = "ball-bearing-pulley", "minding-pulley", "french-8"
_FREE_ROLES = ("other", "main", "belay", "ratchet", "edge", "haul", "writer")
_RELEASING_M, _SLACK_M, _ASIDE_M = 1.0, 0.1, 10.0


@dataclass(frozen=True)
class Mend:
    """A change that would mend something: its kind, the values that name it, and its edits."""

    kind: str
    edits: tuple[Edit, ...]
    values: dict[str, Any] = field(default_factory=dict)


Mender = Callable[[Found, Plan], Iterator[Mend]]


def mends_of(found: Found, plan: Plan) -> list[Mend]:
    """What would mend a finding; empty where no change of the plan alone does."""
    mender = _MENDERS.get(found.kind)
    return list(mender(found, plan)) if mender else []


def _at(plan: Plan, line: str) -> tuple[int, Line]:
    """A line with its number in the document."""
    return next((number, one) for number, one in enumerate(plan.lines) if one.id == line)


def _of(found: Found) -> str:
    return str(found.values.get("line") or found.about.partition(":")[0])


def _set(kind: str, path: str, value: Any, **values: Any) -> Mend:
    return Mend(kind, (Edit("replace", path, value),), values)


# What holds, hands off


def _brake_hitch(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    yield _set("brake-hitch", f"/lines/{number}/lowering/brake_hitch", _HITCH, what=catalogue().hitches[_HITCH].name)
    if line.lowering and line.lowering.device != "self-locking":
        yield _set(
            "device", f"/lines/{number}/lowering/device", "self-locking", what=catalogue().devices["self-locking"].name
        )


def _hands_alone(found: Found, plan: Plan) -> Iterator[Mend]:
    """What would hold instead of the hands, on the line itself; or a belay."""
    main = (
        next((one for one in plan.lines if one.haul), None) if found.values["state"] == "raising" else plan.line("main")
    )
    if main is not None:
        here = Found(found.kind, found.level, f"{main.id}:rope")
        if main.haul and found.values["state"] == "raising":
            yield from _capture(here, plan)
        elif main.lowering:
            yield from _brake_hitch(here, plan)
    yield from _belay(found, plan)


def _capture(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    edits = (Edit("replace", f"/lines/{number}/haul/capture", "prusik-8"),)
    for who in _free(plan)[:1]:
        named = (*edits, Edit("replace", f"/lines/{number}/haul/capture_minder", who))
        yield Mend("capture", named, {"what": catalogue().hitches["prusik-8"].name, "who": who})
    if not _free(plan):
        yield Mend("capture", edits, {"what": catalogue().hitches["prusik-8"].name, "who": ""})


def _free(plan: Plan) -> list[str]:
    """People who mind nothing yet; the leader does not pull and minds nothing."""
    busy = {who for line in plan.lines for _, who, _ in jobs(line) if who}
    there = [one for one in plan.team.people if one.name not in busy and one.role not in ("leader", "attendant")]
    return [one.name for one in sorted(there, key=lambda one: _FREE_ROLES.index(one.role))]


def _minder(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    job = str(found.values.get("job", "ratchet"))
    field = next(field for name, _, field in jobs(line) if name == job)
    for who in _free(plan)[:2]:
        yield _set("minder", f"/lines/{number}/{field}", who, who=who, job=job)


def _ratchet_minder(found: Found, plan: Plan) -> Iterator[Mend]:
    yield from _minder(found, plan)
    number, line = _at(plan, _of(found))
    assert line.haul is not None
    if line.haul.capture in catalogue().bends[_MINDING].minds:
        yield from _pulley_at_ratchet(line.haul, number, _MINDING)


def _pulley_at_ratchet(haul: Haul, number: int, kind: str) -> Iterator[Mend]:
    anchored = [place.id for place in bends(haul.system) if haul.system.nodes.get(place.node) == "anchor"]
    if anchored:
        chosen = {**haul.bends, anchored[0]: kind}
        yield _set("bend", f"/lines/{number}/haul/bends", chosen, what=catalogue().bends[kind].name, at=anchored[0])


def _runs_through(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    assert line.haul is not None
    if line.haul.capture in catalogue().bends[_MINDING].minds:
        yield from _pulley_at_ratchet(line.haul, number, _MINDING)
    yield from _minder(found, plan)


def _list_person(found: Found, plan: Plan) -> Iterator[Mend]:
    who = str(found.values["person"])
    yield Mend("list-person", (Edit("add", "/team/people/-", {"name": who, "role": "other"}),), {"who": who})


# One thing alone


def _own_anchor(found: Found, plan: Plan) -> Iterator[Mend]:
    """The belay, or the second rope, onto an anchor of its own."""
    bearing = [(n, one) for n, one in enumerate(plan.lines) if one.role in ("belay", "second")]
    for number, line in bearing[:1]:
        yield from _to_other_anchor(plan, f"/lines/{number}/anchor", "own-anchor", line.anchor)


def _to_other_anchor(plan: Plan, path: str, kind: str, now: str) -> Iterator[Mend]:
    """A field that names an anchor, put onto one that nothing else is on: one there, or a new one on a good feature."""
    used = {name for line in plan.lines for name in named_by(line)} | {one.tied_to for one in plan.team.people}
    tied = {leg.feature for anchor in plan.anchors if anchor.id in used for leg in anchor.arrangement.legs}
    for anchor in plan.anchors:
        legs = {leg.feature for leg in anchor.arrangement.legs}
        if anchor.id not in used and not legs & tied and anchor.arrangement.pull is None:
            yield _set(kind, path, anchor.id, anchor=anchor.name)
            return
    best = _best_feature(plan, tied)
    if best is not None:
        made = _new_anchor(plan, best)
        values = {"anchor": plan.feature(best).name}
        yield Mend(kind, (Edit("add", "/anchors/-", made), Edit("replace", path, made["id"])), values)


def _best_feature(plan: Plan, tied: set[str]) -> str | None:
    """The feature that holds most, of those that nothing is tied to yet."""
    held = {
        one.id: found.strength_n.low
        for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not kind_of(one).temporary and not kind_of(one).pushes
        and (found := estimate(one)).strength_n is not None
    }  # fmt: skip
    return max(held, key=lambda id: held[id], default=None)


def _new_anchor(plan: Plan, feature: str) -> dict[str, Any]:
    """A new anchor on one feature: webbing wrapped three times, two pulled, its point a metre in front."""
    there, taken = plan.feature(feature), {one.id for one in plan.anchors}
    id = next(name for n in range(1, 99) if (name := f"anchor-{n}") not in taken)
    ways = {one.id for _, _, one in plan.arrangements()}
    way = next(name for n in range(1, 99) if (name := f"way-{n}") not in ways)
    leg = Leg(feature=feature, method="wrap-pull", material="tubular-25", turns=3)
    point = {"x_m": there.x_m + 1.5, "y_m": there.y_m, "z_m": there.z_m}
    arrangement = {
        "id": way, "name": there.name, "scheme": "single", "point": point, "connector": "screw-link-10",
        "legs": [leg.model_dump(mode="json")],
    }  # fmt: skip
    return {"id": id, "name": f"Anchor on {there.name}", "alternatives": [arrangement], "taken": way}


def _belay(found: Found, plan: Plan) -> Iterator[Mend]:
    """A belay on a rope and an anchor of its own."""
    main = plan.line("main") or (plan.lines[0] if plan.lines else None)
    if main is None or plan.line("belay") or plan.line("second"):
        return
    rope = plan.rope(main.rope)
    taken = {one.id for one in plan.ropes} | {one.id for one in plan.lines}
    id = next(name for n in range(1, 99) if (name := "belay" if n == 1 else f"belay-{n}") not in taken)
    line = {
        "id": id, "role": "belay", "rope": id, "anchor": main.anchor, "tail_m": main.tail_m, "load_knot": main.load_knot,
        "load_connector": main.load_connector, "slack_m": 0.3,
        "belay": {"holds": "hitch", "what": "tandem-prusik-8", "releasing_m": _RELEASING_M, "minder": "".join(_free(plan)[:1])},
    }  # fmt: skip
    own = next(iter(_to_other_anchor(plan, "", "own-anchor", main.anchor)), None)
    edits: list[Edit] = []
    if own is not None:
        edits = [one for one in own.edits if one.path == "/anchors/-"]
        line["anchor"] = own.edits[-1].value
    edits += [
        Edit("add", "/ropes/-", {"id": id, "kind": rope.kind, "length_m": rope.length_m}),
        Edit("add", "/lines/-", line),
    ]
    yield Mend("belay", tuple(edits), {"anchor": own.values["anchor"] if own else ""})


# Strength


def _stronger(found: Found, plan: Plan) -> Iterator[Mend]:
    """More of what the part is made of, or the next stronger thing in the catalogue."""
    part = found.values["part"]
    if part.id.startswith("anchor:"):
        yield from _stronger_anchor(part, plan)
        return
    number, line = _at(plan, part.id.partition(":")[0])
    wanted = part.force_n.high * part.target
    if part.kind == "load-connector":
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
            yield _set("device", f"/lines/{number}/lowering/device", one.id, what=one.name)


def _next_up(table: str, path: str, now: str, wanted: float) -> Iterator[Mend]:
    entries = getattr(catalogue(), table)
    fit = sorted(
        (one for one in entries.values() if one.strength_n.low > entries[now].strength_n.low),
        key=lambda one: (one.strength_n.low < wanted, one.strength_n.low),
    )
    for one in fit[:1]:
        yield _set("take", path, one.id, what=one.name)


def _better_knot(path: str, now: str) -> Iterator[Mend]:
    loops = [
        one
        for one in catalogue().knots.values()
        if one.id.endswith("-loop") and one.keeps.low > catalogue().knots[now].keeps.low
    ]
    for one in sorted(loops, key=lambda one: -one.keeps.low)[:1]:
        yield _set("take", path, one.id, what=one.name)


def _stronger_bend(plan: Plan, number: int, line: Line, where: str) -> Iterator[Mend]:
    assert line.haul is not None
    if where in line.haul.bends or where in [place.id for place in bends(line.haul.system)]:
        yield _set(
            "bend",
            f"/lines/{number}/haul/bends",
            {**line.haul.bends, where: _PULLEY},
            what=catalogue().bends[_PULLEY].name,
            at=where,
        )


def _two_hitches(number: int, line: Line, part: Any) -> Iterator[Mend]:
    path = {
        "grab": "haul/grab", "capture": "haul/capture", "hitch": "lowering/brake_hitch", "belay": "belay/what",
        "cord": {"brake": "lowering/brake_hitch", "ratchet": "haul/capture", "belay": "belay/what"}.get(part.takes.rpartition(":")[2], "haul/grab"),
    }[part.kind]  # fmt: skip
    if part.kind == "belay" and line.belay and line.belay.holds != "hitch":
        return
    yield _set("take", f"/lines/{number}/{path}", "tandem-prusik-8", what=catalogue().hitches["tandem-prusik-8"].name)


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
    if part.kind == "attachment" and part.wants:
        leg = arrangement.legs[index]
        method = catalogue().attachments[leg.method]
        turns = (leg.turns or method.turns.usual) + math.ceil(part.wants / max(method.strands_per_turn, 1))
        if method.strands_per_turn and turns <= method.turns.most:
            yield _set("turns", f"{here}/legs/{index}/turns", turns, turns=turns)
        elif leg.method != "wrap-pull" and not catalogue().slings[leg.material].sewn:
            edits = (
                Edit("replace", f"{here}/legs/{index}/method", "wrap-pull"),
                Edit("replace", f"{here}/legs/{index}/turns", 4),
            )
            yield Mend("turns", edits, {"turns": 4})
    yield from _other_feature(plan, f"{here}/legs/{index}/feature", wanted)


def _other_feature(plan: Plan, path: str, wanted: float) -> Iterator[Mend]:
    """The leg onto the strongest feature that nothing is tied to."""
    used = {name for line in plan.lines for name in named_by(line)}
    tied = {leg.feature for anchor in plan.anchors if anchor.id in used for leg in anchor.arrangement.legs}
    best = _best_feature(plan, tied)
    if best is not None and (found := estimate(plan.feature(best)).strength_n) and found.low >= wanted:
        yield _set("feature", path, best, feature=plan.feature(best).name)


def _slip_less(found: Found, plan: Plan) -> Iterator[Mend]:
    part = found.values["part"]
    if part.kind in ("locked-device", "device"):
        number, _ = _at(plan, part.id.partition(":")[0])
        kinds = [one for one in catalogue().devices.values() if one.gives == "breaks" and one.mu is None]
        best = max(kinds, key=lambda one: one.holding().expected)
        edits = [Edit("replace", f"/lines/{number}/lowering/device", best.id)]
        edits.append(Edit("replace", f"/lines/{number}/lowering/brake_hitch", _HITCH))
        yield Mend("device", tuple(edits), {"what": best.name})
        return
    yield from _stronger(found, plan)


def _no_tie(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, str(found.values["line"]))
    yield _set("untie", f"/lines/{number}/{'belay' if line.belay else 'lowering'}/tied_behind_m", None)


def _something_slips(found: Found, plan: Plan) -> Iterator[Mend]:
    main = plan.line("main")
    if main is not None and main.lowering is not None:
        number, _ = _at(plan, main.id)
        yield _set(
            "device", f"/lines/{number}/lowering/device", "self-locking", what=catalogue().devices["self-locking"].name
        )


def _knot_out(found: Found, plan: Plan) -> Iterator[Mend]:
    values = found.values
    path = f"/ropes/{values['rope']}/damage/{values['number']}/taken_out"
    slick = catalogue().ropes[plan.ropes[values["rope"]].kind].slick
    inside = Edit("replace", f"{path.removesuffix('taken_out')}in_loop", "overhand" if slick else "connector")
    knot = catalogue().knots["butterfly-loop"]
    yield Mend("take-out", (Edit("replace", path, knot.id), inside), {"what": knot.name})


def _guy(found: Found, plan: Plan) -> Iterator[Mend]:
    """A guy from the head to a feature on the far side of the pull."""
    number = next(n for n, one in enumerate(plan.anchors) if one.id == found.values["anchor"])
    anchor = plan.anchors[number]
    at_way = next(n for n, one in enumerate(anchor.alternatives) if one.id == anchor.taken)
    made = anchor.arrangement
    tied = {leg.feature for one in plan.anchors for leg in one.arrangement.legs}
    behind = [
        one for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not kind_of(one).pushes and not kind_of(one).temporary
        and one.x_m < made.point.x_m - 0.5
    ]  # fmt: skip
    for one in sorted(behind, key=lambda one: abs(one.y_m - made.point.y_m))[:1]:
        leg = Leg(
            feature=one.id, method="wrap-pull", material="tubular-25", turns=3, extension="rope-11", pretension_n=300
        )
        edit = Edit("add", f"/anchors/{number}/alternatives/{at_way}/legs/-", leg.model_dump(mode="json"))
        yield Mend("guy", (edit,), {"feature": one.name})


def _span(found: Found, plan: Plan) -> Iterator[Mend]:
    """Less pull on a tension line by what slips, or by more sag; more room by less sag, or a load hung shorter."""
    path, line = f"/tension_lines/{found.values['number']}", plan.tension_lines[found.values["number"]]
    slips = next(one for one in catalogue().devices.values() if one.gives == "slips")
    if found.kind == "span-low":
        short = round(max(0.3, line.hang_m - (1.0 - found.values["clear_m"])), 1)
        if short < line.hang_m:
            yield _set("hang", f"{path}/hang_m", short, length_m=short)
        tight = line.pretension_n + 1000
        yield _set("pretension", f"{path}/pretension_n", tight, force_n=tight)
        return
    if line.slips is None:
        yield _set("slips", f"{path}/slips", slips.id, what=slips.name)
    if found.kind == "span-below" and line.pretension_n > 0:
        yield _set("pretension", f"{path}/pretension_n", 0.0, force_n=0.0)


def _join_clear(found: Found, plan: Plan) -> Iterator[Mend]:
    """The join a metre nearer the load, so that it lies clear of what it was in."""
    values = found.values
    at = round(values["at_m"] - (1.0 if values["first"] else -1.0), 2)
    if 0 < at < plan.ropes[values["rope"]].length_m:
        yield _set("join-at", f"/ropes/{values['rope']}/joins/{values['number']}/at_m", at, length_m=at)


def _pad_lip(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.values["number"] is not None:
        pad = catalogue().surfaces["axe-pad"]
        yield _set("pad", f"/site/edges/{found.values['number']}/protection", pad.id, what=pad.name)


def _in_loop(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}/damage/{found.values['number']}/in_loop"
    if found.kind == "loop-slick":
        yield _set("in-loop", path, "overhand", what="Overhand in its loop")
    else:
        yield _set("in-loop", path, "connector", what="Connector in its loop")


def _other_rope(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}"
    yield Mend("other-rope", (Edit("replace", f"{path}/age_years", None), Edit("replace", f"{path}/wear", "used")))


_MADE = {
    "grab": "haul/grab_made",
    "capture": "haul/capture_made",
    "brake": "lowering/hitch_made",
    "belay": "belay/made",
}


def _retied(found: Found, plan: Plan) -> Iterator[Mend]:
    """The hitch tied as it should be, in the one thing that was found."""
    number, line = _at(plan, _of(found))
    here = next(one for one in hitches_of(line) if one.place == found.values["place"])
    path, rope = f"/lines/{number}/{_MADE[here.place]}", catalogue().ropes[plan.rope(line.rope).kind]

    def made(kind: str, change: dict[str, Any], **values: Any) -> Mend:
        return _set(kind, path, {**here.made.model_dump(), **change}, **values)

    if found.kind in ("wraps-many", "wraps-few") or (found.kind == "breaks-first" and here.made.wraps):
        yield made("wraps", {"wraps": None}, wraps=here.hitch.wraps)
    if found.kind in ("cord-thick", "breaks-first"):
        for cord in _cords_that_fit(here, rope)[:1]:
            yield made("cord", {"cord": cord.id, "cord_length_m": None}, what=cord.name)
    elif found.kind == "cord-short":
        long = math.ceil(found.values["wanted_m"] * 10 - 1e-9) / 10
        yield made("cord-length", {"cord_length_m": long}, length_m=long)
    elif found.kind == "knot-on-rope":
        yield made("knot-off", {"knot_on_rope": False})
    elif found.kind == "glazed":
        yield made("new-cord", {"glazed": False})


def _cords_that_fit(here: HitchPlace, rope: RopeKind) -> list[SlingMaterial]:
    """Cords that grip this rope and slip before they break, thickest first."""
    found = []
    for cord in catalogue().slings.values():
        if not cord.cord or cord.slick or too_thick(cord, rope):
            continue
        held = hitch_hold(here.hitch, here.made.model_copy(update={"cord": cord.id}), rope)
        if held.slip_n is not None and held.breaks_n.expected >= held.slip_n.expected:
            found.append(cord)
    return sorted(found, key=lambda one: -one.thickness_m)


def _uncrowd(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    if found.values["at"] == "load":
        edits = (
            Edit("replace", f"/lines/{number}/load_connector_crowded", False),
            Edit("replace", f"/lines/{number}/load_connector", "steel"),
        )
        yield Mend("uncrowd", edits, {"what": catalogue().connectors["steel"].name})
    else:
        yield _set("uncrowd", f"/lines/{number}/lowering/crowded", False, what="Larger connector")


def _doubled(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    device = catalogue().devices["super-munter"]
    yield _set("device", f"/lines/{number}/lowering/device", device.id, what=device.name)


def _bend_knot(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}/joins/{found.values['number']}/knot"
    yield _set("take", path, "double-fisherman", what=catalogue().knots["double-fisherman"].name)


def _tail(found: Found, plan: Plan) -> Iterator[Mend]:
    tail = math.ceil(found.values["wanted_m"] * 20 - 1e-9) / 20
    path = f"/ropes/{found.values['rope']}/joins/{found.values['number']}/tail_m"
    yield _set("tail", path, tail, length_m=tail)


# Lowering and raising


def _more_friction(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    hand, grip = found.values["hand"], catalogue().hand_hold_n
    now = next(one for one in catalogue().devices.values() if one.name == found.values["device"])
    lowering = plan.lines[number].lowering
    ratio = now.holding(lowering.turns if lowering else None)
    at_device = hand.high * ratio.low, hand.low * ratio.high
    fit = [
        one for one in catalogue().devices.values()
        if not one.self_locking and one.mu is None and one.id != now.id and at_device[0] / one.holding().low <= grip.low
        and at_device[1] / one.holding().high >= (0 if found.kind == "hand-too-much" else catalogue().device_runs_n)
    ]  # fmt: skip
    for one in sorted(fit, key=lambda one: one.holding().expected)[:2]:
        yield _set("device", f"/lines/{number}/lowering/device", one.id, what=one.name)
    if not fit:
        yield _set(
            "device", f"/lines/{number}/lowering/device", "self-locking", what=catalogue().devices["self-locking"].name
        )


def _hauled(plan: Plan) -> tuple[int, Line, Haul] | None:
    return next(((n, one, one.haul) for n, one in enumerate(plan.lines) if one.haul), None)


def _all_pulleys(found: Found, plan: Plan) -> Iterator[Mend]:
    there = _hauled(plan)
    if there is None:
        return
    number, _, haul = there
    worse = [place.id for place in bends(haul.system) if haul.bends.get(place.id, "unknown") not in (_PULLEY, _MINDING)]
    if worse:
        chosen = {**haul.bends, **dict.fromkeys(worse, _PULLEY)}
        yield _set(
            "bend", f"/lines/{number}/haul/bends", chosen, what=catalogue().bends[_PULLEY].name, at=", ".join(worse)
        )
    shorter = drop_redirect(haul.system)
    if shorter is not None and found.kind == "worse-than-straight":
        yield from _system(number, haul, shorter)


def _bigger(found: Found, plan: Plan) -> Iterator[Mend]:
    """Pulleys first, then a 2:1 stacked on the haul strand."""
    yield from _all_pulleys(found, plan)
    there = _hauled(plan)
    if there is None:
        return
    number, _, haul = there
    try:
        yield from _system(number, haul, stack(haul.system, catalogue().systems["drop-2"]), _PULLEY)
    except Refused:
        return


def _system(number: int, haul: Haul, system: Any, kind: str | None = None) -> Iterator[Mend]:
    kept = {place.id: haul.bends.get(place.id, kind or "unknown") for place in bends(system)}
    standing = {node: anchor for node, anchor in haul.anchors.items() if system.nodes.get(node) == "anchor"}
    changed = haul.model_copy(update={"system": system, "bends": kept, "anchors": standing})
    yield _set("system", f"/lines/{number}/haul", changed.model_dump(mode="json"), what=system.name)


def _fewer_pull(found: Found, plan: Plan) -> Iterator[Mend]:
    most = math.floor(found.values["ceiling"] / found.values["ideal"] + 1e-9)
    if most >= 1:
        yield _set("haulers", "/team/haulers", most, count=most)


def _say_bend(found: Found, plan: Plan) -> Iterator[Mend]:
    there = _hauled(plan)
    if there is None:
        return
    number, _, haul = there
    at = str(found.values["bend"])
    for kind in (_PULLEY, "carabiner"):
        yield _set(
            "bend", f"/lines/{number}/haul/bends", {**haul.bends, at: kind}, what=catalogue().bends[kind].name, at=at
        )


def _longer_rope(found: Found, plan: Plan) -> Iterator[Mend]:
    line = found.about.partition(":")[0]
    _, of = _at(plan, line)
    at = next(n for n, one in enumerate(plan.ropes) if one.id == of.rope)
    wanted = math.ceil(found.values["needed_m"] / 10 - 1e-9) * 10
    yield _set("longer-rope", f"/ropes/{at}/length_m", wanted, length_m=wanted)


def _less_slack(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, str(found.values["by"]))
    if line.slack_m > _SLACK_M:
        yield _set("slack", f"/lines/{number}/slack_m", _SLACK_M, length_m=_SLACK_M)


def _grip_more(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.level == "note":
        return
    number, line = _at(plan, str(found.values["by"]))
    if line.belay and line.belay.holds == "hitch" and line.belay.what != "tandem-prusik-8":
        yield _set(
            "take", f"/lines/{number}/belay/what", "tandem-prusik-8", what=catalogue().hitches["tandem-prusik-8"].name
        )
    yield from _less_slack(found, plan)


def _by_device(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    edits = (
        Edit("replace", f"/lines/{number}/belay/holds", "device"),
        Edit("replace", f"/lines/{number}/belay/what", "self-locking"),
    )
    yield Mend("device", edits, {"what": catalogue().devices["self-locking"].name})


def _releasing(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    if found.kind == "capture-release":
        yield _set("releasing", f"/lines/{number}/haul/capture_releasing_m", _RELEASING_M, length_m=_RELEASING_M)
    elif line.belay and line.belay.holds == "hitch":
        yield _set("releasing", f"/lines/{number}/belay/releasing_m", _RELEASING_M, length_m=_RELEASING_M)
    elif line.belay:
        yield from _by_device(found, plan)


def _lower_on(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    for one in ("super-munter", "self-locking"):
        hitch = None if catalogue().devices[one].self_locking else _HITCH
        value = {"device": one, "brake_hitch": hitch, "minder": ""}
        yield _set("device", f"/lines/{number}/lowering", value, what=catalogue().devices[one].name)


# Geometry


def _pad(found: Found, plan: Plan) -> Iterator[Mend]:
    for id in ("canvas-pad", "edge-roller"):
        yield _set("pad", f"/site/edges/{found.values['number']}/protection", id, what=catalogue().surfaces[id].name)


def _enter_edge(found: Found, plan: Plan) -> Iterator[Mend]:
    x, z = found.values["x_m"], found.values["z_m"]
    edge = {"name": f"Edge {x:.0f} m out", "x_m": x, "z_m": z, "surface": plan.site.surface, "protection": "canvas-pad"}
    yield Mend("enter-edge", (Edit("add", "/site/edges/-", edge),), {"what": catalogue().surfaces["canvas-pad"].name})


def _shorter_hitch(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    assert line.lowering is not None
    out = round(line.lowering.hitch_m + line.lowering.slack_m + 0.2, 2)
    yield _set("device-out", f"/lines/{number}/lowering/out_m", out, length_m=out)


def _reach(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = _at(plan, _of(found))
    yield _set("reach", f"/lines/{number}/haul/reach_m", None)


def _shorter_haul(found: Found, plan: Plan) -> Iterator[Mend]:
    values = found.values
    number, line = _at(plan, _of(found))
    assert line.haul is not None
    clear = catalogue().clearance_m
    reach = max(2 * clear, clear + (values["rise_m"]) * values["way_m"] / values["through_m"])
    yield _set("reach", f"/lines/{number}/haul/reach_m", round(math.floor(reach * 20) / 20, 2), length_m=reach)


def _turn_walk(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, str(found.values["of"]))
    if line.haul is not None:
        now = line.haul.walk_rad or 0.0
        other = now + math.pi if now <= 0 else now - math.pi
        yield _set("walk", f"/lines/{number}/haul/walk_rad", other)


def _apart(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = _at(plan, _of(found))
    if line.haul is not None and line.haul.redirects:
        edits = (
            Edit("replace", f"/lines/{number}/haul/redirects", []),
            Edit("replace", f"/lines/{number}/haul/walk_rad", None),
        )
        yield Mend("straight-back", edits)


# Anchors


def _leg_path(found: Found, plan: Plan) -> str:
    for a, anchor in enumerate(plan.anchors):
        for b, one in enumerate(anchor.alternatives):
            if one.id == found.values["arrangement"]:
                return f"/anchors/{a}/alternatives/{b}"
    raise LookupError(found.values["arrangement"])


def _retie(found: Found, plan: Plan) -> Iterator[Mend]:
    path = _leg_path(found, plan)
    yield from _other_feature(plan, f"{path}/legs/{found.values.get('leg', 0)}/feature", 0.0)


def _guard(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.values["who"]:
        return
    at = next(n for n, one in enumerate(plan.features) if one.id == found.values["feature"])
    for who in _free(plan)[:2]:
        yield _set("guard", f"/features/{at}/guard", who, who=who)


def _link(found: Found, plan: Plan) -> Iterator[Mend]:
    for id in ("screw-link-10", "rigging-plate"):
        yield _set("take", f"{_leg_path(found, plan)}/connector", id, what=catalogue().connectors[id].name)


def _tight(found: Found, plan: Plan) -> Iterator[Mend]:
    yield _set("tight", f"{_leg_path(found, plan)}/legs/{found.values['leg']}/pretension_n", 1000.0)


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
        yield _set("tail-behind", f"{tie}/tail_to", "anchor-behind")
    elif found.kind == "half-hitch":
        yield _set("finish", f"{tie}/finish", "releasable-hitch")
    else:
        yield _set("free-device", f"{_leg_path(found, plan)}/span/slips", None, what=found.values["device"])


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


# People


def _tie_in(found: Found, plan: Plan) -> Iterator[Mend]:
    now = str(found.values.get("anchor", ""))
    yield from _to_other_anchor(plan, f"/team/people/{found.values['number']}/tied_to", "tie-in", now)


def _aside(found: Found, plan: Plan) -> Iterator[Mend]:
    """Those below moved well to the side of the load's way down."""
    edits = [
        Edit("replace", f"/team/people/{n}/at/y_m", one.at.y_m + math.copysign(_ASIDE_M, one.at.y_m))
        for n, one in enumerate(plan.team.people)
        if one.at and one.name in found.values["people"]
    ]
    yield Mend("aside", tuple(edits), {"length_m": _ASIDE_M})


_MENDERS: dict[str, Mender] = {
    "hands-off-lower": _brake_hitch, "hands-off-raise": _capture, "hands-alone": _hands_alone, "falls": _lower_on, "unminded": _ratchet_minder,
    "runs-through-bend": _runs_through, "brake-unminded": _minder, "belay-unminded": _minder, "two-jobs": _minder,
    "not-there": _list_person, "belay-by-hands": _by_device, "single": _belay, "nothing-catches": _belay, "shared-plate": _own_anchor,
    "shared-feature": _own_anchor, "below": _stronger, "slips-under-load": _slip_less, "cap-defeated": _no_tie, "no-cap": _something_slips,
    "knot-inside": _join_clear, "bitten": _pad_lip, "span-below": _span, "span-low": _span, "span-unlimited": _span, "frame-tips": _guy, "loop-slick": _in_loop, "loop-open": _in_loop, "too-old": _other_rope, "worn": _other_rope, "crowded": _uncrowd, "twists": _doubled,
    "wraps-many": _retied, "wraps-few": _retied, "cord-thick": _retied, "cord-short": _retied, "knot-on-rope": _retied, "glazed": _retied,
    "breaks-first": _retied, "damage-in-pull": _knot_out, "no-bend": _bend_knot, "tail-short": _tail, "tail-unsaid": _tail, "hand-too-much": _more_friction,
    "may-not-run": _more_friction, "worse-than-straight": _all_pulleys, "too-few-haulers": _bigger, "people-ceiling": _fewer_pull,
    "unsaid": _say_bend, "short": _longer_rope, "reaches-ground": _less_slack, "does-not-stop": _grip_more, "belay-test": _grip_more,
    "release-missing": _releasing, "release-tied": _lower_on, "capture-release": _releasing, "bare-edge": _pad, "bare-corner": _enter_edge,
    "reaches-device": _shorter_hitch, "grab-over-edge": _reach, "no-stroke": _reach, "way-short": _shorter_haul, "way-crossed": _turn_walk,
    "strands-touch": _apart, "rejected": _retie, "temporary-last": _retie, "guard": _guard, "three-ways": _link, "across-gate": _link,
    "loose-tie": _tight, "closing": _wrap, "axle": _tie_off, "half-hitch": _tie_off, "limited-behind": _tie_off, "wide": _gather_further,
    "untied": _tie_in, "tied-to-load": _tie_in, "people-below": _aside,
}  # fmt: skip
