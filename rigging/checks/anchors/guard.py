"""A feature that somebody has to guard for as long as it is loaded."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.checks.mending import Mend, free_people, setting
from rigging.document import Plan
from rigging.site.features import kind_of


class Guard(Found, topic="hands-off"):
    feature: str
    name: str
    guarded: str
    who: str


def find_made(made: Made) -> Iterator[Guard]:
    for about, _, feature in made.tied():
        guarded, who = kind_of(feature).guarded, feature.guard.strip()
        if guarded:
            yield Guard(
                level="note" if who else "stop", about=about, key=feature.id, feature=feature.id, name=feature.name, guarded=guarded, who=who
            )  # fmt: skip


def mends(found: Guard, plan: Plan) -> Iterator[Mend]:
    if found.who:
        return
    at = next(n for n, one in enumerate(plan.features) if one.id == found.feature)
    for who in free_people(plan)[:2]:
        yield setting("guard", f"/features/{at}/guard", who, who=who)
