"""Choices told: what each would do here, side by side, and why what does not fit does not."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rigging.advice.choices import Choice, What
from rigging.advice.choices import choices as tried
from rigging.catalogue import Device, catalogue
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.site.conditions import hand_hold_n
from rigging.telling.check.sheet import EditOut
from rigging.telling.words.names import short_name


@dataclass(slots=True)
class Fact:
    """One thing that a choice does here, under its head."""

    head: str
    text: str


@dataclass(slots=True)
class ChoiceReport:
    """One thing to choose: `facts` are what it would do here, `why_not` what speaks against it (empty: it fits), `look` what to
    look at when it is rigged."""

    id: str
    name: str
    facts: list[Fact]
    why_not: list[str]
    look: str
    edits: list[EditOut]


class ChoicesReport(BaseModel):
    """Everything of a kind, best first; `note` is what is true of all of them."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    what: What
    note: str
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
        ChoiceReport(
            one.id, one.name, [Fact(head, text) for head, text in _facts(what, one, plan, say)],
            [_against(why, one, plan, say) for why in one.why], _look(what, one),
            [EditOut(e.op, e.path, e.value) for e in one.edits],
        )
        for one in tried(plan, what)
    ]  # fmt: skip
    return ChoicesReport(what=what, note=_NOTES.get(what, ""), choices=rows)


_NOTES: dict[What, str] = {
    "lowering": "A hitch behind the device, on the brake side, bears only what is left there and is let go by hand; on the load side it would bite at "
    "the whole load and want a releasing hitch. On the spine of its connector lies the load strand where the anchor is above and the strands "
    "stay parallel, the brake strand where that is led back across. Two people on the brake strand hold twice as much.",
    "capture": "Set hard under load, cord does not come off: what does not let go wants a releasing hitch behind it, or is hauled slack first.",
}


def _look(what: What, one: Choice) -> str:
    if what == "lowering":
        return catalogue().devices[one.id].look
    return one.hitch.hitch.look if one.hitch else ""


def _facts(what: What, one: Choice, plan: Plan, say: Wording) -> Iterator[tuple[str, str]]:
    if what == "lowering":
        yield from _lowers(one, plan, say)
    elif what == "haul":
        yield from _raises(one, plan, say)
    elif what == "belay":
        yield "drops", say.length(one.drop_m) if one.drop_m is not None else "–"
        yield "peak", say.force(one.peak_n) if one.peak_n else "–"
        yield "stops within", f"{say.length(one.stops_m)} more" if one.stops_m is not None else "–"
    elif one.hitch is not None:
        yield from _grips(one, say)
    else:
        return
    if one.weakest is not None and one.weakest.margin is not None:
        yield (
            ("weakest" if one.hitch is None else "here"),
            f"{one.weakest.margin.low:.1f} : 1, {short_name(one.weakest)}",
        )
    else:
        yield ("weakest" if one.hitch is None else "here"), "–"


def _lowers(one: Choice, plan: Plan, say: Wording) -> Iterator[tuple[str, str]]:
    device, grip = catalogue().devices[one.id], hand_hold_n(plan)
    yield "at the hand", say.force(one.hand_n) if one.hand_n else "–"
    yield "hands", _hands(one, device, grip.low)
    runs = one.hand_n is not None and one.hand_n.low >= catalogue().people.device_runs_n
    yield "runs", "by itself" if runs else "may not"
    yield "if let go", "locks" if device.self_locking else "brake hitch holds"
    main = plan.line("main")
    yield "twist", _twist(device, plan) if main else "–"
    yield "on the spine", _spine(device)
    yield "slips at", say.force(device.strength_n) if device.gives == "slips" else "–"


def _hands(one: Choice, device: Device, grip_n: float) -> str:
    if device.self_locking:
        return "one, on its handle"
    if one.hand_n is None:
        return "–"
    count = math.ceil(one.hand_n.high / grip_n - 1e-9)
    return {0: "one", 1: "one", 2: "two"}.get(count, "more than two")


def _twist(device: Device, plan: Plan) -> str:
    return {
        "no": "none",
        "some": "some",
        "cancels": "cancels",
        "yes": f"kinks beyond {catalogue().tying.munter_m:g} m",
    }[device.twists]


def _spine(device: Device) -> str:
    """Which strand lies on the connector's spine, with the anchor above or behind and the strands parallel."""
    return "load strand" if device.spine else "–"


def _raises(one: Choice, plan: Plan, say: Wording) -> Iterator[tuple[str, str]]:
    yield "haulers", f"{one.haulers} of {plan.team.haulers}" if one.haulers is not None else "–"
    yield "at the hands", say.force(one.hand_n) if one.hand_n else "–"
    yield "line", f"{say.ratio(one.advantage)} : 1" if one.advantage else "–"
    yield "each haul", say.length(one.stroke_m) if one.stroke_m is not None else "one long pull"
    yield "resets", "–" if one.resets is None else f"{one.resets}"
    left = one.rope_left_m
    yield "rope left", "–" if left is None else say.length(left) if left >= 0 else f"{say.length(-left)} short"


def _grips(one: Choice, say: Wording) -> Iterator[tuple[str, str]]:
    held = one.hitch
    assert held is not None
    cuts = held.hitch.form == "clamp" and held.slip_n is None
    yield "slips at", say.force(held.slip_n) if held.slip_n else "cuts first"
    yield ("cuts or breaks at" if cuts else "breaks at"), say.force(held.breaks_n)
    yield "grips", "both ways" if held.hitch.both_ways else "one way"
    yield "under load", "lets go" if held.hitch.releases_under_load else "does not let go"
    yield "minded", "minds itself" if held.hitch.minds_itself else "by somebody or a pulley"
    yield "cord", f"loop of {say.length(one.cord_m)}" if one.cord_m is not None else "–"


def _against(why: str, one: Choice, plan: Plan, say: Wording) -> str:
    hand = say.force(one.hand_n) if one.hand_n else ""
    return {
        "hand-too-much": f"too much for one hand ({hand} of {say.force(hand_hold_n(plan))})",
        "may-not-run": "may not run by itself",
        "too-few": f"{one.haulers} haulers needed, {plan.team.haulers} there",
        "rope-short": f"rope {say.length(-(one.rope_left_m or 0.0))} short",
        "worse-than-straight": "friction eats it: worse than a straight pull",
        "below-rule": "a part is below your rule" if one.hitch is None else "below your rule here",
        "does-not-stop": "slips under the load's own weight",
        "fails-test": "fails the belay competence test as rigged",
        "hands-hold": "holds only as long as hands do",
        "refused": "does not go here",
        "jams": "set, it can not be let off",
        "one-way": "grips one way only",
        "cuts": "cuts the sheath before it slips",
        "breaks-first": "its cord may break before it slips",
        "twists": "twists the rope over this length",
    }[why]
