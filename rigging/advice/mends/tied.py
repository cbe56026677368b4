"""Mends of knots, joins, hitches and ropes as they are tied."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from rigging.advice.mends.mend import Mend, Mender, line_at, line_of, setting
from rigging.catalogue import SlingMaterial, catalogue
from rigging.document import Plan, Rope
from rigging.document.edits import Edit
from rigging.judging.found import Found
from rigging.lines.tied import HitchPlace, hitch_hold, hitches_of, too_thick

_MADE = {
    "grab": "haul/grab_made",
    "capture": "haul/capture_made",
    "brake": "lowering/hitch_made",
    "belay": "belay/made",
}


def _knot_out(found: Found, plan: Plan) -> Iterator[Mend]:
    values = found.values
    path = f"/ropes/{values['rope']}/damage/{values['number']}/taken_out"
    slick = catalogue().ropes[plan.ropes[values["rope"]].kind].slick
    inside = Edit("replace", f"{path.removesuffix('taken_out')}in_loop", "overhand" if slick else "connector")
    knot = catalogue().knots["butterfly-loop"]
    yield Mend("take-out", (Edit("replace", path, knot.id), inside), {"what": knot.name})


def _join_clear(found: Found, plan: Plan) -> Iterator[Mend]:
    """The join a metre nearer the load, so that it lies clear of what it was in."""
    values = found.values
    at = round(values["at_m"] - (1.0 if values["first"] else -1.0), 2)
    if 0 < at < plan.ropes[values["rope"]].length_m:
        yield setting("join-at", f"/ropes/{values['rope']}/joins/{values['number']}/at_m", at, length_m=at)


def _in_loop(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}/damage/{found.values['number']}/in_loop"
    if found.kind == "loop-slick":
        yield setting("in-loop", path, "overhand", what="Overhand in its loop")
    else:
        yield setting("in-loop", path, "connector", what="Connector in its loop")


def _other_rope(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}"
    yield Mend("other-rope", (Edit("replace", f"{path}/age_years", None), Edit("replace", f"{path}/wear", "used")))


def _retied(found: Found, plan: Plan) -> Iterator[Mend]:
    """The hitch tied as it should be, in the one thing that was found."""
    number, line = line_at(plan, line_of(found))
    here = next(one for one in hitches_of(line) if one.place == found.values["place"])
    path, rope = f"/lines/{number}/{_MADE[here.place]}", plan.rope(line.rope)

    def made(kind: str, change: dict[str, Any], **values: Any) -> Mend:
        return setting(kind, path, {**here.made.model_dump(), **change}, **values)

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


def _cords_that_fit(here: HitchPlace, rope: Rope) -> list[SlingMaterial]:
    """Cords that grip this rope and slip before they break, thickest first."""
    found = []
    for cord in catalogue().slings.values():
        if not cord.cord or cord.slick or too_thick(cord, catalogue().ropes[rope.kind]):
            continue
        held = hitch_hold(here.hitch, here.made.model_copy(update={"cord": cord.id}), rope)
        if held.slip_n is not None and held.breaks_n.expected >= held.slip_n.expected:
            found.append(cord)
    return sorted(found, key=lambda one: -one.thickness_m)


def _uncrowd(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    if found.values["at"] == "load":
        edits = (
            Edit("replace", f"/lines/{number}/load_connector_crowded", False),
            Edit("replace", f"/lines/{number}/load_connector", "steel"),
        )
        yield Mend("uncrowd", edits, {"what": catalogue().connectors["steel"].name})
    else:
        yield setting("uncrowd", f"/lines/{number}/lowering/crowded", False, what="Larger connector")


def _doubled(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    device = catalogue().devices["super-munter"]
    yield setting("device", f"/lines/{number}/lowering/device", device.id, what=device.name)


def _bend_knot(found: Found, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{found.values['rope']}/joins/{found.values['number']}/knot"
    yield setting("take", path, "double-fisherman", what=catalogue().knots["double-fisherman"].name)


def _tail(found: Found, plan: Plan) -> Iterator[Mend]:
    tail = math.ceil(found.values["wanted_m"] * 20 - 1e-9) / 20
    path = f"/ropes/{found.values['rope']}/joins/{found.values['number']}/tail_m"
    yield setting("tail", path, tail, length_m=tail)


def _cleaned(found: Found, plan: Plan) -> Iterator[Mend]:
    """A hitch cleaned and dried, tried with a pull; a clamp or device on a rope that is."""
    number, line = line_at(plan, line_of(found))
    here = next(one for one in hitches_of(line) if one.place == found.values["place"])
    if here.hitch.form == "hitch":
        path, made = f"/lines/{number}/{_MADE[here.place]}", {**here.made.model_dump(), "state": "dry"}
        yield setting("cleaned", path, made)
    else:
        at = next(n for n, one in enumerate(plan.ropes) if one.id == line.rope)
        yield setting("cleaned", f"/ropes/{at}/state", "dry")


def _out_of_bags(found: Found, plan: Plan) -> Iterator[Mend]:
    yield Mend("out-of-bags", (Edit("remove", f"/kit/{found.key}"),))


def _turned(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    yield setting("turned", f"/lines/{number}/load_connector_loaded", "along")


def _locking(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    yield setting("take", f"/lines/{number}/load_connector", "alloy-b", what=catalogue().connectors["alloy-b"].name)


def _unspoilt(found: Found, plan: Plan) -> Iterator[Mend]:
    yield setting("other-rope", f"/ropes/{found.values['rope']}/stood", "nothing")


def _more_metal(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    device = catalogue().devices["rack-5"]
    yield setting("device", f"/lines/{number}/lowering/device", device.id, what=device.name)


def _for_wire(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    knot = catalogue().knots["wire-eye" if found.values["metal"] else "figure-eight-loop"]
    yield setting("take", f"/lines/{number}/load_knot", knot.id, what=knot.name)


def _device_each(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, found.values["lines"][-1])
    device = catalogue().devices["self-locking"]
    yield setting("device", f"/lines/{number}/lowering/device", device.id, what=device.name)


MENDERS: dict[str, Mender] = {
    "wire-knot": _for_wire,
    "shared-device": _device_each,
    "may-not-grip": _cleaned,
    "kit-too-old": _out_of_bags,
    "misloaded": _turned,
    "gate-unlocked": _locking,
    "stood": _unspoilt,
    "creeps": _bend_knot,
    "unlike": _bend_knot,
    "heats": _more_metal,
    "knot-inside": _join_clear,
    "out-of-line": _knot_out,
    "loop-slick": _in_loop,
    "loop-open": _in_loop,
    "too-old": _other_rope,
    "worn": _other_rope,
    "crowded": _uncrowd,
    "twists": _doubled,
    "wraps-many": _retied,
    "wraps-few": _retied,
    "cord-thick": _retied,
    "cord-short": _retied,
    "knot-on-rope": _retied,
    "glazed": _retied,
    "breaks-first": _retied,
    "damage-in-pull": _knot_out,
    "no-bend": _bend_knot,
    "tail-short": _tail,
    "tail-unsaid": _tail,
}
