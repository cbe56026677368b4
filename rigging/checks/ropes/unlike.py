"""A join of ropes of unlike thickness by a knot that is not made for them."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, joined_by
from rigging.document import Plan
from rigging.lines.tied import unlike
from rigging.study.place import AtPlace


class Unlike(Found, topic="margins", source="unlike"):
    rope: str
    number: int
    at_m: float
    knot: str
    onto: str


def find(here: AtPlace) -> Iterator[Unlike]:
    for rope, line, number, join in here.joins:
        knot = catalogue().knots[join.knot]
        if unlike(knot, rope, join.onto):
            yield Unlike(
                level="look" if knot.slips_n is None else "stop", about=f"{line}:rope", key=f"{rope.id}:{number}", rope=rope.id, number=number,
                at_m=join.at_m, knot=knot.name, onto=catalogue().ropes[join.onto or rope.kind].name,
            )  # fmt: skip


def mends(found: Unlike, plan: Plan) -> Iterator[Mend]:
    yield joined_by(plan, found.rope, found.number, "double-fisherman")
