"""What holds in a state, in one line of words; and what happens when a part of it is taken away."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.catch import clutch_of
from rigging.lines.rig import LineRig, Rig
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import Moment, moments
from rigging.mechanics.dynamics import Arrest, arrest
from rigging.mechanics.holds import HANDS, Drop, Holds, Lying, bears, drop, study
from rigging.quantities.faults import refuse
from rigging.quantities.units import Wording
from rigging.telling.report import Spot
from rigging.telling.words import line_name, lower_first, state_name

# A drop shorter than this is stretch and settling: the load stays.
_STAYS_M = 0.01

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
    return _Asked(plan, moment, solver.rig(moment), say).report(gone, every)


class _Asked:
    """One rig in one state, questioned."""

    def __init__(self, plan: Plan, moment: Moment, rig: Rig, say: Wording):
        self.plan, self.moment, self.say = plan, moment, say
        self.rig = rig.without(moment.gone) if moment.gone else rig
        lying = self.rig.lying()
        self.lying: Lying = lying.without(HANDS) if moment.hands_off else lying

    def report(self, gone: str | None, every: bool) -> HoldsReport:
        if gone is not None and gone not in self.lying.parts:
            raise refuse("gone", f"{gone!r} is no part of this state", f"one of {', '.join(self.lying.parts)}")
        found = study(self.lying, None if every else ())
        parts = [PartReport(id, self.name(id), far) for id, far in found.without.items()]
        return HoldsReport(
            state=self.moment.id, name=state_name(self.plan, self.moment.id), text=self.words(found), drop_m=found.drop_m,
            single_points=list(found.single_points), parts=parts, gone=self.gone(gone, found) if gone else None,
        )  # fmt: skip

    def words(self, found: Holds) -> str:
        """Holds on …; behind it …, after 0.3 m; hands off: …"""
        if found.drop_m is None:
            return "Nothing holds the load: it falls."
        on = self.terminals(self.lying, found.settled)
        text = f"Holds on {_listed(self.terminal(one) for one in on)}" if on else "Holds"
        text += f"; {self.behind(found, on)}"
        if HANDS in self.lying.parts and HANDS not in on:
            text += f"; {self.hands_off(found)}"
        elif HANDS not in self.lying.parts:
            text += "; hands off: it stays" if not self.moment.hands_off else ""
        return f"{text}."

    def behind(self, found: Holds, on: list[str]) -> str:
        # What would let go first: the hands, else what grips, else what is tied.
        first = [HANDS] if HANDS in on else [one for one in on if one in self.lying.kinds] or on
        left = self.lying
        for part in first:
            if part in left.parts:
                left = left.without(part)
        there = drop(left)
        what = "hands off" if first == [HANDS] else "behind it" if len(first) == 1 else "behind them"
        if there.drop_m is None or found.drop_m is None:
            return f"{what}: nothing, it falls" if what == "hands off" else f"{what} nothing"
        far = max(0.0, there.drop_m - found.drop_m)
        after = self.terminals(left, there)
        name = _listed(self.terminal(one) for one in after) or "the rest"
        return f"{what}{':' if what == 'hands off' else ''} {name}, {self.after(far)}"

    def after(self, far: float) -> str:
        return f"after {self.say.length(far)}" if far >= _STAYS_M else "at once"

    def hands_off(self, found: Holds) -> str:
        there = drop(self.lying.without(HANDS)).drop_m
        if there is None or found.drop_m is None:
            return "hands off: it falls"
        far = there - found.drop_m
        return f"hands off: {self.say.length(far)} further" if far >= _STAYS_M else "hands off: it stays"

    def terminals(self, lying: Lying, found: Drop) -> list[str]:
        """The parts that what bears ends on: hands first, then devices and hitches, then ends that are tied."""
        hands: dict[str, None] = {}
        grips: dict[str, None] = {}
        tied: dict[str, None] = {}
        pieces = {piece.id: piece for piece in lying.pieces}
        for name in bears(found, lying.weight_kn):
            if name not in pieces or name.startswith("tie of "):
                continue
            piece = pieces[name]
            for end in piece.ends:
                kind = lying.kinds[end]
                fast = kind == "anchor" or (kind in ("grab", "block") and bool(self.rig.nodes[end].on))
                if kind == HANDS:
                    hands[HANDS] = None
                elif fast and kind != "anchor" and end.endswith((":device", ":belay")):
                    grips[end] = None
                elif fast and name.endswith(" cord"):
                    grips[piece.ends[0]] = None
                elif fast:
                    tied[name] = None
        return [*hands, *grips, *tied]

    def terminal(self, part: str) -> str:
        """What a line ends on, as people say it: a rope piece that is tied is its tied end."""
        if part in self.lying.kinds or part == HANDS or part.endswith(" cord"):
            return self.name(part)
        return "the tied end"

    def name(self, part: str) -> str:
        """A part as people say it."""
        if part == HANDS:
            return "hands"
        if part.startswith("anchor:"):
            return lower_first(self.plan.anchor(part.removeprefix("anchor:")).name)
        if part.startswith("tie of "):
            return f"what ties {self.name(part.removeprefix('tie of '))} to its anchor"
        line = self.rig.line(part.partition(":")[0])
        own = self._own_name(line, part)
        alike = any(one.role == "second" for one in self.plan.lines) and line.line.role in ("main", "second")
        several = own in _ROPES and len(self.plan.lines) > 1
        return f"{own} of the {line_name(self.plan, line.line.id).lower()}" if alike or several else own

    def _own_name(self, rig: LineRig, part: str) -> str:
        place, line, known = part.partition(":")[2], rig.line, catalogue()
        crossing = next((one for one in rig.crossings.values() if one.node == part), None)
        if place in ("device", "belay") and crossing:
            return f"the {lower_first(crossing.name)}"
        if place == "device" and line.lowering:
            return f"the {lower_first(known.devices[line.lowering.device].name)}, locked"
        if place in ("brake", "hitch cord") and line.lowering and line.lowering.brake_hitch:
            return f"the brake-side hitch ({known.hitches[line.lowering.brake_hitch].name})"
        if place in ("ratchet", "ratchet cord") and line.haul and line.haul.capture:
            return f"the ratchet ({known.hitches[line.haul.capture].name})"
        if place in ("belay", "hitch cord") and line.belay:
            return f"the belay ({lower_first(known.catching(line.belay.holds, line.belay.what).name)})"
        if part in rig.nodes:
            node = rig.nodes[part]
            if crossing:
                return f"the {lower_first(crossing.name)} at {place}"
            return f"haul grab {place}" if node.kind == "grab" else place
        if place == "tail":
            return _BEHIND
        return _ROPE if part in rig.main or part.endswith(" behind") else "the haul rope"

    def gone(self, part: str, found: Holds) -> GoneReport:
        left = self.lying.without(part)
        there = drop(left)
        name = self.name(part)
        further = found.without.get(part)
        if part not in found.without and there.drop_m is not None and found.drop_m is not None:
            further = max(0.0, there.drop_m - found.drop_m)
        if further is None or there.drop_m is None:
            return GoneReport(
                part, name, None, None, f"{_capital(name)} goes: nothing holds the load, it falls.", [], []
            )
        pieces = {piece.id: piece for piece in left.pieces}
        pulls = [
            Pulls(id, self._pulls_name(id), 1000 * there.tensions_kn[id])
            for id in bears(there, left.weight_kn)
            if id in pieces
        ]
        nodes = [Moved(id, Spot(*map(float, at))) for id, at in there.at.items()]
        stopped = self.stopped(left, there, further)
        taken = _listed(self.terminal(one) for one in self.terminals(left, there)) or "the rest"
        if further < _STAYS_M:
            text = f"{_capital(name)} goes: the load stays, held by {taken}."
        else:
            text = f"{_capital(name)} goes: the load drops {self.say.length(further)} onto {taken}"
            text += f", peak about {self.say.force(stopped.peak_n)}." if stopped else "."
            if stopped and stopped.slid_m is None:
                text = f"{_capital(name)} goes: {taken} slips under the load's own weight and does not stop it."
        return GoneReport(
            part, name, further, stopped.peak_n if stopped and further >= _STAYS_M else None, text, nodes, pulls
        )

    def _pulls_name(self, piece: str) -> str:
        return self.name(piece)

    def stopped(self, left: Lying, there: Drop, further: float) -> Arrest | None:
        """How hard, all as expected: the load's own weight onto the rope that bears it then."""
        bearing = bears(there, left.weight_kn)
        lengths = {piece.id: piece.length_m for piece in left.pieces if left.load in piece.route}
        rope = next((id for id in bearing if id in lengths), None)
        if rope is None:
            return None
        rig = self.rig.line(rope.partition(":")[0])
        ea = catalogue().ropes[self.plan.rope(rig.line.rope).kind].ea_n.expected
        clutch = clutch_of(rig)
        return arrest(
            self.rig.weight_n, further, max(0.5, lengths[rope]), ea, clutch.slip_n.expected if clutch else None
        )


def _listed(names: Iterable[str]) -> str:
    rows = list(dict.fromkeys(names))
    return " and ".join([", ".join(rows[:-1]), rows[-1]] if len(rows) > 1 else rows)


def _capital(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}"
