"""A weathered rope."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, another_rope
from rigging.document import Plan
from rigging.study.place import AtPlace


class Worn(Found, topic="margins", source="rope-wear"):
    rope: str
    line: str


def find(here: AtPlace) -> Iterator[Worn]:
    for rope, line in here.ropes:
        if rope.wear == "worn":
            yield Worn(level="look", about=f"{line}:rope", key=rope.id, rope=rope.id, line=line)


def mends(found: Worn, plan: Plan) -> Iterator[Mend]:
    yield another_rope(plan, found.rope)
