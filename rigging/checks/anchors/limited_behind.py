"""A full-strength tie-off in line with a device that should slip."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.anchors.drums import drum_ties
from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan


class LimitedBehind(Found, topic="geometry"):
    arrangement: str
    name: str
    device: str


def find_made(made: Made) -> Iterator[LimitedBehind]:
    span = made.arrangement.span
    for about, key, line, _ in drum_ties(made):
        if span and span.slips:
            device = catalogue().devices[span.slips].name
            yield LimitedBehind(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, name=line.feature.name, device=device
            )  # fmt: skip


def mends(found: LimitedBehind, plan: Plan) -> Iterator[Mend]:
    yield setting("free-device", f"{path_of(plan, found.arrangement)}/span/slips", None, what=found.device)
