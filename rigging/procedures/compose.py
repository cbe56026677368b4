"""A plan's whole operation as steps in order: set up, checked, lowered, joins passed where they fall, changed over, raised haul by
haul, over the edge, struck; with the people there named, and what asks for more hands than there are."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends
from rigging.document import Plan
from rigging.lines.parts import minded
from rigging.lines.whole_way import Event, whole_way
from rigging.mechanics.holds import HANDS
from rigging.procedures.begin import Ground
from rigging.procedures.edits import Asked
from rigging.procedures.run import Hands, ProcedureGiven, Step, StepGiven, given_of, gives_of, walked
from rigging.quantities.faults import Refused

# Places of the load at which joins and resets are looked for.
_PLACES = 12
# The leader decides and does not pull; who writes has both hands full.
_KEPT_FREE = frozenset({"leader", "writer"})
_NOT_ROLES = frozenset({"arrester", "second"})


@dataclass(frozen=True)
class Asks:
    """What a step asks of people: each duty with who has it (None: nobody is left), and the haul team: needed and there."""

    duties: dict[str, str | None]
    haul_needed: int = 0
    haul_there: int = 0
    haul: tuple[str, ...] = ()

    @property
    def missing(self) -> tuple[str, ...]:
        """Duties that nobody is left for; `haul` where too few can pull."""
        short = ("haul",) if self.haul_needed > self.haul_there else ()
        return (*(duty for duty, who in self.duties.items() if who is None), *short)


@dataclass(frozen=True)
class Planned:
    """A step of the operation: `key` names it across changes of the plan."""

    key: str
    step: Step
    asks: Asks


@dataclass(frozen=True)
class Section:
    """A stretch of the work: a procedure at one place of it; `at_m` metres of lowering or raising done when it begins, `number` of
    `count` where it is one haul of several."""

    id: str
    procedure: str
    name: str
    steps: tuple[Planned, ...]
    at_m: float | None = None
    number: int = 1
    count: int = 1
    why: str = ""


@dataclass(frozen=True)
class Lacks:
    """What can not be done with the people there, in which steps, and what would make it possible."""

    duty: str
    keys: tuple[str, ...]
    needed: int
    there: int
    would: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class Operation:
    sections: tuple[Section, ...]
    lacks: tuple[Lacks, ...] = field(default=())

    @property
    def steps(self) -> list[Planned]:
        return [one for section in self.sections for one in section.steps]


def composed(plan: Plan, own: dict[str, ProcedureGiven] | None = None) -> Operation:
    """The operation that a plan asks for. `own`: the team's own procedures, in place of those that ship under the same id.

    Raises
    ------
    Refused
        If no line leads to the load, or it can not be laid out.
    """
    composer = _Composer(plan, own or {})
    sections = tuple(composer.sections())
    return Operation(sections, tuple(_lacks(composer.ground, sections)))


class _Composer:
    def __init__(self, plan: Plan, own: dict[str, ProcedureGiven]):
        self.plan, self.own = plan, own
        self.ground = Ground(plan)
        self.crew = _Crew(self.ground)
        missing = {id: moment.missing for id, moment in self.ground.moments.items()}
        self.lowers, self.raises = not missing["lowering"], not missing["raising"]
        self.events: tuple[Event, ...] = ()
        line = self.ground.line("raising" if self.raises else "lowering")
        if self.lowers or self.raises:
            self.events = whole_way(plan, line, _PLACES).events

    def sections(self) -> Iterator[Section]:
        yield self._of(_setting_up(self.plan))
        yield self._of(_CHECKED)
        hanging = not self.plan.site.edges and self.raises and not self.lowers
        if self.lowers:
            yield self._of(self._given("lower"))
            for number, event in enumerate(self._joins("lowering"), start=1):
                yield self._of(
                    self._given("knot-pass-lowering"),
                    f":{number}",
                    at_m=event.metre,
                    why=f"join at the {event.comes_to}",
                )
            yield self._of(self._given("secure"))
        if self.lowers and self.raises:
            yield self._of(self._given("change-over"))
        if hanging:
            yield self._of(self._given("straight-lift"))
        if self.raises:
            yield from self._hauls()
        if self.raises and self.plan.site.edges:
            yield self._of(_EDGE)
        yield self._of(_STRUCK)

    def _given(self, id: str) -> ProcedureGiven:
        return self.own.get(id) or given_of(id)

    def _joins(self, job: str) -> list[Event]:
        """Where a join of the line at work comes to its device, or to its block."""
        line = self.ground.line(job)
        stop = "device" if job == "lowering" else "ratchet" if line.haul and line.haul.capture else "block"
        found: dict[int, Event] = {}
        for one in self.events:
            if one.kind == "join" and one.job == job and one.line == line.id and one.comes_to == stop:
                found.setdefault(round(one.metre), one)
        return list(found.values())

    def _hauls(self) -> Iterator[Section]:
        """Every haul up to the edge; a join that comes to the anchor is passed before the haul that it would come in on."""
        given = self._given("raise")
        resets = [0.0, *(one.metre for one in self.events if one.kind == "reset" and one.job == "raising")]
        joins = self._joins("raising")
        for number, at_m in enumerate(resets, start=1):
            until = resets[number] if number < len(resets) else math.inf
            yield self._of(given, f":{number}", at_m=at_m, number=number, count=len(resets))
            for place, event in enumerate(joins, start=1):
                if at_m <= event.metre < until:
                    why = f"join at the {event.comes_to}"
                    yield self._of(self._given("knot-pass-raising"), f":{place}", at_m=event.metre, why=why)

    def _of(self, given: ProcedureGiven, mark: str = "", **more: Any) -> Section:
        """A procedure made on this plan. Repeated, it is the same: it is made once."""
        try:
            steps = self.crew.walked(given)
        except Refused as refused:
            said = "; ".join(fault.problem for fault in refused.faults)
            return Section(f"{given.id}{mark}", given.id, given.name, (), why=said)
        id = f"{given.id}{mark}"
        rows = tuple(
            Planned(f"{id}/{n}", step, self.crew.asks(given.id, step)) for n, step in enumerate(steps, start=1)
        )
        return Section(id, given.id, given.name, rows, **more)


class _Crew:
    """The people there: who has which duty, and who is left to haul."""

    def __init__(self, ground: Ground):
        self.ground, self.plan = ground, ground.plan
        self._made: dict[str, tuple[Step, ...]] = {}
        self.people = {one.name: one.role for one in self.plan.team.people}
        named = sum(role in ("haul", "other") for role in self.people.values())
        # Haulers who are there but not named.
        self.others = max(0, self.plan.team.haulers - named)
        haul, belay = ground.line("raising").haul, self.plan.line("belay")
        self.minds_ratchet = bool(haul and haul.capture) and not (
            haul and minded(haul) and not haul.capture_minder.strip()
        )
        holds = belay.belay if belay else None
        self.minds_belay = (
            holds is not None
            and holds.holds != "tied"
            and not (holds.holds == "device" and catalogue().devices[holds.what].self_locking)
        )

    def walked(self, given: ProcedureGiven) -> tuple[Step, ...]:
        if given.id not in self._made:
            self._made[given.id] = walked(self.ground, given).steps
        return self._made[given.id]

    def asks(self, procedure: str, step: Step) -> Asks:
        """Everybody that a step needs at once: those it names, and those who can not leave their place meanwhile."""
        absent = {"haul"} if self.plan.line("belay") else {"haul", "belay"}
        wanted = [role for role in step.given.who if role not in absent] + self._standing(procedure, step.after)
        duties: dict[str, str | None] = {}
        free = dict(self.people)
        for role in dict.fromkeys(wanted):
            who = next((name for name, has in free.items() if has == role), None)
            duties[role] = who
            if who is not None:
                del free[who]
        for role, who in duties.items():
            if who is None and role not in _NOT_ROLES:
                spare = next((name for name, has in free.items() if has in ("other", "haul")), None)
                spare = spare or next((name for name, has in free.items() if has not in _KEPT_FREE), None)
                if spare is not None:
                    del free[spare]
                duties[role] = spare
        unnamed = self.others - sum(who is None for who in duties.values())
        duties = self._by_others(duties)
        pulling = tuple(name for name, has in free.items() if has not in _KEPT_FREE)
        needed = step.hands.haulers if step.hands else 1 if "haul" in step.given.who else 0
        return Asks(duties, needed, len(pulling) + max(0, unnamed), pulling)

    def _by_others(self, duties: dict[str, str | None]) -> dict[str, str | None]:
        """Duties that somebody who is there without a name can take."""
        left = self.others
        found: dict[str, str | None] = {}
        for role, who in duties.items():
            takes = who is None and left > 0
            left -= takes
            found[role] = "one of the haulers" if takes else who
        return found

    def _standing(self, procedure: str, after: Asked) -> list[str]:
        """Duties that go on while something else is done."""
        loaded = not after.state.grounded
        up = procedure in ("raise", "knot-pass-raising", "straight-lift")
        hauling = after.state.stroke_m is not None
        found = ["main"] if loaded and not hauling and HANDS in after.on else []
        found += ["belay"] if loaded and self.minds_belay else []
        found += ["ratchet"] if loaded and up and self.minds_ratchet else []
        return found + (["edge"] if loaded and self.plan.site.edges else [])


def _lacks(ground: Ground, sections: tuple[Section, ...]) -> Iterator[Lacks]:
    """Each thing that is missing, once, with the steps that it is missing in."""
    short: dict[str, list[Planned]] = {}
    for section in sections:
        for one in section.steps:
            for duty in one.asks.missing:
                short.setdefault(duty, []).append(one)
    for duty, rows in short.items():
        worst = max(rows, key=lambda one: one.asks.haul_needed - one.asks.haul_there)
        keys = tuple(one.key for one in rows)
        if duty == "haul":
            there = worst.asks.haul_there
            yield Lacks(duty, keys, worst.asks.haul_needed, there, tuple(_lighter(ground, worst.step.hands, there)))
        else:
            yield Lacks(duty, keys, 1, 0)


def _lighter(ground: Ground, hands: Hands | None, there: int) -> Iterator[tuple[str, int]]:
    """Systems of the catalogue that as many as are there could haul, on the best of what sits at the bends now; the least
    advantage first."""
    haul = ground.line("raising").haul
    if hands is None or haul is None or there < 1:
        return
    shelf = catalogue().bends
    best = max(
        (shelf[kind] for kind in haul.bends.values()), key=lambda one: one.eta.expected, default=shelf["carabiner"]
    )
    mine = gives_of(haul.system, haul.bends)
    rows = []
    for system in catalogue().systems.values():
        gives = gives_of(system, {place.id: best.id for place in bends(system)})
        people = ground.haulers(mine.actual.expected / gives.actual.expected)
        if people is not None and people <= there and not system.out_of_one:
            rows.append((gives.actual.expected, f"{system.name} on {best.name.lower()}s", people))
    yield from ((name, people) for _, name, people in sorted(rows)[:2])


def _setting_up(plan: Plan) -> ProcedureGiven:
    """Anchors, edges and ropes as the plan has them."""
    steps = [
        StepGiven(who=["main"], do=f"{one.name} built.", look="As drawn on the Anchors stage; every leg bears.")
        for one in plan.anchors
    ]
    steps += [
        StepGiven(
            who=["edge"],
            do=f"{edge.name}: protection laid and tied back." if edge.protection else f"{edge.name}: looked at, bare.",
            look="Tied in before going near.",
        )
        for edge in plan.site.edges
    ]
    steps += [
        StepGiven(who=["main"], do=f"Rope {one.id} stacked, its end tied off.", look="Age and sheath looked at.")
        for one in plan.ropes
    ]
    return ProcedureGiven(id="set-up", name="Set up", begins="ground", steps=steps)


_CHECKED = ProcedureGiven(
    id="check", name="Check", begins="ground",
    steps=[StepGiven(who=["leader"], do="Check gone through and signed by a second person.", look="Every line answered, on the Check stage.", words="ready")],
)  # fmt: skip
_EDGE = ProcedureGiven(
    id="edge", name="Over the edge", begins="between-hauls",
    steps=[
        StepGiven(who=["edge"], do="Load to the edge: ratchet set, everybody there tied in.", look="Own lines short of the lip.", words="set"),
        StepGiven(who=["edge", "attendant"], do="Over the edge: pad, litter lifted, small pulls on the word.", look="Feet, fingers, rope out of the lip.", words="up slow"),
        StepGiven(who=["edge"], do="Load in, away from the edge, held by hand before anything is let off.", look="Nobody unclips at the lip.", words="clear"),
    ],
)  # fmt: skip
_STRUCK = ProcedureGiven(
    id="derig", name="Struck", begins="ground",
    steps=[
        StepGiven(who=["main"], do="Ropes in; anchors struck, the people's own last.", look="Nobody near the edge untied."),
        StepGiven(who=["leader"], do="Gear counted; what was shocked, cut or muddy set aside.", look="Sling by sling, with the list."),
    ],
)  # fmt: skip
