"""A belay that nobody is named for."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, minder
from rigging.document import Plan
from rigging.study.place import AtPlace


class BelayUnminded(Found, topic="hands-off"):
    line: str


def find(here: AtPlace) -> Iterator[BelayUnminded]:
    for one in here.jobs:
        if one.job == "belay" and not one.who:
            yield BelayUnminded(
                level="look", about=f"{one.line}:belay", key=one.line, state=here.people_state, line=one.line
            )


def mends(found: BelayUnminded, plan: Plan) -> Iterator[Mend]:
    yield from minder(plan, found.line, "belay")
