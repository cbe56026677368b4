"""Every single change that could be made to a plan with what is in the bags, as edits, and what of the plan each one touches."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel, ValidationError

from rigging.advice.choices import hauled_with
from rigging.catalogue import Bend, catalogue
from rigging.catalogue.haul import HaulSystem, add_redirect, bends, drop_redirect, stack
from rigging.document import Anchor, Arrangement, Haul, Leg, Line, Lowering, Plan
from rigging.document.edits import Edit
from rigging.lines.hauling import reach_m
from rigging.lines.parts import minded
from rigging.lines.way import line_way
from rigging.quantities.faults import Refused
from rigging.site.features import kind_of, rejected_because

Touches = Literal["raising", "lowering", "holding"]
BACK_M = 2.0
_MOST_ROPES = 16


@dataclass(frozen=True)
class Change:
    """One change: its kind, the values that name it, its edits, the plan with it, and what it touches: the states that have to
    be worked out anew, what holds, and anchors whose legs are other ones."""

    kind: str
    values: dict[str, Any]
    edits: tuple[Edit, ...]
    plan: Plan
    touches: frozenset[Touches] = frozenset()
    anchors: frozenset[str] = field(default_factory=frozenset)


_UP: frozenset[Touches] = frozenset({"raising"})
_DOWN: frozenset[Touches] = frozenset({"lowering"})
_BOTH = _UP | _DOWN
_NOTHING: frozenset[Touches] = frozenset()
_HOLDING: frozenset[Touches] = frozenset({"holding"})


def changes(plan: Plan) -> Iterator[Change]:
    """Every change, in the order in which the load travels through what is changed."""
    for number, line in enumerate(plan.lines):
        yield from _at_load(plan, number, line)
        if line.lowering:
            yield from _lowering(plan, number, line, line.lowering)
        if line.haul:
            yield from _haul(plan, number, line, line.haul)
        yield from _belay(plan, number, line)
        yield from _redirects(plan, number, line)
    yield from _edges(plan)
    yield from _ropes(plan)
    yield from _second(plan)
    yield from _team(plan)
    yield from _anchors(plan)


def _replaced(plan: Plan, number: int, line: Line) -> Plan:
    return plan.model_copy(update={"lines": [*plan.lines[:number], line, *plan.lines[number + 1 :]]})


def _json(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, BaseModel) else value


def _on_line(
    plan: Plan, number: int, line: Line, field: str, value: Any, kind: str, touches: frozenset[Touches], **values: Any
) -> Change:
    """A change of one field of a line."""
    edits = (Edit("replace", f"/lines/{number}/{field}", _json(value)),)
    changed = _replaced(plan, number, line.model_copy(update={field: value}))
    return Change(kind, {"line": line.id, **values}, edits, changed, touches)


def _in(part: BaseModel, **update: Any) -> Any:
    return part.model_copy(update=update)


# At the load


def _at_load(plan: Plan, number: int, line: Line) -> Iterator[Change]:
    jobs = _jobs(line)
    for knot in catalogue().knots.values():
        if (
            knot.id != line.load_knot
            and not knot.bend
            and not knot.special
            and knot.id not in ("clove", "long-bight-overhand")
        ):
            yield _on_line(
                plan,
                number,
                line,
                "load_knot",
                knot.id,
                "load-knot",
                jobs,
                what=knot.name,
                now=line.load_knot,
            )
    for connector in catalogue().connectors.values():
        if connector.id != line.load_connector:
            yield _on_line(
                plan, number, line, "load_connector", connector.id, "load-connector", jobs, what=connector.name,
                now=line.load_connector,
            )  # fmt: skip


def _jobs(line: Line) -> frozenset[Touches]:
    found: frozenset[Touches] = frozenset()
    if line.lowering:
        found |= _DOWN
    return found | _UP if line.haul else found


# Lowering


def _lowering(plan: Plan, number: int, line: Line, now: Lowering) -> Iterator[Change]:
    def put(kind: str, touches: frozenset[Touches], what: str, **update: Any) -> Change:
        return _on_line(plan, number, line, "lowering", _in(now, **update), kind, touches, what=what, now=now.device)

    for device in catalogue().devices.values():
        if device.id != now.device and plan.offers("devices", device):
            held = {} if not device.self_locking else {"brake_hitch": None, "hitch_made": None}
            back = {} if device.self_locking or now.brake_hitch else {"brake_hitch": "french-8"}
            # What holds is asked anew only where something else grips than did.
            same = device.self_locking == catalogue().devices[now.device].self_locking and not back
            yield put(
                "device",
                _DOWN | (_NOTHING if same else _HOLDING),
                device.name,
                device=device.id,
                turns=None,
                **held,
                **back,
            )
    if not catalogue().devices[now.device].self_locking:
        for hitch in catalogue().hitches.values():
            if hitch.form == "hitch" and hitch.id != now.brake_hitch and plan.in_bags("hitches", hitch.id):
                yield put("brake-hitch", _NOTHING if now.brake_hitch else _HOLDING, hitch.name, brake_hitch=hitch.id)
        yield put("hands", _DOWN, "", hands=3 - now.hands)


# Raising


def _haul(plan: Plan, number: int, line: Line, now: Haul) -> Iterator[Change]:
    def put(kind: str, haul: Haul, touches: frozenset[Touches] = _UP, **values: Any) -> Change:
        return _on_line(plan, number, line, "haul", haul, kind, touches, **values)

    for place in bends(now.system):
        here = now.bends.get(place.id, "unknown")
        for bend in _bends(plan, here):
            chosen = {**now.bends, place.id: bend.id}
            yield put("bend", _in(now, bends=chosen), what=bend.name, at=place.id, now=catalogue().bends[here].name)
    for system in systems_beside(now.system):
        yield from _to_system(plan, put, now, system)
    for hitch in catalogue().hitches.values():
        if plan.in_bags("hitches", hitch.id):
            if hitch.id != now.grab and hitch.form != "device":
                yield put("grab", _in(now, grab=hitch.id), what=hitch.name)
            if hitch.id != now.capture:
                other = _in(now, capture=hitch.id)
                same = now.capture is not None and minded(other) == minded(now)
                yield put("capture", other, _UP | (_NOTHING if same else _HOLDING), what=hitch.name)
    yield from _set_back(plan, line, put, now)
    for index, redirect in enumerate(now.redirects):
        for bend in _bends(plan, redirect.bend):
            led = [_in(one, bend=bend.id) if n == index else one for n, one in enumerate(now.redirects)]
            yield put("redirect-bend", _in(now, redirects=led), what=bend.name, at=plan.anchor(redirect.anchor).name)
    if now.redirects:
        yield put("straight-back", _in(now, redirects=[], walk_rad=None))


Put = Callable[..., Change]


def systems_beside(now: HaulSystem) -> Iterator[tuple[str, HaulSystem]]:
    """Every other system, the same with another stacked on its haul strand, with and without a last redirect."""
    for system in catalogue().systems.values():
        if system.id != now.id:
            yield "system", system
    for id in ("drop-2", "z-3", "two-on-two-4"):
        try:
            yield "stack", stack(now, catalogue().systems[id])
        except ValueError:
            continue
    shorter = drop_redirect(now)
    if shorter is not None:
        yield "drop-redirect", shorter
    try:
        yield "add-redirect", add_redirect(now)
    except ValueError:
        return


def _to_system(plan: Plan, put: Put, now: Haul, made: tuple[str, HaulSystem]) -> Iterator[Change]:
    """Another system, its new bends on the best that is in the bags and on a bare connector."""
    kind, system = made
    if len(system.ropes) > _MOST_ROPES or (system.out_of_one and not plan.in_bags("bends", "slick-sling")):
        return
    best = next((one for one in ("ball-bearing-pulley", "bushing-pulley") if plan.in_bags("bends", one)), "carabiner")
    for bend in dict.fromkeys((best, "carabiner")):
        haul = hauled_with(now, system)
        told = {place.id: haul.bends.get(place.id, bend) for place in bends(system)}
        if bend != best and told == {place.id: haul.bends.get(place.id, best) for place in bends(system)}:
            continue
        yield put(kind, _in(haul, bends=told), what=system.name, on=catalogue().bends[bend].name)


def _set_back(plan: Plan, line: Line, put: Put, now: Haul) -> Iterator[Change]:
    """An anchor of the system that a moving part runs up to, set back behind the working point."""
    try:
        reach = reach_m(now, line_way(plan, line))
    except Refused:
        return
    for node, kind in now.system.nodes.items():
        station = now.system.station.get(node, 1.0) + BACK_M / reach
        if kind == "anchor" and node not in now.anchors and station <= 3 and not _is_first(now.system, node):
            system = _in(now.system, station={**now.system.station, node: station})
            yield put("set-back", _in(now, system=system), at=node, by_m=BACK_M)


def _is_first(system: HaulSystem, node: str) -> bool:
    """Whether the node is the anchor that the main rope itself turns at: it stays where the ratchet is."""
    return next((name for name, kind in system.nodes.items() if kind == "anchor"), None) == node


# Belay and redirects


def _belay(plan: Plan, number: int, line: Line) -> Iterator[Change]:
    if line.belay is None:
        return
    kinds: tuple[tuple[Literal["hitch", "device"], str], ...] = (
        ("hitch", "tandem-prusik-8"), ("hitch", "prusik-8"), ("device", "self-locking"), ("device", "munter"),
    )  # fmt: skip
    for holds, what in kinds:
        if (holds, what) != (line.belay.holds, line.belay.what):
            belay = _in(line.belay, holds=holds, what=what, made=None)
            name = catalogue().catching(holds, what).name
            yield _on_line(plan, number, line, "belay", belay, "belay", frozenset({"holding"}), what=name)


def _bends(plan: Plan, here: str) -> list[Bend]:
    """What may sit at a bend in place of what does."""
    return [
        one for one in catalogue().bends.values()
        if one.id not in (here, "unknown") and plan.offers("bends", one)
    ]  # fmt: skip


def _redirects(plan: Plan, number: int, line: Line) -> Iterator[Change]:
    for index, redirect in enumerate(line.redirects):
        for bend in _bends(plan, redirect.bend):
            led = [_in(one, bend=bend.id) if n == index else one for n, one in enumerate(line.redirects)]
            edits = (Edit("replace", f"/lines/{number}/redirects/{index}/bend", bend.id),)
            changed = _replaced(plan, number, _in(line, redirects=led))
            yield Change(
                "redirect-bend", {"what": bend.name, "at": plan.anchor(redirect.anchor).name, "line": line.id}, edits, changed,
                _jobs(line),
            )  # fmt: skip


# Ground, ropes, people


def _edges(plan: Plan) -> Iterator[Change]:
    for number, edge in enumerate(plan.site.edges):
        for surface in catalogue().surfaces.values():
            if (
                surface.role == "protection"
                and surface.id != edge.protection
                and plan.in_bags("protections", surface.id)
            ):
                laid = [
                    _in(one, protection=surface.id) if n == number else one for n, one in enumerate(plan.site.edges)
                ]
                edits = (Edit("replace", f"/site/edges/{number}/protection", surface.id),)
                changed = plan.model_copy(update={"site": _in(plan.site, edges=laid)})
                yield Change("edge", {"what": surface.name, "at": edge.name}, edits, changed, _BOTH)


def _ropes(plan: Plan) -> Iterator[Change]:
    for number, rope in enumerate(plan.ropes):
        jobs = frozenset[Touches]().union(*(_jobs(line) for line in plan.lines if line.rope == rope.id))
        for kind in catalogue().ropes.values():
            if kind.id != rope.kind and not kind.slick and plan.offers("ropes", kind):
                ropes = [_in(one, kind=kind.id) if n == number else one for n, one in enumerate(plan.ropes)]
                edits = (Edit("replace", f"/ropes/{number}/kind", kind.id),)
                yield Change(
                    "rope", {"what": kind.name, "rope": rope.id}, edits, plan.model_copy(update={"ropes": ropes}), jobs
                )


def _second(plan: Plan) -> Iterator[Change]:
    """A second rope, loaded alike with the main line."""
    main = plan.line("main")
    if main is None or main.lowering is None or plan.line("second") or len(plan.lines) >= 8 or len(plan.ropes) >= 12:
        return
    rope = _in(plan.rope(main.rope), id=_fresh("second", [one.id for one in plan.ropes]), joins=[], damage=[])
    line = _in(
        main, id=_fresh("second", [one.id for one in plan.lines]), role="second", rope=rope.id, end="first", haul=None,
        lowering=_in(main.lowering, minder=""),
    )  # fmt: skip
    edits = (Edit("add", "/ropes/-", _json(rope)), Edit("add", "/lines/-", _json(line)))
    changed = plan.model_copy(update={"ropes": [*plan.ropes, rope], "lines": [*plan.lines, line]})
    yield Change("second", {}, edits, changed, _BOTH | {"holding"})


def _fresh(stem: str, used: list[str]) -> str:
    return stem if stem not in used else next(f"{stem}-{n}" for n in range(2, 100) if f"{stem}-{n}" not in used)


def _team(plan: Plan) -> Iterator[Change]:
    for more in (1, 2):
        count = plan.team.haulers + more
        if count <= 100:
            edits = (Edit("replace", "/team/haulers", count),)
            yield Change(
                "haulers", {"count": count}, edits, plan.model_copy(update={"team": _in(plan.team, haulers=count)})
            )


# Anchors


def _anchors(plan: Plan) -> Iterator[Change]:
    for number, anchor in enumerate(plan.anchors):
        path = f"/anchors/{number}"
        for other in anchor.alternatives:
            if other.id != anchor.taken and other.pull is None:
                edits = (Edit("replace", f"{path}/taken", other.id),)
                yield _with_anchor(
                    plan, number, _in(anchor, taken=other.id), edits, "school", what=other.name, of=anchor.name
                )
        at = next(n for n, one in enumerate(anchor.alternatives) if one.id == anchor.taken)
        rigged = _rigged(anchor.arrangement, f"{path}/alternatives/{at}")
        for kind, made, edit, values in itertools.chain(
            rigged, _retied(plan, anchor.arrangement, f"{path}/alternatives/{at}")
        ):
            ways = [made if n == at else one for n, one in enumerate(anchor.alternatives)]
            yield _with_anchor(
                plan, number, _in(anchor, alternatives=ways), (edit,), kind, of=anchor.name, anchor=anchor.id, **values
            )


def _with_anchor(plan: Plan, number: int, rigged: Anchor, edits: tuple[Edit, ...], kind: str, **values: Any) -> Change:
    """A change of one anchor. One that moves the working point asks for every state anew."""
    anchors = [*plan.anchors[:number], rigged, *plan.anchors[number + 1 :]]
    moved = rigged.arrangement.point != plan.anchors[number].arrangement.point
    touches = _NOTHING if kind != "school" else _HOLDING
    touches |= _BOTH if moved else _NOTHING
    return Change(kind, values, edits, plan.model_copy(update={"anchors": anchors}), touches, frozenset({rigged.id}))


def _rigged(made: Arrangement, path: str) -> Iterator[tuple[str, Arrangement, Edit, dict[str, Any]]]:
    """Connector, turns and material of an anchor, one thing at a time."""
    for connector in catalogue().connectors.values():
        if connector.id != made.connector:
            edit = Edit("replace", f"{path}/connector", connector.id)
            yield "working-connector", _in(made, connector=connector.id), edit, {"what": connector.name}
    for number, leg in enumerate(made.legs):
        method = catalogue().attachments[leg.method]
        if method.path == "post":
            continue
        now = leg.turns or method.turns.usual
        if made.piece is not None:
            # What the piece is, and how it is led, is one thing for all its legs.
            continue
        update: list[tuple[str, str, Any, dict[str, Any]]] = []
        if now < method.turns.most:
            update.append(("turns", "turns", now + 1, {"turns": now + 1}))
        for sling in catalogue().slings.values():
            if sling.id != leg.material and not (sling.sewn and not method.of_loop) and not sling.slick:
                update.append(("leg-material", "material", sling.id, {"what": sling.name}))
        for other in catalogue().attachments.values():
            if (
                other.id != leg.method
                and other.path not in ("tie-off", "post")
                and other.in_piece != "only"
                and _goes(leg, other.id)
            ):
                update.append(("leg-method", "method", other.id, {"what": other.name}))
        if leg.extension is not None:
            ropes = [
                one for one in catalogue().slings.values() if one.id != leg.extension and not one.sewn and not one.slick
            ]
            update += [("extension", "extension", one.id, {"what": one.name}) for one in ropes]
        for kind, name, value, told in update:
            legs = [_in(one, **{name: value}) if n == number else one for n, one in enumerate(made.legs)]
            yield (
                kind,
                _in(made, legs=legs),
                Edit("replace", f"{path}/legs/{number}/{name}", value),
                {**told, "leg": leg.feature},
            )


def _retied(plan: Plan, made: Arrangement, path: str) -> Iterator[tuple[str, Arrangement, Edit, dict[str, Any]]]:
    """A leg of an anchor tied to another feature that nothing is tied to yet."""
    tied = {leg.feature for anchor in plan.anchors for leg in anchor.arrangement.legs}
    free = [
        one
        for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not rejected_because(one) and not kind_of(one).pushes
    ]
    for number, leg in enumerate(made.legs):
        for feature in free if leg.method != "frame-leg" else ():
            legs = [_in(one, feature=feature.id) if n == number else one for n, one in enumerate(made.legs)]
            edit = Edit("replace", f"{path}/legs/{number}/feature", feature.id)
            yield "feature", _in(made, legs=legs), edit, {"what": feature.name, "leg": leg.feature}


def _goes(leg: Leg, method: str) -> bool:
    """Whether a leg can be tied by another method with the material and turns that it has."""
    try:
        Leg.model_validate({**leg.model_dump(), "method": method})
    except ValidationError:
        return False
    return True
