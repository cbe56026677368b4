"""A haul that is harder further up the way than where it begins: what that asks of parts and people is said by theirs."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.lines.parts import edge_crossings, passed_on
from rigging.lines.solve import Solved
from rigging.site.load import hardest_place
from rigging.study.place import AtPlace


class HardestPlace(Found, topic="margins", source="incline"):
    x_m: float
    ratio: float
    pull_n: float


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[HardestPlace]:
    plan = here.plan
    for line, _ in here.hauled(solved):
        assert line.running is not None
        hardest = hardest_place(
            plan, here.ways[line.rig.line.id].over,
            lambda other: 1 / math.prod(passed_on(one).expected for one in edge_crossings(other.turns, plan)),
        )  # fmt: skip
        if hardest:
            pull_n = line.running.hand.expected * hardest.ratio
            yield HardestPlace(
                level="note", about="load", state=solved.id, x_m=hardest.x_m, ratio=hardest.ratio, pull_n=pull_n
            )
