"""People where the load would come down, were it let go."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.judging.removal import below_the_load
from rigging.study.place import AtPlace
from rigging.study.whole import Study

_ASIDE_M = 10.0


class PeopleBelow(Found, topic="ground", anywhere=True):
    people: tuple[str, ...]


def find(here: AtPlace) -> Iterator[PeopleBelow]:
    yield from _below(here.plan, here.people_state)


def find_over(study: Study) -> Iterator[tuple[PeopleBelow, float]]:
    """Also where the plan can not be laid out."""
    for one in study.unasked:
        for found in _below(one.plan, "raising"):
            yield found, one.up_m


def _below(plan: Plan, state: str) -> Iterator[PeopleBelow]:
    names = tuple(below_the_load(plan))
    if names:
        yield PeopleBelow(level="look", about="load", state=state, people=names)


def mends(found: PeopleBelow, plan: Plan) -> Iterator[Mend]:
    """Those below moved well to the side of the load's way down."""
    edits = [
        Edit("replace", f"/team/people/{n}/at/y_m", one.at.y_m + math.copysign(_ASIDE_M, one.at.y_m))
        for n, one in enumerate(plan.team.people)
        if one.at and one.name in found.people
    ]
    yield Mend("aside", tuple(edits), {"length_m": _ASIDE_M})
