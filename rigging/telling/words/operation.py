"""Words of what the checks of `operation` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.catalogue import catalogue
from rigging.checks.operation.place_refused import PlaceRefused
from rigging.checks.operation.section_unmade import SectionUnmade
from rigging.checks.operation.step_refused import StepRefused
from rigging.checks.operation.temporary_doubtful import TemporaryDoubtful
from rigging.checks.operation.too_few_people import TooFewPeople
from rigging.checks.operation.uncomposed import Uncomposed
from rigging.document import Plan
from rigging.procedures.operation import Unmade
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, lower_first, sentence

RIGS = {
    "ground": "the load on the ground", "held": "the load held", "lowering": "the load on the lowering device", "raising": "the load on the haul system",
    "between-hauls": "the load on its ratchet", "lifting": "a tackle hung", "belayed": "somebody on a belayer's harness", "arrested": "somebody lying in arrest",
    "escape-belay": "the belay escaped", "after-arrest": "a buried anchor and a drop loop", "drop-haul": "the load on the drop loop", "tension-line": "the load on a tension line",
}  # fmt: skip


def place_refused(found: PlaceRefused, plan: Plan, say: Wording) -> Pair:
    return sentence(found.fault.problem), sentence(found.fault.right)


def step_refused(found: StepRefused, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.section}: \u201c{sentence(found.do).rstrip('.')}\u201d can not be done on this plan: {found.fault.problem}.",
        "Change what it asks for, or take the step out of the operation.",
    )


def unmade(why: Unmade) -> Pair:
    """Why a section can not be done, and what would be right."""
    if why.kind == "unknown":
        return "no procedure of that name ships", "take one that is there, or make it the team's own"
    if why.kind == "found":
        return (
            f"it begins with {RIGS.get(why.needs, why.needs)}, and what is before it leaves {RIGS.get(why.found, why.found)}",
            "put what leads there before it, or leave it out",
        )
    return "; ".join(one.problem for one in why.faults), "; ".join(one.right for one in why.faults)


def why_unmade(why: Unmade | None) -> str:
    """The same in one; empty where it can be done."""
    return "; ".join(unmade(why)) if why else ""


def section_unmade(found: SectionUnmade, plan: Plan, say: Wording) -> Pair:
    problem, right = unmade(found.unmade)
    if found.unmade.kind == "unknown" and found.level != "stop":
        return (
            f"{found.section}: the check knows no such procedure; if it is the team's own, the run asks it.",
            sentence(right),
        )
    first = f"{found.section}, if {found.instead}," if found.instead else found.section
    return f"{first} can not be done: {problem}.", sentence(right)


def doubt(kind: str, bears_n: Range, holds_n: Range, there: int, say: Wording) -> Pair:
    """What comes on an anchor made in passing, and what to do about it."""
    name = lower_first(catalogue().features[kind].name)
    many = f"{there} of them hold" if there > 1 else "it holds"
    said = f"{say.force(bears_n)} come on the {name}, {many} {say.force(holds_n)}"
    return said, "Add another beside it, or have it tried by more than that before it is loaded"


def temporary_doubtful(found: TemporaryDoubtful, plan: Plan, say: Wording) -> Pair:
    said, right = doubt(found.kind_of, found.bears_n, found.holds_n, found.there, say)
    return f"{found.section}: {said}.", sentence(right)


def uncomposed(found: Uncomposed, plan: Plan, say: Wording) -> Pair:
    return f"The operation can not be composed: {found.fault.problem}.", sentence(found.fault.right)


def too_few_people(found: TooFewPeople, plan: Plan, say: Wording) -> Pair:
    return (
        f"The operation has {found.there} for {found.duty} where {found.needed} are needed, in {found.steps} of its steps.",
        "More people, or a way that takes fewer.",
    )
