"""An empty loop that may roll out."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.knots import in_line
from rigging.checks.found import Found
from rigging.checks.mending import Mend, rope_number, setting
from rigging.checks.ropes.loop_slick import may_be_drawn_through
from rigging.document import Plan
from rigging.study.place import AtPlace


class LoopOpen(Found, topic="margins", source="empty-loop"):
    rope: str
    number: int
    at_m: float


def find(here: AtPlace) -> Iterator[LoopOpen]:
    knots = catalogue().knots
    for rope, line in here.ropes:
        for number, damage in enumerate(rope.damage):
            if damage.taken_out is None or not in_line(knots[damage.taken_out]) or may_be_drawn_through(rope, damage):
                continue
            if damage.in_loop == "nothing" and knots[damage.taken_out].along is not None:
                key = f"{rope.id}:{number}"
                yield LoopOpen(
                    level="look", about=f"{line}:rope", key=key, rope=rope.id, number=number, at_m=damage.at_m
                )


def mends(found: LoopOpen, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{rope_number(plan, found.rope)}/damage/{found.number}/in_loop"
    yield setting("in-loop", path, "connector", inside="connector")
