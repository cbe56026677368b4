"""Places of the way at which the plan can not be laid out."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, drawn_in
from rigging.document import Plan
from rigging.quantities.faults import Fault
from rigging.study.whole import Study


class PlaceRefused(Found, topic="ground"):
    fault: Fault


def find_over(study: Study) -> Iterator[tuple[PlaceRefused, float]]:
    for one in study.unasked:
        yield PlaceRefused(level="look", about="load", key=one.fault.path, fault=one.fault), one.up_m


def mends(found: PlaceRefused, plan: Plan) -> Iterator[Mend]:
    """A line's slack that does not reach there drawn in."""
    for number in range(len(plan.lines)):
        if found.fault.path == f"lines[{number}].slack_m":
            yield from drawn_in(plan, number)
