"""A strap whose two ends pull their connector across its gate."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.anchors.wraps import method_of
from rigging.catalogue import catalogue
from rigging.checks.anchors.closing import closes_wide, strap_rad
from rigging.checks.anchors.made import Made
from rigging.checks.anchors.three_ways import ACROSS_RAD, made_for_it
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.quantities.ranges import Range


class AcrossGate(Found, topic="geometry", source="en-12275"):
    """`across_n`: what the connector keeps there (None: it is not known)."""

    arrangement: str
    name: str
    closing_rad: float
    connector: str
    across_n: Range | None


def find_made(made: Made) -> Iterator[AcrossGate]:
    if made.arrangement.connector is None:
        return
    connector = catalogue().connectors[made.arrangement.connector]
    for about, key, line in made.legs():
        method, closing = method_of(line.leg), strap_rad(line)
        if closing is None or closes_wide(line) or method.path != "basket" or not method.connectors:
            continue
        if closing > ACROSS_RAD and not connector.three_way:
            yield AcrossGate(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, name=line.feature.name, closing_rad=closing,
                connector=connector.name, across_n=connector.across_n,
            )  # fmt: skip


def mends(found: AcrossGate, plan: Plan) -> Iterator[Mend]:
    yield from made_for_it(plan, found.arrangement)
