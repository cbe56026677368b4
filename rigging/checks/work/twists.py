"""A munter over a long lower twists the rope."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, device, line_number
from rigging.document import Plan
from rigging.study.place import AtPlace


class Twists(Found, topic="geometry", source="munter-twist"):
    line: str
    far_m: float
    most_m: float


def find(here: AtPlace) -> Iterator[Twists]:
    for line in here.plan.lines:
        if line.lowering is None or catalogue().devices[line.lowering.device].twists != "yes":
            continue
        far, most = here.ways[line.id].rise_m, catalogue().tying.munter_m
        if far > most:
            yield Twists(level="look", about=f"{line.id}:device", key=line.id, line=line.id, far_m=far, most_m=most)


def mends(found: Twists, plan: Plan) -> Iterator[Mend]:
    yield device(line_number(plan, found.line), "super-munter")
