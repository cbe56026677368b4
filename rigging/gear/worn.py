"""What every piece of gear went through in a run: its highest load, how long it bore, the edges that it ran over, shocks.

A step worked is a few states of the rig; in each of them every part's force is known as a range. Where a cell read on the same line, the forces
of all its parts go with what it read: the network of a line is linear in what drives it (weight, or the hands on a load that is stuck), so a part
that was worked out at half of the cell's place carried half of what was read there. How a part stands to the cell's place is taken with the load
exactly known: what is left of both ranges is friction, and the part carried no less than its least to the place's most, no more than the reverse.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from rigging.anchors.chain import leg_chain
from rigging.anchors.rig import rig_anchor
from rigging.anchors.wraps import material_of
from rigging.document import Plan, Rope
from rigging.document.site import Edge
from rigging.judging.anchors import anchor_states
from rigging.judging.margins import Part
from rigging.judging.parts import parts_in_load_order
from rigging.judging.spans import crossing_parts
from rigging.lines.rig import anchor_node
from rigging.lines.solve import Solved
from rigging.lines.tension_line import along_line
from rigging.lines.tied import rope_holds
from rigging.lines.whole_way import moved
from rigging.procedures.operation import Operation, Planned
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range, exactly
from rigging.readings.places import Place, Predictor

Kind = Literal["rope", "sling", "hitch", "connector", "device"]
# A piece that bears less than this hangs in the rig, no more.
_BEARS_N = 50.0
# Places of the load along a tension line among which the hardest is looked for.
_PLACES = 21
_KINDS: dict[str, Kind] = {
    "rope": "rope", "own-piece": "sling", "attachment": "sling", "grab": "hitch", "capture": "hitch", "hitch": "hitch", "cord": "hitch",
    "clamp": "device", "load-connector": "connector", "working-point": "connector", "bend": "connector", "redirect": "connector",
    "device": "device", "locked-device": "device",
}  # fmt: skip


@dataclass(frozen=True)
class Read:
    """What a cell read in a step: its highest, whether that was a shock, and whether it read all the while."""

    peak_n: float
    shock: bool = False
    throughout: bool = True


@dataclass(frozen=True)
class Worked:
    """A step that was done with the load on the rig: the states of the rig in it, the resting one first; how long; rope run; places of the
    load in it, in metres up its way."""

    states: tuple[str, ...]
    seconds: float
    metres: float
    read: Mapping[Place, Read] = field(default_factory=dict)
    runs_m: tuple[float, ...] = (0.0,)


@dataclass(frozen=True)
class Ran:
    """Rope that ran over an edge, in metres."""

    edge: Edge
    metres: float


@dataclass(frozen=True)
class Worn:
    """A piece and what it went through. `measured`: its highest load goes by what a cell read. `shock_n`: the hardest shock, where there was
    one. `slips_n`, `strength_n`: where it slips, what it holds; None where it does not, where that is not known. `part`: one of its parts."""

    id: str
    kind: Kind
    part: Part
    highest_n: Range
    measured: bool
    shock_n: Range | None
    loaded_s: float
    strength_n: Range | None
    slips_n: Range | None
    rope: Rope | None = None
    ran: tuple[Ran, ...] = ()


@dataclass(frozen=True)
class Done:
    """A step that was done: how long it took, what cells read in it, whether it was said that the load stuck."""

    key: str
    seconds: float
    read: Mapping[Place, Read] = field(default_factory=dict)
    stuck: bool = False


def worked(operation: Operation, done: Iterable[Done]) -> Iterator[Worked]:
    """Steps done with the load on the rig, as states of the rig."""
    at = {one.key: number for number, one in enumerate(operation.steps)}
    raised_from = next((at[one.key] for one in operation.steps if "raising" in one.motions), len(at))
    for one in done:
        if one.key not in at or _grounded(operation.steps, at[one.key]):
            continue
        step = operation.steps[at[one.key]]
        rests = "between-hauls" if at[one.key] >= raised_from else "held"
        stuck = ("jammed",) if one.stuck else ()
        yield Worked((rests, *step.motions, *stuck), one.seconds, step.up_m + step.down_m, one.read, step.runs_m)


def _grounded(steps: Sequence[Planned], number: int) -> bool:
    return all(one.step.after.state.grounded for one in steps[max(0, number - 1) : number + 1])


def worn(plan: Plan, work: Iterable[Worked]) -> list[Worn]:
    """Every piece of gear in a plan's rig, with what it went through in the steps that were worked on this plan."""
    rigs: dict[float, _Rig] = {0.0: _Rig(plan)}
    found: dict[str, Worn] = {}
    for one in work:
        for run_m in one.runs_m:
            if run_m not in rigs:
                rigs[run_m] = _Rig(moved(plan, run_m))
        hardest = max((rigs[run_m] for run_m in one.runs_m), key=lambda rig: rig.pull_n(one.states))
        for piece in rigs[0.0].stepped(one, hardest):
            found[piece.id] = together(found[piece.id], piece) if piece.id in found else piece
    return list(found.values())


def together(one: Worn, other: Worn) -> Worn:
    """What a piece went through in two stretches of work."""
    harder = max(one, other, key=lambda each: each.highest_n.high)
    shocks = [each.shock_n for each in (one, other) if each.shock_n is not None]
    strengths = [each.strength_n for each in (one, other) if each.strength_n is not None]
    return replace(
        harder,
        shock_n=max(shocks, key=lambda each: each.high, default=None),
        loaded_s=one.loaded_s + other.loaded_s,
        strength_n=min(strengths, key=lambda each: each.low, default=None),
        slips_n=one.slips_n or other.slips_n,
        rope=other.rope or one.rope,
        ran=_ran_together((*one.ran, *other.ran)),
    )


def _ran_together(rows: Iterable[Ran]) -> tuple[Ran, ...]:
    found: dict[str, Ran] = {}
    for one in rows:
        before = found[one.edge.name].metres if one.edge.name in found else 0.0
        found[one.edge.name] = Ran(one.edge, before + one.metres)
    return tuple(found.values())


@dataclass(frozen=True)
class _Rig:
    """The states of one plan, and their parts."""

    plan: Plan
    ratios: bool = False

    @cached_property
    def predictor(self) -> Predictor:
        return Predictor(self.plan, self.ratios)

    @cached_property
    def known(self) -> _Rig:
        """The same rig with the load exactly known."""
        return _Rig(self.plan, True)

    @cached_property
    def _parts(self) -> dict[str, list[Part]]:
        return {}

    def parts(self, state: str) -> list[Part]:
        """Everything that is gear in a state, or tells what gear does there; each leg's slings in place of its weakest link."""
        if state not in self._parts:
            solved = self.predictor.solved(state)
            found = parts_in_load_order(self.plan, solved, anchor_states(self.plan, [solved])) if solved else []
            if state in self.across:
                found = self._across(state)
            gear = [
                self._slings(part) if ":leg:" in part.about and part.kind == "attachment" else [part] for part in found
            ]
            self._parts[state] = [part for parts in gear for part in parts]
        return self._parts[state]

    def _across(self, state: str) -> list[Part]:
        """A tension line with the load where it bears most."""
        line = next(one for one in self.plan.tension_lines if state == f"across:{one.id}")
        try:
            places = along_line(self.plan, line, _PLACES)
        except Refused:
            return []
        hardest = max(places, key=lambda one: one.tension_n.high)
        return next(crossing_parts(self.plan, line, [hardest]))

    def _slings(self, part: Part) -> Iterator[Part]:
        node, _, number = part.about.rpartition(":leg:")
        rig = rig_anchor(self.plan, self.plan.anchor(node.removeprefix("anchor:")).arrangement)
        line = next(one for one in rig.lines if one.index == int(number))
        if rig.arrangement.piece is not None:
            # Whatever came on one of its legs came on the piece.
            yield replace(
                part,
                id=f"{node}:piece",
                thing=material_of(line.leg).name,
                where=self.plan.anchor(node.removeprefix("anchor:")).name,
            )
            return
        for link in leg_chain(rig.arrangement, line):
            yield replace(
                part, id=f"{part.about}:{link.id}", thing=link.name, where=line.feature.name, strength_n=link.strength_n, gives="breaks"
            )  # fmt: skip

    def pull_n(self, states: Iterable[str]) -> float:
        """The highest pull at the load in some states."""
        found = [pull.high for state in states if (pull := self.predictor.at(Place("load"), state)) is not None]
        return max(found, default=0.0)

    def in_states(self, states: Iterable[str], one: Worked) -> dict[str, Worn]:
        """Every piece with what some states of a step did to it."""
        found: dict[str, Worn] = {}
        for state in states:
            for part in self.parts(state):
                piece = self._piece(part)
                if piece is not None:
                    force, measured, shock = self._force(state, part, one)
                    now = replace(piece, highest_n=force, measured=measured, shock_n=shock)
                    found[now.id] = together(found[now.id], now) if now.id in found else now
        return found

    def stepped(self, one: Worked, hardest: _Rig) -> list[Worn]:
        """Every piece with what a step did to it: its own states where the load pulls hardest, and what hung ready."""
        found = hardest.in_states(one.states, one)
        for id, piece in self.in_states((*self.across, *self.ready), one).items():
            found[id] = together(found[id], piece) if id in found else piece
        edges = {id: tuple(Ran(edge, one.metres) for edge in self._edges(one, piece)) for id, piece in found.items()}
        return [
            replace(piece, loaded_s=one.seconds if piece.highest_n.high > _BEARS_N else 0.0, ran=edges[id])
            for id, piece in found.items()
        ]

    def _piece(self, part: Part) -> Worn | None:
        kind = self._belayed(part) if part.kind == "belay" else _KINDS.get(part.kind)
        kind = "connector" if part.id.endswith(":connector") else kind
        # Where a rope lies bent is not one more rope.
        if kind is None or (part.kind == "bend" and part.strength_n is None) or (kind == "rope" and part.where):
            return None
        slips = part.strength_n if part.gives == "slips" else None
        rope = self._rope(part) if kind == "rope" else None
        # A rope is judged by what it holds straight: where it lay bent is not the piece.
        holds = rope_holds(rope)[0] if rope else part.strength_n if part.gives == "breaks" else None
        id = f"rope:{rope.id}" if rope else part.id.removesuffix(":cord")
        return Worn(id, kind, part, part.force_n, False, None, 0.0, holds, slips, rope)

    @cached_property
    def ready(self) -> tuple[str, ...]:
        """States that nothing came to: what is there for them hung ready and bore nothing, unless a cell on the belay read otherwise."""
        return tuple(id for id in self.predictor.moments if id.startswith("goes:") or id == "lowering-hands-off")

    @cached_property
    def across(self) -> tuple[str, ...]:
        """The load on each tension line."""
        return tuple(f"across:{one.id}" for one in self.plan.tension_lines)

    def _rope(self, part: Part) -> Rope:
        ropes = {one.id: one.rope for one in self.plan.lines} | {one.id: one.rope for one in self.plan.tension_lines}
        return self.plan.rope(ropes[part.id.partition(":")[0]])

    def _belayed(self, part: Part) -> Kind:
        hitch = next(one.belay for one in self.plan.lines if part.id.startswith(f"{one.id}:"))
        return "hitch" if hitch and hitch.holds == "hitch" else "device"

    def _edges(self, one: Worked, piece: Worn) -> Iterator[Edge]:
        """Edges that a rope ran over in a step; each once."""
        if piece.rope is None or not one.metres:
            return
        lines = {each.id for each in self.plan.lines if each.rope == piece.rope.id}
        parts = [part for state in (*one.states, *self.ready) for part in self.parts(state) if part.kind == "edge"]
        names = dict.fromkeys(part.thing for part in parts if part.id.partition(":")[0] in lines)
        known = {one.name: one for one in self.plan.site.edges}
        yield from (known[name] for name in names if name in known)

    def _force(self, state: str, part: Part, one: Worked) -> tuple[Range, bool, Range | None]:
        """What a part carried at most in a state of a step, whether that goes by a reading, and the shock in it."""
        solved = self.predictor.solved(state)
        predicted = Range(0.0, 0.0, 0.0) if state in self.ready else part.force_n
        known: list[tuple[Range, Read]] = []
        for where, read in one.read.items():
            # In whichever state of the step its highest came: the belay's where a line went, else any of those worked.
            if solved and (where.at == "belay") == (state in self.ready) and self._covers(solved, where, part):
                force = self._as_read(state, where, read, part)
                known += [(force, read)] if force is not None else []
        if not known:
            return predicted, False, None
        force, read = max(known, key=lambda each: each[0].high)
        shock = force if read.shock and force.high > _BEARS_N else None
        if read.throughout or force.high > predicted.high:
            return force, True, shock
        return predicted, False, shock

    def _as_read(self, state: str, where: Place, read: Read, part: Part) -> Range | None:
        there = self.known.predictor.at(where, state)
        force = next((one.force_n for one in self.known.parts(state) if one.id == part.id), None)
        if there is None or force is None or there.low <= _BEARS_N:
            return None
        if force == there:
            return exactly(read.peak_n)
        return Range(
            *(
                read.peak_n * one
                for one in (force.low / there.high, force.expected / there.expected, force.high / there.low)
            )
        )

    def _covers(self, solved: Solved, where: Place, part: Part) -> bool:
        """Whether a part's force goes with what is read at a place: a leg's own parts, else all of the line and its anchors."""
        if where.at == "leg":
            return part.about == f"{anchor_node(where.anchor)}:leg:{where.leg}"
        belay = self.plan.line("belay")
        line = belay.id if where.at == "belay" and belay else solved.lines[0].rig.line.id if solved.lines else ""
        forces = solved.line(line)
        if forces is None:
            return False
        anchors = {anchor_node(one) for one in forces.on_anchors}
        return part.id.partition(":")[0] == line or any(part.id.startswith(f"{one}:") for one in anchors)
