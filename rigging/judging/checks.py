"""What the leader should hear: what, how much, why, and what would mend it. Never a verdict of safety."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.advice.swaps import stacked_two, worse_than_straight
from rigging.lines.build import edge_crossing, passed_on
from rigging.catalogue import catalogue
from rigging.document import Haul, Plan
from rigging.site.ground import RopeWay
from rigging.catalogue.haul import Advantage, bends
from rigging.lines.lengths import haul_rope, lowering_rope_m
from rigging.site.load import hardest_place, resting
from rigging.lines.phases import Solved
from rigging.quantities.ranges import Range
from rigging.telling.report import Finding, Rung
from rigging.telling.units import Wording

_TURN_SAID_RAD = math.radians(10)


def haulers_needed(hand_n: float, each_n: float) -> int:
    return math.ceil(hand_n / each_n - 1e-9)


def find_hold(plan: Plan) -> Iterator[Finding]:
    """Whether anything is chosen that holds the rope at the station."""
    haul = plan.line.haul
    if plan.line.lowering is None and not (haul and haul.capture):
        yield Finding(
            id="nothing-holds",
            level="stop",
            text="Nothing is chosen that holds the rope at the station.",
            mend="Choose a lowering device to lock off, or a progress capture.",
            about="capture",
        )


def find_lower(plan: Plan, solved: Solved, say: Wording) -> Iterator[Finding]:
    """Hand force against what a hand holds, whether it runs, and what happens when everybody lets go."""
    assert plan.line.lowering is not None
    device, hand, grip = catalogue().devices[plan.line.lowering.device], solved.hand(), catalogue().hand_hold_n
    if solved.at_load().expected <= 0:
        yield Finding(id="no-slide", level="look", text="The load does not go down by itself on this slope.",
                      mend="It has to be walked or pulled down; the rope only guards it.", about="load")  # fmt: skip
        return
    if not device.self_locking and hand.high > grip.low:
        yield _hand_too_much(plan, device.name, hand, say)
    elif not device.self_locking:
        text = f"{device.name}: {say.force(hand)} at the hand, within what one gloved hand holds ({say.force(grip)})."
        yield Finding(id="hand-fits", level="note", text=text, mend="", about="device")
    if hand.low < catalogue().device_runs_n:
        text = f"Only {say.force(hand.low)} may be left at the hand: {device.name.lower()} may not run by itself."
        yield Finding(
            id="may-not-run",
            level="look",
            text=text,
            mend="Feed the rope, or take a device with less friction.",
            about="device",
        )
    if not device.self_locking and plan.line.lowering.brake_hitch is None:
        yield Finding(id="hands-off-lower", level="stop", text="If everybody lets go, nothing holds the load.",
                      mend="Put a friction hitch on the brake side of the device and name who minds it.", about="device")  # fmt: skip


def _hand_too_much(plan: Plan, name: str, hand: Range, say: Wording) -> Finding:
    grip = catalogue().hand_hold_n
    at_device = hand.high * catalogue().devices[_device(plan)].ratio.low
    fits = [
        d.name for d in catalogue().devices.values()
        if at_device / d.ratio.low <= grip.low and not d.self_locking and d.id != _device(plan)
    ]  # fmt: skip
    text = f"{name}: {say.force(hand)} at the hand, above what one gloved hand holds for long ({say.force(grip)})."
    mend = (
        f"{fits[0]} would fit." if fits else "No device here fits one hand: more friction, or a second pair of hands."
    )
    return Finding(id="hand-too-much", level="stop", text=text, mend=mend, about="device")


def _device(plan: Plan) -> str:
    assert plan.line.lowering is not None
    return plan.line.lowering.device


def find_raise(plan: Plan, solved: Solved, gives: Advantage, way: RopeWay, say: Wording) -> Iterator[Finding]:
    """Advantage worth having, people enough, and what holds between hauls."""
    haul = plan.line.haul
    assert haul is not None
    yield from _straight_pull(haul, gives)
    yield from _people(plan, haul, gives, solved, say)
    yield from _unsaid_bends(haul)
    yield from _capture(haul)
    hardest = hardest_place(plan, way, lambda other: _edge_factor(plan, other))
    if hardest:
        text = (
            f"The pull is not highest here: at {say.length(hardest.x_m)} out it is {hardest.ratio:.1f} times as much, "
            f"about {say.force(solved.hand().expected * hardest.ratio)} at the hands."
        )
        yield Finding(
            id="hardest-place",
            level="look",
            text=text,
            mend="Move the load there on the section and judge that too.",
            about="load",
        )


def _edge_factor(plan: Plan, way: RopeWay) -> float:
    shares = [passed_on(edge_crossing(turn, n, plan.site.surface)).expected for n, turn in enumerate(way.turns)]
    return 1 / math.prod(shares)


def _straight_pull(haul: Haul, gives: Advantage) -> Iterator[Finding]:
    actual = gives.actual
    if actual.low >= 1 or not bends(haul.system):
        return
    worse = (
        "worse than pulling the rope straight"
        if actual.expected < 1
        else "perhaps worse than pulling the rope straight"
    )
    text = f"{haul.system.name}, as rigged, gives {Wording.ratio(actual)}: {worse}."
    mends = [f"{what} gives {gain:.2f}" for what, gain in worse_than_straight(haul)[:2]]
    mend = "; ".join(mends)
    yield Finding(id="worse-than-straight", level="stop" if actual.expected < 1 else "look",
                  text=text, mend=_sentence(mend), about="haul")  # fmt: skip


def _people(plan: Plan, haul: Haul, gives: Advantage, solved: Solved, say: Wording) -> Iterator[Finding]:
    team, hand, there = plan.team, solved.hand(), plan.team.haulers
    low, high = (haulers_needed(force, team.sustained_n) for force in (hand.low, hand.high))
    needed = f"{low}" if low == high else f"{low} to {high}"
    if there < high:
        stacked = stacked_two(haul)
        here = gives.actual.expected
        mend = "More haulers, less friction, or a bigger system."
        if stacked:
            fewer = haulers_needed(hand.high * here / stacked, team.sustained_n)
            mend = f"A 2:1 stacked on the haul strand would bring it to about {fewer}; one good pulley in place of a carabiner may do."
        enough = there >= haulers_needed(hand.expected, team.sustained_n)
        text = f"{needed} haulers needed at {say.force(team.sustained_n)} each, {there} there: {say.force(hand)} at the hands."
        yield Finding(id="too-few-haulers", level="look" if enough else "stop", text=text, mend=mend, about="hand")
    ceiling = catalogue().ropes[plan.line.rope].people_ceiling
    product = there * gives.ideal
    if product > ceiling + 1e-9:
        text = f"{there} people × {gives.ideal:g} = {product:g}, above the ceiling of {ceiling} teams use on this rope."
        yield Finding(
            id="people-ceiling",
            level="look",
            text=text,
            mend="Let fewer pull at once, or read the load cell.",
            about="hand",
        )


def _unsaid_bends(haul: Haul) -> Iterator[Finding]:
    for name in open_bends(haul):
        text = (
            f"Nobody said what sits at bend {name}: taken as anything from a bare carabiner to a ball-bearing pulley."
        )
        yield Finding(
            id=f"unsaid:{name}", level="look", text=text, mend="Touch the bend and say what it is.", about=name
        )


def open_bends(haul: Haul) -> list[str]:
    """Bends nobody has said anything about."""
    return [b.id for b in bends(haul.system) if haul.bends.get(b.id, "unknown") == "unknown"]


def _capture(haul: Haul) -> Iterator[Finding]:
    if haul.capture is None:
        yield Finding(id="hands-off-raise", level="stop", text="If everybody lets go, nothing holds the load: no progress capture.",
                      mend="Put a ratchet hitch on the tight strand at the working point.", about="capture")  # fmt: skip
        return
    hitch = catalogue().hitches[haul.capture]
    if not haul.capture_minder.strip():
        yield Finding(id="unminded", level="look", text=f"Nobody minds the ratchet ({hitch.name}): it can be pulled through the bend.",
                      mend="Name one person for it.", about="capture")  # fmt: skip
    if not hitch.releases_under_load:
        yield Finding(id="capture-release", level="note", text=f"The ratchet ({hitch.name}) does not let go under load.",
                      mend="To go down again, haul it slack first, or put a load-releasing hitch behind it.", about="capture")  # fmt: skip


def find_jam(plan: Plan, solved: Solved, rungs: list[Rung], say: Wording) -> Iterator[Finding]:
    """What the whole team's heave does to a load that can not move, and what gives first."""
    judged = [rung for rung in rungs if rung.margin is not None]
    heave = solved.hands_n[1]
    text = (
        f"{plan.team.haulers} people heave {say.force(heave)}; {say.force(solved.at_load())} arrives at a stuck load."
    )
    if judged:
        first = min(judged, key=lambda rung: rung.margin.low if rung.margin else math.inf)
        assert first.margin is not None and first.strength is not None
        gives = "slip" if first.gives == "slips" else "break"
        text += (
            f" {first.name} would {gives} first: it carries {say.force(first.force.range)} "
            f"and {gives}s at {say.force(first.strength.range)}."
        )
        about = first.about
    yield Finding(id="gives-first", level="stop" if judged and first.verdict == "below" else "look", text=text,
                  mend="If it suddenly goes heavy, stop and look.", about=about if judged else "hand")  # fmt: skip


def find_weakest(weakest: Rung | None, say: Wording) -> Iterator[Finding]:
    """The weakest part, where it is below the team's rule."""
    if weakest and weakest.verdict == "below" and weakest.margin and weakest.strength:
        text = (
            f"{weakest.name} carries {say.force(weakest.force.range)} and {weakest.gives} at {say.force(weakest.strength.range)}: "
            f"{weakest.margin.low:.1f} : 1, below your {weakest.target:g} : 1."
        )
        yield Finding(id="weakest", level="stop", text=text, mend=_sentence(weakest.mend), about=weakest.about)


def find_unknown(rungs: list[Rung]) -> Iterator[Finding]:
    """Parts whose strength nobody knows."""
    for rung in rungs:
        if rung.verdict == "unknown":
            text = f"{rung.name}: nobody said what it holds, so its margin is unknown."
            yield Finding(id=f"unknown:{rung.id}", level="look", text=text, mend=_sentence(rung.mend), about=rung.about)


def _sentence(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}." if text else ""


def find_rope(plan: Plan, way: RopeWay, raising: Solved | None, say: Wording) -> Iterator[Finding]:
    """Rope that is too short, with the missing metres."""
    jobs = [("lower", lowering_rope_m(plan, way))] if plan.line.lowering else []
    if raising:
        jobs.append(("haul", haul_rope(raising).main_m + plan.line.tail_m))
    for job, needed in jobs:
        missing = needed - plan.line.length_m
        if missing > 0:
            text = f"The rope is {say.length(missing)} short to {job}: {say.length(needed)} needed, {say.length(plan.line.length_m)} there."
            yield Finding(
                id=f"short-{job}",
                level="stop",
                text=text,
                mend=f"A longer rope, a second joined on, or a station {say.length(missing)} nearer.",
                about="rope",
            )


def find_site(plan: Plan, way: RopeWay, say: Wording) -> Iterator[Finding]:
    """Corners of the rope that nobody entered as an edge; a hanging load that would swing."""
    for number, turn in enumerate(way.turns, start=1):
        if turn.edge is None and turn.turn_rad > _TURN_SAID_RAD:
            text = (
                f"The rope bends {math.degrees(turn.turn_rad):.0f}° over the ground {say.length(turn.at[0])} out, where no edge is entered: "
                f"taken as bare {catalogue().surfaces[plan.site.surface].name.lower()}."
            )
            yield Finding(
                id=f"bare-corner:{number}",
                level="look",
                text=text,
                mend="Look at it, enter it as an edge, pad it.",
                about=f"edge:{number}",
            )
    load = resting(plan, way)
    lean = math.pi / 2 - (load.slope_rad + load.lift_rad)
    if load.hangs and abs(lean) > _TURN_SAID_RAD:
        text = f"The load is said to hang clear, but its rope leans {math.degrees(lean):.0f}° from upright: it would swing in."
        yield Finding(
            id="swing",
            level="look",
            text=text,
            mend="Put it below the last edge, or say how it meets the ground.",
            about="load",
        )
