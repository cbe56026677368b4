"""Force limit: what slips first, and at what force."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.judging.margins import Part
from rigging.judging.parts import tied_behind
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Cap(Found, topic="margins"):
    part: Part
    cap_n: Range
    margin: float


def find(here: AtPlace) -> Iterator[Cap]:
    free = [(strength, part, id) for strength, part, id in slipping(here) if not tied_behind(here.plan, part)]
    if free:
        cap, part, id = min(free, key=lambda row: row[0].high)
        margin = here.plan.rules.cap_margin
        yield Cap(level="note", about=part.about, state=id, part=part, cap_n=cap, margin=margin)


def slipping(here: AtPlace) -> Iterator[tuple[Range, Part, str]]:
    """What slips, at what, in which state; nothing where the school does not go by it."""
    if here.plan.rules.school != "force-limit":
        return
    for id, parts in here.parts.items():
        for part in parts:
            if part.gives == "slips" and part.kind != "grab" and part.strength_n is not None:
                yield part.strength_n, part, id
