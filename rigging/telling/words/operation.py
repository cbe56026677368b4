"""Words of what the checks of `operation` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.operation.place_refused import PlaceRefused
from rigging.checks.operation.step_refused import StepRefused
from rigging.checks.operation.too_few_people import TooFewPeople
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, sentence


def place_refused(found: PlaceRefused, plan: Plan, say: Wording) -> Pair:
    return sentence(found.fault.problem), sentence(found.fault.right)


def step_refused(found: StepRefused, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.section}: \u201c{sentence(found.do).rstrip('.')}\u201d can not be done on this plan: {found.fault.problem}.",
        "Change what it asks for, or take the step out of the operation.",
    )


def too_few_people(found: TooFewPeople, plan: Plan, say: Wording) -> Pair:
    return (
        f"The operation has {found.there} for {found.duty} where {found.needed} are needed, in {found.steps} of its steps.",
        "More people, or a way that takes fewer.",
    )
