"""States in which the load hangs on hands alone."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, belay_added, brake_hitch, ratchet
from rigging.document import Plan
from rigging.mechanics.holds import HANDS
from rigging.study.place import AtPlace


class HandsAlone(Found, topic="hands-off", anywhere=True):
    pass


def find(here: AtPlace) -> Iterator[HandsAlone]:
    for id, standing in here.holding.items():
        if HANDS in standing.parts and standing.further(HANDS) is None:
            yield HandsAlone(level="stop", about="hand", key=id, state=id)


def mends(found: HandsAlone, plan: Plan) -> Iterator[Mend]:
    """What would hold instead of the hands, on the line itself; or a belay."""
    hauling = found.state == "raising"
    number = next(
        (n for n, one in enumerate(plan.lines) if (one.haul is not None if hauling else one.role == "main")), None
    )
    if number is not None:
        if hauling:
            yield from ratchet(plan, number)
        elif plan.lines[number].lowering:
            yield from brake_hitch(plan, number)
    yield from belay_added(plan)
