"""What lowers lets go when everybody lets go."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, brake_hitch, line_number
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class HandsOffLower(Found, topic="hands-off"):
    line: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[HandsOffLower]:
    for line, lowering, device, key in here.lowered(solved):
        if line.at_load.expected > 0 and not device.self_locking and lowering.brake_hitch is None:
            of = line.rig.line.id
            yield HandsOffLower(level="stop", about=f"{of}:device", key=key, state=solved.id, line=of)


def mends(found: HandsOffLower, plan: Plan) -> Iterator[Mend]:
    yield from brake_hitch(plan, line_number(plan, found.line))
