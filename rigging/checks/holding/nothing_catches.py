"""A line goes, and nothing else holds the load."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, belay_added
from rigging.document import Plan
from rigging.lines.catch import Caught
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class NothingCatches(Found, topic="parts", anywhere=True, better=True):
    line: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[NothingCatches]:
    if isinstance(solved, Caught) and solved.by is None:
        yield NothingCatches(
            level="stop", about=f"{solved.gone}:rope", key=solved.gone, state=solved.id, line=solved.gone
        )


def mends(found: NothingCatches, plan: Plan) -> Iterator[Mend]:
    yield from belay_added(plan)
