"""Every part whose loss lets the load go further before something holds: onto what, how hard, past what."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.checks.holding.single import made_of
from rigging.checks.mending import Mend, drawn_in, line_number
from rigging.document import Plan
from rigging.judging.removal import Gone
from rigging.mechanics.holds import HANDS
from rigging.study.place import AtPlace, thing_of

# A loss by which the load goes further than this is said, whatever holds it then.
_LOSS_M = 1.0
# Three times the fall that a belay is tried with.
_FAR_M = 3.0


class Loss(Found, topic="parts", anywhere=True):
    """`what` the part's thing is made of, as the catalogue has it; `bears_n`: what the least of what catches it bears (None: nothing is known of that)."""

    what: str
    gone: Gone
    bears_n: float | None


def find(here: AtPlace) -> Iterator[Loss]:
    worst: dict[str, Loss] = {}
    for id, standing in here.holding.items():
        for part in standing.parts:
            far = None if part == HANDS else standing.further(part)
            if far is None or far < _LOSS_M:
                continue
            gone, thing = standing.gone(part), thing_of(standing, part)
            bears_n = _bears_n(here, gone)
            found = Loss(
                level=_level(gone, bears_n),
                about=part,
                key=thing,
                state=id,
                what=made_of(here.plan, thing),
                gone=gone,
                bears_n=bears_n,
            )
            if thing not in worst or found.urgency < worst[thing].urgency:
                worst[thing] = found
    yield from worst.values()


def _bears_n(here: AtPlace, gone: Gone) -> float | None:
    """What the least of a catching line and its anchor bears."""
    lines = {one.partition(":")[0] for one in gone.onto}
    nodes = [f"anchor:{line.anchor}:" for line in here.plan.lines if line.id in lines]
    mine = (*(f"{line}:" for line in lines), *nodes)
    rows = [part for parts in here.parts.values() for part in parts if part.id.startswith(mine)]
    known = [part.strength_n.low for part in rows if part.gives == "breaks" and part.strength_n is not None]
    return min(known, default=None)


def _level(gone: Gone, bears_n: float | None) -> Level:
    """A loss that ends on the ground or over an edge, that nothing stops, or that breaks what catches it, is stopped for."""
    if gone.further_m is None or gone.further_m > _FAR_M or {"ground", "edge"} & set(gone.meets):
        return "stop"
    caught = gone.caught
    breaks = caught is not None and bears_n is not None and caught.peak_n > bears_n
    return "stop" if caught is not None and (caught.slid_m is None or breaks) else "look"


def mends(found: Loss, plan: Plan) -> Iterator[Mend]:
    """The line that catches it drawn in."""
    for part in found.gone.onto:
        line = part.partition(":")[0]
        if any(one.id == line for one in plan.lines):
            yield from drawn_in(plan, line_number(plan, line))
            return
