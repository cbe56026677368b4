"""Changes that would mend something, as edits of the document that can be made and taken back: what several checks offer."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, bends
from rigging.document import Haul, Leg, Plan
from rigging.document.edits import Edit
from rigging.judging.pulls import named_by, tied_to
from rigging.lines.parts import bend_at_ratchet
from rigging.lines.people import JobKind, jobs
from rigging.site.features import estimate, kind_of, rejected_because

PULLEY, MINDING, HITCH = "ball-bearing-pulley", "minding-pulley", "french-8"
RELEASING_M = 1.0
_SLACK_M = 0.1
_FREE_ROLES = ("other", "main", "belay", "ratchet", "edge", "haul", "writer")


@dataclass(frozen=True)
class Mend:
    """A change that would mend something: its kind, the values that name it, and its edits."""

    kind: str
    edits: tuple[Edit, ...]
    values: dict[str, Any] = field(default_factory=dict)


def setting(kind: str, path: str, value: Any, **values: Any) -> Mend:
    """One field set."""
    return Mend(kind, (Edit("replace", path, value),), values)


def line_number(plan: Plan, line: str) -> int:
    """Where a line stands in the document."""
    return next(number for number, one in enumerate(plan.lines) if one.id == line)


def rope_number(plan: Plan, rope: str) -> int:
    """Where a rope stands in the document."""
    return next(number for number, one in enumerate(plan.ropes) if one.id == rope)


# What holds


def device(line: int, id: str) -> Mend:
    """Another device to lower with."""
    return setting("device", f"/lines/{line}/lowering/device", id, what=catalogue().devices[id].name)


def brake_hitch(plan: Plan, line: int) -> Iterator[Mend]:
    """A hitch on the brake side, or a device that holds by itself."""
    path, lowering = f"/lines/{line}/lowering/brake_hitch", plan.lines[line].lowering
    yield setting("brake-hitch", path, HITCH, what=catalogue().hitches[HITCH].name)
    if lowering and not catalogue().devices[lowering.device].self_locking:
        yield device(line, "self-locking")


def lowered_on(line: int) -> Iterator[Mend]:
    """A line let down on a device."""
    for id in ("super-munter", "self-locking"):
        one = catalogue().devices[id]
        value = {"device": id, "brake_hitch": None if one.self_locking else HITCH, "minder": ""}
        yield setting("device", f"/lines/{line}/lowering", value, what=one.name)


def ratchet(plan: Plan, line: int) -> Iterator[Mend]:
    """A progress capture, and who minds it."""
    path, hitch = f"/lines/{line}/haul", catalogue().hitches["prusik-8"]
    edits, who = [Edit("replace", f"{path}/capture", hitch.id)], "".join(free_people(plan)[:1])
    if who:
        edits.append(Edit("replace", f"{path}/capture_minder", who))
    yield Mend("capture", tuple(edits), {"what": hitch.name, "who": who})


def locking_belay(line: int) -> Mend:
    """A belay by a device that locks by itself."""
    path, locks = f"/lines/{line}/belay", catalogue().devices["self-locking"]
    edits = Edit("replace", f"{path}/holds", "device"), Edit("replace", f"{path}/what", locks.id)
    return Mend("device", edits, {"what": locks.name})


def gripping_more(plan: Plan, line: int) -> Iterator[Mend]:
    """A belay that grips more."""
    belay, two = plan.lines[line].belay, catalogue().hitches["tandem-prusik-8"]
    if belay and belay.holds == "hitch" and belay.what != two.id:
        yield setting("take", f"/lines/{line}/belay/what", two.id, what=two.name)
    if belay and belay.holds == "device" and not catalogue().devices[belay.what].self_locking:
        yield locking_belay(line)


def drawn_in(plan: Plan, line: int) -> Iterator[Mend]:
    """Less slack in a line."""
    if plan.lines[line].slack_m > _SLACK_M:
        yield setting("slack", f"/lines/{line}/slack_m", _SLACK_M, length_m=_SLACK_M)


def belay_added(plan: Plan) -> Iterator[Mend]:
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


# Who minds it


def free_people(plan: Plan) -> list[str]:
    """People who mind nothing yet; the leader does not pull and minds nothing."""
    busy = {one.who for line in plan.lines for one in jobs(line) if one.who}
    there = [one for one in plan.team.people if one.name not in busy and one.role not in ("leader", "attendant")]
    return [one.name for one in sorted(there, key=lambda one: _FREE_ROLES.index(one.role))]


def minder(plan: Plan, line: str, job: JobKind) -> Iterator[Mend]:
    """Somebody free for a job."""
    number = line_number(plan, line)
    named = next(one.field for one in jobs(plan.lines[number]) if one.job == job)
    for who in free_people(plan)[:2]:
        yield setting("minder", f"/lines/{number}/{named}", who, who=who, job=job)


def minding_pulley(plan: Plan, line: str) -> Iterator[Mend]:
    """A pulley that minds the ratchet, where it does mind such a one."""
    number = line_number(plan, line)
    haul, kind = plan.lines[number].haul, catalogue().bends[MINDING]
    place = bend_at_ratchet(haul) if haul and haul.capture in kind.minds else None
    if haul and place:
        chosen = {**haul.bends, place: kind.id}
        yield setting("bend", f"/lines/{number}/haul/bends", chosen, what=kind.name, at=place)


# Anchors


def own_anchor(plan: Plan) -> Iterator[Mend]:
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


def other_feature(plan: Plan, path: str, wanted_n: float) -> Iterator[Mend]:
    """The leg onto the strongest feature that nothing is tied to."""
    best = best_feature(plan, tied_to(plan))
    if best is not None and (found := estimate(plan.feature(best)).strength_n) and found.low >= wanted_n:
        yield setting("feature", path, best, feature=plan.feature(best).name)


def _new_anchor(plan: Plan, feature: str) -> dict[str, Any]:
    """A new anchor on one feature: webbing wrapped three times, two pulled, its point a metre in front."""
    there, taken = plan.feature(feature), {one.id for one in plan.anchors}
    id = next(name for n in range(1, 99) if (name := f"anchor-{n}") not in taken)
    ways = {one.id for _, _, one in plan.arrangements()}
    way = next(name for n in range(1, 99) if (name := f"way-{n}") not in ways)
    leg = Leg(feature=feature, method="wrap-pull", material="tubular-25", turns=3)
    point = {"x_m": there.x_m + 1.5, "y_m": there.y_m, "z_m": there.z_m}
    arrangement = {
        "id": way, "name": there.name, "scheme": catalogue().usual_scheme(1).id, "point": point, "connector": "screw-link-10",
        "legs": [leg.model_dump(mode="json")],
    }  # fmt: skip
    return {"id": id, "name": f"Anchor on {there.name}", "alternatives": [arrangement], "taken": way}


# Hauling


def hauling_number(plan: Plan) -> int | None:
    """Where the first line that hauls stands in the document."""
    return next((number for number, one in enumerate(plan.lines) if one.haul), None)


def all_pulleys(plan: Plan) -> Iterator[Mend]:
    """Good pulleys at every bend of the haul."""
    number = hauling_number(plan)
    haul = plan.lines[number].haul if number is not None else None
    if haul is None:
        return
    worse = [place.id for place in bends(haul.system) if haul.bends.get(place.id, "unknown") not in (PULLEY, MINDING)]
    if worse:
        chosen, what = {**haul.bends, **dict.fromkeys(worse, PULLEY)}, catalogue().bends[PULLEY].name
        yield setting("bend", f"/lines/{number}/haul/bends", chosen, what=what, at=", ".join(worse))


def other_system(line: int, haul: Haul, system: HaulSystem, kind: str = "unknown") -> Mend:
    """The haul by another system, bends kept where it has the same, `kind` at the others."""
    kept = {place.id: haul.bends.get(place.id, kind) for place in bends(system)}
    standing = {node: anchor for node, anchor in haul.anchors.items() if system.nodes.get(node) == "anchor"}
    changed = haul.model_copy(update={"system": system, "bends": kept, "anchors": standing})
    return setting("system", f"/lines/{line}/haul", changed.model_dump(mode="json"), what=system.name)


def straight_back(line: int) -> Mend:
    """A line hauled straight back: without its redirects."""
    edits = Edit("replace", f"/lines/{line}/haul/redirects", []), Edit("replace", f"/lines/{line}/haul/walk_rad", None)
    return Mend("straight-back", edits)


def as_far_as_it_goes(line: int) -> Mend:
    """The haul grab set as far forward as the edge allows."""
    return setting("reach", f"/lines/{line}/haul/reach_m", None)


def turned_round(plan: Plan, line: int) -> Iterator[Mend]:
    """The haulers' way the other way."""
    haul = plan.lines[line].haul
    if haul is not None:
        now = haul.walk_rad or 0.0
        yield setting("walk", f"/lines/{line}/haul/walk_rad", now + math.pi if now <= 0 else now - math.pi)


# Ropes


def another_rope(plan: Plan, rope: str) -> Mend:
    """Another rope, looked at, in its place."""
    path = f"/ropes/{rope_number(plan, rope)}"
    return Mend("other-rope", (Edit("replace", f"{path}/age_years", None), Edit("replace", f"{path}/wear", "used")))


def damage_tied_out(plan: Plan, rope: str, number: int) -> Mend:
    """A damaged place in the loop of a knot that takes it out in line."""
    at, knot = rope_number(plan, rope), catalogue().knots["butterfly-loop"]
    slick = catalogue().ropes[plan.ropes[at].kind].slick
    path = f"/ropes/{at}/damage/{number}"
    inside = Edit("replace", f"{path}/in_loop", "overhand" if slick else "connector")
    return Mend("take-out", (Edit("replace", f"{path}/taken_out", knot.id), inside), {"what": knot.name})


def joined_by(plan: Plan, rope: str, number: int, knot: str) -> Mend:
    """A join by another knot."""
    path = f"/ropes/{rope_number(plan, rope)}/joins/{number}/knot"
    return setting("take", path, knot, what=catalogue().knots[knot].name)


def tails(plan: Plan, rope: str, number: int, wanted_m: float) -> Mend:
    """A join tied with tails as long as they have to be."""
    tail = math.ceil(wanted_m * 20 - 1e-9) / 20
    return setting("tail", f"/ropes/{rope_number(plan, rope)}/joins/{number}/tail_m", tail, length_m=tail)
