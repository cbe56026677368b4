"""Nobody said where people stand."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.study.place import AtPlace


class BelowUnsaid(Found, topic="ground"):
    pass


def find(here: AtPlace) -> Iterator[BelowUnsaid]:
    if not any(one.at for one in here.plan.team.people):
        yield BelowUnsaid(level="unknown", about="load", state=here.people_state)
