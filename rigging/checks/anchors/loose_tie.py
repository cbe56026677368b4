"""A tie back that is not tight."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan


class LooseTie(Found, topic="geometry"):
    arrangement: str
    leg: int
    name: str


def find_made(made: Made) -> Iterator[LooseTie]:
    for about, key, line in made.legs():
        if made.scheme.made == "front" and line.index and not line.leg.pretension_n:
            yield LooseTie(
                level="stop", about=about, key=key, arrangement=made.arrangement.id, leg=line.index, name=line.feature.name
            )  # fmt: skip


def mends(found: LooseTie, plan: Plan) -> Iterator[Mend]:
    yield setting("tight", f"{path_of(plan, found.arrangement)}/legs/{found.leg}/pretension_n", 1000.0)
