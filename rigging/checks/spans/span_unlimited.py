"""A tension line in which nothing slips before it breaks."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.checks.spans.crossed import crossed, eased
from rigging.document import Plan
from rigging.study.place import AtPlace


class SpanUnlimited(Found, topic="margins", source="self-locking-slip"):
    line: str
    number: int


def find(here: AtPlace) -> Iterator[SpanUnlimited]:
    for one in crossed(here):
        if one.way and one.line.slips is None:
            yield SpanUnlimited(level="look", about=one.about, key=one.line.id, line=one.line.id, number=one.number)


def mends(found: SpanUnlimited, plan: Plan) -> Iterator[Mend]:
    yield from eased(plan, found.number)
