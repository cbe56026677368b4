"""A line goes and another catches the load: how hard, how far down it stops."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field

from rigging.checks.found import Found
from rigging.lines.catch import Caught as CaughtState
from rigging.lines.catch import Clutch
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Caught(Found, topic="parts", source="peak"):
    """`line` goes and `by` takes it: the drop, the peak, what slips (`clutch`) and how far, in how much more it stops."""

    line: str
    by: str
    drop_m: float | None
    peak_n: Range | None
    stops_in_m: Range
    slid_m: Range | None
    clutch: Clutch | None = field(compare=False)


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[Caught]:
    for one in arrested(solved):
        if one.stops_in is not None and not down_first(one):
            yield Caught(
                level="note", about=f"{one.by}:rope", key=one.by or "", state=one.id, line=one.gone, by=one.by or "", drop_m=one.drop_m,
                peak_n=one.peak, stops_in_m=one.stops_in, slid_m=one.slid, clutch=one.clutch,
            )  # fmt: skip


def arrested(solved: Solved) -> Iterator[CaughtState]:
    """A state in which a line has gone and another takes the load, as far as it was worked out."""
    if isinstance(solved, CaughtState) and solved.by is not None and solved.arrests is not None:
        yield solved


def down_first(one: CaughtState) -> bool:
    """Whether the load is on the ground before it stops."""
    free, stops = one.clearance_m, one.stops_in
    return free is not None and free > 0.01 and stops is not None and (one.drop_m or 0.0) + stops.high > free
