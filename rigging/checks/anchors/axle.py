"""A drum's one axle as the only thing that holds."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.drums import drum_ties, tie_path
from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan


class Axle(Found, topic="geometry"):
    arrangement: str
    leg: int
    name: str
    tail_to: str


def find_made(made: Made) -> Iterator[Axle]:
    for about, key, line, tie in drum_ties(made):
        if tie.tail_to != "anchor-behind":
            yield Axle(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, leg=line.index, name=line.feature.name, tail_to=tie.tail_to
            )  # fmt: skip


def mends(found: Axle, plan: Plan) -> Iterator[Mend]:
    path = f"{tie_path(plan, found.arrangement, found.leg)}/tail_to"
    yield setting("tail-behind", path, "anchor-behind")
