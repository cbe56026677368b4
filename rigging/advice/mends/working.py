"""Mends of lowering and raising: friction, advantage, rope, slack, what releases."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from rigging.advice.mends.mend import (
    HITCH,
    MINDING,
    PULLEY,
    RELEASING_M,
    Mend,
    Mender,
    line_at,
    line_of,
    setting,
)
from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends, drop_redirect, stack
from rigging.document import Haul, Line, Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found
from rigging.lines.tied import device_holding
from rigging.quantities.faults import Refused
from rigging.site.conditions import hand_hold_n

_SLACK_M = 0.1
_LOCKS = "self-locking"


def _more_friction(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    hand, grip, rope = found.values["hand"], hand_hold_n(plan), plan.rope(plan.lines[number].rope)
    now = next(one for one in catalogue().devices.values() if one.name == found.values["device"])
    lowering = plan.lines[number].lowering
    ratio = device_holding(now, rope, lowering.turns if lowering else None)
    at_device = hand.high * ratio.low, hand.low * ratio.high
    fit = [
        one for one in catalogue().devices.values()
        if not one.self_locking and not one.special and one.mu is None and one.id != now.id and at_device[0] / device_holding(one, rope).low <= grip.low
        and at_device[1] / device_holding(one, rope).high >= (0 if found.kind == "hand-too-much" else catalogue().people.device_runs_n)
    ]  # fmt: skip
    for one in sorted(fit, key=lambda one: device_holding(one, rope).expected)[:2]:
        yield setting("device", f"/lines/{number}/lowering/device", one.id, what=one.name)
    if not fit:
        yield setting(
            "device", f"/lines/{number}/lowering/device", "self-locking", what=catalogue().devices["self-locking"].name
        )


def _hauled(plan: Plan) -> tuple[int, Line, Haul] | None:
    return next(((n, one, one.haul) for n, one in enumerate(plan.lines) if one.haul), None)


def _all_pulleys(found: Found, plan: Plan) -> Iterator[Mend]:
    there = _hauled(plan)
    if there is None:
        return
    number, _, haul = there
    worse = [place.id for place in bends(haul.system) if haul.bends.get(place.id, "unknown") not in (PULLEY, MINDING)]
    if worse:
        chosen = {**haul.bends, **dict.fromkeys(worse, PULLEY)}
        yield setting(
            "bend", f"/lines/{number}/haul/bends", chosen, what=catalogue().bends[PULLEY].name, at=", ".join(worse)
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
        yield from _system(number, haul, stack(haul.system, catalogue().systems["drop-2"]), PULLEY)
    except Refused:
        return


def _system(number: int, haul: Haul, system: Any, kind: str | None = None) -> Iterator[Mend]:
    kept = {place.id: haul.bends.get(place.id, kind or "unknown") for place in bends(system)}
    standing = {node: anchor for node, anchor in haul.anchors.items() if system.nodes.get(node) == "anchor"}
    changed = haul.model_copy(update={"system": system, "bends": kept, "anchors": standing})
    yield setting("system", f"/lines/{number}/haul", changed.model_dump(mode="json"), what=system.name)


def _fewer_pull(found: Found, plan: Plan) -> Iterator[Mend]:
    most = math.floor(found.values["ceiling"] / found.values["ideal"] + 1e-9)
    if most >= 1:
        yield setting("haulers", "/team/haulers", most, count=most)


def _say_bend(found: Found, plan: Plan) -> Iterator[Mend]:
    there = _hauled(plan)
    if there is None:
        return
    number, _, haul = there
    at = str(found.values["bend"])
    for kind in (PULLEY, "carabiner"):
        yield setting(
            "bend", f"/lines/{number}/haul/bends", {**haul.bends, at: kind}, what=catalogue().bends[kind].name, at=at
        )


def _longer_rope(found: Found, plan: Plan) -> Iterator[Mend]:
    at = next(n for n, one in enumerate(plan.ropes) if one.id == found.values["rope"])
    wanted = math.ceil(found.values["needed_m"] / 10 - 1e-9) * 10
    yield setting("longer-rope", f"/ropes/{at}/length_m", wanted, length_m=wanted)


def _less_slack(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, str(found.values["by"]))
    if line.slack_m > _SLACK_M:
        yield setting("slack", f"/lines/{number}/slack_m", _SLACK_M, length_m=_SLACK_M)


def _caught_sooner(found: Found, plan: Plan) -> Iterator[Mend]:
    """A loss that another line catches: that line drawn in."""
    for part in found.values["gone"].onto:
        number = next((n for n, one in enumerate(plan.lines) if one.id == part.partition(":")[0]), None)
        if number is not None and plan.lines[number].slack_m > _SLACK_M:
            yield setting("slack", f"/lines/{number}/slack_m", _SLACK_M, length_m=_SLACK_M)
            return


def _slack_there(found: Found, plan: Plan) -> Iterator[Mend]:
    """A place that a line's slack does not reach to: that line drawn in."""
    number = next((n for n in range(len(plan.lines)) if found.values["fault"].path == f"lines[{n}].slack_m"), None)
    if number is not None:
        yield setting("slack", f"/lines/{number}/slack_m", _SLACK_M, length_m=_SLACK_M)


def _grip_more(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.level == "note":
        return
    number, line = line_at(plan, str(found.values["by"]))
    if line.belay and line.belay.holds == "hitch" and line.belay.what != "tandem-prusik-8":
        yield setting(
            "take", f"/lines/{number}/belay/what", "tandem-prusik-8", what=catalogue().hitches["tandem-prusik-8"].name
        )
    if line.belay and line.belay.holds == "device" and line.belay.what != _LOCKS:
        yield _locking(number)
    if found.kind != "does-not-stop":
        # Less slack makes a catch softer; it makes nothing grip that slips under what hangs on it.
        yield from _less_slack(found, plan)


def _locking(number: int) -> Mend:
    edits = (
        Edit("replace", f"/lines/{number}/belay/holds", "device"),
        Edit("replace", f"/lines/{number}/belay/what", _LOCKS),
    )
    return Mend("device", edits, {"what": catalogue().devices[_LOCKS].name})


def _by_device(found: Found, plan: Plan) -> Iterator[Mend]:
    yield _locking(line_at(plan, line_of(found))[0])


def _releasing(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    if found.kind == "capture-release":
        yield setting("releasing", f"/lines/{number}/haul/capture_releasing_m", RELEASING_M, length_m=RELEASING_M)
    elif line.belay and line.belay.holds == "hitch":
        yield setting("releasing", f"/lines/{number}/belay/releasing_m", RELEASING_M, length_m=RELEASING_M)
    elif line.belay:
        yield from _by_device(found, plan)


def _lower_on(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    for one in ("super-munter", "self-locking"):
        hitch = None if catalogue().devices[one].self_locking else HITCH
        value = {"device": one, "brake_hitch": hitch, "minder": ""}
        yield setting("device", f"/lines/{number}/lowering", value, what=catalogue().devices[one].name)


MENDERS: dict[str, Mender] = {
    "loss": _caught_sooner,
    "place-refused": _slack_there,
    "falls": _lower_on,
    "belay-by-hands": _by_device,
    "hand-too-much": _more_friction,
    "may-not-run": _more_friction,
    "worse-than-straight": _all_pulleys,
    "too-few-haulers": _bigger,
    "people-ceiling": _fewer_pull,
    "unsaid": _say_bend,
    "short": _longer_rope,
    "reaches-ground": _less_slack,
    "does-not-stop": _grip_more,
    "belay-test": _grip_more,
    "release-missing": _releasing,
    "release-tied": _lower_on,
    "capture-release": _releasing,
}
