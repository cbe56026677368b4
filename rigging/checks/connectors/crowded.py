"""A connector that is crowded, or loaded near its gate."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Crowded(Found, topic="margins", source="crowded"):
    line: str
    at: Literal["load", "device"]
    keeps: Range


def find(here: AtPlace) -> Iterator[Crowded]:
    keeps = catalogue().tying.crowded_keeps
    for line in here.plan.lines:
        if line.load_connector_crowded:
            yield Crowded(level="look", about="load", key=f"{line.id}:load", line=line.id, at="load", keeps=keeps)
        if line.lowering and line.lowering.crowded:
            about = f"{line.id}:device"
            yield Crowded(level="look", about=about, key=about, line=line.id, at="device", keeps=keeps)


def mends(found: Crowded, plan: Plan) -> Iterator[Mend]:
    number = line_number(plan, found.line)
    if found.at == "load":
        edits = (
            Edit("replace", f"/lines/{number}/load_connector_crowded", False),
            Edit("replace", f"/lines/{number}/load_connector", "steel"),
        )
        yield Mend("uncrowd", edits, {"what": catalogue().connectors["steel"].name})
    else:
        yield setting("uncrowd", f"/lines/{number}/lowering/crowded", False)
