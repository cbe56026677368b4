"""A table-top told: what happens in the words of whoever says so, and, once it is over, what held, how long it took, what was missed and for how long."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from pydantic import BaseModel, ConfigDict

from rigging.document import Plan
from rigging.learning.table_top import KINDS, Happening, Met
from rigging.procedures.run import known
from rigging.quantities.ranges import Range
from rigging.telling.words.names import listed, lower_first
from rigging.telling.work.operation import StepReport

_SAID = {
    "heavy": "The haulers: it is suddenly much heavier, and does not come.",
    "creeps": "The ratchet minder: the hitch creeps, a hand's breadth past its mark.",
    "guard-gone": "{guard}, who guards the {feature}, has been called away.",
    "worse": "The attendant: the casualty is worse, grey, and does not answer any more.",
    "stuck-join": "The edge person: the join stands in the edge.",
    "light-lost": "It is dark now, and the edge person's lamp is out.",
    "anchor-moves": "The belay: the {feature} has moved, two fingers.",
    "wind": "Gusts: the litter begins to spin, and nobody at the edge is understood.",
    "rope-end": "The main line: the last ten metres of the rope come up.",
}
assert _SAID.keys() == KINDS.keys()
_BY = {
    "stop": "STOP", "contingency": "its steps", "decision": "a decision", "here": "somebody else put there", "step": "its steps",
}  # fmt: skip


class Told(BaseModel):
    model_config = ConfigDict(frozen=True)


class HappenedReport(Told):
    """Something that happened: what was said of it and when, in minutes since the run began; after how many seconds somebody did something about it (None:
    nobody has), in words; whether that was missed."""

    kind: str
    name: str
    said: str
    at_min: float
    met_after_s: float | None
    text: str
    missed: bool


class ScoreReport(Told):
    """A table-top that is over: minutes beside those that were expected; of the steps done with the load hanging, on how many something stood behind what held, and the
    others by name; what was taken over against the plan; what did not come up."""

    minutes: float
    expected_min: Range
    hung: int
    behind: int
    alone: list[str]
    taken_over: int
    not_come: list[str]
    text: str


def said_of(plan: Plan, one: Happening) -> str:
    """What happens, as it is called out."""
    feature = lower_first(plan.feature(one.feature).name) if one.feature else ""
    return _SAID[one.kind].format(feature=feature, guard=one.guard)


def happened_report(plan: Plan, one: Met) -> HappenedReport:
    after = one.met_after_s
    if after is None:
        text = "nobody did anything about it"
    else:
        text = f"{_BY.get(one.by, one.by)} after {_span(after)}"
        text += "" if one.gone_through or one.by == "decision" else "; its own steps were not gone through"
    return HappenedReport(
        kind=one.happening.kind, name=known()[one.happening.kind].name, said=said_of(plan, one.happening), at_min=round(one.at_s / 60, 1),
        met_after_s=None if after is None else round(after, 1), text=text, missed=after is None,
    )  # fmt: skip


def _span(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 100 else f"{seconds / 60:.0f} min"


def score_report(
    minutes: float,
    expected_min: Range,
    done: Sequence[StepReport],
    taken_over: int,
    met: Sequence[HappenedReport],
    not_come: Iterable[Happening],
) -> ScoreReport:
    """What a table-top came to, from the steps that were done and what was met."""
    hung = [one for one in done if not one.holds.grounded]
    alone = [one for one in hung if one.holds.alone]
    missed = [lower_first(one.name) for one in met if one.missed]
    text = f"{len(hung) - len(alone)} of {len(hung)} steps with something behind what held; {minutes:.0f} min; "
    text += f"missed: {listed(missed)}" if missed else "nothing missed"
    return ScoreReport(
        minutes=round(minutes, 1), expected_min=expected_min, hung=len(hung), behind=len(hung) - len(alone), alone=[one.do for one in alone],
        taken_over=taken_over, not_come=[known()[one.kind].name for one in not_come], text=text,
    )  # fmt: skip
