"""A procedure bound to a plan and made, edit by edit: what holds after each, hands on and hands off."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, ValidationError

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HAND, Advantage, HaulSystem, advantage, bends
from rigging.document import Plan
from rigging.document.words import known as known_in
from rigging.lines.people import haulers_needed
from rigging.lines.rig import anchor_node
from rigging.lines.way import place_of
from rigging.procedures.asked import Asked, ask
from rigging.procedures.begin import RAISING, Ground
from rigging.procedures.edits import VERBS, perform
from rigging.procedures.edits.edit import Edit
from rigging.procedures.state import TRACKS, State, line_of, locks_itself
from rigging.quantities.faults import Fault, Refused, faults_of, refuse
from rigging.quantities.ranges import Strict, flat
from rigging.site.conditions import sustained_n

_HERE = Path(__file__).parent
# A grab is put this far in front of what holds the load; an arm's length of rope is drawn through to pass a join.
_IN_FRONT_M, _PASSING_M = 0.6, 0.4
# So far from the end of a tension line a load is set down.
_BANK_M = 2.0
# So near a load is hauled to the corner above it, or to an anchor with its hitches in front of it.
_BELOW_M, _BELOW_RIG_M = 0.35, 2.0
# So far a load is hauled to try whether it comes.
_TRIED_M = 0.3
# What is let down to a casualty in a crevasse, by what a step says of the pull.
_DROP, _BLOCK = {"drop": "drop-2", "drop-six": "three-on-two-6"}, "ball-bearing-pulley"
_RIGHT = {"lowers": "choose what lowers", "tension": "lay a tension line"}
# What a procedure may ask of a plan; `on X` asks what is on the rope.
ASKED = (
    "belay", "belay-hitch", "belay-device", "belay-tied", "harness", "brake", "self-locking", "capture", "edge", "haul", "lowers", "grab", "redirect", "tension", "second-tension",
    "leg1", "leg2", "leg3", "leg4",
)  # fmt: skip
Begins = Literal[
    "ground", "held", "lowering", "raising", "between-hauls", "belayed", "arrested", "lifting",
    "escape-belay", "after-arrest", "drop-haul", "tension-line",
]  # fmt: skip
Kind = Literal["procedure", "contingency"]


def _words(when: str) -> list[str]:
    return [word.strip() for word in when.split(" and ") if word.strip()]


def _asked(when: str) -> str:
    for word in _words(when):
        plain = word.removeprefix("not ")
        if plain not in ASKED and not plain.startswith("on "):
            raise ValueError(
                f"{plain!r} is nothing that a plan is asked: `on` and what is on the rope, or one of {', '.join(ASKED)}"
            )
    return when


When = Annotated[str, Field(max_length=200), AfterValidator(_asked)]
Takes = Annotated[str, AfterValidator(lambda id: known_in("minutes", id) if id else "")]


# An edit as it is written: its verb with its part, what else it says, things on a rope laid anew.
EditRow = Annotated[dict[str, Any], flat(4)]


class StepGiven(Strict):
    """A step as it is written: who (roles), what they do, what is looked at, the words called, what may go wrong, its edits;
    `when`: what must be so in the plan for it to be there; `pulls`: how the haul team is at work; `takes`: what the catalogue has for its
    minutes."""

    who: list[str]
    do: Annotated[str, Field(min_length=1, max_length=400)]
    look: str = ""
    words: str = ""
    wrong: str = ""
    when: When = ""
    pulls: Literal["", "haul", "join", "drop", "drop-six"] = ""
    takes: Takes = ""
    edits: list[EditRow] = []


class ProcedureGiven(Strict):
    """A procedure as it is written; `begins` names the rig that it finds, "" the one that is there, and `leaves` the one that it leaves, "" the
    one that it found; `needs`: what must be so; `takes`: the catalogue's minutes of all that does not move the load in it."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,60}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    kind: Kind = "procedure"
    begins: Begins | Literal[""] = ""
    leaves: Begins | Literal[""] = ""
    needs: When = ""
    takes: Takes = ""
    steps: Annotated[list[StepGiven], Field(min_length=1, max_length=60)]


@dataclass(frozen=True)
class Made:
    """An edit of a step: what then holds, or why it was refused."""

    edit: Edit
    asked: Asked | None
    refused: tuple[Fault, ...] = ()


def own_procedures(given: Mapping[str, Any]) -> dict[str, ProcedureGiven]:
    """A team's own procedures by id, as they are kept: checked when they were saved.

    Raises
    ------
    ValidationError
        If one is none.
    """
    return {id: ProcedureGiven.model_validate(one) for id, one in given.items()}


@dataclass(frozen=True)
class Hands:
    """The haul team at work: the advantage as rigged there (a join may stand in it), how many it takes, and how many where a
    drop loop runs on a bare connector for want of a block."""

    ideal: float
    hand_n: float
    haulers: int
    there: int
    bare: int | None = None


@dataclass(frozen=True)
class Step:
    """A step of the work as it went: the rig that it `found`, its edits made, and the rig after it."""

    given: StepGiven
    who: tuple[str, ...]
    made: tuple[Made, ...]
    after: Asked
    found: Asked
    hands: Hands | None = None

    @property
    def refused(self) -> bool:
        return any(one.asked is None for one in self.made)


Found = Callable[[int, Asked], Asked]


@dataclass(frozen=True)
class Procedure:
    """A procedure on a plan; `start` is what it finds."""

    id: str
    name: str
    start: Asked
    steps: tuple[Step, ...]


@cache
def known() -> dict[str, ProcedureGiven]:
    """The procedures and contingencies that ship, by id."""
    import yaml

    found: dict[str, ProcedureGiven] = {}
    for file in sorted((_HERE / "steps").glob("*.yaml")):
        for row in yaml.safe_load_all(file.read_text(encoding="utf-8")):
            given = ProcedureGiven.model_validate(row)
            found[given.id] = given
    return found


def of_kind(kind: Kind) -> list[ProcedureGiven]:
    return [one for one in known().values() if one.kind == kind]


def given_of(id: str) -> ProcedureGiven:
    """A procedure by its id.

    Raises
    ------
    Refused
        If there is none of that id.
    """
    given = known().get(id)
    if given is None:
        raise refuse("procedure", f"there is no procedure {id!r}", f"one of {', '.join(known())}")
    return given


def made_of(plan: Plan, id: str) -> Procedure:
    """A procedure on a plan, every edit made and asked.

    Raises
    ------
    Refused
        If there is no such procedure, or the plan has not what it begins from.
    """
    return walked(Ground(plan), given_of(id))


def walked(ground: Ground, given: ProcedureGiven, state: State | None = None, found: Found | None = None) -> Procedure:
    """A procedure's steps made one after another, from the rig that it begins with or from the one given. `found`: the rig as it is found before a
    step, by the number that the step will have, where that is not as the one before left it."""
    bound = Bound(ground, given.begins, {role for step in given.steps for role in step.who} == {"arrester"})
    if given.needs and not bound.so(given.needs, ground.state("ground")):
        raise refuse(
            "procedure", f"{given.id} asks for what the plan does not have", _RIGHT.get(given.needs, given.needs)
        )
    here = state or begun(ground, given.begins or "held")
    start = now = ask(here)
    steps: list[Step] = []
    for row in given.steps:
        now = found(len(steps) + 1, now) if found else now
        if bound.so(row.when, now.state):
            steps.append(step_made(bound, row, now))
            now = steps[-1].after
    return Procedure(given.id, given.name, start, tuple(steps))


def begun(ground: Ground, begins: str) -> State:
    """The rig that a procedure begins with; where another one leads to it, as that leaves it."""
    before = known().get(begins)
    return walked(ground, before).steps[-1].after.state if before else ground.state(begins)


def step_made(bound: Bound, row: StepGiven, before: Asked) -> Step:
    """One step made: an edit that is refused changes nothing, and the next is made on what was there."""
    made: list[Made] = []
    now = before
    for one in row.edits:
        edit = edit_of(one, bound.values)
        try:
            now = perform(now.state, edit)
        except Refused as refused:
            made.append(Made(edit, None, refused.faults))
            continue
        made.append(Made(edit, now))
    return Step(
        row, tuple(bound.named(role) for role in row.who), tuple(made), now, before, bound.hands(row.pulls, now.state)
    )


def edit_of(row: Mapping[str, Any], bound: Mapping[str, Any]) -> Edit:
    """An edit from its row: the verb with its part, and what else it says; `$name` is what the plan has for it.

    Raises
    ------
    Refused
        If the row says nothing, or names what the plan does not have.
    """
    verb = next((name for name in row if name in VERBS), None)
    if verb is None:
        raise refuse(
            "edits", f"{dict(row)} names no edit", f"give one of {', '.join(VERBS)}, for instance {{set: brake}}"
        )
    part = row[verb]
    rest = {name: _bound(value, bound) for name, value in row.items() if name not in (verb, "because")}
    try:
        return Edit(verb=verb, part=str(_bound(part, bound) or ""), values=rest, because=row.get("because", ""))
    except ValidationError as error:
        raise Refused(faults_of(error)) from error


def _bound(value: Any, bound: Mapping[str, Any]) -> Any:
    if isinstance(value, list):
        return [_bound(one, bound) for one in value]
    if isinstance(value, Mapping):
        return {name: _bound(one, bound) for name, one in value.items()}
    if isinstance(value, str) and value.startswith("$"):
        if value[1:] not in bound:
            raise refuse("edits", f"{value} stands for nothing", f"one of {', '.join(f'${name}' for name in bound)}")
        return bound[value[1:]]
    return value


class Bound:
    """What a procedure's names stand for in one plan, and what is so in it."""

    def __init__(self, ground: Ground, begins: str, alone: bool = False):
        self.ground, self.plan, self.alone = ground, ground.plan, alone
        self.line = ground.line(begins)
        self.raising = begins in RAISING
        self.values: dict[str, Any] = {**self._lowers(), **self._raises(), **self._belays(), **self._ends()}
        low, haul, belay = self.line.lowering, self.line.haul, self.plan.line("belay")
        holds = belay.belay.holds if belay and belay.belay else ""
        self._so = {
            "belay": belay is not None, "belay-hitch": holds == "hitch", "belay-device": holds == "device", "belay-tied": holds == "tied",
            "harness": not self._from_anchor(), "brake": bool(low and low.brake_hitch), "self-locking": locks_itself(str(self.values["device"])), "capture": bool(haul and haul.capture),
            "edge": any(one.role == "edge" for one in self.plan.team.people), "haul": haul is not None, "lowers": low is not None,
            "grab": bool(self.values.get("haul_grab")), "redirect": bool(self.values.get("redirect")), "tension": bool(self.plan.tension_lines), "second-tension": len(self.plan.tension_lines) > 1,
            **{f"leg{number}": f"leg{number}" in self.values for number in range(1, 5)},
        }  # fmt: skip

    def _from_anchor(self) -> bool:
        return self.plan.operation.belay == "anchor"

    def _lowers(self) -> dict[str, Any]:
        low = self.line.lowering
        out = low.out_m if low else 0.5
        return {
            "anchor": self.line.anchor, "belayer": self.line.anchor if self._from_anchor() else "belayer", "device": low.device if low else "munter", "device_out": out, "in_front": out + _IN_FRONT_M,
            "brake": (low and low.brake_hitch) or "french-8", "brake_out": low.hitch_m if low else 0.25, "brake_slack": low.slack_m if low else 0.05,
            "passing": _PASSING_M, "behind_ratchet": 0.25, "holder": "device" if low else "ratchet",
        }  # fmt: skip

    def _raises(self) -> dict[str, Any]:
        haul, first = self.line.haul, self.ground.way(self.line.id).first_m
        gives = (haul and haul.capture_releasing_m) or 0.0
        beyond = min(0.8 * first, 1.5)
        found: dict[str, Any] = {
            "ratchet": (haul and haul.capture) or "prusik-8", "grab": haul.grab if haul else "prusik-8", "ratchet_gives": gives,
            "releasing": gives or 1.0, "stroke": min(self.ground.stroke_m or 1.0, 0.9 * self._room_m()), "beyond": beyond, "link": 0.6 * beyond,
            "join_haul": 0.4 * beyond + 0.02, "drop": f"{self.line.id}:drop", "haul_grab": "", "redirect": "", **self._to_corner(),
        }  # fmt: skip
        if self.raising and not self.ground.moments["raising"].missing:
            row = self.ground.state("raising").ropes[self.line.id]
            grabs = [one.id for one in row if one.kind == "hitch" and not one.cords]
            turns = [one for one in row if one.kind == "bend" and one.cords]
            found["haul_grab"] = grabs[0] if grabs else ""
            if turns:
                turn = turns[0]
                what = haul.bends.get(turn.id.partition(":")[2], "unknown") if haul else "unknown"
                found |= {"redirect": turn.id, "redirect_bend": what, "redirect_anchor": turn.cords[0].on}
        return found

    def _to_corner(self) -> dict[str, float]:
        """How far the load is from the corner above it, and how far it is still once it has been tried."""
        points = self.ground.way(self.line.id).points
        far_m = math.dist(points[-1], points[-2]) - (_BELOW_M if len(points) > 2 else _BELOW_RIG_M)
        return {"to_corner": far_m, "to_corner_on": max(_TRIED_M, far_m - _TRIED_M)}

    def _room_m(self) -> float:
        return self.ground.state("raising").to_corner_m() if not self.ground.moments["raising"].missing else 1.0

    def _belays(self) -> dict[str, Any]:
        line = self.plan.line("belay")
        belay, spare = (
            line.belay if line else None,
            next((o.id for o in self.plan.anchors if o.id != self.line.anchor), self.line.anchor),
        )
        id = line.id if line else "belay"
        return {
            "belay": belay.what if belay else "tandem-prusik-8", "belay_slack": line.slack_m if line else 0.3, "belay_line": id,
            "belay_gives": (belay.releasing_m or 0.0) if belay else 0.0, "belay_part": f"{id}:belay", "belay_hands": f"{id}:hands", "other_anchor": line.anchor if line else spare,
        }  # fmt: skip

    def _ends(self) -> dict[str, Any]:
        """People, the features of the main anchor, the ends of a tension line."""
        edge = next((one for one in self.plan.team.people if one.role == "edge"), None)
        tied = edge.tied_to if edge and edge.tied_to else self._belays()["other_anchor"]
        legs = self.plan.anchor(self.line.anchor).arrangement.legs
        found = {"edge": self.named("edge"), "edge_anchor": tied}
        found |= {f"leg{number}": f"feature:{leg.feature}" for number, leg in enumerate(legs[:4], start=1)}
        for mark, tight in zip(TRACKS, self.plan.tension_lines, strict=False):
            device = tight.slips or "munter"
            found |= {f"near{mark}": anchor_node(tight.anchor), f"far{mark}": tight.far, f"track_device{mark}": device}
        return found | self._across()

    def _across(self) -> dict[str, Any]:
        """Where a load on the first tension line is drawn to, and how far: to the end that it is not at."""
        if not self.plan.tension_lines:
            return {}
        tight, load = self.plan.tension_lines[0], self.plan.site.load_at
        far_m = {
            one: math.hypot(place_of(self.plan, one)[0] - load.x_m, place_of(self.plan, one)[1])
            for one in (tight.anchor, tight.far)
        }
        to = max(far_m, key=lambda one: far_m[one])
        return {"over_to": to, "across": max(1.0, far_m[to] - _BANK_M)}

    def so(self, when: str, state: State) -> bool:
        """Whether what a step asks is so: words joined by `and`, each with an optional `not`; `on X` asks what is on the rope."""
        return all(self._one(word, state) for word in _words(when))

    def _one(self, word: str, state: State) -> bool:
        if word.startswith("not "):
            return not self._one(word[4:], state)
        if word.startswith("on "):
            return state.find(f"{line_of(next(iter(state.ropes)))}:{word[3:]}") is not None
        return self._so[word]

    def named(self, role: str) -> str:
        """The person of a role by name, else the role."""
        return next((one.name for one in self.plan.team.people if one.role == role), role)

    def hands(self, pulls: str, state: State) -> Hands | None:
        """The haul team at work: with a join standing at a bend, on what is left of the system."""
        haul, hand = self.line.haul, self.ground.hand_n
        if not pulls or haul is None or hand is None:
            return None
        whole = gives_of(haul.system, haul.bends)
        now = whole
        if pulls in _DROP:
            return self._drop(_DROP[pulls], hand * whole.actual.expected)
        if pulls == "join":
            left = standing(haul.system, haul.bends)
            if left is None:
                return None
            now = gives_of(*left)
        times = whole.actual.expected / now.actual.expected
        people = self.ground.haulers(times)
        assert people is not None
        return Hands(now.ideal, hand * times, people, self.plan.team.haulers)

    def _drop(self, id: str, load_n: float) -> Hands:
        """A drop loop on a block at the load, what is rigged on its haul strand on carabiners; the same without the block."""
        system = catalogue().systems[id]
        bare = gives_of(system, {place.id: "carabiner" for place in bends(system)})
        block = gives_of(system, {place.id: _BLOCK if place.node == "L" else "carabiner" for place in bends(system)})
        hand_n, without_n = load_n / block.actual.expected, load_n / bare.actual.expected
        there = 1 if self.alone else self.plan.team.haulers
        each_n = sustained_n(self.plan).expected
        return Hands(block.ideal, hand_n, haulers_needed(hand_n, each_n), there, haulers_needed(without_n, each_n))


def gives_of(system: HaulSystem, what: Mapping[str, str]) -> Advantage:
    """A system's advantage with what sits at its bends; a bend that nobody spoke of is unknown."""
    shelf = catalogue().bends
    return advantage(system, {place.id: shelf[what.get(place.id, "unknown")].eta for place in bends(system)})


def standing(system: HaulSystem, what: Mapping[str, str]) -> tuple[HaulSystem, dict[str, str]] | None:
    """The system while a join stands at the first bend at an anchor: there the rope is as good as tied, and what ran into it from the
    load goes slack. None where no rope bends at an anchor."""
    for number, piece in enumerate(system.ropes):
        for place, node in enumerate(piece[1:-1], start=1):
            if system.nodes.get(node) != "anchor":
                continue
            ropes = [list(one) for one in system.ropes]
            ropes[number] = list(piece[place:])
            used = {name for one in ropes for name in one} - {HAND}
            nodes = {name: kind for name, kind in system.nodes.items() if name in used}
            stations = {name: at for name, at in system.station.items() if name in used}
            left = system.model_copy(
                update={"id": f"{system.id}-join", "ropes": ropes, "nodes": nodes, "station": stations}
            )
            left = HaulSystem.model_validate(left.model_dump())
            return left, _same_bends(system, left, what)
    return None


def _same_bends(whole: HaulSystem, left: HaulSystem, what: Mapping[str, str]) -> dict[str, str]:
    """What sits at the bends that are left: by node, in order."""
    by_node: dict[str, list[str]] = {}
    for place in reversed(bends(whole)):
        by_node.setdefault(place.node, []).append(what.get(place.id, "unknown"))
    return {place.id: by_node[place.node].pop(0) for place in bends(left)}
