"""Wet, and so cold that it freezes."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan
from rigging.site.conditions import FREEZES_C
from rigging.study.place import AtPlace


class Freezes(Found, topic="ground", source="icy-grip"):
    celsius: float


def find(here: AtPlace) -> Iterator[Freezes]:
    day = here.plan.day
    if day.state == "wet" and day.temperature_c is not None and day.temperature_c <= FREEZES_C:
        yield Freezes(level="look", about="load", celsius=day.temperature_c)


def mends(found: Freezes, plan: Plan) -> Iterator[Mend]:
    yield setting("day", "/day/state", "icy", what=catalogue().conditions["icy"].name)
