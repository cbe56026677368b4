"""Words: names of states, lines and parts, and the sentences of what was found. Plain, short, in the trade's terms."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any

from rigging.advice.swaps import Better
from rigging.catalogue import catalogue
from rigging.document import Line, Plan
from rigging.judging.found import Found
from rigging.judging.parts import Part
from rigging.lines.catch import TEST_KG, TEST_PEAK_N, TEST_STOP_M
from rigging.lines.planning import PLANNING
from rigging.lines.states import Moment
from rigging.quantities.faults import Fault
from rigging.quantities.units import Wording
from rigging.telling.report import Finding

STATES = {
    "held": "Held", "lowering": "Lowering", "lowering-hands-off": "Lowering, hands off", "raising": "Raising",
    "between-hauls": "Between hauls", "raising-hands-off": "Raising, hands off", "jammed": "Jammed",
}  # fmt: skip
_MISSING = {
    "line": "no line is laid yet", "lowering": "no lowering device is chosen", "haul": "no haul system is chosen",
    "capture": "no progress capture: between hauls the load hangs on hands", "haulers": "nobody is there to pull",
}  # fmt: skip
_ROLES = {"main": "Main line", "belay": "Belay", "second": "Second line", "haul": "Haul line"}


def sentence(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}." if text else ""


def upper_first(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}" if text else ""


def lower_first(text: str) -> str:
    return f"{text[0].lower()}{text[1:]}" if text else ""


def listed(names: Iterable[str]) -> str:
    """One, two and three; each once."""
    rows = list(dict.fromkeys(names))
    return " and ".join([", ".join(rows[:-1]), rows[-1]] if len(rows) > 1 else rows)


def line_name(plan: Plan, id: str) -> str:
    """A line as people say it: by its role, numbered where several have the same."""
    if id == PLANNING:
        return "Planned line"
    same: list[Line] = []
    for line in plan.lines:
        if line.id == id:
            same = [one for one in plan.lines if one.role == line.role]
            name = _ROLES[line.role]
            return name if len(same) == 1 else f"{name} {same.index(line) + 1}"
    return id


def state_name(plan: Plan, id: str) -> str:
    return f"{line_name(plan, id.removeprefix('goes:'))} goes" if id.startswith("goes:") else STATES[id]


def why_missing(moment: Moment, faults: tuple[Fault, ...] = ()) -> str:
    """Why a state can not be; empty where it can, as far as it was worked out."""
    return "; ".join(f"{fault.problem}: {fault.right}" for fault in faults) or _MISSING.get(moment.missing, "")


def several(plan: Plan) -> bool:
    return len(plan.lines) > 1


def part_name(plan: Plan, part: Part) -> str:
    """A part as a person reads it on the load path."""
    line = part.id.partition(":")[0]
    whose = f", {line_name(plan, line).lower()}" if several(plan) and not part.id.startswith("anchor:") else ""
    thing = lower_first(part.thing) if not part.thing[:1].isdigit() else part.thing
    names: dict[str, str] = {
        "load-connector": f"Load, {thing}{whose}", "load-knot": f"Load knot, {thing}{whose}", "edge": f"{part.thing}{whose}",
        "rope": f"Rope, {part.thing}{whose}", "grab": f"Haul grab {part.where}, {part.thing}", "bend": f"{part.thing} at {part.where}",
        "redirect": f"{part.thing}, redirect", "device": f"{part.thing}{whose}", "locked-device": f"{part.thing}, locked off{whose}",
        "capture": f"Progress capture, {part.thing}", "hitch": f"Brake-side hitch, {part.thing}", "belay": f"{part.thing}{whose}",
        "clamp": f"{part.thing}{whose}", "own-piece": f"{part.thing} of the haul system", "join": f"Join {part.where} m from the load, {thing}{whose}",
        "tied-out": f"{part.thing} {part.where} m from the load{whose}",
        "cord": f"Cord of the {thing}{f' at {part.where}' if part.where else ''}{whose}",
        "working-point": f"Working point, {thing}{f', {part.where}' if several(plan) else ''}",
        "attachment": f"{part.where}: {part.thing}" if part.where else part.thing, "feature": part.thing,
    }  # fmt: skip
    return names[part.kind]


_SHORT: dict[str, str] = {
    "load-connector": "load connector", "load-knot": "load knot", "grab": "haul grab", "locked-device": "locked device",
    "capture": "ratchet", "hitch": "brake-side hitch", "working-point": "working point", "cord": "cord of a hitch", "join": "the join", "tied-out": "knot in the rope", "clamp": "clamp on the rope", "own-piece": "sling of the haul",
}  # fmt: skip


def short_name(part: Part) -> str:
    """A part in a word or two: an anchor's by what it is tied to."""
    if part.kind in ("attachment", "feature"):
        return lower_first((part.where or part.thing).partition(",")[0])
    return _SHORT.get(part.kind, part.kind)


def part_mend(part: Part, say: Wording, ratio: float) -> str:
    """What would mend a part that is below its rule, or not known."""
    if part.kind == "attachment" and part.wants:
        return f"{part.wants} more strand{'s' if part.wants > 1 else ''} would do"
    if part.kind == "feature":
        if part.strength_n:
            return f"find one that holds {say.force(part.force_n.high * ratio)}, or share the load with another"
        return part.why_not or "judge the feature and enter what it holds, with the basis"
    if part.kind in ("bend", "redirect"):
        return "say what sits at this bend" if part.strength_n is None else "read its stamp, or use a stronger one"
    if part.gives == "slips" and part.kind in ("load-knot", "join", "tied-out"):
        return "longer tails, or another knot; in slick cord an overhand in its loop"
    if part.gives == "slips":
        return "use two hitches in line, or lower the force on it"
    return {
        "load-connector": "use a stronger connector, or two side by side, gates opposed",
        "working-point": "use a stronger connector, or two side by side, gates opposed",
        "load-knot": "tie a knot that keeps more, or use a stronger rope",
        "own-piece": "a stronger sling", "join": "another knot, or a whole rope", "tied-out": "another rope", "clamp": "a hitch of cord, or two side by side",
        "edge": "judge the edge by eye: sharpness, padding, and what it does to the rope",
        "rope": "use a stronger rope", "device": "use a stronger device", "locked-device": "use a stronger device",
        "attachment": "use a stronger one, or two side by side", "cord": "use two hitches in line, or a thicker cord",
    }.get(part.kind, "")  # fmt: skip


Pair = tuple[str, str]
Teller = Callable[[dict[str, Any], Plan, Wording], Pair]


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
    text = f"{v['people']} people heave {say.force(v['heave_n'])}; {say.force(v['arrives'])} arrives at a stuck load."
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
    job = {"lower": "to lower", "raise": "to haul", "catch": "for the belay"}[v["job"]]
    missing = say.length(v["missing_m"])
    text = f"The rope is {missing} short {job}: {say.length(v['needed_m'])} needed, {say.length(v['there_m'])} there."
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
        text += f", {lower_first(v['clutch'].name) if not v['clutch'].name[0].isdigit() else v['clutch'].name} slipping up to {say.length(v['slid'].high)}"
    if v["stops_in"] is not None:
        text += f"; it stops {say.length_range(v['stops_in'])} further down"
    return f"{text}."


def _reaches(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    text = f"{caught_text(v, plan, say)} Only {say.length(v['clearance_m'])} is free below it."
    return text, "Take the slack in, or catch it with less give."


def _test(v: dict[str, Any], plan: Plan, say: Wording) -> Pair:
    stops = "does not stop" if v["stops_m"] is None else f"stops in {say.length(v['stops_m'])}"
    against = f"{say.length(TEST_STOP_M)} and {say.force(TEST_PEAK_N)}"
    text = f"{line_name(plan, v['by'])} under the competence test ({TEST_KG:g} kg falling 1 m on 3 m of rope): {stops}, peak {say.force(v['peak_n'])}, against {against}."
    return text, "" if v["passes"] else "More grip in what catches, or a rope that gives less."


def _what_is_left(plan: Plan) -> str:
    """Besides the main line, which the hands held."""
    other = plan.line("belay") or plan.line("second")
    return f"it runs until the {lower_first(line_name(plan, other.id))} holds" if other else "nothing holds the load"


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
    "does-not-stop": lambda v, p, s: (
        f"{line_name(p, v['line'])} goes: {lower_first(line_name(p, v['by']))} slips under the load's own weight and does not stop it.",
        "More grip in what catches."),
    "reaches-ground": _reaches,
    "caught": lambda v, p, s: (caught_text(v, p, s), ""),
    "belay-test": _test,
}  # fmt: skip


def told(found: Found, plan: Plan, say: Wording) -> Pair:
    """A finding's sentence, and what would mend it."""
    from rigging.telling.check_words import TELL

    return (_TELL.get(found.kind) or TELL[found.kind])(found.values, plan, say)


def finding_of(found: Found, plan: Plan, say: Wording) -> Finding:
    """A finding as it is read."""
    text, mend = told(found, plan, say)
    return Finding(found.id, found.level, text, mend, found.about)
