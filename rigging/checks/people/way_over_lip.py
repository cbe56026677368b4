"""Haulers whose way leads out over an edge."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, turned_round
from rigging.document import Plan
from rigging.study.place import AtPlace

# How far they walk where nobody said (common practice, no source).
UNSAID_M = 6.0


class WayOverLip(Found, topic="geometry"):
    line: str
    ends_m: float
    edge_m: float


def find(here: AtPlace) -> Iterator[WayOverLip]:
    for line in here.plan.lines:
        haul = line.haul
        if haul is None or haul.walk_rad is None:
            continue
        anchor = haul.redirects[-1].anchor if haul.redirects else line.anchor
        begins = here.plan.anchor(anchor).arrangement.point.x_m
        ends = begins + math.cos(haul.walk_rad) * (haul.way_m or UNSAID_M)
        edge = min((one.x_m for one in here.plan.site.edges if one.x_m > begins), default=math.inf)
        if ends > edge - 1e-9:
            yield WayOverLip(
                level="stop", about=f"{line.id}:hands", key=line.id, line=line.id, ends_m=ends, edge_m=edge
            )


def mends(found: WayOverLip, plan: Plan) -> Iterator[Mend]:
    yield from turned_round(plan, line_number(plan, found.line))
