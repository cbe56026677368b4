"""Where a procedure begins: a plan's compiled moment as ropes with what is on them, or the load on the ground before anything
is rigged, or somebody holding it who wants to be free of it."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

from rigging.document import Line, Plan
from rigging.lines.lengths import stroke_of
from rigging.lines.people import haulers_needed
from rigging.lines.rig import LOAD, LineRig, anchor_node
from rigging.lines.solve import Solved, Solver, ways_of
from rigging.lines.states import Moment, hauling_line, moments
from rigging.lines.way import LineWay, place_of
from rigging.mechanics.network import Rope
from rigging.mechanics.vectors import Point3, plus
from rigging.procedures.state import Cord, Item, State
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.site.conditions import sustained_n
from rigging.site.load import GRAVITY, own_way

# A tag line draws and bears nothing.
_TAG_ON, _TAG_SLACK_M = "steel", 5.0
MOMENTS = ("held", "lowering", "raising", "between-hauls")
RAISING = frozenset({"raising", "between-hauls", "lifting"})
# Where somebody stands who holds the rope by hand, metres behind the working point.
_HANDS_M = 1.0


def with_tag_line(plan: Plan) -> Plan:
    """A plan that is a tension line alone, begun by that, with the tag line by which its load is drawn along; every other as it is."""
    if plan.lines or not plan.tension_lines:
        return plan
    tight = plan.tension_lines[0]
    tag = Line(
        id="tag", role="main", rope=tight.rope, anchor=tight.anchor, load_knot=tight.end_knot, load_connector=_TAG_ON, slack_m=_TAG_SLACK_M
    )  # fmt: skip
    course = plan.operation.model_copy(update={"begins": "tension-line"})
    return plan.model_copy(update={"lines": [tag], "operation": course})


class Ground:
    """A plan laid out, which every procedure on it begins from. `further_n`: what the hands must pull further on in the same haul."""

    def __init__(self, plan: Plan, further_n: float = 0.0):
        plan = with_tag_line(plan)
        self.plan, self.further_n = plan, further_n
        self.solver = Solver(plan, ways_of(plan))
        self.moments: dict[str, Moment] = {one.id: one for one in moments(plan)}
        if self.solver.resting is None:
            raise refuse("lines", "no line leads to the load", "lay a main line")

    def line(self, begins: str) -> Line:
        """The line that the work is done on."""
        hauls, main = hauling_line(self.plan), self.plan.line("main")
        first = (hauls, main) if begins in RAISING else (main, hauls)
        return next((one for one in first if one), self.plan.lines[0])

    def way(self, line: str) -> LineWay:
        return self.solver.ways[line]

    def place(self, line: str, out_m: float) -> Point3:
        way = self.way(line)
        return plus(way.start, way.out, out_m)

    @cached_property
    def hauling(self) -> Solved | None:
        found = self.solver.solve(self.moments["raising"])
        return found if isinstance(found, Solved) else None

    @cached_property
    def stroke_m(self) -> float | None:
        """How far one haul brings the load."""
        forces = self.hauling and self.hauling.line(self._hauler)
        found = stroke_of(forces) if forces else None
        return found.rise_m if found else None

    @property
    def _hauler(self) -> str:
        line = hauling_line(self.plan)
        return line.id if line else ""

    @cached_property
    def hand_n(self) -> float | None:
        """What the hands must pull to raise, as expected, at the hardest place of the haul; None where nothing raises."""
        forces = self.hauling and self.hauling.line(self._hauler)
        return max(forces.running.hand.expected, self.further_n) if forces and forces.running else None

    @cached_property
    def passed(self) -> dict[str, Range]:
        """What every edge, bend and device of the plan passes on, by node: over all the moments that it is there in."""
        found: dict[str, Range] = {}
        for moment in self.moments.values():
            if moment.missing:
                continue
            for line in self.solver.rig(moment).lines:
                for one in (one for rope in line.ropes for one in rope.passes):
                    known = found.get(one.node, one.eta)
                    low, high = min(known.low, one.eta.low), max(known.high, one.eta.high)
                    found[one.node] = Range(low, known.expected, high)
        return found

    def haulers(self, times: float = 1.0) -> int | None:
        """People on the haul, where it takes `times` the pull."""
        return None if self.hand_n is None else haulers_needed(self.hand_n * times, sustained_n(self.plan).expected)

    def state(self, begins: str) -> State:
        """The rig as a procedure finds it.

        Raises
        ------
        Refused
            If the plan has no such moment.
        """
        if begins in MOMENTS:
            return self._compiled(begins)
        if begins == "lifting":
            return replace(self._compiled("raising"), grounded=True)
        return {"ground": self._on_the_ground, "belayed": self._belayed, "arrested": self._arrested}[begins]()

    def _compiled(self, id: str) -> State:
        moment, first = self.moments[id], self.line(id)
        if moment.missing:
            raise refuse("lines", f"the plan has no {moment.missing} for it", _RIGHT[moment.missing])
        lines = self.solver.rig(moment).lines
        found = self._bare()
        at = {name: node.at for line in lines for name, node in line.nodes.items()}
        ropes: dict[str, tuple[Item, ...]] = {}
        order = sorted(lines, key=lambda one: one.line.id != first.id)
        for line in order:
            ropes |= strung(line)
        stroke = self.stroke_m if id in RAISING else None
        return replace(found, at={**found.at, **at}, ropes=ropes, stroke_m=stroke)

    def _bare(self) -> State:
        """Load, anchors, the features that they are tied to, people: nothing rigged."""
        load = self.solver.resting
        assert load is not None
        spot = self.plan.site.load_at
        at: dict[str, Point3] = {LOAD: (spot.x_m, 0.0, spot.z_m)}
        for anchor in self.plan.anchors:
            at[anchor_node(anchor.id)] = self._anchor(anchor.id)
        for leg in self.plan.anchor(self.line("").anchor).arrangement.legs:
            at[f"feature:{leg.feature}"] = self._feature(leg.feature)
        people = {one.name: anchor_node(one.tied_to) if one.tied_to else "" for one in self.plan.team.people}
        weight = load.mass_kg.expected * GRAVITY / 1000
        anchors = frozenset(name for name in at if name != LOAD)
        return State(own_way(load), weight, at, anchors, {}, people=people, ground=self)

    def _anchor(self, id: str) -> Point3:
        return place_of(self.plan, id)

    def _feature(self, id: str) -> Point3:
        one = self.plan.feature(id)
        return one.x_m, one.y_m, one.z_m

    def _on_the_ground(self) -> State:
        """Ropes tied to the load and led over their edges into hands; nothing rigged; the load rests on the ground."""
        state = replace(self._bare(), grounded=True)
        for line in sorted(self.plan.lines, key=lambda one: one.id != self.line("").id):
            if line.role != "haul":
                state = self._led(state, line, "hands")
        return state

    def _led(self, state: State, line: Line, holder: str) -> State:
        """A line's rope from the load over its corners to somebody's hands."""
        way = self.solver.ways[line.id]
        row, at = [Item(LOAD, "tie", line.load_knot, LOAD)], dict(state.at)
        for number in range(len(way.points) - 2, 0, -1):
            name = f"{line.id}:edge:{number}"
            row.append(Item(name, "edge"))
            at[name] = way.points[number]
        hands = f"{line.id}:{holder}"
        at[hands] = self.place(line.id, -_HANDS_M)
        # A tag line draws along what hangs on something else.
        row.append(Item(hands, "hands", engaged=self.plan.operation.begins != "tension-line", before_m=line.slack_m))
        return replace(state, at=at, ropes={**state.ropes, line.id: tuple(row)})

    def _belayed(self) -> State:
        """A climber's rope on a device on the belayer's harness, or on the anchor of its line, hand on the brake strand."""
        state = self._led(self._bare(), self.line(""), "hands")
        on = anchor_node(self.line("").anchor)
        if self.plan.operation.belay == "harness":
            on = f"{self.line('').id}:belayer"
            at = {**state.at, on: self.place(self.line("").id, 0.3)}
            state = replace(state, at=at, anchors=state.anchors | {on})
        device = Item(f"{self.line('').id}:device", "device", "tube", engaged=False, cords=(Cord(on),))
        return state.put(self.line("").id, device, -1, self.place(self.line("").id, 0.5))

    def _arrested(self) -> State:
        """Somebody lies in arrest and holds the rope of the one who fell in; no quick anchor is made yet."""
        state = self._led(self._bare(), self.line(""), "arrester")
        quick = {f"{self.line('').id}:{name}": self.place(self.line("").id, 0.5) for name in ("axe", "picket")}
        unmade = frozenset({*quick, anchor_node(self.line("").anchor)})
        return replace(state, at={**state.at, **quick}, guards=dict.fromkeys(quick, ""), unmade=unmade)


_RIGHT = {
    "line": "lay a main line", "lowering": "choose what lowers", "haul": "choose a haul system", "capture": "choose what captures progress",
    "haulers": "say how many can pull",
}  # fmt: skip


def strung(line: LineRig) -> dict[str, tuple[Item, ...]]:
    """A compiled line's pieces as ropes with what is on them."""
    cords = {rope.route[0]: rope for rope in line.ropes if rope.id.endswith(" cord")}
    rows: list[list[Item]] = []
    ends: list[str] = []
    for rope in line.ropes:
        if rope.id.endswith(" cord"):
            continue
        route = rope.route
        if rope.route[-1] == LOAD or (ends and rope.route[-1] == ends[-1] and rope.route[0] != ends[-1]):
            route = route[::-1]
        if not ends or route[0] != ends[-1]:
            rows.append([_item(line, route[0], cords, True, rope, 0.0)])
            ends.append(route[0])
        rows[-1] += [_item(line, name, cords, False, rope, 0.0) for name in route[1:-1]]
        rows[-1].append(_item(line, route[-1], cords, True, rope, rope.slack_m))
        ends[-1] = route[-1]
    names = [line.line.id, *(f"{line.line.id}:strand {number}" for number in range(2, len(rows) + 1))]
    # What a grab of one rope grips is said there; a rope that only ends at it is tied to it.
    gripped = {one.id for row in rows for one in row[1:] if one.kind in ("hitch", "device")}
    return {
        name: tuple(_tied(one) if n == 0 and one.id in gripped else one for n, one in enumerate(row))
        for name, row in zip(names, rows, strict=True)
    }


def _item(line: LineRig, name: str, cords: dict[str, Rope], end: bool, rope: Rope, slack_m: float) -> Item:
    """A node of a piece as what is on the rope there."""
    node = line.nodes.get(name)
    if node is None or node.kind in ("load", "anchor"):
        knot = line.line.load_knot if name == LOAD else ""
        return Item(name, "tie" if end else "bend", knot, name, before_m=slack_m)
    place = name.partition(":")[2]
    on = (Cord(node.on),) if node.on else ()
    if node.kind == "hands":
        return Item(name, "hands", before_m=slack_m)
    if node.kind == "edge":
        return Item(name, "edge")
    if place == "device" or (place == "belay" and on):
        belay, lowering = line.line.belay, line.line.lowering
        what = belay.what if belay else lowering.device if lowering else ""
        return Item(name, "device", what, engaged=end and node.kind == "grab", before_m=slack_m, cords=on)
    if node.kind == "grab" and not end:
        return Item(name, "bend", to=name)
    if node.kind == "grab":
        cord = cords.get(name)
        gives = _gives(line, place)
        tied = (Cord(cord.route[-1], cord.slack_m, gives),) if cord else on
        return Item(name, "hitch", _what(line, place), before_m=slack_m, cords=tied)
    return Item(name, "bend" if not end else "tie", to="" if not end else name, cords=on)


def _tied(item: Item) -> Item:
    return replace(item, kind="tie", to=item.id, cords=())


def _gives(line: LineRig, place: str) -> float:
    haul, belay = line.line.haul, line.line.belay
    if place == "ratchet" and haul:
        return haul.capture_releasing_m or 0.0
    return (belay.releasing_m or 0.0) if place == "belay" and belay else 0.0


def _what(line: LineRig, place: str) -> str:
    given = line.line
    if place == "brake" and given.lowering:
        return given.lowering.brake_hitch or ""
    if place == "belay" and given.belay:
        return given.belay.what
    if given.haul:
        return (given.haul.capture or "") if place == "ratchet" else given.haul.grab
    return ""
