"""A rope older than textiles are used."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, another_rope
from rigging.document import Plan
from rigging.study.place import AtPlace


class TooOld(Found, topic="margins", source="rope-age"):
    rope: str
    line: str
    years: float
    most_years: float


def find(here: AtPlace) -> Iterator[TooOld]:
    most = catalogue().tying.textile_years
    for rope, line in here.ropes:
        if rope.age_years is not None and rope.age_years > most:
            yield TooOld(
                level="stop", about=f"{line}:rope", key=rope.id, rope=rope.id, line=line, years=rope.age_years, most_years=most
            )  # fmt: skip


def mends(found: TooOld, plan: Plan) -> Iterator[Mend]:
    yield another_rope(plan, found.rope)
