"""Mends of what hangs on hands or on one thing: hitches, who minds them, anchors of their own, a belay."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rigging.advice.mends.mend import HITCH, MINDING, RELEASING_M, Mend, Mender, line_at, line_of, setting
from rigging.catalogue import catalogue
from rigging.document import Haul, Leg, Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found
from rigging.judging.people import jobs
from rigging.judging.pulls import named_by
from rigging.lines.parts import bend_at_ratchet
from rigging.site.features import estimate, kind_of, rejected_because

_FREE_ROLES = ("other", "main", "belay", "ratchet", "edge", "haul", "writer")


def _brake_hitch(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    yield setting("brake-hitch", f"/lines/{number}/lowering/brake_hitch", HITCH, what=catalogue().hitches[HITCH].name)
    if line.lowering and line.lowering.device != "self-locking":
        yield setting(
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
    number, _ = line_at(plan, line_of(found))
    edits = (Edit("replace", f"/lines/{number}/haul/capture", "prusik-8"),)
    for who in free_people(plan)[:1]:
        named = (*edits, Edit("replace", f"/lines/{number}/haul/capture_minder", who))
        yield Mend("capture", named, {"what": catalogue().hitches["prusik-8"].name, "who": who})
    if not free_people(plan):
        yield Mend("capture", edits, {"what": catalogue().hitches["prusik-8"].name, "who": ""})


def free_people(plan: Plan) -> list[str]:
    """People who mind nothing yet; the leader does not pull and minds nothing."""
    busy = {who for line in plan.lines for _, who, _ in jobs(line) if who}
    there = [one for one in plan.team.people if one.name not in busy and one.role not in ("leader", "attendant")]
    return [one.name for one in sorted(there, key=lambda one: _FREE_ROLES.index(one.role))]


def _minder(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    job = str(found.values.get("job", "ratchet"))
    field = next(field for name, _, field in jobs(line) if name == job)
    for who in free_people(plan)[:2]:
        yield setting("minder", f"/lines/{number}/{field}", who, who=who, job=job)


def _ratchet_minder(found: Found, plan: Plan) -> Iterator[Mend]:
    yield from _minder(found, plan)
    number, line = line_at(plan, line_of(found))
    assert line.haul is not None
    if line.haul.capture in catalogue().bends[MINDING].minds:
        yield from _pulley_at_ratchet(line.haul, number, MINDING)


def _pulley_at_ratchet(haul: Haul, number: int, kind: str) -> Iterator[Mend]:
    place = bend_at_ratchet(haul)
    if place:
        chosen = {**haul.bends, place: kind}
        yield setting("bend", f"/lines/{number}/haul/bends", chosen, what=catalogue().bends[kind].name, at=place)


def _ratchet_on_line(found: Found, plan: Plan) -> Iterator[Mend]:
    """The ratchet on the load's own strand, so that the grab can be set forward."""
    number, line = line_at(plan, found.values["line"])
    if line.haul and line.haul.capture and line.haul.capture_on == "haul":
        yield setting("capture-on", f"/lines/{number}/haul/capture_on", "line")


def _runs_through(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    assert line.haul is not None
    if line.haul.capture in catalogue().bends[MINDING].minds:
        yield from _pulley_at_ratchet(line.haul, number, MINDING)
    yield from _minder(found, plan)


def _list_person(found: Found, plan: Plan) -> Iterator[Mend]:
    who = str(found.values["person"])
    yield Mend("list-person", (Edit("add", "/team/people/-", {"name": who, "role": "other"}),), {"who": who})


def _own_anchor(found: Found, plan: Plan) -> Iterator[Mend]:
    """The belay, or the second rope, onto an anchor of its own."""
    bearing = [(n, one) for n, one in enumerate(plan.lines) if one.role in ("belay", "second")]
    for number, line in bearing[:1]:
        yield from to_other_anchor(plan, f"/lines/{number}/anchor", "own-anchor", line.anchor)


def to_other_anchor(plan: Plan, path: str, kind: str, now: str) -> Iterator[Mend]:
    """A field that names an anchor, put onto one that nothing else is on: one there, or a new one on a good feature."""
    used = {name for line in plan.lines for name in named_by(line)} | {one.tied_to for one in plan.team.people}
    tied = {leg.feature for anchor in plan.anchors if anchor.id in used for leg in anchor.arrangement.legs}
    for anchor in plan.anchors:
        legs = {leg.feature for leg in anchor.arrangement.legs}
        if anchor.id not in used and not legs & tied and anchor.arrangement.pull is None:
            yield setting(kind, path, anchor.id, anchor=anchor.name)
            return
    best = best_feature(plan, tied)
    if best is not None:
        made = _new_anchor(plan, best)
        values = {"anchor": plan.feature(best).name}
        yield Mend(kind, (Edit("add", "/anchors/-", made), Edit("replace", path, made["id"])), values)


def best_feature(plan: Plan, tied: set[str]) -> str | None:
    """The feature that holds most, of those that nothing is tied to yet."""
    held = {
        one.id: found.strength_n.low
        for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not rejected_because(one) and not kind_of(one).temporary and not kind_of(one).pushes
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
        "belay": {"holds": "hitch", "what": "tandem-prusik-8", "releasing_m": RELEASING_M, "minder": "".join(free_people(plan)[:1])},
    }  # fmt: skip
    own = next(iter(to_other_anchor(plan, "", "own-anchor", main.anchor)), None)
    edits: list[Edit] = []
    if own is not None:
        edits = [one for one in own.edits if one.path == "/anchors/-"]
        line["anchor"] = own.edits[-1].value
    edits += [
        Edit("add", "/ropes/-", {"id": id, "kind": rope.kind, "length_m": rope.length_m}),
        Edit("add", "/lines/-", line),
    ]
    yield Mend("belay", tuple(edits), {"anchor": own.values["anchor"] if own else ""})


MENDERS: dict[str, Mender] = {
    "hands-off-lower": _brake_hitch,
    "hands-off-raise": _capture,
    "hands-alone": _hands_alone,
    "unminded": _ratchet_minder,
    "runs-through-bend": _runs_through,
    "brake-unminded": _minder,
    "belay-unminded": _minder,
    "two-jobs": _minder,
    "not-there": _list_person,
    "no-reset": _ratchet_on_line,
    "single": _belay,
    "nothing-catches": _belay,
    "shares-feature": _own_anchor,
    "shared-plate": _own_anchor,
    "shared-feature": _own_anchor,
}
