"""What everybody asks the leader, answered for one moment: a state, with the load at one place of its way."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.judging.margins import Part, share_of_rule
from rigging.lines.catch import Caught
from rigging.lines.people import haulers_range
from rigging.lines.solve import LineForces, Solved
from rigging.lines.states import hauling_line
from rigging.lines.swaps import priced
from rigging.lines.whole_way import Travel, at_work, whole_way
from rigging.quantities.faults import refuse
from rigging.quantities.units import Wording
from rigging.site.conditions import hand_hold_n, sustained_n
from rigging.study.place import AtPlace
from rigging.telling.check.holding import Said
from rigging.telling.sheet.way import event_report
from rigging.telling.words.names import line_name, listed, lower_first, part_name, state_name, upper_first

Question = Literal["people", "rope", "leg", "anchor", "bend", "knot", "lip"]
# Nearer to the first corner than this the load is being brought over it.
_LIP_M = 2.0
# Where things come on a way is told by its ends: what lies between is asked nowhere.
_ENDS = 2


@dataclass(slots=True)
class Answer:
    """A question and its answer in words; `about`: the part it is of, where it is of one; `loud`: not as it should be."""

    id: Question
    question: str
    text: str
    about: str = ""
    loud: bool = False


class MomentReport(BaseModel):
    """The answers of one moment, in the order in which they are asked."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    state: str
    name: str
    answers: list[Answer]


def moment_report(plan: Plan, state: str, run_m: float = 0.0, say: Wording | None = None) -> MomentReport:
    """What is asked of a moment. `run_m`: how far up its way the load is.

    Raises
    ------
    Refused
        If there is no such state, or the plan can not be laid out.
    """
    there = Travel(plan, at_work(plan)).moved(run_m) if run_m > 0 and plan.lines else plan
    here = AtPlace(judge(there))
    if state not in here.states:
        raise refuse("state", f"this plan has no state {state!r}", f"one of {', '.join(here.states) or 'none'}")
    asked = _Moment(there, here, here.solved.get(state), say or Wording())
    return MomentReport(state=state, name=state_name(there, state), answers=list(asked.answers()))


class _Moment:
    def __init__(self, plan: Plan, here: AtPlace, solved: Solved | None, say: Wording):
        self.plan, self.here, self.say = plan, here, say
        raising = here.solved.get("raising")
        self.solved, self.raising = solved, raising
        hauled = raising.line(here.hauling.rig.line.id) if raising and here.hauling else None
        self.hauled: LineForces | None = hauled

    def answers(self) -> Iterator[Answer]:
        yield self._people()
        yield self._rope()
        yield self._leg()
        yield self._anchor()
        yield self._bend()
        yield self._knot()
        if (lip := self._lip()) is not None:
            yield lip

    def _people(self) -> Answer:
        question = "How many haul?"
        solved, team = self.solved, self.plan.team.haulers
        if solved is not None and solved.id == "lowering" and solved.lines[0].running is not None:
            brake = solved.lines[0].running.hand
            most = hand_hold_n(self.plan).low
            text = f"One at the brake with {self.say.force(brake)}"
            more = (
                f", above the {self.say.force(most)} that one gloved hand holds for long" if brake.high > most else ""
            )
            return Answer("people", "How many at the brake?", f"{text}{more}.", "hand", brake.high > most)
        if self.hauled is None or self.hauled.running is None:
            return Answer("people", question, "Nothing hauls yet: no haul system is chosen.", loud=True)
        pull = self.hauled.running.hand
        need = haulers_range(pull, sustained_n(self.plan))
        few = f"{need.low:.0f}" if need.low == need.high else f"{need.low:.0f} to {need.high:.0f}"
        short = need.high > team
        text = f"{few} with {self.say.force(pull)} at the hands; {team} there"
        return Answer("people", question, f"{text}{', too few if it drags' if short else ''}.", "hand", short)

    def _rope(self) -> Answer:
        rows = self.here.judged.budgets
        jobs = {
            "lower": "to lower",
            "raise": "to raise",
            "catch": "on the belay",
            "span": "on the tension line",
            "strands": "of the haul's other strands",
        }
        told = [f"{self.say.length(one.left_m)} {jobs[one.job]}" for one in rows]
        short = any(one.left_m < 0 for one in rows)
        text = f"{listed(told)}." if told else "No rope is laid yet."
        return Answer("rope", "How much rope is left?", upper_first(text), "", short)

    def _leg(self) -> Answer:
        question = "Which leg sees most?"
        parts = self.here.parts.get(self.solved.id, []) if self.solved else []
        legs = [one for one in parts if one.kind == "feature"]
        if not legs:
            return Answer("leg", question, "None is loaded in this state.")
        most = max(legs, key=lambda one: one.force_n.high)
        text = f"{upper_first(most.thing)}: {self.say.force(most.force_n)}{self._keeps(most)}"
        weakest = min((one for one in parts if one.anchor), key=share_of_rule)
        if weakest is not most and share_of_rule(weakest) < share_of_rule(most):
            text += f". Nearest to its limit: {lower_first(part_name(self.plan, weakest))}{self._keeps(weakest)}"
        return Answer("leg", question, f"{text}.", most.about, weakest.verdict == "below")

    def _keeps(self, part: Part) -> str:
        if part.margin is None:
            return ", and nobody has said what it holds"
        return f", {part.margin.low:.1f} : 1 of your {part.target:g}"

    def _anchor(self) -> Answer:
        line = next(iter(self.plan.lines), None)
        if line is None or self.solved is None:
            return Answer("anchor", "What if the anchor goes?", "No line hangs on one yet.")
        name, part = self.plan.anchor(line.anchor).name, f"anchor:{line.anchor}"
        question = f"What if {lower_first(name)} goes?"
        standing = self.here.standings[self.solved.id]
        if part not in standing.parts:
            return Answer("anchor", question, "Nothing hangs on it in this state.")
        gone = standing.gone(part)
        return Answer(
            "anchor", question, f"{upper_first(Said(standing, self.say).then(gone))}.", part, gone.further_m is None
        )

    def _bend(self) -> Answer:
        question = "Which bend costs most?"
        if self.hauled is None or self.hauled.running is None:
            return Answer("bend", question, "Nothing hauls yet.")
        prices = priced(self.hauled)
        if not prices:
            return Answer("bend", question, "The rope bends nowhere on its way to the hands.")
        dear = max(prices, key=lambda id: prices[id].cost_n.expected)
        crossing, price = self.hauled.rig.crossings[dear], prices[dear]
        text = f"{upper_first(crossing.name)}: {self.say.force(price.cost_n.expected)} of the {self.say.force(self.hauled.running.hand.expected)} at the hands"
        better = price.swaps[0] if price.swaps and price.swaps[0].change_n < -1 else None
        if better is not None:
            text += f"; {lower_first(better.name)} there leaves {self.say.force(better.hand_n)}"
        return Answer("bend", question, f"{text}.", dear)

    def _knot(self) -> Answer:
        question = "When does a knot come?"
        line = hauling_line(self.plan) or next(iter(self.plan.lines), None)
        if line is None:
            return Answer("knot", question, "No rope is laid yet.")
        lowering = self.solved is not None and self.solved.id.startswith("lowering")
        job = "lowering" if lowering and line.lowering else "raising"
        rows = [
            one
            for of in self.plan.lines
            for one in whole_way(self.plan, of, _ENDS).events
            if one.line == of.id and one.kind != "reset" and one.job == job
        ]
        if not rows:
            far = " before it is down" if job == "lowering" else " on the way up"
            return Answer("knot", question, f"None comes to anything{far}.")
        first = event_report(self.plan, min(rows, key=lambda one: one.metre), self.say)
        more = f" {len(rows) - 1} more after it." if len(rows) > 1 else ""
        return Answer("knot", question, f"{upper_first(first.text)}. {first.asks}.{more}")

    def _lip(self) -> Answer | None:
        """The last metres under the first corner: a moment of its own."""
        if self.hauled is None or self.hauled.running is None or not self.here.ways:
            return None
        way = self.here.ways[self.hauled.rig.line.id]
        if not way.over.turns or way.rise_m > _LIP_M:
            return None
        edge = way.over.turns[0].edge
        there = [one.name for one in self.plan.team.people if one.role in ("edge", "attendant")]
        lift = (
            f"{listed(there)} lift{'s' if len(there) == 1 else ''} it over"
            if there
            else "Nobody is named at the edge to lift it over"
        )
        goes = next((one for one in self.here.states.values() if isinstance(one, Caught) and one.gone == "main"), None)
        if goes is None or goes.by is None:
            belay = "no belay takes it in"
        else:
            name = lower_first(line_name(self.plan, goes.by))
            drop = (
                f", and the load drops {self.say.length(goes.drop_m)} onto it if the main line goes"
                if goes.drop_m
                else ""
            )
            belay = f"the {name} takes in after every pull{drop}"
        name = edge.name if edge else "the edge"
        text = f"{lift}; small pulls on their word, {self.say.force(self.hauled.running.hand)} at the hands; {belay}."
        return Answer("lip", f"How does it come over {lower_first(name)}?", text, "", not there or goes is None)
