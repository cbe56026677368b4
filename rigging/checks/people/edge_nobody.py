"""Edges, and nobody named who works at them."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.study.place import AtPlace


class EdgeNobody(Found, topic="ground"):
    pass


def find(here: AtPlace) -> Iterator[EdgeNobody]:
    if here.plan.site.edges and not any(one.role == "edge" for one in here.plan.team.people):
        yield EdgeNobody(level="unknown", about="team", state=here.people_state)
