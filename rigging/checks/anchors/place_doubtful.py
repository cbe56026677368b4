"""A leg to something whose place is hardly known."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made
from rigging.checks.found import Found

# A leg is some metres long: with its end further off than this, how the legs share says little.
KNOWN_M = 1.0


class PlaceDoubtful(Found, topic="geometry"):
    feature: str
    name: str
    by: str
    off_m: float


def find_made(made: Made) -> Iterator[PlaceDoubtful]:
    for about, _, feature in made.tied():
        placed = feature.placed
        if placed is not None and placed.off_m > KNOWN_M:
            yield PlaceDoubtful(
                level="unknown", about=about, key=feature.id, feature=feature.id, name=feature.name, by=placed.by, off_m=placed.off_m
            )  # fmt: skip
