"""A haul grab set so near its stop that a haul lifts next to nothing."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, as_far_as_it_goes, line_number
from rigging.document import Plan
from rigging.lines.lengths import stroke_of
from rigging.study.place import AtPlace

LEAST_M = 0.1


class NoStroke(Found, topic="geometry", source="clearance"):
    line: str
    rise_m: float


def find(here: AtPlace) -> Iterator[NoStroke]:
    found = stroke_of(here.hauling) if here.hauling else None
    if here.hauling and found is not None and found.rise_m < LEAST_M:
        of = here.hauling.rig.line.id
        yield NoStroke(level="stop", about=f"{of}:haul", key=of, state="raising", line=of, rise_m=found.rise_m)


def mends(found: NoStroke, plan: Plan) -> Iterator[Mend]:
    yield as_far_as_it_goes(line_number(plan, found.line))
