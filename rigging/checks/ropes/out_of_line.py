"""Damage taken out with a knot that deforms along the line."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.knots import in_line
from rigging.checks.found import Found
from rigging.checks.mending import Mend, damage_tied_out
from rigging.document import Plan
from rigging.study.place import AtPlace


class OutOfLine(Found, topic="margins", source="out-of-line"):
    rope: str
    number: int
    at_m: float
    knot: str


def find(here: AtPlace) -> Iterator[OutOfLine]:
    knots = catalogue().knots
    for rope, line in here.ropes:
        for number, damage in enumerate(rope.damage):
            if damage.taken_out is not None and not in_line(knots[damage.taken_out]):
                yield OutOfLine(
                    level="unknown", about=f"{line}:rope", key=f"{rope.id}:{number}", rope=rope.id, number=number, at_m=damage.at_m,
                    knot=knots[damage.taken_out].name,
                )  # fmt: skip


def mends(found: OutOfLine, plan: Plan) -> Iterator[Mend]:
    yield damage_tied_out(plan, found.rope, found.number)
