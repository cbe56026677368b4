"""A drum or axle whose strength nobody has read."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.drums import drum_ties
from rigging.checks.anchors.made import Made
from rigging.checks.found import Found


class DrumUnsaid(Found, topic="margins"):
    name: str
    unsaid: tuple[str, ...]


def find_made(made: Made) -> Iterator[DrumUnsaid]:
    for about, key, line, tie in drum_ties(made):
        unsaid = tuple(name for name, one in (("drum", tie.drum_n), ("axle", tie.axle_n)) if one is None)
        if unsaid:
            yield DrumUnsaid(level="unknown", about=about, key=key, name=line.feature.name, unsaid=unsaid)
