"""A feature that was rejected, and is tied to."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made, tied_elsewhere
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan


class Rejected(Found, topic="margins"):
    arrangement: str
    leg: int
    name: str
    reason: str


def find_made(made: Made) -> Iterator[Rejected]:
    for about, leg, feature in made.tied():
        if feature.verdict == "reject":
            yield Rejected(
                level="stop", about=about, key=feature.id, arrangement=made.arrangement.id, leg=leg, name=feature.name, reason=feature.reason
            )  # fmt: skip


def mends(found: Rejected, plan: Plan) -> Iterator[Mend]:
    yield from tied_elsewhere(plan, found.arrangement, found.leg)
