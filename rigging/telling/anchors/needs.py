"""What an arrangement is tied with: every piece with its length, whether the bags have it, what it costs in material and minutes."""

from __future__ import annotations

from dataclasses import dataclass, field

from rigging.anchors.material import Taken, taken_by
from rigging.anchors.rig import AnchorRig
from rigging.anchors.wraps import Need, assign, method_of, turns_of, what_would_reach
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.symbols import symbol
from rigging.quantities.units import Wording
from rigging.telling.anchors.shapes import CostReport, NeedReport
from rigging.telling.figures.working import Figure, Told, Trace
from rigging.telling.words.names import rope_name


@dataclass
class Needs:
    """By leg; the one piece that all legs are of; ties and stages."""

    legs: dict[int, list[NeedReport]]
    piece: NeedReport | None = None
    others: list[NeedReport] = field(default_factory=list)

    @property
    def every(self) -> list[NeedReport]:
        return [
            *(one for rows in self.legs.values() for one in rows),
            *([self.piece] if self.piece else []),
            *self.others,
        ]


def needs_of(plan: Plan, rig: AnchorRig, trace: Trace, say: Wording) -> Needs:
    """Every piece that an arrangement takes, for what, and the piece of the bags for it."""
    taken = taken_by(plan, rig)
    wanted = [Need(number, one.use, one.material, one.length_m) for number, one in enumerate(taken)]
    pieces = assign([need for need, one in zip(wanted, taken, strict=True) if one.rope is None], plan.kit)
    found = Needs({line.index: [] for line in rig.lines})
    for need, one in zip(wanted, taken, strict=True):
        name = catalogue().slings[one.material].name
        text = _too_short(plan, rig, one, say) if one.rope is None and plan.kit and pieces[need] is None else ""
        material = rope_name(plan, one.rope) if one.rope else name
        report = NeedReport(one.use, one.where, material, _figure(rig, one, name, trace), pieces.get(need), text)
        if one.use == "piece":
            found.piece = report
        elif one.use in ("attachment", "extension"):
            found.legs[one.number].append(report)
        else:
            found.others.append(report)
    return found


_LENGTHS = {
    "basket": "once round to the point, each turn again + knots and tails",
    "choker": "2πR + out to the point, laid flat",
    "wrap-pull": "pulled · once round to the point + (n − pulled) · 2πR + knot and tails",
    "tie-off": "n · 2πR + out to the point + knot, tail and clip-back",
    "loop": "once round + further turns + out to the point + knot and tail",
    "passed": "once round to the point + (n − 1) · 2πR",
    "clove": "once round to the point + 2πR",
}
_OTHERS = {
    "extension": "strands · (what the attachment leaves + a knot at either end)",
    "piece": "Σ ways + knots at features + what is gathered at the point",
    "tie": "round the feature + out to the point",
    "stage": "strands · (how far it reaches + a knot at either end)",
}


def _figure(rig: AnchorRig, one: Taken, name: str, trace: Trace) -> Figure:
    return trace.figure(f"need:{one.number}:{one.use}", exactly(one.length_m), "m", lambda: _told(rig, one, name))


def _told(rig: AnchorRig, one: Taken, name: str) -> Told:
    title = f"{name} for the {one.use}, {one.where}"
    if one.use not in ("attachment", "extension"):
        return Told(title, _OTHERS[one.use], [])
    line = rig.lines[one.number]
    method, radius = method_of(line.leg), line.radius_m or 0.0
    symbols = [symbol("D", "middle of the feature to the working point", line.spans_m, "m", "geometry")]
    if one.use == "extension":
        return Told(title, _OTHERS["extension"], symbols)
    symbols += [
        symbol("R", "of the feature where it is tied", radius, "m", "leader"),
        symbol("n", "turns", turns_of(line.leg), "", "leader"),
        symbol("take", "knots and tails", method.take_m, "m", "build-length"),
    ]
    return Told(title, _LENGTHS[method.path], symbols)


def _too_short(plan: Plan, rig: AnchorRig, one: Taken, say: Wording) -> str:
    """What to do where no piece of the kit is long enough, or none is left."""
    name = catalogue().slings[one.material].name
    lengths = [item.length_m for item in plan.kit if item.material == one.material]
    who = f"{one.where}, {one.use}"
    if not lengths:
        return f"{who}: {say.length(one.length_m)} of {name}; there is none in the kit."
    longest = max(lengths)
    if longest >= one.length_m:
        return f"{who}: {say.length(one.length_m)} of {name}; every piece that long is used already."
    mend, for_turns = "join a second", ""
    if one.use == "attachment":
        line = rig.lines[one.number]
        for_turns = f" for {turns_of(line.leg)} turns" if method_of(line.leg).turns.most > 1 else ""
        mend = what_would_reach(line.leg, line.radius_m or 0.0, line.spans_m, longest, say)
    return f"{who}: the {say.length(longest)} {name} is {say.length(one.length_m - longest)} short{for_turns}; {mend}."


def cost_of(rig: AnchorRig, needs: Needs, trace: Trace) -> CostReport:
    """What an arrangement takes in all."""
    material: dict[str, float] = {}
    for need in needs.every:
        material[need.material] = material.get(need.material, 0.0) + need.need.expected
    methods = [method_of(line.leg) for line in rig.lines]
    extensions = sum(line.leg.extension is not None for line in rig.lines)
    pretensioned = sum(bool(line.leg.pretension_n) for line in rig.lines)
    rounds = rig.arrangement.tightened.rounds if rig.arrangement.tightened else 1
    # An extension takes two knots, a pretensioned leg a small haul and its lock, each time round.
    minutes = Range(
        low=sum(one.minutes.low for one in methods) + extensions + 2 * pretensioned * rounds,
        expected=sum(one.minutes.expected for one in methods) + 1.5 * extensions + 3 * pretensioned * rounds,
        high=sum(one.minutes.high for one in methods) + 2 * extensions + 5 * pretensioned * rounds,
    )
    figure = trace.figure("minutes", minutes, "min", lambda: Told("Time to build", "Σ over legs: tie + extension + tightening", [symbol(f"t{n}", one.name, one.minutes, "min", "build-time") for n, one in enumerate(methods, start=1)]))  # fmt: skip
    short = [one.text for one in needs.every if one.text]
    connectors = sum(one.connectors for one in methods) + (rig.arrangement.connector is not None)
    return CostReport(material, connectors, figure, short)
