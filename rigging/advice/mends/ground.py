"""Mends of how the rope lies on the ground, and of people near the edge."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.advice.mends.holding import to_other_anchor
from rigging.advice.mends.mend import Mend, Mender, line_at, line_of, setting, straight_back
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found

_ASIDE_M = 10.0


def _pad_lip(found: Found, plan: Plan) -> Iterator[Mend]:
    if found.values["number"] is not None:
        pad = catalogue().surfaces["axe-pad"]
        yield setting("pad", f"/site/edges/{found.values['number']}/protection", pad.id, what=pad.name)


def _pad(found: Found, plan: Plan) -> Iterator[Mend]:
    for id in ("canvas-pad", "edge-roller"):
        yield setting("pad", f"/site/edges/{found.values['number']}/protection", id, what=catalogue().surfaces[id].name)


def _enter_edge(found: Found, plan: Plan) -> Iterator[Mend]:
    x, z = found.values["x_m"], found.values["z_m"]
    edge = {"name": f"Edge {x:.0f} m out", "x_m": x, "z_m": z, "surface": plan.site.surface, "protection": "canvas-pad"}
    yield Mend("enter-edge", (Edit("add", "/site/edges/-", edge),), {"what": catalogue().surfaces["canvas-pad"].name})


def _shorter_hitch(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    assert line.lowering is not None
    out = round(line.lowering.hitch_m + line.lowering.slack_m + 0.2, 2)
    yield setting("device-out", f"/lines/{number}/lowering/out_m", out, length_m=out)


def _reach(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    yield setting("reach", f"/lines/{number}/haul/reach_m", None)


def _shorter_haul(found: Found, plan: Plan) -> Iterator[Mend]:
    values = found.values
    number, line = line_at(plan, line_of(found))
    assert line.haul is not None
    clear = catalogue().people.clearance_m
    reach = max(2 * clear, clear + (values["rise_m"]) * values["way_m"] / values["through_m"])
    yield setting("reach", f"/lines/{number}/haul/reach_m", round(math.floor(reach * 20) / 20, 2), length_m=reach)


def _turn_walk(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, str(found.values.get("of") or found.values["line"]))
    if line.haul is not None:
        now = line.haul.walk_rad or 0.0
        other = now + math.pi if now <= 0 else now - math.pi
        yield setting("walk", f"/lines/{number}/haul/walk_rad", other)


def _apart(found: Found, plan: Plan) -> Iterator[Mend]:
    number, line = line_at(plan, line_of(found))
    if line.haul is not None and line.haul.redirects:
        yield straight_back(number)


def _tie_in(found: Found, plan: Plan) -> Iterator[Mend]:
    now = str(found.values.get("anchor", ""))
    yield from to_other_anchor(plan, f"/team/people/{found.values['number']}/tied_to", "tie-in", now)


def _aside(found: Found, plan: Plan) -> Iterator[Mend]:
    """Those below moved well to the side of the load's way down."""
    edits = [
        Edit("replace", f"/team/people/{n}/at/y_m", one.at.y_m + math.copysign(_ASIDE_M, one.at.y_m))
        for n, one in enumerate(plan.team.people)
        if one.at and one.name in found.values["people"]
    ]
    yield Mend("aside", tuple(edits), {"length_m": _ASIDE_M})


def _day(found: Found, plan: Plan) -> Iterator[Mend]:
    for state in ("icy",) if found.kind == "freezes" else ("dry", "wet", "icy"):
        yield setting("day", "/day/state", state, what=catalogue().conditions[state].name)


def _keep_tail(found: Found, plan: Plan) -> Iterator[Mend]:
    number, _ = line_at(plan, line_of(found))
    yield setting("keep-tail", f"/lines/{number}/tail_m", 5, length_m=5.0)


def _longer_piece(found: Found, plan: Plan) -> Iterator[Mend]:
    """One more piece in the bags that reaches, if it is there."""
    long = math.ceil(found.values["needed_m"] * 2) / 2
    piece = {"material": found.values["id"], "length_m": long, "count": 1}
    yield Mend("more-kit", (Edit("add", "/kit/-", piece),), {"what": found.values["material"], "length_m": long})


MENDERS: dict[str, Mender] = {
    "no-tail": _keep_tail,
    "material-short": _longer_piece,
    "way-over-lip": _turn_walk,
    "day-unsaid": _day,
    "freezes": _day,
    "sharp-edge": _pad,
    "sawn": _pad,
    "bitten": _pad_lip,
    "bare-edge": _pad,
    "bare-corner": _enter_edge,
    "reaches-device": _shorter_hitch,
    "grab-over-edge": _reach,
    "no-stroke": _reach,
    "way-short": _shorter_haul,
    "way-crossed": _turn_walk,
    "strands-touch": _apart,
    "untied": _tie_in,
    "tied-to-load": _tie_in,
    "people-below": _aside,
}
