"""Words: names of states, lines and parts. Plain, short, in the trade's terms."""

from __future__ import annotations

import math
from collections.abc import Iterable

from rigging.document import Line, Plan
from rigging.judging.margins import Part
from rigging.lines.planning import PLANNING
from rigging.lines.states import Moment
from rigging.quantities.faults import Fault
from rigging.quantities.units import Wording

STATES = {
    "held": "Held", "lowering": "Lowering", "lowering-hands-off": "Lowering, hands off", "raising": "Raising",
    "between-hauls": "Between hauls", "raising-hands-off": "Raising, hands off", "jammed": "Jammed",
}  # fmt: skip
_MISSING = {
    "line": "no line is laid yet", "lowering": "no lowering device is chosen", "haul": "no haul system is chosen",
    "capture": "no progress capture: between hauls the load hangs on hands", "haulers": "nobody is there to pull",
}  # fmt: skip
_ROLES = {"main": "Main line", "belay": "Belay", "second": "Second line", "haul": "Haul line"}


def degrees(angle_rad: float) -> str:
    return f"{math.degrees(angle_rad):.0f}°"


def sentence(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}." if text else ""


def upper_first(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}" if text else ""


def lower_first(text: str) -> str:
    return f"{text[0].lower()}{text[1:]}" if text else ""


def spoken(name: str) -> str:
    """A name as people say it: without the measure behind its comma."""
    return lower_first(name.partition(",")[0])


def listed(names: Iterable[str]) -> str:
    """One, two and three; each once."""
    rows = list(dict.fromkeys(names))
    return " and ".join([", ".join(rows[:-1]), rows[-1]] if len(rows) > 1 else rows)


def rope_name(plan: Plan, id: str) -> str:
    """A rope as people say it: by the lines that it is on, else by its name in the plan."""
    lines = [lower_first(line_name(plan, one.id)) for one in plan.lines if one.rope == id]
    return f"Rope of the {listed(lines)}" if lines else f"Rope {id}"


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


# Of every state of a plan whose load hangs on a tension line and on no line of its own.
ON_TENSION_LINE = "the load hangs on a tension line alone: its forces are along the whole way"


def why_missing(moment: Moment, faults: tuple[Fault, ...] = ()) -> str:
    """Why a state can not be; empty where it can, as far as it was worked out."""
    return "; ".join(f"{fault.problem}: {fault.right}" for fault in faults) or _MISSING.get(moment.missing, "")


def several(plan: Plan) -> bool:
    return len(plan.lines) > 1


def part_name(plan: Plan, part: Part) -> str:
    """A part as a person reads it on the load path."""
    line = part.id.partition(":")[0]
    whose = f", {line_name(plan, line).lower()}" if several(plan) and not part.id.startswith("anchor:") else ""
    thing = lower_first(part.thing)
    names: dict[str, str] = {
        "load-connector": f"Load, {thing}{whose}", "load-knot": f"Load knot, {thing}{whose}", "edge": f"{part.thing}{whose}",
        "rope": f"Rope {part.where}{whose}" if part.where else f"Rope, {part.thing}{whose}", "grab": f"Haul grab {part.where}, {part.thing}", "bend": f"{part.thing} at {part.where}",
        "redirect": f"{part.thing}, redirect", "device": f"{part.thing}{whose}", "device-connector": f"Connector of the {thing}, crowded{whose}", "locked-device": f"{part.thing}, locked off{whose}",
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
        return spoken(part.where or part.thing)
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
        "rope": "use a stronger rope", "device": "use a stronger device", "device-connector": "a larger connector, loaded along its spine", "locked-device": "use a stronger device",
        "attachment": "use a stronger one, or two side by side", "cord": "use two hitches in line, or a thicker cord",
    }.get(part.kind, "")  # fmt: skip


# What is so, and what would mend it.
Pair = tuple[str, str]
