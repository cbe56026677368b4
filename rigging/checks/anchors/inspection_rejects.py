"""A feature that its inspection rejects, and is tied to."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made, tied_elsewhere
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.site.features import rejected_because


class InspectionRejects(Found, topic="margins"):
    arrangement: str
    leg: int
    name: str
    reasons: tuple[str, ...]


def find_made(made: Made) -> Iterator[InspectionRejects]:
    for about, leg, feature in made.tied():
        reasons = () if feature.verdict == "reject" else tuple(rejected_because(feature))
        if reasons:
            yield InspectionRejects(
                level="stop", about=about, key=feature.id, arrangement=made.arrangement.id, leg=leg, name=feature.name, reasons=reasons
            )  # fmt: skip


def mends(found: InspectionRejects, plan: Plan) -> Iterator[Mend]:
    yield from tied_elsewhere(plan, found.arrangement, found.leg)
