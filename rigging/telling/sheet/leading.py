"""How to lead the rope: a line of a state as hands see it, one step after another, from the load to the hands."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.lines.rig import LOAD, LineRig, anchor_node
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import moments
from rigging.lines.tied import Place, cord_length_m, hitches_of
from rigging.mechanics.network import Rope
from rigging.quantities.faults import refuse
from rigging.quantities.units import Wording
from rigging.telling.words.names import line_name, lower_first, state_name, upper_first


@dataclass(slots=True)
class LeadStep:
    """One step: what to do, what to look at, the strands it lays and the node that it ends at."""

    do: str
    look: str
    strands: list[str]
    node: str


class LeadReport(BaseModel):
    """How a line is led in a state, in order."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    line: str
    state: str
    title: str
    steps: list[LeadStep]


def lead(plan: Plan, state: str, line: str, say: Wording | None = None) -> LeadReport:
    """How to lead a line for a state.

    Raises
    ------
    Refused
        If there is no such state or line, or it can not be laid out.
    """
    ids = [one.id for one in plan.lines]
    if line not in ids:
        raise refuse("line", f"this plan has no line {line!r}", f"one of {', '.join(ids) or 'none: lay a line first'}")
    moment = next((one for one in moments(plan) if one.id == state), None)
    if moment is None or moment.missing or line not in moment.modes:
        raise refuse(
            "state", f"the {lower_first(line_name(plan, line))} is not in the state {state!r}", "another state"
        )
    solver = Solver(plan, ways_of(plan))
    rig = solver.rig(moment).line(line)
    title = f"{line_name(plan, line)}, {lower_first(state_name(plan, state))}"
    steps = list(_Leading(plan, rig, say or Wording()).steps())
    return LeadReport(line=line, state=state, title=title, steps=steps)


class _Leading:
    """Leads one line: its own rope from the load, then each piece of its haul system."""

    def __init__(self, plan: Plan, rig: LineRig, say: Wording):
        self.plan, self.rig, self.line, self.say = plan, rig, rig.line, say
        self.seen: set[str] = set()
        self.grabs = 0

    def steps(self) -> Iterator[LeadStep]:
        pieces = [one for one in self.rig.ropes if not one.id.endswith(" cord")]
        for number, rope in enumerate(self._in_order(pieces)):
            yield from self._piece(rope, number == 0)

    def _in_order(self, pieces: list[Rope]) -> list[Rope]:
        """From the load onward: each piece after the one that it goes on from, else as it was built."""
        left = sorted(pieces, key=lambda one: LOAD not in (one.route[0], one.route[-1]))
        found: list[Rope] = []
        while left:
            ends = {end for one in found for end in (one.route[0], one.route[-1])}
            following = [one for one in left if one.route[0] in ends or one.route[-1] in ends]
            own = [one for one in following if one.id in self.rig.main]
            taken = (own or following or left)[0]
            left.remove(taken)
            found.append(taken)
        return found

    def _piece(self, rope: Rope, first: bool) -> Iterator[LeadStep]:
        route, order = list(rope.route), [f"{rope.id}.{n}" for n in range(len(rope.route) - 1)]
        # A piece is led from the load, or from where it is already gripped, towards the hands.
        if (
            route[-1] == LOAD
            or self._kind(route[0]) == "hands"
            or (route[-1] in self.seen and route[0] not in self.seen)
        ):
            route, order = route[::-1], order[::-1]
        if first or route[0] not in self.seen:
            yield self._start(route[0], rope, first)
        passes = {one.node: [] for one in rope.passes}  # type: dict[str, list[str]]
        for one in rope.passes:
            passes[one.node].append(one.id)
        for index, node in enumerate(route[1:]):
            strand = [order[index]]
            if index == len(route) - 2:
                yield self._end(node, strand)
            else:
                yield self._pass(node, passes[node].pop(0) if passes.get(node) else "", strand)

    def _kind(self, node: str) -> str:
        return self.rig.nodes[node].kind

    def _grips(self, node: str) -> bool:
        """Whether a piece's end is a hitch, a clamp or a device on a rope, and not made fast at an anchor."""
        return self._kind(node) in ("grab", "block") and (
            not self.rig.nodes[node].on or node.endswith((":device", ":belay"))
        )

    def _start(self, node: str, rope: Rope, first: bool) -> LeadStep:
        own = rope.id in self.rig.main
        if node == LOAD and own:
            knot, connector = catalogue().knots[self.line.load_knot], catalogue().connectors[self.line.load_connector]
            step = LeadStep(
                f"{knot.name} in the rope's end, to the load by a {lower_first(connector.name)}.", knot.look, [], node
            )
        elif self._grips(node):
            step = self._gripped(node)
        else:
            what = "The rope's end" if first or own else "The end of the next piece"
            step = LeadStep(f"{what} made fast at {self._short(node)}.", "", [], node)
        self.seen.add(node)
        return step

    def _pass(self, node: str, crossing: str, strands: list[str]) -> LeadStep:
        met = self.rig.crossings.get(crossing)
        self.seen.add(node)
        if met is None:
            return LeadStep(f"On to {self._short(node)}.", "", strands, node)
        if met.role == "edge":
            laid = catalogue().surfaces[met.kind]
            return LeadStep(
                f"Over {met.name}{f', on its {lower_first(laid.name)}' if laid.role == 'protection' else ', bare'}.",
                "Rope in its place on what protects it." if laid.role == "protection" else "Nothing sharp; it will rub.", strands, node,
            )  # fmt: skip
        if met.role == "device":
            device = catalogue().devices[met.kind]
            return LeadStep(f"Into the {lower_first(device.name)} at {self._anchor()}.", device.look, strands, node)
        where = self._short(node)
        return LeadStep(
            f"Through the {lower_first(met.name)} at {where}.", "Gate locked, the two strands apart.", strands, node
        )

    def _end(self, node: str, strands: list[str]) -> LeadStep:
        kind = self._kind(node)
        if node in self.seen and kind != "hands":
            return LeadStep(
                f"Back to {self._short(node)}, tied there.", "Knot dressed and set, tail ten diameters.", strands, node
            )
        self.seen.add(node)
        if kind == "hands":
            who = "the haulers" if self.rig.mode == "hauling" else "the brake hand"
            return LeadStep(f"On to {who}.", "Clear way, nobody inside the bend.", strands, node)
        if self._grips(node):
            step = self._gripped(node)
            return LeadStep(step.do, step.look, strands, node)
        knot = "made fast" if node == anchor_node(self.line.anchor) else "tied"
        return LeadStep(
            f"{upper_first(knot)} at {self._short(node)}.", "Knot dressed and set, tail ten diameters.", strands, node
        )

    def _gripped(self, node: str) -> LeadStep:
        """A hitch or clamp put on the rope, or the device that the rope ends at."""
        place = self._place(node)
        if place is None:
            device = self.line.lowering.device if self.line.lowering else ""
            name = catalogue().devices[device].name if node.endswith(":device") and device else self._short(node)
            return LeadStep(f"Locked off in the {lower_first(name)}.", "Stacked close, or it creeps.", [], node)
        if place == "grab" and self.grabs and self.line.haul and self.line.haul.system.out_of_one:
            knot = catalogue().knots["butterfly-loop"]
            far = self.say.length(self.rig.out_m(self.rig.nodes[node]))
            return LeadStep(f"{knot.name} in the sling, {far} out, a connector in it.", knot.look, [], node)
        here = next(one for one in hitches_of(self.line) if one.place == place)
        rope = catalogue().ropes[self.plan.rope(self.line.rope).kind]
        far = self.say.length(max(0.0, self.rig.out_m(self.rig.nodes[node])))
        cord = ""
        if here.hitch.form == "hitch":
            cord = f", a loop of {self.say.length(cord_length_m(here.hitch, here.made, rope, here.reach_m))} of cord"
        where = {
            "grab": f"on the {'haul strand' if self.grabs else 'rope'} {far} out, for the haul", "capture": self._ratchet_on(),
            "brake": "on the brake side", "belay": "on the belay rope",
        }[place]  # fmt: skip
        self.grabs += place == "grab"
        who = self._minder(place)
        return LeadStep(
            f"{here.hitch.name} {where}{cord}{f'; {who} minds it' if who else ''}.", here.hitch.look, [], node
        )

    def _place(self, node: str) -> Place | None:
        name = node.partition(":")[2]
        if name in ("ratchet", "brake", "belay"):
            return {"ratchet": "capture", "brake": "brake", "belay": "belay"}[name]  # type: ignore[return-value]
        return "grab" if self.line.haul is not None and name not in ("device",) else None

    def _ratchet_on(self) -> str:
        haul = self.line.haul
        if haul and haul.capture_on == "haul":
            return "on the haul strand, behind its last bend, as ratchet"
        return "on the tight strand at the anchor, as ratchet"

    def _minder(self, place: Place) -> str:
        line = self.line
        found = {
            "capture": line.haul.capture_minder if line.haul else "", "brake": line.lowering.minder if line.lowering else "",
            "belay": line.belay.minder if line.belay else "", "grab": "",
        }[place]  # fmt: skip
        return found.strip()

    def _anchor(self) -> str:
        return lower_first(self.plan.anchor(self.line.anchor).name)

    def _short(self, node: str) -> str:
        """A node in a word or two."""
        on = self.rig.nodes[node].on or node
        if on.startswith("anchor:"):
            name = lower_first(self.plan.anchor(on.removeprefix("anchor:")).name)
            place = node.partition(":")[2]
            return f"{name} ({place})" if len(place) <= 3 and node != on else name
        return "the load" if node == LOAD else node.partition(":")[2]
