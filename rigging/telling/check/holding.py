"""What holds in a state, in one line of words; and what happens when a part of it is taken away."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.removal import STAYS_M, Gone, Standing
from rigging.lines.rig import LOAD, LineRig
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import moments
from rigging.mechanics.holds import HANDS, bears
from rigging.quantities.faults import refuse
from rigging.quantities.units import Wording
from rigging.telling.figures.shapes import Spot
from rigging.telling.words.names import line_name, listed, lower_first, state_name, upper_first

_ROPE, _BEHIND = "the rope", "the rope behind the device"
_ROPES = frozenset({_ROPE, _BEHIND})


@dataclass(slots=True)
class PartReport:
    """A part that can be taken away, and how much further the load then goes (None: it falls)."""

    id: str
    name: str
    further_m: float | None


@dataclass(slots=True)
class Moved:
    """Where a node lies once the part is gone."""

    id: str
    at: Spot


@dataclass(slots=True)
class Pulls:
    """What a piece then pulls at rest, without friction."""

    piece: str
    name: str
    force_n: float


@dataclass(slots=True)
class GoneReport:
    """A part taken away: how far the load goes (None: it falls), what stops it, how hard at the peak, and where things
    then lie. `peak_n` is the expected peak at the load, None where it does not drop."""

    id: str
    name: str
    further_m: float | None
    peak_n: float | None
    text: str
    nodes: list[Moved]
    pulls: list[Pulls]


class HoldsReport(BaseModel):
    """One state asked what holds: `text` is the line of words, `parts` every part questioned, `gone` the one taken away."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    state: str
    name: str
    text: str
    drop_m: float | None
    single_points: list[str]
    parts: list[PartReport]
    gone: GoneReport | None


def holding(
    plan: Plan, state: str, gone: str | None = None, say: Wording | None = None, every: bool = True
) -> HoldsReport:
    """What holds in a state of a plan; `every` part is questioned, or none but what the words need.

    Raises
    ------
    Refused
        If there is no such state or part, or the lines can not be laid out.
    """
    say = say or Wording()
    solver = Solver(plan, ways_of(plan))
    moment = next((one for one in moments(plan) if one.id == state), None)
    if moment is None:
        raise refuse(
            "state", f"this plan has no state {state!r}", f"one of {', '.join(one.id for one in moments(plan))}"
        )
    if moment.missing or solver.resting is None:
        return HoldsReport(
            state=state, name=state_name(plan, state), text="", drop_m=None, single_points=[], parts=[], gone=None
        )
    standing = Standing(solver, moment)
    if gone is not None and gone not in standing.parts:
        raise refuse("gone", f"{gone!r} is no part of this state", f"one of {', '.join(standing.parts)}")
    said = Said(standing, say)
    further = {part: standing.further(part) for part in (standing.parts if every else ())}
    return HoldsReport(
        state=moment.id, name=state_name(plan, moment.id), text=said.whole(), drop_m=standing.found.drop_m,
        single_points=[part for part, far in further.items() if far is None],
        parts=[PartReport(part, name, further[part]) for part, name in said.names(further).items()],
        gone=said.gone(standing.gone(gone)) if gone else None,
    )  # fmt: skip


class Said:
    """What a state's rig answers, in words."""

    def __init__(self, standing: Standing, say: Wording):
        self.standing, self.say = standing, say
        self.plan, self.rig = standing.plan, standing.rig

    def whole(self) -> str:
        """Holds on …; behind it …, after 0.3 m; hands off: …"""
        here = self.standing
        if here.found.drop_m is None:
            return "Nothing holds the load: it falls."
        text = f"Holds on {self.holds_on()}" if here.on else "Holds"
        text += f"; {self.behind()}"
        if HANDS in here.lying.parts and HANDS not in here.on:
            text += f"; hands off: {self.hands_off()}"
        elif HANDS not in here.lying.parts:
            text += "; hands off: it stays" if not here.moment.hands_off else ""
        return f"{text}."

    def holds_on(self) -> str:
        return listed(self.terminal(one) for one in self.standing.on)

    def behind(self) -> str:
        behind = self.standing.behind
        hands = behind.first == (HANDS,)
        what = "hands off" if hands else "behind it" if len(behind.first) == 1 else "behind them"
        if behind.far_m is None:
            return "hands off: nothing, it falls" if hands else f"{what} nothing"
        return f"{what}{':' if hands else ''} {self.taken(behind.onto)}, {self.after(behind.far_m)}"

    def taken(self, onto: Iterable[str]) -> str:
        return listed(self.terminal(one) for one in onto) or "the rest"

    def after(self, far: float) -> str:
        return f"after {self.say.length(far)}" if far >= STAYS_M else "at once"

    def hands_off(self) -> str:
        far = self.standing.hands_off_m
        if far is None:
            return "it falls"
        return f"{self.say.length(far)} further" if far >= STAYS_M else "it stays"

    def terminal(self, part: str) -> str:
        """What a line ends on, as people say it: a rope piece that is tied is its tied end."""
        if part in self.standing.lying.kinds or part == HANDS or part.endswith(" cord"):
            return self.name(part)
        return "the tied end"

    def name(self, part: str) -> str:
        """A part as people say it."""
        if part == HANDS:
            return "hands"
        if part.startswith("anchor:"):
            return lower_first(self.plan.anchor(part.removeprefix("anchor:")).name)
        if part.startswith("feature:"):
            return lower_first(self.plan.feature(part.removeprefix("feature:")).name)
        if part.startswith("tie of "):
            return f"what ties {self.name(part.removeprefix('tie of '))} to its anchor"
        line = self.rig.line(part.partition(":")[0])
        own = self._own_name(line, part)
        alike = any(one.role == "second" for one in self.plan.lines) and line.line.role in ("main", "second")
        several = own in _ROPES and len(self.plan.lines) > 1
        return f"{own} of the {line_name(self.plan, line.line.id).lower()}" if alike or several else own

    def names(self, parts: Iterable[str]) -> dict[str, str]:
        """Every part's name; pieces that would be called alike say from where to where they run."""
        names = {part: self.name(part) for part in parts}
        count = Counter(names.values())
        return {part: name if count[name] == 1 else f"{name}, {self._run(part)}" for part, name in names.items()}

    def _run(self, part: str) -> str:
        if part.endswith(" cord"):
            return "its cord"
        piece = next((one for one in self.standing.lying.pieces if one.id == part), None)
        return " to ".join(self._end(end) for end in piece.ends) if piece else "its grip"

    def _end(self, node: str) -> str:
        if node == LOAD:
            return "load"
        return "hands" if self.standing.lying.kinds[node] == HANDS else re.sub(r"^the | \([^)]*\)", "", self.name(node))

    def _own_name(self, rig: LineRig, part: str) -> str:
        place, line, known = part.partition(":")[2], rig.line, catalogue()
        crossing = next((one for one in rig.crossings.values() if one.node == part), None)
        if place in ("device", "belay") and crossing:
            return f"the {lower_first(crossing.name)}"
        if place == "device" and line.lowering:
            return f"the {lower_first(known.devices[line.lowering.device].name)}, locked"
        if place in ("brake", "hitch cord") and line.lowering and line.lowering.brake_hitch:
            return f"the brake-side hitch ({lower_first(known.hitches[line.lowering.brake_hitch].name)})"
        if place in ("ratchet", "ratchet cord") and line.haul and line.haul.capture:
            return f"the ratchet ({lower_first(known.hitches[line.haul.capture].name)})"
        if place in ("belay", "hitch cord") and line.belay:
            return f"the belay ({lower_first(known.catching(line.belay.holds, line.belay.what).name)})"
        if part in rig.nodes:
            node = rig.nodes[part]
            if crossing:
                return f"the {lower_first(crossing.name)} at {place}"
            return f"haul grab {place}" if node.kind == "grab" else place
        if place in ("tail", "tied"):
            return _BEHIND
        return _ROPE if part in rig.main or part.endswith(" behind") else "the haul rope"

    def gone(self, gone: Gone) -> GoneReport:
        name = self.name(gone.part)
        if gone.further_m is None:
            text = f"{upper_first(name)} goes: nothing holds the load, it falls{self.meets(gone)}."
            return GoneReport(gone.part, name, None, None, text, [], [])
        left, there = gone.left, gone.there
        pieces = {piece.id for piece in left.pieces}
        pulls = [
            Pulls(id, self.name(id), there.tensions_kn[id] / left.weight_kn * self._pull_n(id))
            for id in bears(there, left.weight_kn)
            if id in pieces
        ]
        nodes = [Moved(id, Spot(*map(float, at))) for id, at in there.at.items()]
        peak = gone.caught.peak_n if gone.caught else None
        return GoneReport(
            gone.part, name, gone.further_m, peak, f"{upper_first(name)} goes: {self.then(gone)}.", nodes, pulls
        )

    def _pull_n(self, piece: str) -> float:
        line = piece.removeprefix("tie of ").partition(":")[0]
        return self.standing.pull_n(self.rig.line(line))

    def then(self, gone: Gone) -> str:
        """What the load does without the part."""
        if gone.further_m is None:
            return f"nothing holds the load, it falls{self.meets(gone)}"
        taken = self.taken(gone.onto)
        if gone.further_m < STAYS_M:
            return f"the load stays, held by {taken}"
        if gone.caught and gone.caught.slid_m is None:
            return f"{taken} slips under the load's own weight and does not stop it{self.meets(gone)}"
        text = f"the load drops {self.say.length(gone.further_m)} onto {taken}"
        text += f", peak about {self.say.force(gone.caught.peak_n)}" if gone.caught else ""
        return text + self.meets(gone)

    def meets(self, gone: Gone) -> str:
        """What it meets on the way."""
        words = {"ground": "the ground", "edge": "an edge", "people": "the people below"}
        return f", onto {listed(words[one] for one in gone.meets)}" if gone.meets else ""
