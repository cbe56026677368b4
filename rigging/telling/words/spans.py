"""Words of what the checks of `spans` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.spans.span_below import SpanBelow
from rigging.checks.spans.span_fails import SpanFails
from rigging.checks.spans.span_ground import SpanGround
from rigging.checks.spans.span_low import SpanLow
from rigging.checks.spans.span_single import SpanSingle
from rigging.checks.spans.span_slips import SpanSlips
from rigging.checks.spans.span_unlimited import SpanUnlimited
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.margins import part_below
from rigging.telling.words.names import Pair, lower_first


def _clear(clear_m: float, say: Wording) -> str:
    return f"only {say.length(clear_m)} is free" if clear_m > 0 else f"the ground is {say.length(-clear_m)} too high"


def span_below(found: SpanBelow, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tension line {found.line}, load {say.length(found.run_m)} along: {lower_first(part_below(found.part, plan, say)[0])}",
        part_below(found.part, plan, say)[1] or "More sag.",
    )


def span_fails(found: SpanFails, plan: Plan, say: Wording) -> Pair:
    return (f"Tension line {found.line}: {found.fault.problem}.", "Move one of its ends.")


def span_ground(found: SpanGround, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tension line {found.line}: the ground under it is not entered: clearance is not known.",
        "Extend the profile under Size-up, Ground.",
    )


def span_low(found: SpanLow, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tension line {found.line}: {_clear(found.clear_m, say)} under the load {say.length(found.run_m)} along.",
        "Its ends higher, less sag, or the load hung shorter.",
    )


def span_single(found: SpanSingle, plan: Plan, say: Wording) -> Pair:
    return (
        f"One thing alone: {lower_first(plan.anchor(found.anchor).name if found.anchor else found.rope)}, {'an end' if found.anchor else 'the only rope'} of tension line {found.line}. If it goes, the load falls.",
        "A second rope to an anchor of its own, or accept it."
        if found.anchor
        else "Two ropes side by side, or a belay.",
    )


def span_slips(found: SpanSlips, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tension line {found.line}: the {lower_first(found.device)} slips and feeds {say.length(found.fed_m)}: it limits the line.",
        "",
    )


def span_unlimited(found: SpanUnlimited, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tension line {found.line}: nothing in it slips before it breaks.",
        "A device that slips near 6 kN at one end protects the line and everything behind it.",
    )
