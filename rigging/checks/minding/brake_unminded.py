"""A brake-side hitch that nobody is named for."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, minder
from rigging.document import Plan
from rigging.study.place import AtPlace


class BrakeUnminded(Found, topic="hands-off"):
    line: str


def find(here: AtPlace) -> Iterator[BrakeUnminded]:
    for one in here.jobs:
        if one.job == "brake" and not one.who:
            yield BrakeUnminded(
                level="look", about=f"{one.line}:brake", key=one.line, state=here.people_state, line=one.line
            )


def mends(found: BrakeUnminded, plan: Plan) -> Iterator[Mend]:
    yield from minder(plan, found.line, "brake")
