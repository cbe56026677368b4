"""Every tension line with its load along it: no check, but what those of them ask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from rigging.catalogue import catalogue
from rigging.checks.mending import Mend, setting
from rigging.document import Plan, TensionLine
from rigging.judging.spans import Crossing, crossing
from rigging.quantities.faults import Fault, Refused
from rigging.study.place import AtPlace

_PLACES = 21


@dataclass(frozen=True)
class Crossed:
    """A tension line by its number in the plan, worked out, or why it can not be."""

    number: int
    line: TensionLine
    way: Crossing | None
    fault: Fault | None = None

    @property
    def about(self) -> str:
        return f"{self.line.id}:rope"


def crossed(here: AtPlace) -> Iterator[Crossed]:
    """All of a plan's tension lines."""
    for number, line in enumerate(here.plan.tension_lines):
        yield here.once(("crossed", line.id), partial(_crossed, here.plan, line, number))


def _crossed(plan: Plan, line: TensionLine, number: int) -> Crossed:
    try:
        return Crossed(number, line, crossing(plan, line, _PLACES))
    except Refused as refused:
        return Crossed(number, line, None, refused.faults[0])


def eased(plan: Plan, number: int) -> Iterator[Mend]:
    """Less pull on a tension line, by what slips in it."""
    if plan.tension_lines[number].slips is None:
        slips = next(one for one in catalogue().devices.values() if one.gives == "slips")
        yield setting("slips", f"/tension_lines/{number}/slips", slips.id, what=slips.name)
