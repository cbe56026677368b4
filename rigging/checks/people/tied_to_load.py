"""Somebody at the edge who is tied in to an anchor of the load's (common practice)."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, to_other_anchor
from rigging.document import Plan
from rigging.judging.pulls import named_by
from rigging.study.place import AtPlace


class TiedToLoad(Found, topic="ground"):
    person: str
    number: int
    anchor: str


def find(here: AtPlace) -> Iterator[TiedToLoad]:
    loaded = {name for line in here.plan.lines for name in named_by(line)}
    for number, one in enumerate(here.plan.team.people):
        if one.role == "edge" and one.tied_to is not None and one.tied_to in loaded:
            yield TiedToLoad(
                level="look", about=f"anchor:{one.tied_to}", key=one.name, state=here.people_state, person=one.name, number=number,
                anchor=one.tied_to,
            )  # fmt: skip


def mends(found: TiedToLoad, plan: Plan) -> Iterator[Mend]:
    yield from to_other_anchor(plan, f"/team/people/{found.number}/tied_to", "tie-in", found.anchor)
