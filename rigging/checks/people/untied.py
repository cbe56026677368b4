"""Somebody at the edge who is tied in to nothing."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, to_other_anchor
from rigging.document import Plan
from rigging.study.place import AtPlace


class Untied(Found, topic="ground"):
    person: str
    number: int


def find(here: AtPlace) -> Iterator[Untied]:
    for number, one in enumerate(here.plan.team.people):
        if one.role == "edge" and one.tied_to is None:
            yield Untied(
                level="stop", about="team", key=one.name, state=here.people_state, person=one.name, number=number
            )


def mends(found: Untied, plan: Plan) -> Iterator[Mend]:
    yield from to_other_anchor(plan, f"/team/people/{found.number}/tied_to", "tie-in", "")
