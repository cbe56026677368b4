"""A catch that ends on the ground."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field

from rigging.checks.found import Found
from rigging.checks.holding.caught import arrested, down_first
from rigging.checks.mending import Mend, drawn_in, line_number
from rigging.document import Plan
from rigging.lines.catch import Clutch
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class ReachesGround(Found, topic="parts", anywhere=True):
    """As for a catch; `clearance_m` is free below the load."""

    line: str
    by: str
    drop_m: float | None
    peak_n: Range | None
    stops_in_m: Range
    slid_m: Range | None
    clutch: Clutch | None = field(compare=False)
    clearance_m: float


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[ReachesGround]:
    for one in arrested(solved):
        if one.stops_in is not None and one.clearance_m is not None and down_first(one):
            yield ReachesGround(
                level="stop", about=f"{one.by}:rope", key=one.by or "", state=one.id, line=one.gone, by=one.by or "", drop_m=one.drop_m,
                peak_n=one.peak, stops_in_m=one.stops_in, slid_m=one.slid, clutch=one.clutch, clearance_m=one.clearance_m,
            )  # fmt: skip


def mends(found: ReachesGround, plan: Plan) -> Iterator[Mend]:
    yield from drawn_in(plan, line_number(plan, found.by))
