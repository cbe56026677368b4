"""What to ask first: of everything that a plan does not know, what moves its weakest margin most.

Each unknown by itself is put at either end of what it may be, and the whole plan judged anew."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import Question, catalogue
from rigging.document import Feature, Plan
from rigging.document.plan import Found
from rigging.judging.judged import judge
from rigging.judging.margins import share_of_rule, weakest_of
from rigging.judging.pulls import tied_to
from rigging.lines.catch import Caught
from rigging.lines.parts import open_bends
from rigging.lines.solve import Solved
from rigging.quantities.faults import Refused
from rigging.site.features import kind_of

Of = Literal["answer", "bend", "edge", "load"]


@dataclass(frozen=True)
class Unknown:
    """Something a plan does not know: `id`, what it is of, and the plan with it at either end of what it may be."""

    id: str
    of: Of
    about: str
    question: str
    ends: tuple[Plan, Plan]


@dataclass(frozen=True)
class Ask:
    """An unknown with the plan's weakest margin, as a share of its target, at its worse and at its better end."""

    unknown: Unknown
    worst: float
    best: float

    @property
    def moves(self) -> float:
        return self.best - self.worst


def asks(plan: Plan) -> list[Ask]:
    """Every unknown of a plan that moves its weakest margin, most first.

    Raises
    ------
    Refused
        If the plan can not be judged as it is.
    """
    judge(plan)
    found = []
    for one in unknowns(plan):
        ends = sorted(weakest(end) for end in one.ends)
        if math.isfinite(ends[1]) and ends[1] - ends[0] > 1e-6:
            found.append(Ask(one, ends[0], ends[1]))
    return sorted(found, key=lambda one: (-one.moves, one.unknown.id))


def weakest(plan: Plan) -> float:
    """The plan's least margin over its target, in every state that the team's rule is for: not stuck, not caught. Nothing where it can not
    be laid out, endless where nothing is rated."""
    try:
        judged = judge(plan)
    except Refused:
        return 0.0
    ruled = [parts for id, parts in judged.parts.items() if _is_ruled(judged.states[id])]
    return min((share_of_rule(weakest_of(parts)) for parts in ruled), default=math.inf)


def _is_ruled(state: object) -> bool:
    return isinstance(state, Solved) and not isinstance(state, Caught) and state.moment.solving != "jammed"


def unknowns(plan: Plan) -> Iterator[Unknown]:
    """Answers that nobody gave about what is tied to, bends of which nobody said what sits there, edges and load by their ranges."""
    tied = tied_to(plan)
    for number, feature in enumerate(plan.features):
        if feature.id in tied and feature.rating_n is None:
            for question in kind_of(feature).questions:
                yield from _answer(plan, number, feature, question)
    if any(line.haul and open_bends(line.haul) for line in plan.lines):
        eta = catalogue().bends["unknown"].eta
        ends = (_learnt(plan, "bend", "unknown", "", eta.low), _learnt(plan, "bend", "unknown", "", eta.high))
        yield Unknown("bend:unknown", "bend", "haul", "What sits at the bends that nobody looked at?", ends)
    for edge in plan.site.edges:
        surface = catalogue().surfaces[edge.protection or edge.surface]
        spread = surface.mu or surface.eta
        if spread is not None and plan.found_of("edge", surface.id, edge.name) is None:
            ends = (
                _learnt(plan, "edge", surface.id, edge.name, spread.low),
                _learnt(plan, "edge", surface.id, edge.name, spread.high),
            )
            yield Unknown(f"edge:{edge.name}", "edge", edge.name, f"How much does {edge.name} drag?", ends)
    for number, item in enumerate(plan.load.items):
        if item.plus_minus_kg > 0:
            ends = (_weighing(plan, number, -1), _weighing(plan, number, 1))
            yield Unknown(f"load:{number}", "load", item.name, f"How heavy is {item.name}?", ends)


def _answer(plan: Plan, number: int, feature: Feature, question: Question) -> Iterator[Unknown]:
    answer = feature.answers.get(question.id)
    ends: list[str | float] = []
    if question.kind == "number" and question.unsaid is not None and answer is None:
        ends = [question.unsaid.low, question.unsaid.high]
    elif question.options and (answer == "unknown" or (answer is None and not question.need)):
        valued = [one for one in question.options if one.value is not None and one.id != "unknown"]
        if valued:
            # What is best in all it may be, and what is worst.
            low, high = (key(valued, key=lambda one: one.value.expected if one.value else 0.0) for key in (min, max))
            ends = [low.id, high.id]
    if ends:
        plans = (_answered(plan, number, question.id, ends[0]), _answered(plan, number, question.id, ends[1]))
        id = f"answer:{feature.id}:{question.id}"
        yield Unknown(id, "answer", feature.name, question.ask, plans)


def _answered(plan: Plan, number: int, question: str, answer: str | float) -> Plan:
    features = list(plan.features)
    features[number] = features[number].model_copy(update={"answers": {**features[number].answers, question: answer}})
    return plan.model_copy(update={"features": features})


def _learnt(plan: Plan, of: Literal["bend", "edge"], kind: str, name: str, value: float) -> Plan:
    return plan.model_copy(
        update={"found": [*plan.found, Found(of=of, kind=kind, name=name, low=value, expected=value, high=value)]}
    )


def _weighing(plan: Plan, number: int, sign: int) -> Plan:
    items = list(plan.load.items)
    one = items[number]
    items[number] = one.model_copy(update={"mass_kg": one.mass_kg + sign * one.plus_minus_kg, "plus_minus_kg": 0})
    return plan.model_copy(update={"load": plan.load.model_copy(update={"items": items})})
