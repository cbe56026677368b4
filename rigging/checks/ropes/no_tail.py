"""Next to no rope kept back behind a device that lets it out."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace

# Less than this, and its end may run through (common practice, no source).
_LEAST_M = 1.0


class NoTail(Found, topic="geometry"):
    line: str
    tail_m: float


def find(here: AtPlace) -> Iterator[NoTail]:
    for line in here.plan.lines:
        if line.lowering and line.tail_m < _LEAST_M:
            yield NoTail(level="stop", about=f"{line.id}:rope", key=line.id, line=line.id, tail_m=line.tail_m)


def mends(found: NoTail, plan: Plan) -> Iterator[Mend]:
    yield setting("keep-tail", f"/lines/{line_number(plan, found.line)}/tail_m", 5, length_m=5.0)
