"""Belay lines that hold only while somebody holds them."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, locking_belay
from rigging.document import Plan
from rigging.study.place import AtPlace


class BelayByHands(Found, topic="hands-off"):
    line: str


def find(here: AtPlace) -> Iterator[BelayByHands]:
    if not here.standings:
        return
    for line in here.plan.lines:
        if line.belay and line.belay.holds == "device" and not catalogue().devices[line.belay.what].self_locking:
            yield BelayByHands(level="look", about=f"{line.id}:belay", key=line.id, state="held", line=line.id)


def mends(found: BelayByHands, plan: Plan) -> Iterator[Mend]:
    yield locking_belay(line_number(plan, found.line))
