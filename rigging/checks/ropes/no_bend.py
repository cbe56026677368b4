"""A join by a knot that joins no ropes."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, joined_by
from rigging.document import Plan
from rigging.study.place import AtPlace


class NoBend(Found, topic="geometry"):
    rope: str
    number: int
    at_m: float
    knot: str


def find(here: AtPlace) -> Iterator[NoBend]:
    for rope, line, number, join in here.joins:
        knot = catalogue().knots[join.knot]
        if not knot.bend:
            yield NoBend(
                level="stop", about=f"{line}:rope", key=f"{rope.id}:{number}", rope=rope.id, number=number, at_m=join.at_m, knot=knot.name
            )  # fmt: skip


def mends(found: NoBend, plan: Plan) -> Iterator[Mend]:
    yield joined_by(plan, found.rope, found.number, "double-fisherman")
