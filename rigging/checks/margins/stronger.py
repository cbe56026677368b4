"""More of what a weak part is made of, or the next stronger thing in the catalogue: no check, but what several are mended by."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends
from rigging.checks.mending import PULLEY, Mend, line_number, other_feature, setting, straight_back
from rigging.document import Line, Plan
from rigging.document.anchors import MOST_STRANDS, Arrangement
from rigging.document.edits import Edit
from rigging.judging.margins import Part


def stronger(part: Part, plan: Plan) -> Iterator[Mend]:
    """What would make a part hold more, or leave it less."""
    if part.id.startswith("anchor:"):
        yield from _anchor(part, plan)
        return
    number = line_number(plan, part.id.partition(":")[0])
    line = plan.lines[number]
    wanted = part.force_n.high * part.target
    if part.kind == "device-connector":
        yield setting("uncrowd", f"/lines/{number}/lowering/crowded", False)
    elif part.kind == "load-connector":
        if line.load_connector_crowded:
            yield setting("uncrowd", f"/lines/{number}/load_connector_crowded", False)
        yield from _next_up("connectors", f"/lines/{number}/load_connector", line.load_connector, wanted)
    elif part.kind in ("rope", "load-knot"):
        if part.kind == "load-knot":
            yield from _better_knot(f"/lines/{number}/load_knot", line.load_knot)
        at = next(n for n, one in enumerate(plan.ropes) if one.id == line.rope)
        yield from _next_up("ropes", f"/ropes/{at}/kind", plan.ropes[at].kind, wanted)
    elif part.kind in ("bend", "redirect") and line.haul:
        if part.where in line.haul.bends or part.where in [place.id for place in bends(line.haul.system)]:
            value = {**line.haul.bends, part.where: PULLEY}
            what = catalogue().bends[PULLEY].name
            yield setting("bend", f"/lines/{number}/haul/bends", value, what=what, at=part.where)
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
    knots = catalogue().knots
    loops = [one for one in knots.values() if one.id.endswith("-loop") and one.keeps.low > knots[now].keeps.low]
    for one in sorted(loops, key=lambda one: -one.keeps.low)[:1]:
        yield setting("take", path, one.id, what=one.name)


def _two_hitches(number: int, line: Line, part: Part) -> Iterator[Mend]:
    path = {
        "grab": "haul/grab", "capture": "haul/capture", "hitch": "lowering/brake_hitch", "belay": "belay/what",
        "cord": {"brake": "lowering/brake_hitch", "ratchet": "haul/capture", "belay": "belay/what"}.get(part.takes.rpartition(":")[2], "haul/grab"),
    }[part.kind]  # fmt: skip
    if part.kind == "belay" and line.belay and line.belay.holds != "hitch":
        return
    two, place = catalogue().hitches["tandem-prusik-8"], path.partition("/")
    if getattr(getattr(line, place[0]), place[2]) != two.id:
        yield setting("take", f"/lines/{number}/{path}", two.id, what=two.name)


def _anchor(part: Part, plan: Plan) -> Iterator[Mend]:
    anchor = part.id.split(":")[1]
    a, there = next((n, one) for n, one in enumerate(plan.anchors) if one.id == anchor)
    b, arrangement = next((n, one) for n, one in enumerate(there.alternatives) if one.id == there.taken)
    here = f"/anchors/{a}/alternatives/{b}"
    wanted = part.force_n.high * part.target
    if part.kind == "working-point":
        if arrangement.connector is not None:
            yield from _next_up("connectors", f"{here}/connector", arrangement.connector, wanted)
        return
    if ":stage:" in part.id:
        stage = int(part.id.rpartition(":")[2])
        yield from _more_strands(part, arrangement, f"{here}/set_down/stages/{stage}/strands", stage)
        return
    index = int(part.about.rpartition(":")[2])
    if part.kind == "attachment":
        yield from _tied_stronger(part, plan, f"{here}/legs/{index}", index, anchor)
    yield from other_feature(plan, f"{here}/legs/{index}/feature", wanted)
    for number, line in enumerate(plan.lines):
        if line.haul and any(one.anchor == anchor for one in line.haul.redirects):
            yield straight_back(number)


def _more_strands(part: Part, arrangement: Arrangement, path: str, stage: int) -> Iterator[Mend]:
    """As many more strands of a stage as its target asks."""
    if arrangement.set_down is None or part.strength_n is None:
        return
    now = arrangement.set_down.stages[stage].strands
    wanted = math.ceil(now * part.force_n.high * part.target / part.strength_n.low - 1e-9)
    if now < wanted <= MOST_STRANDS:
        yield setting("strands", path, wanted, strands=wanted)


def _tied_stronger(part: Part, plan: Plan, path: str, index: int, anchor: str) -> Iterator[Mend]:
    """A stronger extension; more strands round the feature."""
    shelf, leg = catalogue().slings, plan.anchor(anchor).arrangement.legs[index]
    if leg.extension is not None:
        # Slick cord is as strong as its knot, which slips: anything else that is knotted holds more.
        least = 0.0 if shelf[leg.extension].slick else shelf[leg.extension].strand_n.low
        fit = [one for one in shelf.values() if not (one.sewn or one.slick or one.section) and one.strand_n.low > least]
        for one in sorted(fit, key=lambda one: one.strand_n.low)[-1:]:
            yield setting("take", f"{path}/extension", one.id, what=one.name)
    if not part.wants:
        return
    method = catalogue().attachments[leg.method]
    turns = (leg.turns or method.turns.usual) + math.ceil(part.wants / max(method.strands_per_turn, 1))
    if method.strands_per_turn and turns <= method.turns.most:
        yield setting("turns", f"{path}/turns", turns, turns=turns)
    elif leg.method != "wrap-pull" and not shelf[leg.material].sewn:
        edits = (Edit("replace", f"{path}/method", "wrap-pull"), Edit("replace", f"{path}/turns", 4))
        yield Mend("turns", edits, {"turns": 4})
