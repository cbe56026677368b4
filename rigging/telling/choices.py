"""Choices told: what each would do here, and why what does not fit does not."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rigging.advice.choices import Choice, What
from rigging.advice.choices import choices as tried
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.units import Wording


@dataclass(slots=True)
class ChoiceReport:
    """One thing to choose: `does` says what it would do here, `why_not` what speaks against it (empty: it fits)."""

    id: str
    name: str
    does: list[str]
    why_not: list[str]


class ChoicesReport(BaseModel):
    """Everything of a kind, best first."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    what: What
    choices: list[ChoiceReport]


def choices(plan: Plan, what: What, say: Wording | None = None) -> ChoicesReport:
    """The choices of a kind for this plan, each worked out.

    Raises
    ------
    Refused
        If the lines can not be laid out.
    """
    say = say or Wording()
    rows = [
        ChoiceReport(one.id, one.name, list(_does(one, plan, say)), [_against(why, one, plan, say) for why in one.why])
        for one in tried(plan, what)
    ]
    return ChoicesReport(what=what, choices=rows)


def _does(one: Choice, plan: Plan, say: Wording) -> Iterator[str]:
    if one.haulers is not None and one.hand_n and one.advantage:
        yield f"{one.haulers} of {plan.team.haulers} haulers, {say.force(one.hand_n)} at the hands"
        yield f"line {say.ratio(one.advantage)} : 1"
        if one.rope_left_m is not None and one.rope_left_m >= 0:
            yield f"rope left {say.length(one.rope_left_m)}"
    elif one.hand_n:
        yield f"{say.force(one.hand_n)} at the hand"
    if one.drop_m is not None and one.peak_n:
        yield f"drops {say.length(one.drop_m)}, peak {say.force(one.peak_n)}"
        if one.stops_m is not None:
            yield f"stops within {say.length(one.stops_m)} more"
    if one.weakest is not None and one.weakest.margin is not None:
        yield f"weakest {one.weakest.margin.low:.1f} : 1, {one.weakest.thing}"


def _against(why: str, one: Choice, plan: Plan, say: Wording) -> str:
    hand = say.force(one.hand_n) if one.hand_n else ""
    return {
        "hand-too-much": f"too much for one hand ({hand} of {say.force(catalogue().hand_hold_n)})",
        "may-not-run": "may not run by itself",
        "too-few": f"{one.haulers} haulers needed, {plan.team.haulers} there",
        "rope-short": f"rope {say.length(-(one.rope_left_m or 0.0))} short",
        "worse-than-straight": "friction eats it: worse than a straight pull",
        "below-rule": "a part is below your rule",
        "does-not-stop": "slips under the load's own weight",
        "fails-test": "fails the belay competence test as rigged",
        "hands-hold": "holds only as long as hands do",
        "refused": "does not go here",
    }[why]
