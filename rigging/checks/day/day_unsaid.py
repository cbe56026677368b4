"""Nobody said whether it is dry, wet, icy or muddy."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan
from rigging.study.place import AtPlace


class DayUnsaid(Found, topic="ground", source="wet-grip"):
    pass


def find(here: AtPlace) -> Iterator[DayUnsaid]:
    if here.plan.day.state is None and any(rope.state is None for rope in here.plan.ropes):
        yield DayUnsaid(level="look", about="load")


def mends(found: DayUnsaid, plan: Plan) -> Iterator[Mend]:
    for state in ("dry", "wet", "icy"):
        yield setting("day", "/day/state", state, what=catalogue().conditions[state].name)
