"""Nothing holds between hauls."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, ratchet
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class HandsOffRaise(Found, topic="hands-off"):
    line: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[HandsOffRaise]:
    for line, haul in here.hauled(solved):
        if haul.capture is None:
            of = line.rig.line.id
            yield HandsOffRaise(level="stop", about=f"{of}:ratchet", state=solved.id, line=of)


def mends(found: HandsOffRaise, plan: Plan) -> Iterator[Mend]:
    yield from ratchet(plan, line_number(plan, found.line))
