"""What catches slips under the load's own weight."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field

from rigging.checks.found import Found
from rigging.checks.holding.caught import arrested
from rigging.checks.mending import Mend, gripping_more, line_number
from rigging.document import Plan
from rigging.lines.catch import Clutch
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class DoesNotStop(Found, topic="parts", anywhere=True):
    """`surely`: wherever in its range the grip is, not only where it is least and the load heaviest."""

    line: str
    by: str
    surely: bool
    clutch: Clutch | None = field(compare=False)


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[DoesNotStop]:
    for one in arrested(solved):
        if one.stops_in is None:
            yield DoesNotStop(
                level="stop", about=f"{one.by}:rope", key=one.by or "", state=one.id, line=one.gone, by=one.by or "", surely=not one.may_stop,
                clutch=one.clutch,
            )  # fmt: skip


def mends(found: DoesNotStop, plan: Plan) -> Iterator[Mend]:
    """More grip only: less slack makes nothing grip that slips under what hangs on it."""
    yield from gripping_more(plan, line_number(plan, found.by))
