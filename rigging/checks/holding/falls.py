"""States in which nothing holds the load."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, lowered_on
from rigging.document import Plan
from rigging.study.place import WORKING, AtPlace


class Falls(Found, topic="parts", anywhere=True):
    pass


def find(here: AtPlace) -> Iterator[Falls]:
    for id in WORKING:
        standing = here.standings.get(id)
        if standing is not None and standing.found.drop_m is None:
            yield Falls(level="stop", about="load", key=id, state=id)


def mends(found: Falls, plan: Plan) -> Iterator[Mend]:
    number = next((n for n, one in enumerate(plan.lines) if one.role in ("main", "second")), None)
    if number is not None:
        yield from lowered_on(number)
