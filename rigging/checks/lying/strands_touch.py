"""Moving strands of the haul that touch another rope where they cross."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.lying.strands import strands, touch
from rigging.checks.mending import Mend, line_number, straight_back
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class StrandsTouch(Found, topic="geometry"):
    line: str


def find(here: AtPlace) -> Iterator[StrandsTouch]:
    raising = here.states.get("raising")
    if not isinstance(raising, Solved):
        return
    of, rows = raising.lines[0].rig.line.id, strands(raising)
    for one, other in itertools.product([row for row in rows if row[0] == of], rows):
        if len({one[1], one[2], other[1], other[2]}) == 4 and touch(one[3], one[4], other[3], other[4]):
            yield StrandsTouch(level="look", about=f"{of}:haul", line=of)
            return


def mends(found: StrandsTouch, plan: Plan) -> Iterator[Mend]:
    number = line_number(plan, found.line)
    haul = plan.lines[number].haul
    if haul and haul.redirects:
        yield straight_back(number)
