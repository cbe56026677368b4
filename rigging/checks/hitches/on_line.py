"""Every hitch and clamp of a plan with how it is tied: no check, but what each of these asks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from rigging.catalogue import catalogue
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Line, Plan, Rope
from rigging.lines.tied import HitchHold, HitchPlace, Place, hitch_hold, hitches_of
from rigging.study.place import AtPlace

_MADE = {
    "grab": "haul/grab_made",
    "capture": "haul/capture_made",
    "brake": "lowering/hitch_made",
    "belay": "belay/made",
}


@dataclass(frozen=True)
class OnLine:
    """A hitch at its place on a line, and what it holds there."""

    line: Line
    rope: Rope
    at: HitchPlace
    held: HitchHold

    @property
    def about(self) -> str:
        return f"{self.line.id}:{'ratchet' if self.at.place == 'capture' else self.at.place}"

    @property
    def key(self) -> str:
        return f"{self.line.id}:{self.at.place}"

    @property
    def rope_m(self) -> float:
        """Thickness of the rope it is on."""
        return catalogue().ropes[self.rope.kind].diameter_m


def all_hitches(here: AtPlace) -> list[OnLine]:
    """Everything that grips a rope."""
    return here.once("hitches", lambda: list(_hitches(here)))


def _hitches(here: AtPlace) -> Iterator[OnLine]:
    for line in here.plan.lines:
        rope = here.plan.rope(line.rope)
        for at in hitches_of(line):
            yield OnLine(line, rope, at, hitch_hold(at.hitch, at.made, rope, here.plan.tested))


def tied_hitches(here: AtPlace) -> Iterator[OnLine]:
    """Those that are tied of cord."""
    return (one for one in all_hitches(here) if one.at.hitch.form == "hitch")


def here_on(plan: Plan, line: str, place: Place) -> HitchPlace:
    return next(one for one in hitches_of(plan.lines[line_number(plan, line)]) if one.place == place)


def tied_anew(plan: Plan, line: str, place: Place, kind: str, change: dict[str, Any], **values: Any) -> Mend:
    """The hitch tied as it is, but for one thing."""
    path = f"/lines/{line_number(plan, line)}/{_MADE[place]}"
    return setting(kind, path, {**here_on(plan, line, place).made.model_dump(), **change}, **values)
