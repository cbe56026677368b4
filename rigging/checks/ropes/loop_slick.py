"""A loop of slick cord that may be drawn through."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.knots import in_line
from rigging.checks.found import Found
from rigging.checks.mending import Mend, rope_number, setting
from rigging.document import Damage, Plan, Rope
from rigging.study.place import AtPlace


class LoopSlick(Found, topic="margins", source="slick-knots"):
    rope: str
    number: int
    at_m: float


def find(here: AtPlace) -> Iterator[LoopSlick]:
    for rope, line in here.ropes:
        for number, damage in enumerate(rope.damage):
            if may_be_drawn_through(rope, damage):
                key = f"{rope.id}:{number}"
                yield LoopSlick(
                    level="stop", about=f"{line}:rope", key=key, rope=rope.id, number=number, at_m=damage.at_m
                )


def may_be_drawn_through(rope: Rope, damage: Damage) -> bool:
    tied = damage.taken_out is not None and in_line(catalogue().knots[damage.taken_out])
    return tied and catalogue().ropes[rope.kind].slick and damage.in_loop != "overhand"


def mends(found: LoopSlick, plan: Plan) -> Iterator[Mend]:
    path = f"/ropes/{rope_number(plan, found.rope)}/damage/{found.number}/in_loop"
    yield setting("in-loop", path, "overhand", inside="overhand")
