"""A connector at the load whose gate does not lock."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace


class GateUnlocked(Found, topic="margins"):
    line: str
    what: str


def find(here: AtPlace) -> Iterator[GateUnlocked]:
    for line in here.plan.lines:
        connector = catalogue().connectors[line.load_connector]
        if not connector.locks:
            yield GateUnlocked(level="look", about="load", key=line.id, line=line.id, what=connector.name)


def mends(found: GateUnlocked, plan: Plan) -> Iterator[Mend]:
    locks = catalogue().connectors["alloy-b"]
    yield setting("take", f"/lines/{line_number(plan, found.line)}/load_connector", locks.id, what=locks.name)
