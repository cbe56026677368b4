"""Tails of a join that nobody measured."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, tails
from rigging.document import Plan
from rigging.lines.tied import tail_wanted_m
from rigging.study.place import AtPlace


class TailUnsaid(Found, topic="geometry", source="tails"):
    rope: str
    number: int
    at_m: float
    wanted_m: float


def find(here: AtPlace) -> Iterator[TailUnsaid]:
    for rope, line, number, join in here.joins:
        knot = catalogue().knots[join.knot]
        if knot.bend and join.tail_m is None:
            wanted_m = tail_wanted_m(knot, catalogue().ropes[rope.kind])
            yield TailUnsaid(
                level="unknown", about=f"{line}:rope", key=f"{rope.id}:{number}", rope=rope.id, number=number, at_m=join.at_m,
                wanted_m=wanted_m,
            )  # fmt: skip


def mends(found: TailUnsaid, plan: Plan) -> Iterator[Mend]:
    yield tails(plan, found.rope, found.number, found.wanted_m)
