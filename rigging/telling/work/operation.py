"""An operation told: every step with who, what, what is looked at, the words, and what then holds, in words and on the drawing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from rigging.document import Plan
from rigging.lines.rig import LOAD
from rigging.mechanics.holds import HANDS, Lying, bears
from rigging.procedures.asked import Asked
from rigging.procedures.begin import Ground, with_tag_line
from rigging.procedures.course import SET_UP, fitting
from rigging.procedures.forces import borne_n
from rigging.procedures.operation import Asks, Branch, Lacks, Operation, Planned, Section
from rigging.procedures.rope_used import RopeLeft, least_left
from rigging.procedures.run import Step
from rigging.procedures.state import Item, State, line_of
from rigging.procedures.temporary import temporaries
from rigging.procedures.timing import Timing, timing
from rigging.quantities.ranges import Range, added
from rigging.quantities.units import Wording
from rigging.telling.learning.drawn import DrawnAs, drawings_of
from rigging.telling.words.names import line_name, listed, lower_first, rope_name, spoken, upper_first
from rigging.telling.words.operation import doubt, why_unmade
from rigging.telling.words.otherwise import lies_text
from rigging.telling.work.timing import TimingReport, Told, minutes, timing_report

# A drop shorter than this is stretch and settling.
_STAYS_M = 0.01
_PARTS = {
    "brake": "brake hitch", "ratchet-2": "second ratchet", "drop ratchet": "ratchet on the fresh strand", "drop block": "block at the load",
    "drop end": "tied end of the fresh strand", "drop hands": "hands", "sling hands": "hands", "track hands": "hands", "backup": "knot behind", "safety": "safety knot", "knot": "knot behind", "track device": "near end of the line",
    "track-2 device": "near end of the second", "far end-2": "far end of the second", "finish": "finish on the anchor", "munter": "rope on its munter", "far end": "far end of the line",
}  # fmt: skip
_DUTIES = {
    "main": "main line", "belay": "belay", "ratchet": "ratchet minder", "edge": "edge person", "leader": "leader", "attendant": "attendant", "haul": "haul team",
    "writer": "writer", "other": "helper", "arrester": "arrester", "second": "second on the rope",
}  # fmt: skip
_WOULD = {
    "ratchet": "a pulley that minds its hitch, or a device that takes in, needs nobody there",
    "belay": "a belay device that locks by itself frees a hand, not the place: one more person",
    "edge": "somebody who is free until the load is at the edge, tied in",
    "attendant": "a litter that is guided by a tag line from the edge",
}  # fmt: skip


class Who(Told):
    """A duty and who has it; `name` is empty where nobody is left for it. `acts`: the step is theirs; else they keep their place."""

    role: str
    duty: str
    name: str
    acts: bool


class Loaded(Told):
    """Something that bears, and how much at rest, friction helping or hurting (None: it can not be said)."""

    id: str
    name: str
    force_n: Range | None


class Stretch(Told):
    """A piece of rope or cord on the drawing, (x, z) in metres; whether it bears, how much is slack, whether hands end it."""

    id: str
    name: str
    points: list[list[float]]
    bears: bool
    slack: bool
    cord: bool
    force_n: float


class Mark(Told):
    """Something on the drawing."""

    id: str
    name: str
    kind: Literal["anchor", "hitch", "device", "bend", "edge", "hands", "load", "open"]
    x_m: float
    z_m: float
    bears: bool


class HandsReport(Told):
    """The haul team: the ideal advantage as rigged there, what they pull, how many it takes, how many are there; `bare`: how many
    where a drop loop runs on a bare connector."""

    ideal: float
    hand_n: float
    needed: int
    there: int
    bare: int | None = None


class HoldsNow(Told):
    """What the load hangs on (`grounded`: it lies on the ground), what is behind it after how far (None: nothing), hands off
    (`hands_off_m` None: it falls), what it falls without."""

    grounded: bool
    on: list[Loaded]
    on_text: str
    behind_text: str
    behind_m: float | None
    hands_off_text: str
    hands_off_m: float | None
    alone: list[str]


class StepReport(Told):
    """One step. `moves_text`: how far the load goes in it, empty where it stays; `refused`: an edit that does not go on this plan, with the
    reason and what would be right; `lies`: what was found before it, or done besides; `questions`: what comes on an anchor made in passing, where that may be more than it holds; `drawn`: how what is put on in it is tied; `begins_min`: after so many minutes, and `left_min` from then on until the load is up (None: outside
    the operation)."""

    key: str
    section: str
    who: list[Who]
    do: str
    moves_text: str = ""
    look: str
    words: str
    wrong: str
    edits: list[str]
    refused: list[str]
    lies: list[str] = []
    holds: HoldsNow
    hands: HandsReport | None
    lacks: list[str]
    questions: list[str] = []
    stretches: list[Stretch]
    marks: list[Mark]
    begins_min: float | None = None
    left_min: Range | None = None
    drawn: list[DrawnAs] = []


class Choice(Told):
    """A procedure that fits somewhere."""

    id: str
    name: str


class BranchReport(Told):
    """What is done instead of a section, and when; `refused`: why it can not be."""

    id: str
    when: str
    procedure: str
    name: str
    refused: str
    steps: list[StepReport]


class SectionReport(Told):
    """`place`: of the leader's arrangement, which one; `refused`: why nothing of it can be done; `instead` of it; `may_follow`: what fits after it."""

    id: str
    procedure: str
    name: str
    text: str
    number: int
    count: int
    at_m: float | None
    steps: list[str]
    minutes: Range
    place: int
    refused: str
    instead: list[BranchReport]
    may_follow: list[Choice]


class LacksReport(Told):
    """What can not be done with the people there, and what would make it possible."""

    duty: str
    text: str
    would: str
    steps: list[str]


class RopeReport(Told):
    """A rope at the step at which least of it is left, in metres (less than nothing: so much is missing), and in words."""

    rope: str
    step: str
    left_m: float
    text: str


class OperationReport(Told):
    """`ropes`: what is left of each; `begins`: the rig that it finds, `belay` what a belay hangs on; `arranged`: whether the leader put the sections in order, or they are as composed; `may_begin`: what fits first."""

    begins: str
    belay: str
    arranged: bool
    may_begin: list[Choice]
    sections: list[SectionReport]
    steps: list[StepReport]
    lacks: list[LacksReport]
    ropes: list[RopeReport] = []
    timing: TimingReport


def operation_report(plan: Plan, operation: Operation, say: Wording | None = None) -> OperationReport:
    """The operation in words and geometry."""
    plan = with_tag_line(plan)
    teller, times = Teller(plan, say or Wording()), timing(plan, operation)
    return OperationReport(
        begins=operation.begins,
        belay=plan.operation.belay,
        arranged=plan.operation.sections is not None,
        may_begin=list(_fitting(operation.finds, operation)),
        sections=[teller.section(one, times, operation) for one in operation.sections],
        steps=[teller.step(one, section.id, times) for section in operation.sections for one in section.steps],
        lacks=[teller.lacks(one) for one in operation.lacks],
        ropes=[teller.rope(one, operation) for one in least_left(plan, operation)],
        timing=timing_report(plan, operation, times),
    )


@dataclass
class Teller:
    """Tells steps of one plan."""

    plan: Plan
    say: Wording

    def section(self, one: Section, times: Timing, operation: Operation) -> SectionReport:
        count = f"{one.number} of {one.count}" if one.count > 1 else ""
        at = f"after {self.say.length(one.at_m)}" if one.at_m else ""
        # Several build at once.
        takes_s = times.set_up_s if one.id == SET_UP else added(*(step.seconds for step in one.steps))
        pull = max((step.step.hands.haulers for step in one.steps if step.step.hands), default=0)
        refused = why_unmade(one.unmade)
        text = ", ".join(part for part in (count, at, one.why, f"{pull} to pull" if pull else "", refused) if part)
        return SectionReport(
            id=one.id, procedure=one.procedure, name=one.name, text=text, number=one.number, count=one.count, at_m=one.at_m,
            steps=[step.key for step in one.steps], minutes=minutes(takes_s), place=one.place, refused=refused,
            instead=[self._branch(branch) for branch in one.instead], may_follow=list(_fitting(one.rig, operation)) if one.rig else [],
        )  # fmt: skip

    def _branch(self, one: Branch) -> BranchReport:
        section = one.section
        return BranchReport(
            id=one.id, when=one.when, procedure=section.procedure, name=section.name, refused=why_unmade(section.unmade),
            steps=[self.step(step, one.id) for step in section.steps],
        )  # fmt: skip

    def step(self, planned: Planned, section: str, times: Timing | None = None) -> StepReport:
        step, asks = planned.step, planned.asks
        hands = (
            HandsReport(
                ideal=step.hands.ideal,
                hand_n=step.hands.hand_n,
                needed=step.hands.haulers,
                there=asks.haul_there,
                bare=step.hands.bare,
            )
            if step.hands
            else None
        )
        pulling = (
            [Who(role="haul", duty=_DUTIES["haul"], name=_pulling(asks), acts=True)]
            if step.hands or "haul" in step.given.who
            else []
        )
        return StepReport(
            key=planned.key, section=section, do=step.given.do, moves_text=self._moves(planned), look=step.given.look, words=step.given.words, wrong=step.given.wrong,
            who=[*(Who(role=role, duty=_DUTIES.get(role, role), name=who or "", acts=role in step.given.who) for role, who in asks.duties.items()), *pulling],
            lacks=[_DUTIES.get(one, one) for one in asks.missing if one != "haul" or hands is None], hands=hands, questions=list(self._questions(planned)), lies=[lies_text(self.part, step.found.state, one) for one in planned.lies], begins_min=round(times.begins_s[planned.key] / 60, 1) if times else None,
            left_min=minutes(left) if times and (left := times.left_s.get(planned.key)) else None, **self.made(step, planned.rests),
        )  # fmt: skip

    def _questions(self, planned: Planned) -> Iterator[str]:
        for one in temporaries(planned):
            if one.asks:
                said, right = doubt(one.kind, one.bears_n, one.holds_n, one.there, self.say)
                yield f"{upper_first(said)}. {right}."

    def _moves(self, planned: Planned) -> str:
        moves = ((planned.up_m, "up"), (planned.down_m, "down"))
        return ", ".join(f"{self.say.length(far_m)} {way}" for far_m, way in moves if far_m > 0)

    def alone(self, step: Step, key: str, section: str) -> StepReport:
        """A step outside any operation: a contingency's, from the rig that it finds."""
        given = step.given
        people = zip(given.who, step.who, strict=True)
        who = [
            Who(role=role, duty=_DUTIES.get(role, role), name=name if name != role else "", acts=True)
            for role, name in people
        ]
        return StepReport(
            key=key, section=section, do=given.do, look=given.look, words=given.words, wrong=given.wrong, who=who, lacks=[],
            hands=None, **self.made(step),
        )  # fmt: skip

    def made(self, step: Step, rests: Asked | None = None) -> dict[str, Any]:
        """A step's edits and the rig after it; what it bears is asked with the load where it then `rests`."""
        refused = [
            f"{upper_first(one.edit.words)}: {fault.problem}. {upper_first(fault.right)}."
            for one in step.made for fault in one.refused
        ]  # fmt: skip
        return {
            "edits": [one.edit.words.strip() for one in step.made],
            "drawn": drawings_of(value for one in step.made for value in one.edit.values.values()),
            "refused": refused,
            **self.lying(step.after, rests),
        }

    def lying(self, asked: Asked, rests: Asked | None = None) -> dict[str, Any]:
        """What holds in a rig, and its drawing; what it bears is asked with the load where it then `rests`."""
        lying = asked.state.lying()
        return {
            "holds": self.holds(asked, rests or asked), "stretches": list(self._stretches(asked, lying)),
            "marks": list(self._marks(asked, lying)),
        }  # fmt: skip

    def holds(self, asked: Asked, rests: Asked) -> HoldsNow:
        ground = rests.state.ground
        borne = borne_n(ground, rests) if isinstance(ground, Ground) else {}
        on = [Loaded(id=one, name=self.part(asked.state, one), force_n=borne.get(one)) for one in asked.on]
        behind = asked.behind
        each = behind.onto == asked.on and len(asked.on) > 1
        onto = "one another" if each else listed(self.part(asked.state, one) for one in behind.onto)
        alone = sorted({self.part(asked.state, one) for one in asked.alone})
        off = asked.hands_off.drop_m
        return HoldsNow(
            grounded=any(one.startswith("ground") for one in asked.on), on=on, on_text=upper_first(listed(one.name for one in on)) or "Nothing", behind_text=self._behind(onto, behind.far_m),
            behind_m=behind.far_m, hands_off_text=self._hands_off(off), hands_off_m=off, alone=alone,
        )  # fmt: skip

    def _behind(self, onto: str, far_m: float | None) -> str:
        if far_m is None:
            return "Nothing"
        after = "" if far_m < _STAYS_M else f", after {self.say.length(far_m)}"
        return f"{upper_first(onto)}{after}"

    def _hands_off(self, far_m: float | None) -> str:
        if far_m is None:
            return "It falls"
        return "It stays" if far_m < _STAYS_M else f"Down {self.say.length(far_m)}"

    def part(self, state: State, id: str) -> str:
        """A part as people say it."""
        if id == HANDS:
            return "hands"
        if id.startswith("ground"):
            return "the ground"
        if id.startswith("tie of "):
            return self.part(state, id.removeprefix("tie of "))
        if " cord" in id:
            return self.part(state, id.partition(" cord")[0])
        if id.startswith("anchor:"):
            return lower_first(self.plan.anchor(id.removeprefix("anchor:")).name)
        if id.startswith("feature:"):
            return lower_first(self.plan.feature(id.removeprefix("feature:")).name)
        line, _, place = id.partition(":")
        rope, _, number = id.rpartition(":")
        if rope in state.ropes and number.isdigit():
            return self._tied(state, rope, int(number))
        item = next((one for _, one in state.items() if one.id == id), None)
        named = _PARTS.get(place) or (_of_system(place, item) if item else place)
        return (
            named
            if place in ("belay", "") or line == line_of(next(iter(state.ropes)))
            else f"{lower_first(line_name(self.plan, line))} {named}"
        )

    def _tied(self, state: State, rope: str, number: int) -> str:
        """A piece of rope by the knot that ends it, or as the rope."""
        row = [one for one in state.ropes[rope] if one.on_the_way]
        ends = [one for n, one in enumerate(row) if n == 0 or one.grips]
        end = ends[number] if number < len(ends) else None
        if end is not None and end.kind == "tie" and end.to != LOAD and end.id != end.to:
            return self.part(state, end.id)
        first = row[0]
        if first.kind == "tie" and first.to != LOAD and first.id != first.to and number == 1:
            return self.part(state, first.id)
        return (
            f"{lower_first(line_name(self.plan, line_of(rope)))} rope"
            if line_of(rope) == rope
            else _PARTS.get(rope.partition(":")[2], rope.partition(":")[2])
        )

    # The drawing

    def _stretches(self, asked: Asked, lying: Lying) -> Iterator[Stretch]:
        loaded = set(bears(asked.holds.settled, lying.weight_kn))
        spare = asked.holds.settled.spare_m
        for piece in lying.pieces:
            if piece.id.startswith("ground"):
                continue
            points = [[round(lying.at[name][0], 3), round(lying.at[name][2], 3)] for name in piece.route]
            yield Stretch(
                id=piece.id, name=self.part(asked.state, piece.id), points=points, bears=piece.id in loaded,
                slack=spare.get(piece.id, 1.0) > 0.02, cord=not piece.rope.startswith("rope:"),
                force_n=1000 * asked.holds.settled.tensions_kn.get(piece.id, 0.0),
            )  # fmt: skip

    def _marks(self, asked: Asked, lying: Lying) -> Iterator[Mark]:
        on = set(asked.on)
        state, seen = asked.state, set[str]()
        for _, one in state.items():
            node = one.node
            if node not in state.at or node in seen or node == LOAD:
                continue
            seen.add(node)
            x, _, z = state.at[node]
            kind = _mark(one)
            yield Mark(
                id=node,
                name=self.part(state, node),
                kind=kind,
                x_m=round(x, 3),
                z_m=round(z, 3),
                bears=node in on or (kind == "hands" and HANDS in on),
            )
        for name in lying.kinds:
            if name in state.anchors and name not in seen:
                x, _, z = state.at[name]
                yield Mark(
                    id=name, name=self.part(state, name), kind="anchor", x_m=round(x, 3), z_m=round(z, 3), bears=False
                )
        x, _, z = state.at[LOAD]
        yield Mark(id=LOAD, name="load", kind="load", x_m=round(x, 3), z_m=round(z, 3), bears=False)

    def rope(self, one: RopeLeft, operation: Operation) -> RopeReport:
        section = next(each for each in operation.sections if one.key in [step.key for step in each.steps])
        number = [step.key for step in section.steps].index(one.key) + 1
        far = self.say.length(abs(one.left_m))
        text = f"{rope_name(self.plan, one.rope)} {far} {'left' if one.left_m >= 0 else 'short'} ({spoken(section.name)}, step {number})"
        return RopeReport(rope=one.rope, step=one.key, left_m=round(one.left_m, 2), text=text)

    def lacks(self, one: Lacks) -> LacksReport:
        if one.duty == "haul":
            would = " or ".join(f"{name}: {people}" for name, people in one.would)
            text = f"{one.needed} have to pull, {one.there} are free to"
            return LacksReport(
                duty=_DUTIES["haul"],
                text=text,
                would=f"{would} would do" if would else "more people, or a lighter load",
                steps=list(one.keys),
            )
        duty = _DUTIES.get(one.duty, one.duty)
        return LacksReport(
            duty=duty,
            text=f"nobody is left to be {duty}",
            would=_WOULD.get(one.duty, "one more person"),
            steps=list(one.keys),
        )


def _fitting(rig: str, operation: Operation) -> Iterator[Choice]:
    """Procedures that begin with a rig, the team's own among them."""
    for one in fitting(rig, operation.own):
        yield Choice(id=one.id, name=one.name)


def _pulling(asks: Asks) -> str:
    """Those on the haul by name, and how many more."""
    more = max(0, asks.haul_there - len(asks.haul))
    rest = [f"{more} more" if asks.haul else f"{more} haulers"] if more else []
    return listed([*asks.haul, *rest])


def _of_system(place: str, item: Item) -> str:
    """A node of a haul system by what it is."""
    if place.startswith(("haul:", "redirect:")):
        return "redirect"
    if not place.isupper():
        return place
    return f"block {place}" if item.kind == "bend" else "haul grab" if item.kind == "hitch" else place


def _mark(item: Item) -> Literal["anchor", "hitch", "device", "bend", "edge", "hands", "open"]:
    if item.kind == "tie":
        return "anchor"
    if item.kind in ("hitch", "hands") and not item.engaged:
        return "open"
    return item.kind
