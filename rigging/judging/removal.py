"""What holds in a state, what is behind it, and every part taken away in turn: how far the load goes, onto what, how
hard, and what it would meet on the way. Hands on the rig, or every hand off it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from rigging.document import Plan
from rigging.lines.catch import clearance_m, clutch_of
from rigging.lines.rig import LineRig, anchor_node
from rigging.lines.solve import Solver
from rigging.lines.states import Moment
from rigging.lines.tied import rope_ea_n
from rigging.mechanics.dynamics import Arrest, arrest
from rigging.mechanics.holds import HANDS, Drop, Lying, bears, drop, further
from rigging.site.conditions import hand_hold_n, heave_n
from rigging.site.ground import height_at
from rigging.site.load import pull_n

# A drop shorter than this is stretch and settling: the load stays.
STAYS_M = 0.01
# A pull that is so much greater is another one.
_MORE = 1.01
# People this near to the load's way down, and so much lower, are below it.
_BELOW_M, _LOWER_M = 3.0, 1.0
Meets = Literal["ground", "edge", "people"]


@dataclass(frozen=True)
class Behind:
    """What takes the load when what bears it (`first`) lets go: after how far (None: nothing does, it falls)."""

    first: tuple[str, ...]
    onto: tuple[str, ...]
    far_m: float | None


@dataclass(frozen=True)
class Gone:
    """A part taken away: how much further the load goes (None: it falls), what takes it then and how hard, as expected
    (None: it does not drop), what it meets on the way, and where everything then lies."""

    part: str
    further_m: float | None
    onto: tuple[str, ...]
    caught: Arrest | None
    meets: tuple[Meets, ...]
    left: Lying
    there: Drop


class Standing:
    """One state's rig as it lies, with hands on it or off, asked what holds."""

    def __init__(self, solver: Solver, moment: Moment, hands_off: bool = False):
        self.plan, self.solver, self.moment = solver.plan, solver, moment
        rig = solver.rig(moment)
        self.rig = rig.without(moment.gone) if moment.gone else rig
        lying = self.rig.lying()
        self.lying: Lying = lying.without(HANDS) if hands_off or moment.hands_off else lying
        self._further: dict[str, float | None] = {}

    @cached_property
    def found(self) -> Drop:
        return drop(self.lying)

    @cached_property
    def on(self) -> tuple[str, ...]:
        """What the load hangs on."""
        return self.terminals(self.lying, self.found)

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """Everything that can be taken away: what the rig has, and each feature that several anchors hang on alone."""
        shared = [feature for feature, anchors in _hanging_on(self.plan).items() if self._several(anchors)]
        return (*self.lying.parts, *(f"feature:{one}" for one in shared))

    def _several(self, anchors: Iterable[str]) -> bool:
        return sum(anchor_node(one) in self.lying.kinds for one in anchors) > 1

    def without(self, part: str) -> Lying:
        """The rig without a part, and without hands that would have to hold alone what it held for them, and can not."""
        left = self._without(part)
        mine = [line for line in self.rig.lines if self._for_hands(line, part)]
        # What one line's hands let go comes on another's.
        while torn := next((found for line in mine if (found := self._torn(line, left))), None):
            left = replace(left, pieces=tuple(one for one in left.pieces if one.id not in torn))
        return left

    @property
    def _pulling(self) -> bool:
        return self.moment.solving in ("raising", "jammed")

    def _for_hands(self, line: LineRig, part: str) -> bool:
        """Whether a part bears for the hands on a line: of the line that is hauled every one, as without any the advantage is another."""
        return part in self._bear_for_hands[line.line.id] or (
            self._pulling and line.line.haul is not None and part.startswith(f"{line.line.id}:")
        )

    @cached_property
    def _bear_for_hands(self) -> dict[str, frozenset[str]]:
        """What bears for the hands on each line: its device or belay, the anchor that hangs on, the one feature of that."""
        hanging, found = _hanging_on(self.plan), {}
        for line in (one.line for one in self.rig.lines):
            features = [f"feature:{one}" for one, anchors in hanging.items() if line.anchor in anchors]
            found[line.id] = frozenset((f"{line.id}:device", f"{line.id}:belay", anchor_node(line.anchor), *features))
        return found

    def _torn(self, line: LineRig, left: Lying) -> frozenset[str]:
        """Pieces of a line that end in hands, where more would come on them than those hands hold."""
        mine = f"{line.line.id}:"
        held = [
            one.id
            for one in left.pieces
            if one.id.startswith(mine) and any(left.kinds[end] == HANDS for end in one.ends)
        ]
        there = drop(left) if held else None
        if there is None or there.drop_m is None:
            return frozenset()
        if not self.terminals(left, there):
            # Drawn against an edge it hangs on nobody: over that it comes on the hands, all of it.
            return frozenset(held)
        comes_n, before_n = (
            sum(one.tensions_kn.get(id, 0.0) for id in held) / left.weight_kn * self.pull_n(line)
            for one in (there, self.found)
        )
        hands = self.plan.team.haulers if self._pulling else line.line.lowering.hands if line.line.lowering else 1
        each_n = heave_n(self.plan).low if self._pulling else hand_hold_n(self.plan).high
        # Who pulls holds on to what they pull as it is; at a brake the device held it for them.
        holds_n = max(hands * each_n, before_n * _MORE) if self._pulling else hands * each_n
        return frozenset(held) if comes_n > holds_n else frozenset()

    def _without(self, part: str) -> Lying:
        if not part.startswith("feature:"):
            return self.lying.without(part)
        left = self.lying
        for anchor in _hanging_on(self.plan)[part.removeprefix("feature:")]:
            if anchor_node(anchor) in left.kinds:
                left = left.without(anchor_node(anchor))
        return left

    @cached_property
    def behind(self) -> Behind:
        """What would let go first: the hands, else what grips, else what is tied; and what then holds."""
        on = list(self.on)
        first = [HANDS] if HANDS in on else [one for one in on if one in self.lying.kinds] or on
        left = self.lying
        for part in first:
            if part in left.parts:
                left = left.without(part)
        there = drop(left)
        if there.drop_m is None or self.found.drop_m is None:
            return Behind(tuple(first), (), None)
        far = max(0.0, there.drop_m - self.found.drop_m)
        return Behind(tuple(first), self.terminals(left, there), far)

    @cached_property
    def hands_off_m(self) -> float | None:
        """How much further the load goes when every hand lets go; None: it falls."""
        return self.further(HANDS) if HANDS in self.lying.parts else 0.0

    def further(self, part: str) -> float | None:
        """How much further the load goes without a part; several checks ask."""
        if part not in self._further:
            self._further[part] = self._goes_without(part)
        return self._further[part]

    def _goes_without(self, part: str) -> float | None:
        if part.startswith("feature:") or any(self._for_hands(line, part) for line in self.rig.lines):
            there = drop(self.without(part)).drop_m
            return None if there is None or self.found.drop_m is None else max(0.0, there - self.found.drop_m)
        return further(self.lying, self.found, part)

    def single(self) -> list[str]:
        """Parts without which nothing holds."""
        return [part for part in self.parts if self.further(part) is None]

    def gone(self, part: str) -> Gone:
        """A part taken away."""
        left = self.without(part)
        there = drop(left)
        if there.drop_m is None or self.found.drop_m is None:
            return Gone(part, None, (), None, tuple(self._meets(None)), left, there)
        far = max(0.0, there.drop_m - self.found.drop_m)
        caught = self._caught(left, there, far) if far >= STAYS_M else None
        reach = None if caught and caught.stops_in_m is None else far + (caught.stops_in_m or 0.0 if caught else 0.0)
        met = tuple(self._meets(reach)) if far >= STAYS_M else ()
        return Gone(part, far, self.terminals(left, there), caught, met, left, there)

    def _caught(self, left: Lying, there: Drop, far: float) -> Arrest | None:
        """How hard, all as expected: what the load pulls on its slope, onto the rope that bears it then."""
        bearing = bears(there, left.weight_kn)
        lengths = {piece.id: piece.length_m for piece in left.pieces if left.load in piece.route}
        rope = next((id for id in bearing if id in lengths), None)
        if rope is None:
            return None
        rig = self.rig.line(rope.partition(":")[0])
        ea = rope_ea_n(self.plan.rope(rig.line.rope), catching=True).expected
        clutch = clutch_of(self.plan, rig)
        slip = clutch.slip_n.expected if clutch else None
        return arrest(self.pull_n(rig), far, max(0.5, lengths[rope]), ea, slip)

    def pull_n(self, line: LineRig) -> float:
        """What the load pulls on a line as it lies on its slope, as expected."""
        load = self.solver.load_on(line)
        return max(1.0, pull_n(load, load.mass_kg.expected, load.mu.expected, False))

    def _meets(self, reach_m: float | None) -> Iterator[Meets]:
        """What lies in the way of a load that goes `reach_m` (None: it does not stop)."""
        plan, load = self.plan, self.plan.site.load_at
        free = clearance_m(self.solver)
        if reach_m is None or (free is not None and reach_m > free):
            yield "ground"
        along = self.rig.along
        end = load.x_m + along[0] * (reach_m if reach_m is not None else 1000.0)
        if any(load.x_m < edge.x_m < end for edge in plan.site.edges):
            yield "edge"
        if any(_below(plan, one.at.x_m, one.at.y_m, one.at.z_m, end) for one in plan.team.people if one.at):
            yield "people"

    def terminals(self, lying: Lying, found: Drop) -> tuple[str, ...]:
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
        return (*hands, *grips, *tied)


def _below(plan: Plan, x_m: float, y_m: float, z_m: float, end_m: float) -> bool:
    """Whether a place lies below the load and near its way down; on ground that was entered, it is as high as that."""
    load, ground = plan.site.load_at, height_at(plan.site, x_m)
    z_m = z_m if ground is None else ground
    return z_m < load.z_m - _LOWER_M and abs(y_m) < _BELOW_M and load.x_m - _BELOW_M < x_m < end_m + _BELOW_M


def below_the_load(plan: Plan) -> list[str]:
    """Names of those who stand where a falling load, or a stone, would come down."""
    rows = [(one.name, one.at) for one in plan.team.people if one.at]
    return [name for name, at in rows if _below(plan, at.x_m, at.y_m, at.z_m, 1000.0)]


def _hanging_on(plan: Plan) -> dict[str, list[str]]:
    """Anchors by the one feature that every leg of theirs is tied to."""
    found: dict[str, list[str]] = {}
    for anchor in plan.anchors:
        tied = {leg.feature for leg in anchor.arrangement.legs}
        if len(tied) == 1:
            found.setdefault(tied.pop(), []).append(anchor.id)
    return found
