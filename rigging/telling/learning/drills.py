"""Drills told: the question, what is shown, the options, and, once answered, the working."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.learning.drills import running
from rigging.learning.drills.drill import Drill, Level
from rigging.learning.drills.skills import SKILLS, drill, in_turn
from rigging.learning.drills.tying import RIGHT_FORM
from rigging.learning.knots import Knot, knot
from rigging.procedures.run import known
from rigging.quantities.units import Wording
from rigging.telling.learning.shown import PARTS, DrillShown, sketched
from rigging.telling.words import told as finding_told
from rigging.telling.words.names import listed, lower_first, upper_first

# Each skill by its name, and what it is for in a line.
NAMES: dict[str, tuple[str, str]] = {
    "holds-now": ("What holds now", "See what bears, of all that is on the rope"),
    "if-it-goes": ("And if that goes", "How far it drops, and whether anything takes it"),
    "alone": ("The one thing alone", "Find what everything hangs on"),
    "hands-off": ("Everybody lets go", "What the rig does without hands"),
    "bench": ("Rig it until it holds", "Put on the one thing that holds it with every hand off"),
    "leg-swing": ("Which leg sees most", "When the pull swings"),
    "piece-length": ("How long is the piece", "Round the trunk, to the working point, with its knots"),
    "least-anchor": ("The least that does", "Trees against the team's ratio"),
    "redirect": ("What a redirect sees", "By the angle between its strands"),
    "ideal": ("Count the advantage", "Ideal, from the strands"),
    "actual": ("What it really gives", "With friction at every bend"),
    "rope-end": ("Where the end is tied", "Odd and even systems"),
    "good-pulley": ("The one good pulley", "Where it buys most"),
    "haulers": ("How many to haul", "People for a load"),
    "stuck": ("Everybody heaves", "What a team does to a load that sticks"),
    "strip": ("Stop or go", "Read a strip of the load cell"),
    "order": ("Order the steps", "The only order in which they go"),
    "missing": ("What is missing", "Before anybody loads it"),
    "rangefinder": ("Read the rangefinder", "Level distance and height"),
    "knot-fault": ("Find the fault", "In a knot tied by another"),
    "knot-for": ("Which knot for that", "By what is to be done"),
    "keeps-most": ("Which keeps most", "Of the rope's strength"),
    "slips-first": ("Which slips first", "On one rope"),
    "clove": ("Adjust the clove", "Which strand is drawn first"),
}
assert NAMES.keys() == SKILLS.keys()

_ADDS = {
    "brake-to-anchor": "A hitch on the brake strand, its cord to the anchor", "brake-to-hands": "A hitch on the brake strand, its cord to the belt of whoever holds it",
    "ratchet-unclipped": "A hitch on the load strand, its cord not clipped yet", "ratchet-to-anchor": "A hitch on the load strand, its cord to the anchor",
    "ratchet-to-device": "A hitch on the load strand, its cord to the device", "stopper": "A stopper knot in the brake strand",
}  # fmt: skip
STRIP = {
    running.GO: "Go on: all of it is ordinary", "rise": "Stop: it went heavy and stays so", "shock": "Stop: a shock, and then as before", "outside": "Stop: far less than it should be: it hangs on something else",
}  # fmt: skip
_CLOVE = {
    "load": "The strand to the load, by its end", "first-turn": "The turn next to the load strand", "across": "The strand across, on top", "second-turn": "The turn next to the tail", "tail": "The tail, pushed in",
}  # fmt: skip
_ENDS = {"load": "At the load", "anchor": "At the anchor", "hands": "In the haulers' hands"}


class DrillReport(BaseModel):
    """A drill as it is put. `options` are chosen from, or put in order where `in_order`; `right`: the numbers of the right one or of all in their order;
    `because`: how that was worked out; `open`: the knot whose drawing tells more ("": none); `revision`: of the plan that it is about (0: of none)."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    skill: str
    name: str
    seed: int
    level: int
    question: str
    facts: list[str]
    options: list[str]
    in_order: bool
    right: list[int]
    because: list[str]
    shown: DrillShown | None
    open: str = ""
    revision: int = 0


class RoundReport(BaseModel):
    """Drills to be done one after another."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    drills: list[DrillReport]


class MarkedReport(BaseModel):
    """Whether each answer was right; None where it is no answer to its drill."""

    right: list[bool | None]


def round_report(asked: Sequence[tuple[str, Level]], seed: int, say: Wording) -> RoundReport:
    """A drill of each skill, at its level, in that order."""
    return RoundReport(drills=[drill_report(one, say) for one in in_turn(asked, seed)])


def marked_report(answers: Sequence[tuple[str, int, Level, tuple[int, ...]]]) -> MarkedReport:
    """Answers marked: skill, seed, level, and the numbers of the options that were given."""
    found: list[bool | None] = []
    for skill, seed, level, given in answers:
        one = drill(skill, seed, level)
        found.append(one.marks(given) if fits(one, given) else None)
    return MarkedReport(right=found)


def fits(one: Drill, given: Sequence[int]) -> bool:
    """Whether it is an answer to a drill at all: numbers of its options, each once, as many as are asked for."""
    return len(given) == len(one.right) and len(set(given)) == len(given) and all(0 <= number < len(one.options) for number in given)  # fmt: skip


@dataclass
class Words:
    """The words of one drill."""

    question: str
    options: list[str]
    because: list[str]
    facts: tuple[str, ...] = ()
    open: str = ""


def drill_report(one: Drill, say: Wording | None = None) -> DrillReport:
    """A drill in words."""
    words = _TELLERS[one.skill](one, say or Wording())
    return DrillReport(
        skill=one.skill, name=NAMES[one.skill][0], seed=one.seed, level=one.level, question=words.question, facts=list(words.facts),
        options=[upper_first(text) for text in words.options], in_order=one.in_order, right=list(one.right), because=words.because, shown=shown(one), open=words.open,
    )  # fmt: skip


def shown(drill: Drill) -> DrillShown | None:
    """What is drawn beside the question; None where nothing is."""
    sketch = drill.sketch
    return sketched(sketch) if sketch.spots or sketch.strip or sketch.knot else None


# Holding


def drops(far: float | None, say: Wording) -> str:
    """What the load does, as an answer."""
    if far is None:
        return "It falls"
    return "It stays where it is" if far < 0.05 else f"It drops {say.length(far)} and is held"


def _holds_now(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        "The load hangs as it is drawn. What bears it now?", [PARTS[one] for one in drill.options],
        [f"{upper_first(PARTS[right])}: everything else on the rope has slack before it, or is no grip of its own."],
    )  # fmt: skip


def _then(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        f"{upper_first(PARTS[drill.asks['gone']])} goes. What does the load do?", [drops(one, say) for one in drill.options],
        [f"{drops(right, say)}: the load moved as far down as every piece's length allows, that part taken away."],
    )  # fmt: skip


def _alone(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        "One thing here is alone: without it the load falls. Which?", [PARTS[one] for one in drill.options],
        [f"{upper_first(PARTS[right])}: with any other part gone something else still holds."],
    )  # fmt: skip


def _let_go(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        "Everybody lets go. What does the load do?", [drops(one, say) for one in drill.options],
        [f"{drops(right, say)}: every strand that ends in hands is gone, the rest is asked again."],
    )  # fmt: skip


def _bench(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        "The load runs through the device into somebody's hands. What has to go on so that it stays when they let go?",
        [_ADDS[one] for one in drill.options],
        [f"{_ADDS[right]}. With each of the others, every hand off, the load falls or goes further than half a metre."],
    )


# Anchors


def _leg_swing(drill: Drill, say: Wording) -> Words:
    swing = drill.asks["swing_deg"]
    way = "straight" if not swing else f"swung {abs(swing)}° to the {'left' if swing < 0 else 'right'}, looking out"
    pulls = drill.works["tensions_kn"]
    return Words(
        f"Pull {way}, the outer legs {drill.asks['spread_deg']}° apart. Which leg sees most?", [f"The {one} leg" for one in drill.options],
        [f"Of 2 kN: {listed(f'{name} {say.force(1000 * one)}' for name, one in pulls.items())}."],
    )  # fmt: skip


def _piece_length(drill: Drill, say: Wording) -> Words:
    asks = drill.asks
    method, what = catalogue().attachments[asks["method"]], catalogue().slings[asks["material"]]
    turns = f", {asks['turns']} turns" if asks["turns"] > 1 else ""
    return Words(
        f"{method.name}{turns}, in {lower_first(what.name)}, round a trunk of {say.length(asks['girth_m'])} girth, {say.length(asks['reach_m'])} from its middle to the working point. How much does it take?",
        [say.length(one) for one in drill.options],
        [f"{say.length(drill.works['exact_m'])}: round the trunk as often as it goes, the way to the working point for every strand that goes there, knots and tails."],
    )  # fmt: skip


def _least_anchor(drill: Drill, say: Wording) -> Words:
    asks, held = drill.asks, drill.works["held_n"]

    def tree(one: tuple[tuple[str, Any], ...]) -> str:
        row = dict(one)
        roots = "" if row["rooted"] == "deep" else ", shallow roots"
        return f"{1000 * row['diameter_m']:.0f} mm{roots}, strap {say.length(row['strap_height_m'])} up"

    return Words(
        f"{asks['mass_kg']} kg, and the team asks {asks['ratio']} : 1 of its anchors. Which of these trees is the least that still does, at the least that it may hold?",
        [tree(one) for one in drill.options],
        [f"{say.force(drill.works['needed_n'])} are asked for.", *(f"{tree(one)}: at least {say.force(held[one])}." for one in drill.options)],
    )  # fmt: skip


def _redirect(drill: Drill, say: Wording) -> Words:
    asks = drill.asks
    pull = say.force(1000 * asks["pull_kn"])
    right = say.force(1000 * drill.options[drill.right[0]])
    return Words(
        f"{pull} in the rope, {asks['angle_deg']}° between its strands at the redirect. What does the redirect's anchor see?", [say.force(1000 * one) for one in drill.options],
        [f"2 · T · cos(θ/2) = 2 · {pull} · cos({asks['angle_deg'] / 2:g}°) = {right}."],
    )  # fmt: skip


# Hauling


def _bends(kind: str) -> str:
    return f"every bend a {lower_first(catalogue().bends[kind].name)}"


def _gives(value: float) -> str:
    return f"{value:.1f} : 1" if value != int(value) else f"{value:.0f} : 1"


def _ideal(drill: Drill, say: Wording) -> Words:
    system = catalogue().systems[drill.asks["system"]]
    return Words(
        "What is the ideal advantage of this?", [_gives(one) for one in drill.options],
        [f"{system.name}: {_gives(drill.options[drill.right[0]])}, the metres hauled for each metre that the load rises."],
    )  # fmt: skip


def _actual(drill: Drill, say: Wording) -> Words:
    works = drill.works
    return Words(
        f"Ideal {_gives(works['ideal'])}, {_bends(drill.asks['kind'])}. What does it really give, as expected?", [f"{one:.1f} : 1" for one in drill.options],
        [f"{Wording.ratio(works['actual'])} : 1. At each bend the rope passes on what it passes on; each moving block gathers the strands on it."],
    )  # fmt: skip


def _rope_end(drill: Drill, say: Wording) -> Words:
    system = catalogue().systems[drill.works["system"]]
    return Words(
        f"A {drill.asks['ideal']} : 1. Where is the rope's end tied?", [_ENDS[one] for one in drill.options],
        [f"{system.name}: {lower_first(_ENDS[drill.options[drill.right[0]]])}. Even systems end at the anchor, odd ones at the load."],
    )  # fmt: skip


def _good_pulley(drill: Drill, say: Wording) -> Words:
    system, gives = catalogue().systems[drill.asks["system"]], drill.works["gives"]
    return Words(
        f"{system.name}, bare connectors, one good pulley. Where does it buy most?", [f"At {one}" for one in drill.options],
        [f"{listed(f'at {place} {one:.2f} : 1' for place, one in gives.items())}."],
    )  # fmt: skip


def _haulers(drill: Drill, say: Wording) -> Words:
    asks, works = drill.asks, drill.works
    system = catalogue().systems[asks["system"]]
    return Words(
        f"{asks['mass_kg']} kg hang free. {system.name}, {_bends(asks['kind'])}. How many have to haul, as expected?", [str(one) for one in drill.options],
        [f"It gives {works['actual']:.2f} : 1, so {say.force(works['hand_n'])} at the hands, {say.force(works['each_n'])} each. By the ideal advantage it would be {works['by_count']}."],
    )  # fmt: skip


def _stuck(drill: Drill, say: Wording) -> Words:
    asks, works = drill.asks, drill.works
    system = catalogue().systems[asks["system"]]
    return Words(
        f"The load is stuck. {asks['count']} heave on a {system.name}, {_bends(asks['kind'])}. What may come on the rope to the load?", [say.force(1000 * one) for one in drill.options],
        [f"{asks['count']} × {say.force(works['heave_n'].high)} in a heave × {works['actual'].high:.2f} : 1. Heavy means stop: find out first."],
    )  # fmt: skip


# The work


def _strip(drill: Drill, say: Wording) -> Words:
    right = drill.options[drill.right[0]]
    return Words(
        f"A haul, {say.force(drill.asks['band'])} predicted at the cell. Is it stop or go on this strip?", [STRIP[one] for one in drill.options],
        [f"{STRIP[right]}. The watch over the cell says the same of it."],
    )  # fmt: skip


def _order(drill: Drill, say: Wording) -> Words:
    given = known()[drill.asks["procedure"]]
    return Words(
        f"{given.name}: put these steps in order.", [running.step_of(one).given.do for one in drill.options],
        ["In any other order an edit is refused, or the rig is not as it has to be."],
    )  # fmt: skip


def _missing(drill: Drill, say: Wording) -> Words:
    plan = running.lacking(drill.asks["left_out"])
    said = [finding_told(one, plan, say) for one in drill.options]
    text, mend = said[drill.right[0]]
    return Words(
        "So it is rigged, and somebody asks whether it can be loaded. What do you stop for?", [text for text, _ in said], [text, mend], tuple(_as_rigged(plan, say))
    )  # fmt: skip


def _as_rigged(plan: Plan, say: Wording) -> list[str]:
    """A plan as somebody who looks at it would read it out."""
    shelf, main, belay = catalogue(), plan.lines[0], plan.lines[1]
    low, haul, held = main.lowering, main.haul, belay.belay
    found = []
    if low:
        hitch = shelf.hitches[low.brake_hitch].name if low.brake_hitch else "no hitch behind it"
        found.append(f"Lowering on a {lower_first(shelf.devices[low.device].name)}, {lower_first(hitch)}, minded by {low.minder or 'nobody'}")  # fmt: skip
    if haul:
        bends = listed(lower_first(shelf.bends[one].name) for one in haul.bends.values())
        capture = lower_first(shelf.hitches[haul.capture].name) if haul.capture else "nothing"
        found.append(f"Hauling by {haul.system.name} with {bends}, {plan.team.haulers} pull; progress captured by {capture}, minded by {haul.capture_minder or 'nobody'}")  # fmt: skip
    if held:
        back = f"a releasing hitch of {say.length(held.releasing_m)}" if held.releasing_m else "no releasing hitch"
        found.append(f"Belay on {lower_first(shelf.hitches[held.what].name)} with {back}, {say.length(belay.slack_m)} of slack, minded by {held.minder or 'nobody'}")  # fmt: skip
    found += [
        f"{edge.name}: {lower_first(shelf.surfaces[edge.protection].name) if edge.protection else 'nothing on it'}"
        for edge in plan.site.edges
    ]
    rope = plan.ropes[0]
    found.append(f"Main rope {say.length(rope.length_m)}, {say.length(main.tail_m)} of tail kept; connector at the load {'crowded' if main.load_connector_crowded else 'with room'}")  # fmt: skip
    edge = next((one for one in plan.team.people if one.role == "edge"), plan.team.people[-1])
    for one in dict.fromkeys((edge, plan.team.people[4])):
        found.append(f"{one.name}, {one.role}: {'tied in' if one.tied_to else 'not tied in'}")
    return found


def _rangefinder(drill: Drill, say: Wording) -> Words:
    asks = drill.asks

    def pair(one: tuple[float, float]) -> str:
        return f"{say.length(one[0])} level, {say.length(abs(one[1]))} {'up' if one[1] > 0 else 'down'}"

    return Words(
        f"The rangefinder reads {say.length(asks['distance_m'])} along the slope at {asks['rise_deg']:+d}°. Where is it?", [pair(one) for one in drill.options],
        [f"Level d · cos i, height d · sin i: {pair(drill.options[drill.right[0]])}."],
    )  # fmt: skip


# Knots


def _fault(drill: Drill, say: Wording) -> Words:
    one = knot(drill.asks["knot"])
    names = {RIGHT_FORM: "Nothing: it is right", **{row.id: row.name for row in one.faults}}
    right = drill.options[drill.right[0]]
    tells = [row.tell for row in one.faults if row.id == right] or [listed(one.look)]
    return Words(f"A {lower_first(one.name)} tied by another. What is wrong with it?", [names[row] for row in drill.options], [f"{names[right]}. {upper_first(' '.join(tells))}"], open=one.id)  # fmt: skip


def _for(one: Knot) -> str:
    return lower_first(one.used).rstrip(".")


def _which(drill: Drill, say: Wording) -> Words:
    one = knot(drill.asks["for"])
    return Words(
        f"For this: {_for(one)}. Which?", [knot(id).name for id in drill.options],
        [f"{knot(id).name}: {_for(knot(id))}." for id in drill.options], open=one.id,
    )  # fmt: skip


def _keeps_most(drill: Drill, say: Wording) -> Words:
    shelf = catalogue().knots
    keeps = drill.works["keeps"]
    return Words(
        "Which of these joins two ropes and keeps most of their strength?" if drill.asks["bend"] else "Which of these keeps most of the rope's strength, pulled as it is meant to be?",
        [shelf[id].name for id in drill.options],
        [f"{shelf[id].name}: {one.low:.0%} to {one.high:.0%}, {one.expected:.0%} as expected." for id, one in keeps.items()],
    )  # fmt: skip


def _slips_first(drill: Drill, say: Wording) -> Words:
    shelf = catalogue().hitches
    return Words(
        "On one rope, pulled harder and harder: which of these slips first, as expected?", [shelf[id].name for id in drill.options],
        [f"{shelf[id].name}: {say.force(one)}." for id, one in drill.works["slips_n"].items()],
    )  # fmt: skip


def _clove(drill: Drill, say: Wording) -> Words:
    longer = drill.asks["longer"]
    right = drill.options[drill.right[0]]
    way = "from the tail towards the load" if longer else "from the load towards the tail"
    return Words(
        f"The leg on this clove has to be {'longer' if longer else 'shorter'}. Which strand is drawn first?", [_CLOVE[one] for one in drill.options],
        [f"{_CLOVE[right]}: rope goes {way}, so slack is drawn in where it comes from and passed on, strand by strand. Rope is drawn, never pushed."], open="clove",
    )  # fmt: skip


_TELLERS: dict[str, Callable[[Drill, Wording], Words]] = {
    "holds-now": _holds_now, "if-it-goes": _then, "alone": _alone, "hands-off": _let_go, "bench": _bench,
    "leg-swing": _leg_swing, "piece-length": _piece_length, "least-anchor": _least_anchor, "redirect": _redirect,
    "ideal": _ideal, "actual": _actual, "rope-end": _rope_end, "good-pulley": _good_pulley, "haulers": _haulers, "stuck": _stuck,
    "strip": _strip, "order": _order, "missing": _missing, "rangefinder": _rangefinder,
    "knot-fault": _fault, "knot-for": _which, "keeps-most": _keeps_most, "slips-first": _slips_first, "clove": _clove,
}  # fmt: skip
assert _TELLERS.keys() == SKILLS.keys()
