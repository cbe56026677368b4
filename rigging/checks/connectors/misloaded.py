"""A connector at the load pulled otherwise than along its spine."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import Loaded, catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Misloaded(Found, topic="margins", source="misloaded"):
    line: str
    what: str
    loaded: Loaded
    keeps_n: Range


def find(here: AtPlace) -> Iterator[Misloaded]:
    for line in here.plan.lines:
        connector = catalogue().connectors[line.load_connector]
        if line.load_connector_loaded != "along":
            keeps, _ = connector.loaded(line.load_connector_loaded)
            yield Misloaded(
                level="stop", about="load", key=line.id, line=line.id, what=connector.name, loaded=line.load_connector_loaded, keeps_n=keeps
            )  # fmt: skip


def mends(found: Misloaded, plan: Plan) -> Iterator[Mend]:
    yield setting("turned", f"/lines/{line_number(plan, found.line)}/load_connector_loaded", "along")
