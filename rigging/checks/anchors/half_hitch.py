"""A half hitch that defeats a full-strength tie-off."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.drums import drum_ties, tie_path
from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan


class HalfHitch(Found, topic="geometry"):
    arrangement: str
    leg: int
    name: str


def find_made(made: Made) -> Iterator[HalfHitch]:
    for about, key, line, tie in drum_ties(made):
        if tie.finish == "half-hitch":
            yield HalfHitch(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, leg=line.index, name=line.feature.name
            )  # fmt: skip


def mends(found: HalfHitch, plan: Plan) -> Iterator[Mend]:
    path = f"{tie_path(plan, found.arrangement, found.leg)}/finish"
    yield setting("finish", path, "releasable-hitch")
