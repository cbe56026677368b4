"""What could be chosen, each tried on the engine: what it would do here, best first, and why what does not fit does not."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, bends
from rigging.document import Belay, Haul, Line, Lowering, OwnPiece, Plan
from rigging.document.edits import Edit
from rigging.judging.anchors import anchor_states
from rigging.judging.margins import Part, weakest_of
from rigging.judging.parts import parts_in_load_order
from rigging.lines.catch import Caught, passes_as_expected
from rigging.lines.every_state import solve
from rigging.lines.lengths import haul_rope_m, resets_of, stroke_of
from rigging.lines.people import haulers_needed
from rigging.lines.solve import Solved, Solver, ways_of
from rigging.lines.states import hauling_line, moments
from rigging.lines.tied import HitchHold, cord_length_m, hitch_hold, hitches_of
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.site.conditions import hand_hold_n, sustained_n

What = Literal["lowering", "haul", "belay", "brake", "grab", "capture"]
Why = Literal[
    "hand-too-much", "may-not-run", "too-few", "rope-short", "worse-than-straight", "below-rule", "does-not-stop", "fails-test",
    "hands-hold", "refused", "jams", "one-way", "cuts", "breaks-first", "twists",
]  # fmt: skip


@dataclass(frozen=True)
class Choice:
    """One thing to choose, what it does here and the edits that choose it (none: what is chosen needs more than one part). `why` lists what speaks against it, worst first; `rank` orders them."""

    id: str
    name: str
    hand_n: Range | None = None
    haulers: int | None = None
    advantage: Range | None = None
    rope_left_m: float | None = None
    drop_m: float | None = None
    peak_n: Range | None = None
    stops_m: float | None = None
    weakest: Part | None = None
    stroke_m: float | None = None
    resets: int | None = None
    hitch: HitchHold | None = None
    cord_m: float | None = None
    margin: Range | None = None
    edits: tuple[Edit, ...] = ()
    why: tuple[Why, ...] = ()
    rank: tuple[Any, ...] = field(default=(), compare=False)


def choices(plan: Plan, what: What) -> list[Choice]:
    """Every choice of a kind for the plan's main line, best first."""
    found = {
        "lowering": _lowerings, "haul": _hauls, "belay": _belays, "brake": _brakes, "grab": _grabs, "capture": _captures,
    }[what](plan)  # fmt: skip
    return sorted(found, key=lambda one: (len(one.why), *one.rank))


def _with(plan: Plan, line: Line) -> Plan:
    """The plan with a line in the place of the one of the same id, or added."""
    lines = [line if one.id == line.id else one for one in plan.lines]
    if line not in lines:
        lines.append(line)
    return plan.model_copy(update={"lines": lines})


def _put(
    plan: Plan, line: Line, field: Literal["lowering", "haul"], value: Lowering | Haul
) -> tuple[Line, tuple[Edit, ...]]:
    """A line with one of its parts another, and the edit that makes it so."""
    edit = Edit("replace", f"/lines/{plan.lines.index(line)}/{field}", value.model_dump(mode="json"))
    return line.model_copy(update={field: value}), (edit,)


def _state(plan: Plan, id: str) -> tuple[Solved, list[Part]] | None:
    """One state of a plan, solved and judged; None where it can not be."""
    try:
        solver = Solver(plan, ways_of(plan))
        solved = solve(solver, next(one for one in moments(plan) if one.id == id))
        if not isinstance(solved, Solved):
            return None
        return solved, parts_in_load_order(plan, solved, anchor_states(plan, [solved]))
    except Refused:
        return None


def _lowerings(plan: Plan) -> Iterator[Choice]:
    main = plan.line("main")
    if main is None:
        return
    grip = hand_hold_n(plan)
    hitch = main.lowering.brake_hitch if main.lowering else "french-8"
    for device in catalogue().devices.values():
        brake = None if device.self_locking else hitch
        kept = main.lowering or Lowering(device=device.id)
        put = kept.model_copy(update={"device": device.id, "brake_hitch": brake, "turns": None})
        line, edits = _put(plan, main, "lowering", put)
        found = _state(_with(plan, line), "lowering")
        if found is None:
            yield Choice(device.id, device.name, why=("refused",), rank=(math.inf,))
            continue
        solved, parts = found
        running = next(one for one in solved.lines if one.rig.line.id == main.id).running
        assert running is not None
        why: list[Why] = []
        if running.hand.high > grip.low and not device.self_locking:
            why.append("hand-too-much")
        if running.hand.low < catalogue().people.device_runs_n:
            why.append("may-not-run")
        if device.twists == "yes" and solved.lines[0].rig.way.rise_m > catalogue().tying.munter_m:
            why.append("twists")
        weakest = weakest_of(parts)
        if weakest and weakest.verdict == "below":
            why.append("below-rule")
        yield Choice(
            device.id,
            device.name,
            hand_n=running.hand,
            edits=edits,
            weakest=weakest,
            why=tuple(why),
            rank=(not device.self_locking, running.hand.high),
        )


def _hauls(plan: Plan) -> Iterator[Choice]:
    main = next((one for one in plan.lines if one.haul), None) or plan.line("main")
    if main is None:
        return
    for system in catalogue().systems.values():
        line_with, edits = _put(plan, main, "haul", hauled_with(main.haul, system))
        found = _state(_with(plan, line_with), "raising")
        if found is None:
            yield Choice(system.id, system.name, why=("refused",), rank=(math.inf,))
            continue
        solved, parts = found
        line = solved.lines[0]
        assert line.running is not None
        needed = haulers_needed(line.running.hand.high, sustained_n(plan).low)
        stroke = stroke_of(line)
        left = plan.rope(main.rope).length_m - haul_rope_m(line.rig)[0] - main.tail_m
        weakest = weakest_of(parts)
        why: list[Why] = []
        if line.running.line_advantage.expected < 1 and bends(system):
            why.append("worse-than-straight")
        if needed > plan.team.haulers:
            why.append("too-few")
        if left < 0:
            why.append("rope-short")
        if weakest and weakest.verdict == "below":
            why.append("below-rule")
        yield Choice(
            system.id, system.name, hand_n=line.running.hand, haulers=needed, advantage=line.running.line_advantage,
            rope_left_m=left, edits=edits, stroke_m=stroke.rise_m if stroke else None, resets=resets_of(plan, line), weakest=weakest, why=tuple(why), rank=(len(system.ropes), sum(map(len, system.ropes)), needed),
        )  # fmt: skip


def hauled_with(haul: Haul | None, system: HaulSystem) -> Haul:
    """A haul on another system: what was said of bends that it has too is kept, everything else as it was."""
    places = [place.id for place in bends(system)]
    anchors = [name for name, kind in system.nodes.items() if kind == "anchor"]
    own = (haul.own if haul else None) or _ONE_SLING if system.out_of_one else None
    if haul is None:
        bent = dict.fromkeys(places, "slick-sling") if own else {}
        return Haul(system=system, bends=bent, capture="prusik-8", own=own)
    kept = {place: kind for place, kind in haul.bends.items() if place in places}
    if own and haul.own is None:
        kept = dict.fromkeys(places, "slick-sling")
    standing = {node: anchor for node, anchor in haul.anchors.items() if node in anchors}
    return haul.model_copy(update={"system": system, "bends": kept, "anchors": standing, "own": own})


# A sewn sling of 2.4 m, as it is carried (common practice, no source).
_ONE_SLING = OwnPiece(material="sewn-sling-22", length_m=2.4)


_CATCHES: tuple[tuple[Literal["hitch", "device", "tied"], str], ...] = (
    ("hitch", "tandem-prusik-8"), ("device", "self-locking"), ("device", "munter"), ("tied", "figure-eight-loop"),
)  # fmt: skip


def _belays(plan: Plan) -> Iterator[Choice]:
    main = plan.line("main")
    if main is None:
        return
    there = plan.line("belay")
    for holds, what in _CATCHES:
        belay = Belay(holds=holds, what=what)
        name = catalogue().catching(holds, what).name
        line = there or main.model_copy(update={
            "id": "belay", "role": "belay", "lowering": None, "haul": None, "slack_m": 0.3, "redirects": [],
        })  # fmt: skip
        found = _state(_with(plan, line.model_copy(update={"belay": belay})), f"goes:{main.id}")
        if found is None or not isinstance(found[0], Caught) or found[0].arrests is None:
            yield Choice(
                f"{holds}:{what}", name, why=("hands-hold",) if holds == "device" else ("refused",), rank=(math.inf,)
            )
            continue
        caught, parts = found
        assert isinstance(caught, Caught)
        tested = caught.tested
        why: list[Why] = []
        if caught.stops_in is None:
            why.append("does-not-stop")
        if not all(passes_as_expected(one) for _, one in tested[:1]):
            why.append("fails-test")
        if holds == "device" and not catalogue().devices[what].self_locking:
            why.append("hands-hold")
        yield Choice(
            f"{holds}:{what}", name, drop_m=caught.drop_m, peak_n=caught.peak, stops_m=caught.stops_in.high if caught.stops_in else None,
            weakest=weakest_of(parts), why=tuple(why), rank=(caught.peak.high if caught.peak else math.inf,),
        )  # fmt: skip


def _brakes(plan: Plan) -> Iterator[Choice]:
    """What could back the lowering device up on its brake side: judged with hands off."""
    main = plan.line("main")
    if main is None or main.lowering is None:
        return
    yield _nothing(_put(plan, main, "lowering", main.lowering.model_copy(update={"brake_hitch": None}))[1])
    for hitch in catalogue().hitches.values():
        if hitch.form != "device":
            put = main.lowering.model_copy(update={"brake_hitch": hitch.id, "hitch_made": None})
            yield _hitch(plan, *_put(plan, main, "lowering", put), "brake", hitch.id)


def _grabs(plan: Plan) -> Iterator[Choice]:
    line = hauling_line(plan)
    if line is None or line.haul is None:
        return
    for hitch in catalogue().hitches.values():
        if hitch.form != "device":
            put = line.haul.model_copy(update={"grab": hitch.id, "grab_made": None})
            yield _hitch(plan, *_put(plan, line, "haul", put), "grab", hitch.id)


def _captures(plan: Plan) -> Iterator[Choice]:
    line = hauling_line(plan)
    if line is None or line.haul is None:
        return
    yield _nothing(_put(plan, line, "haul", line.haul.model_copy(update={"capture": None}))[1])
    for hitch in catalogue().hitches.values():
        put = line.haul.model_copy(update={"capture": hitch.id, "capture_made": None})
        yield _hitch(plan, *_put(plan, line, "haul", put), "capture", hitch.id)


def _nothing(edits: tuple[Edit, ...]) -> Choice:
    """Nothing there: what a leader may want for a moment, with what speaks against it."""
    return Choice("none", "Nothing", edits=edits, why=("hands-hold",), rank=(True, math.inf))


_PART_KINDS = {"brake": "hitch", "grab": "grab", "capture": "capture"}
_JUDGED_IN = {"brake": "lowering-hands-off", "grab": "raising", "capture": "between-hauls"}


def _hitch(
    plan: Plan, line: Line, edits: tuple[Edit, ...], place: Literal["brake", "grab", "capture"], id: str
) -> Choice:
    """A hitch or clamp at a place, tied as usual: what it holds, its margin there, and what speaks against it."""
    here = next(one for one in hitches_of(line) if one.place == place)
    rope = plan.rope(line.rope)
    held = hitch_hold(here.hitch, here.made, rope, plan.tested)
    why: list[Why] = []
    if here.hitch.form == "clamp" and held.slip_n is None:
        why.append("cuts")
    if place == "brake" and not here.hitch.releases_under_load and here.hitch.form == "clamp":
        why.append("jams")
    if place == "brake" and not here.hitch.both_ways and here.hitch.form == "clamp":
        why.append("one-way")
    found = _state(_with(plan, line), _JUDGED_IN[place])
    parts = found[1] if found else []
    mine = [
        one
        for one in parts
        if one.kind in (_PART_KINDS[place], "cord", "clamp") and one.margin and _at_place(one, place)
    ]
    least = weakest_of(mine)
    if least and least.verdict == "below":
        why.append("below-rule")
    cord = (
        cord_length_m(here.hitch, here.made, catalogue().ropes[rope.kind], here.reach_m)
        if here.hitch.form == "hitch"
        else None
    )
    release = here.hitch.releases_under_load
    return Choice(
        id, held.name, edits=edits, hitch=held, cord_m=cord, margin=least.margin if least else None, weakest=least, why=tuple(why),
        rank=(not release if place == "brake" else False, -(least.margin.low / least.target) if least and least.margin else 0.0),
    )  # fmt: skip


def _at_place(part: Part, place: str) -> bool:
    node = {"brake": ":brake", "grab": ":grab", "capture": ":capture"}[place]
    return node in part.id
