"""A feature that its inspection rejects and somebody took all the same, by name."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.site.features import inspection_rejects, overridden, rejected_because


class Overridden(Found, topic="margins"):
    name: str
    reasons: tuple[str, ...]
    who: str
    because: str


def find_made(made: Made) -> Iterator[Overridden]:
    for about, _, feature in made.tied():
        if feature.verdict != "reject" and not rejected_because(feature) and overridden(feature):
            yield Overridden(
                level="look", about=about, key=feature.id, name=feature.name, reasons=tuple(inspection_rejects(feature)),
                who=feature.judged_by, because=feature.reason,
            )  # fmt: skip
