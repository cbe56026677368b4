"""What was found, in sentences: each finding, and what would mend it."""

from __future__ import annotations

import math
from typing import Any

from rigging.advice.swaps import Better
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.found import Found
from rigging.judging.margins import Part
from rigging.lines.catch import TEST_PEAK_N, TEST_STOP_M
from rigging.quantities.units import Wording
from rigging.telling.check_words import TELL
from rigging.telling.report import Finding
from rigging.telling.words import Pair, Teller, line_name, lower_first, part_mend, part_name, sentence


def _better(one: Better) -> str:
    return (
        f"a ball-bearing pulley at {one.at} gives {one.gives:.2f}"
        if one.change == "pulley"
        else f"taking the last redirect out gives {one.gives:.2f}"
    )


def _hand_too_much(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    text = f"{v['device']}: {say.force(v['hand'])} at the hand, above what one gloved hand holds for long ({say.force(v['grip'])})."
    return text, f"{v['fits'][0]} would fit." if v[
        "fits"
    ] else "No device here fits one hand: more friction, or a second pair of hands."


def _too_few(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    needed = f"{v['low']}" if v["low"] == v["high"] else f"{v['low']} to {v['high']}"
    text = f"{needed} haulers needed at {say.force(v['each_n'])} each, {v['there']} there: {say.force(v['hand'])} at the hands."
    if v["stacked"] is None:
        return text, "More haulers, less friction, or a bigger system."
    return (
        text,
        f"A 2:1 stacked on the haul strand would bring it to about {v['stacked']}; one good pulley in place of a carabiner may do.",
    )


def _straight(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    worse = (
        "worse than pulling the rope straight"
        if v["actual"].expected < 1
        else "perhaps worse than pulling the rope straight"
    )
    return f"{v['system']}, as rigged, gives {Wording.ratio(v['actual'])}: {worse}.", sentence(
        "; ".join(_better(b) for b in v["better"])
    )


def _gives_first(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    text = f"{v['people']} people heave {say.force(v['heave'])}; {say.force(v['arrives'])} arrives at a stuck load."
    first: Part | None = v["first"]
    if first is not None and first.strength_n is not None:
        gives = "slip" if first.gives == "slips" else "break"
        text += (
            f" {part_name(plan, first)} would {gives} first: it carries {say.force(first.force_n)} "
            f"and {gives}s at {say.force(first.strength_n)}."
        )
    return text, "If it suddenly goes heavy, stop and look."


def _weakest(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    part: Part = v["part"]
    assert part.strength_n is not None and part.margin is not None
    text = (
        f"{part_name(plan, part)} carries {say.force(part.force_n)} and {part.gives} at {say.force(part.strength_n)}: "
        f"{part.margin.low:.1f} : 1, below your {part.target:g} : 1."
    )
    return text, sentence(part_mend(part, say, part.target))


def _unknown(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    part: Part = v["part"]
    return f"{part_name(plan, part)}: nobody said what it holds, so its margin is unknown.", sentence(
        part_mend(part, say, part.target)
    )


def _capture_release(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    return (
        f"The ratchet ({v['hitch']}) does not let go under load.",
        "To go down again, haul it slack first, or put a load-releasing hitch behind it.",
    )


def _hardest(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    text = (
        f"The pull is not highest here: at {say.length(v['x_m'])} out it is {v['ratio']:.1f} times as much, "
        f"about {say.force(v['pull_n'])} at the hands."
    )
    return text, "Move the load there on the section and judge that too."


def _short(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    job = {"lower": "to lower", "raise": "to haul", "catch": "for the belay", "span": "for the tension line"}[v["job"]]
    missing = say.length(v["missing_m"])
    text = f"The rope is {missing} short {job}: {say.length(v['needed_m'])} needed, {say.length(v['there_m'])} there."
    if v["beside_m"]:
        text += f" Of that, {say.length(v['beside_m'])} for what else is on it."
    return text, f"A longer rope, a second joined on, or a station {missing} nearer."


def _corner(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    ground = catalogue().surfaces[v["surface"]].name.lower()
    bare = ground if ground.startswith("bare") else f"bare {ground}"
    text = f"The rope bends {math.degrees(v['turn_rad']):.0f}° over the ground {say.length(v['x_m'])} out, where no edge is entered: taken as {bare}."
    return text, "Look at it, enter it as an edge, pad it."


def caught_text(v: dict[str, Any], plan: Plan, say: Wording) -> str:
    """A catch in one sentence: what goes, how far it drops, what takes it, how hard, where it stops."""
    gone, by = line_name(plan, v["line"]), line_name(plan, v["by"]).lower()
    text = f"{gone} goes: the load drops {say.length(v['drop_m'])} onto the {by}, peak {say.force(v['peak'])}"
    if v["slid"] is not None and v["slid"].high > 0.005 and v["clutch"]:
        text += f", {lower_first(v['clutch'].name)} slipping up to {say.length(v['slid'].high)}"
    if v["stops_in"] is not None:
        text += f"; it stops {say.length_range(v['stops_in'])} further down"
    return f"{text}."


def _reaches(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    text = f"{caught_text(v, plan, say)} Only {say.length(v['clearance_m'])} is free below it."
    return text, "Take the slack in, or catch it with less give."


def _does_not_stop(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    """What slips under the load's own weight: surely, or where it grips least and the load is heaviest."""
    surely = "and does not stop it" if v["surely"] else "and may not stop it"
    text = f"{line_name(plan, v['line'])} goes: {lower_first(line_name(plan, v['by']))} slips under the load's own weight {surely}."
    if v["clutch"] is None or v["clutch"].hand_n is None:
        return text, "More grip in what catches."
    held = f" {v['clutch'].name} bears {say.force(v['clutch'].slip_n)} before rope runs through it."
    return text + held, "A hitch that grips, a device that locks by itself, or the rope tied behind it."


def _test(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    stops = "may not stop" if v["stops_in"] is None else f"stops in {say.length_range(v['stops_in'])}"
    against = f"{say.length(TEST_STOP_M)} and {say.force(TEST_PEAK_N)}"
    text = f"{line_name(plan, v['by'])} under the competence test ({v['kg']:g} kg falling 1 m on 3 m of rope): {stops}, peak {say.force(v['peak'])}, against {against}. Whether the rope keeps the {catalogue().tying.test_keeps * 100:.0f} % that the test asks, only a pull of it afterwards tells."
    return text, "" if v["passes"] else "More grip in what catches, or a rope that gives less."


def _what_is_left(plan: Plan) -> str:
    """Besides the main line, which the hands held."""
    other = plan.line("belay") or plan.line("second")
    return f"it runs until the {lower_first(line_name(plan, other.id))} holds" if other else "nothing holds the load"


_LED = {"parallel": "beside the load strand", "back": "back, away from the load"}
_TELL: dict[str, Teller] = {
    "nothing-holds": lambda v, p, s: (
        "Nothing is chosen that holds the rope at the station.", "Choose a lowering device to lock off, or a progress capture."),
    "no-slide": lambda v, p, s: (
        "The load does not go down by itself on this slope.", "It has to be walked or pulled down; the rope only guards it."),
    "hand-too-much": _hand_too_much,
    "hand-fits": lambda v, p, s: (
        f"{v['device']}: {s.force(v['hand'])} at the hand, within what one gloved hand holds ({s.force(v['grip'])}).", ""),
    "may-not-run": lambda v, p, s: (
        f"Only {s.force(v['hand'].low)} may be left at the hand: {lower_first(v['device'])} may not run by itself.",
        "Feed the rope, or take a device with less friction."),
    "led-wrong": lambda v, p, s: (
        f"{v['device']}: with its brake strand led {_LED[v['led']]} it keeps {v['keeps'].low * 100:.0f} to {v['keeps'].high * 100:.0f} % of its friction.",
        f"Lead the brake strand {_LED['back' if v['led'] == 'parallel' else 'parallel']}."),
    "hands-off-lower": lambda v, p, s: (
        f"If everybody lets go, {_what_is_left(p)}.", "Put a friction hitch on the brake side of the device and name who minds it."),
    "worse-than-straight": _straight,
    "too-few-haulers": _too_few,
    "people-ceiling": lambda v, p, s: (
        f"{v['there']} people × {v['ideal']:g} = {v['product']:g}, above the ceiling of {v['ceiling']} teams use on this rope.",
        "Let fewer pull at once, or read the load cell."),
    "unsaid": lambda v, p, s: (
        f"Nobody said what sits at bend {v['bend']}: taken as anything from a bare carabiner to a ball-bearing pulley.",
        "Touch the bend and say what it is."),
    "hands-off-raise": lambda v, p, s: (
        f"No progress capture: if everybody lets go, {_what_is_left(p)}.", "Put a ratchet hitch on the tight strand at the working point."),
    "unminded": lambda v, p, s: (
        f"Nobody minds the ratchet ({v['hitch']}): it can be pulled through the bend, and counts as open.", "Name one person for it."),
    "capture-release": _capture_release,
    "hardest-place": _hardest,
    "gives-first": _gives_first,
    "weakest": _weakest,
    "unknown": _unknown,
    "short": _short,
    "bare-corner": _corner,
    "swing": lambda v, p, s: (
        f"The load is said to hang clear, but its rope leans {math.degrees(v['lean_rad']):.0f}° from upright: it would swing in.",
        "Put it below the last edge, or say how it meets the ground."),
    "anchor-fails": lambda v, p, s: (
        f"{p.anchor(v['anchor']).name} can not hold this pull: {v['why']}.",
        "Turn the pull, move its point out, or tie it to features behind it."),
    "nothing-catches": lambda v, p, s: (
        f"{line_name(p, v['line'])} goes: nothing else holds the load.",
        "Add a belay or a second rope on an anchor of its own, or accept one rope, part by part, with a reason."),
    "does-not-stop": _does_not_stop,
    "reaches-ground": _reaches,
    "caught": lambda v, p, s: (caught_text(v, p, s), ""),
    "belay-test": _test,
}  # fmt: skip


def told(found: Found, plan: Plan, say: Wording) -> Pair:
    """A finding's sentence, and what would mend it."""
    return (_TELL.get(found.kind) or TELL[found.kind])(found.values, plan, say)


def finding_of(found: Found, plan: Plan, say: Wording) -> Finding:
    """A finding as it is read."""
    text, mend = told(found, plan, say)
    return Finding(found.id, found.level, text, mend, found.about)
