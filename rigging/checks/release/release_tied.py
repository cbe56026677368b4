"""A line tied at its anchor."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, lowered_on
from rigging.document import Plan
from rigging.study.place import AtPlace


class ReleaseTied(Found, topic="release"):
    line: str


def find(here: AtPlace) -> Iterator[ReleaseTied]:
    for line in here.plan.lines:
        if line.belay is None and line.lowering is None and line.role in ("main", "second"):
            yield ReleaseTied(level="look", about=f"{line.id}:rope", key=line.id, line=line.id)


def mends(found: ReleaseTied, plan: Plan) -> Iterator[Mend]:
    yield from lowered_on(line_number(plan, found.line))
