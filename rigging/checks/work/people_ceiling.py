"""More people times advantage than teams put on the rope."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class PeopleCeiling(Found, topic="jam", source="people-ceiling"):
    there: int
    ideal: float
    ceiling: float


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[PeopleCeiling]:
    for line, _ in here.hauled(solved):
        gives, there = here.judged.gives, here.plan.team.haulers
        rope = catalogue().ropes[here.plan.rope(line.rig.line.rope).kind]
        if gives is not None and there * gives.ideal > rope.people_ceiling + 1e-9:
            yield PeopleCeiling(
                level="look", about="hand", state=solved.id, there=there, ideal=gives.ideal, ceiling=rope.people_ceiling
            )


def mends(found: PeopleCeiling, plan: Plan) -> Iterator[Mend]:
    most = math.floor(found.ceiling / found.ideal + 1e-9)
    if most >= 1:
        yield setting("haulers", "/team/haulers", most, count=most)
