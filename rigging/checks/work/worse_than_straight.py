"""A haul system that gives less than pulling the rope straight."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue.haul import bends, drop_redirect
from rigging.checks.found import Found
from rigging.checks.mending import Mend, all_pulleys, hauling_number, other_system
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.lines.swaps import Better, worse_than_straight
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class WorseThanStraight(Found, topic="margins", source="bend-eta", anywhere=True):
    system: str
    actual: Range
    swaps: tuple[Better, ...]


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[WorseThanStraight]:
    for _, haul in here.hauled(solved):
        gives = here.judged.gives
        if gives is not None and gives.actual.low < 1 and bends(haul.system):
            yield WorseThanStraight(
                level="stop" if gives.actual.expected < 1 else "look", about="haul", state=solved.id, system=haul.system.name,
                actual=gives.actual, swaps=tuple(worse_than_straight(here.plan, haul)[:2]),
            )  # fmt: skip


def mends(found: WorseThanStraight, plan: Plan) -> Iterator[Mend]:
    yield from all_pulleys(plan)
    number = hauling_number(plan)
    haul = plan.lines[number].haul if number is not None else None
    shorter = drop_redirect(haul.system) if haul else None
    if number is not None and haul is not None and shorter is not None:
        yield other_system(number, haul, shorter)
