"""Words of what the checks of `margins` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.margins.anchor_fails import AnchorFails
from rigging.checks.margins.below import Below
from rigging.checks.margins.cap import Cap
from rigging.checks.margins.cap_defeated import CapDefeated
from rigging.checks.margins.gives_first import GivesFirst
from rigging.checks.margins.no_cap import NoCap
from rigging.checks.margins.prop_weak import PropWeak
from rigging.checks.margins.slips_under_load import SlipsUnderLoad
from rigging.checks.margins.unknown import Unknown
from rigging.checks.margins.weakest import Weakest
from rigging.document import Plan
from rigging.judging.margins import Part
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, lower_first, part_mend, part_name, sentence


def anchor_fails(found: AnchorFails, plan: Plan, say: Wording) -> Pair:
    return (
        f"{plan.anchor(found.anchor).name} can not hold this pull: {'; '.join(found.faults)}.",
        "Turn the pull, move its point out, or tie it to features behind it.",
    )


def below(found: Below, plan: Plan, say: Wording) -> Pair:
    return part_below(found.part, plan, say)


def part_below(part: Part, plan: Plan, say: Wording) -> Pair:
    """A part below its rule."""
    assert part.strength_n is not None and part.margin is not None
    rule = f"{part.margin.low:.1f} : 1, below your {part.target:g} : 1"
    if part.gives == "slips":
        carries, gives = say.force(part.force_n.high), say.force(part.strength_n.low)
        text = f"{part_name(plan, part)} carries up to {carries} and slips from {gives}: {rule} for what slips."
    else:
        text = f"{part_name(plan, part)} carries {say.force(part.force_n)} and breaks at {say.force(part.strength_n)}: {rule}."
    return text, sentence(part_mend(part, say, part.target))


def cap(found: Cap, plan: Plan, say: Wording) -> Pair:
    part = found.part
    return (
        f"{part_name(plan, part)} slips first, at {say.force(found.cap_n)}: every part behind it has to hold "
        f"{say.force(found.cap_n.high * found.margin)}.",
        "",
    )


def cap_defeated(found: CapDefeated, plan: Plan, say: Wording) -> Pair:
    return (
        f"The rope tied behind the {lower_first(found.part.thing)} defeats it as a clutch: tied off at full strength, it can not slip.",
        "Let the rope run free behind it, or leave it a metre to slip.",
    )


def gives_first(found: GivesFirst, plan: Plan, say: Wording) -> Pair:
    text = (
        f"{found.people} people heave {say.force(found.heave_n)}; {say.force(found.arrives_n)} arrives at a stuck load."
    )
    first = found.first
    if first is not None and first.strength_n is not None:
        gives = "slip" if first.gives == "slips" else "break"
        text += (
            f" {part_name(plan, first)} would {gives} first: it carries {say.force(first.force_n)} "
            f"and {gives}s at {say.force(first.strength_n)}."
        )
    return text, "If it suddenly goes heavy, stop and look."


def no_cap(found: NoCap, plan: Plan, say: Wording) -> Pair:
    return (
        "Nothing in these lines slips before it breaks: there is no limit to the force, and no part can be judged by it.",
        "Something that slips at a known force, or the static ratio.",
    )


def prop_weak(found: PropWeak, plan: Plan, say: Wording) -> Pair:
    return (
        f"{plan.anchor(found.anchor).name}: the pole bears {say.force(found.bears_n)} of {say.force(found.holds_n)}, below your {found.target:g} : 1.",
        "A stouter pole, or legs that leave it less.",
    )


def slips_under_load(found: SlipsUnderLoad, plan: Plan, say: Wording) -> Pair:
    part = found.part
    assert part.strength_n is not None
    text = (
        f"The load is heavier than what holds it: {lower_first(part_name(plan, part))} slips from {say.force(part.strength_n.low)}, "
        f"and up to {say.force(part.force_n.high)} hangs on it."
    )
    return text, "Something that holds more, or two of them in line."


def unknown(found: Unknown, plan: Plan, say: Wording) -> Pair:
    part = found.part
    return f"{part_name(plan, part)}: nobody said what it holds, so its margin is unknown.", sentence(
        part_mend(part, say, part.target)
    )


def weakest(found: Weakest, plan: Plan, say: Wording) -> Pair:
    part = found.part
    assert part.strength_n is not None and part.margin is not None
    text = (
        f"{part_name(plan, part)} carries {say.force(part.force_n)} and {part.gives} at {say.force(part.strength_n)}: "
        f"{part.margin.low:.1f} : 1, below your {part.target:g} : 1."
    )
    return text, sentence(part_mend(part, say, part.target))
