"""Something temporary as the last thing that holds."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made, tied_elsewhere
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.site.features import kind_of


class TemporaryLast(Found, topic="margins"):
    arrangement: str
    name: str
    person: bool


def find_made(made: Made) -> Iterator[TemporaryLast]:
    tied = [feature for _, _, feature in made.tied()]
    if all(kind_of(feature).temporary for feature in tied):
        yield TemporaryLast(
            level="stop", about=f"{made.where}leg:0", key=made.key, arrangement=made.arrangement.id, name=tied[0].name,
            person=kind_of(tied[0]).estimate == "person",
        )  # fmt: skip


def mends(found: TemporaryLast, plan: Plan) -> Iterator[Mend]:
    yield from tied_elsewhere(plan, found.arrangement, 0)
