"""What a good leader would want to hear, as data: what, where, how much, against what. Words are made in telling."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.advice.swaps import stacked_two, worse_than_straight
from rigging.catalogue import Hitch, catalogue
from rigging.catalogue.haul import Advantage, bends
from rigging.document import Haul, Plan
from rigging.judging.anchors import AnchorState
from rigging.judging.found import URGENCY, Found, Level
from rigging.judging.frames import is_frame
from rigging.judging.margins import Part, weakest_of
from rigging.lines.catch import TEST_KG, Caught, passes_test
from rigging.lines.lengths import Budget
from rigging.lines.parts import at_ratchet, edge_crossings, minded, open_bends, passed_on
from rigging.lines.planning import PLANNING
from rigging.lines.rig import anchor_node
from rigging.lines.solve import LineForces, Solved
from rigging.lines.tied import device_holding
from rigging.lines.way import LineWay
from rigging.quantities.ranges import Range
from rigging.site.conditions import hand_hold_n, sustained_n
from rigging.site.ground import RopeWay
from rigging.site.load import Resting, hardest_place

_TURN_SAID_RAD = math.radians(10)


def haulers_needed(hand_n: float, each_n: float) -> int:
    return math.ceil(hand_n / each_n - 1e-9)


def haulers_range(hand: Range, each_n: Range) -> Range:
    """People needed for a pull: fewest where it is least and each gives most."""
    ends = (hand.low, each_n.high), (hand.expected, each_n.expected), (hand.high, each_n.low)
    return Range(*(float(haulers_needed(force, each)) for force, each in ends))


def find_in_state(
    plan: Plan,
    solved: Solved,
    parts: list[Part],
    anchors: list[AnchorState],
    gives: Advantage | None,
    ways: dict[str, LineWay],
) -> list[Found]:
    """Everything to be heard about one state, most urgent first."""
    found = [*_unknown(parts), *_unbalanced(anchors)]
    if solved.moment.solving != "jammed":
        found += _weakest(plan, parts)
    if solved.id == "held":
        found += _hold(plan)
    for line in solved.lines:
        if solved.id == "lowering":
            found += _lower(plan, solved, line)
        elif solved.id == "raising" and gives:
            found += _raise(plan, line, gives, ways[line.rig.line.id])
        elif solved.id == "jammed":
            found += _jam(plan, line, parts)
    if isinstance(solved, Caught):
        found += _goes(solved)
    return sorted(found, key=lambda one: URGENCY.index(one.level))


def _hold(plan: Plan) -> Iterator[Found]:
    """Whether anything is chosen that holds each bearing rope at its station."""
    for line in plan.lines:
        if (
            line.id != PLANNING
            and line.role in ("main", "second")
            and line.lowering is None
            and not (line.haul and line.haul.capture)
        ):
            yield Found(
                "nothing-holds", "stop", f"{line.id}:rope", {"line": line.id}, "" if line.id == "main" else line.id
            )


def _lower(plan: Plan, solved: Solved, line: LineForces) -> Iterator[Found]:
    """Hand force against what a hand holds, whether it runs, and what happens when everybody lets go."""
    lowering = line.rig.line.lowering
    assert lowering is not None and line.running is not None
    device, hand = catalogue().devices[lowering.device], line.running.hand
    grip, rope = hand_hold_n(plan).map(lambda one: one * lowering.hands), plan.rope(line.rig.line.rope)
    about, key = f"{line.rig.line.id}:device", "" if line.rig.line.role == "main" else line.rig.line.id
    values = {"device": device.name, "hand": hand, "grip": grip}
    if line.at_load.expected <= 0:
        yield Found("no-slide", "look", "load", {}, key)
        return
    if not device.self_locking:
        if hand.high > grip.low:
            at_device = hand.high * device_holding(device, rope, lowering.turns, lowering.led).low
            fits = [
                d.name for d in catalogue().devices.values()
                if not d.special and at_device / device_holding(d, rope).low <= grip.low and not d.self_locking and d.id != device.id
            ]  # fmt: skip
            yield Found("hand-too-much", "stop", about, {**values, "fits": fits}, key)
        else:
            yield Found("hand-fits", "note", about, values, key)
    if lowering.led is not None and lowering.led != device.led:
        level: Level = "stop" if device.other_way.high < 0.5 else "look"
        yield Found("led-wrong", level, about, {**values, "led": lowering.led, "keeps": device.other_way}, key)
    if hand.low < catalogue().people.device_runs_n:
        yield Found("may-not-run", "look", about, values, key)
    if not device.self_locking and lowering.brake_hitch is None:
        yield Found("hands-off-lower", "stop", about, values, key)


def _raise(plan: Plan, line: LineForces, gives: Advantage, way: LineWay) -> Iterator[Found]:
    """Advantage worth having, people enough, and what holds between hauls."""
    haul = line.rig.line.haul
    assert haul is not None and line.running is not None
    of = line.rig.line.id
    yield from _straight_pull(plan, haul, gives)
    yield from _people(plan, haul, gives, line)
    for name in open_bends(haul):
        yield Found("unsaid", "look", f"{of}:{name}", {"bend": name}, name)
    yield from _capture(haul, of, line.at_load)
    hardest = hardest_place(plan, way.over, lambda other: _edge_factor(plan, other))
    if hardest:
        pull = line.running.hand.expected * hardest.ratio
        yield Found("hardest-place", "look", "load", {"x_m": hardest.x_m, "ratio": hardest.ratio, "pull_n": pull})


def _edge_factor(plan: Plan, way: RopeWay) -> float:
    return 1 / math.prod(passed_on(one).expected for one in edge_crossings(way.turns, plan))


def _straight_pull(plan: Plan, haul: Haul, gives: Advantage) -> Iterator[Found]:
    actual = gives.actual
    if actual.low < 1 and bends(haul.system):
        values = {"system": haul.system.name, "actual": actual, "better": worse_than_straight(plan, haul)[:2]}
        yield Found("worse-than-straight", "stop" if actual.expected < 1 else "look", "haul", values)


def _people(plan: Plan, haul: Haul, gives: Advantage, line: LineForces) -> Iterator[Found]:
    assert line.running is not None
    hand, there = line.running.hand, plan.team.haulers
    each = sustained_n(plan)
    low, high = haulers_needed(hand.low, each.high), haulers_needed(hand.high, each.low)
    if there < high:
        stacked = stacked_two(plan, haul)
        fewer = haulers_needed(hand.high * gives.actual.expected / stacked, each.low) if stacked else None
        enough = there >= haulers_needed(hand.expected, each.expected)
        values = {"low": low, "high": high, "there": there, "each_n": each.expected, "hand": hand, "stacked": fewer}
        yield Found("too-few-haulers", "look" if enough else "stop", "hand", values)
    rope = catalogue().ropes[plan.rope(line.rig.line.rope).kind]
    product = there * gives.ideal
    if product > rope.people_ceiling + 1e-9:
        values = {"there": there, "ideal": gives.ideal, "product": product, "ceiling": rope.people_ceiling}
        yield Found("people-ceiling", "look", "hand", values)


def _capture(haul: Haul, of: str, load: Range) -> Iterator[Found]:
    about = f"{of}:ratchet"
    if haul.capture is None:
        yield Found("hands-off-raise", "stop", about)
        return
    hitch = catalogue().hitches[haul.capture]
    if not minded(haul):
        kind = "runs-through-bend" if at_ratchet(haul) in ("carabiner", "slick-sling", "minding-pulley") else "unminded"
        yield Found(kind, "look", about, {"hitch": hitch.name, "bend": catalogue().bends[at_ratchet(haul)].name})
    if not opens(hitch, load) and haul.capture_releasing_m is None:
        yield Found("capture-release", "note", about, {"hitch": hitch.name})


def opens(hitch: Hitch, load: Range) -> bool:
    """Whether a hand opens a hitch under a load, wherever both are."""
    below = hitch.releases_below_n
    return hitch.releases_under_load and (below is None or load.high <= below.low)


def _jam(plan: Plan, line: LineForces, parts: list[Part]) -> Iterator[Found]:
    """What the whole team's heave does to a load that can not move, and what gives first."""
    assert line.running is not None
    known = [part for part in parts if part.margin is not None]
    first = min(known, key=lambda part: part.margin.low if part.margin else math.inf, default=None)
    values = {
        "people": plan.team.haulers,
        "heave": line.running.hand,
        "arrives": line.at_load,
        "first": first,
    }
    # What slips in a jam is the clutch that it is there to be; what breaks is a stop.
    below = first is not None and first.verdict == "below"
    breaks = first is not None and first.gives != "slips"
    yield Found(
        "gives-first", "note" if not below else "stop" if breaks else "look", first.about if first else "hand", values
    )


def _weakest(plan: Plan, parts: list[Part]) -> Iterator[Found]:
    """The weakest part, where it is below the team's rule."""
    weakest = weakest_of(parts)
    if weakest and weakest.verdict == "below":
        yield Found("weakest", "stop", weakest.about, {"part": weakest, "school": plan.rules.school})


def _unknown(parts: list[Part]) -> Iterator[Found]:
    """Parts whose strength nobody knows."""
    for part in parts:
        if part.verdict == "unknown" and part.gives == "unknown":
            yield Found("unknown", "look", part.about, {"part": part}, part.id)


def _unbalanced(anchors: list[AnchorState]) -> Iterator[Found]:
    """Anchors whose legs can not balance the pull on them."""
    for state in anchors:
        if state.states is None and not is_frame(state):
            values = {"anchor": state.anchor, "why": "; ".join(state.faults)}
            yield Found("anchor-fails", "stop", anchor_node(state.anchor), values, state.anchor)


def _goes(caught: Caught) -> Iterator[Found]:
    """What happens when a line goes: whether anything catches, how hard, how far, and the belay's own test."""
    if caught.by is None:
        yield Found("nothing-catches", "stop", f"{caught.gone}:rope", {"line": caught.gone}, caught.gone)
        return
    if caught.arrests is None:
        return
    about = f"{caught.by}:rope"
    values = {"line": caught.gone, "by": caught.by, "drop_m": caught.drop_m, "peak": caught.peak, "stops_in": caught.stops_in,
              "slid": caught.slid, "clutch": caught.clutch, "clearance_m": caught.clearance_m}  # fmt: skip
    if caught.stops_in is None:
        yield Found("does-not-stop", "stop", about, {**values, "surely": not caught.may_stop}, caught.by)
    elif (
        caught.clearance_m is not None
        and caught.clearance_m > 0.01
        and (caught.drop_m or 0.0) + caught.stops_in.high > caught.clearance_m
    ):
        yield Found("reaches-ground", "stop", about, values, caught.by)
    else:
        yield Found("caught", "note", about, values, caught.by)
    for kg, tested in caught.tested:
        told = {
            "by": caught.by,
            "kg": kg,
            "peak": tested.peak_n,
            "stops_in": tested.stops_in_m,
            "passes": passes_test(tested),
        }
        key = caught.by if kg == TEST_KG[0] else f"{caught.by}:{kg:g}"
        yield Found("belay-test", "note" if told["passes"] or kg > TEST_KG[0] else "look", about, told, key)


def find_rope(budgets: list[Budget]) -> Iterator[Found]:
    """Rope that is too short, with the missing metres."""
    for budget in budgets:
        if budget.left_m < 0:
            values = {
                "job": budget.job,
                "rope": budget.rope,
                "missing_m": -budget.left_m,
                "needed_m": budget.needed_m,
                "there_m": budget.there_m,
                "beside_m": budget.beside_m,
            }
            key = budget.job if budget.line == "main" else f"{budget.job}:{budget.line}"
            yield Found("short", "stop", f"{budget.line}:rope", values, key)


def find_site(plan: Plan, ways: dict[str, LineWay], resting: Resting | None) -> Iterator[Found]:
    """Corners of a rope that nobody entered as an edge; a hanging load that would swing."""
    seen = set()
    for line, way in ways.items():
        for number, turn in enumerate(way.over.turns, start=1):
            place = (turn.at[0], turn.at[2])
            if turn.edge is None and turn.turn_rad > _TURN_SAID_RAD and place not in seen:
                seen.add(place)
                values = {"turn_rad": turn.turn_rad, "x_m": turn.at[0], "z_m": turn.at[2], "surface": plan.site.surface}
                yield Found("bare-corner", "look", f"{line}:edge:{number}", values, f"{len(seen)}")
    if resting is None:
        return
    lean = math.pi / 2 - (resting.slope_rad + resting.lift_rad)
    if resting.hangs and abs(lean) > _TURN_SAID_RAD:
        yield Found("swing", "look", "load", {"lean_rad": lean})
