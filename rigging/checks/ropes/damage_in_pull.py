"""A damaged place that is still in the pull."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, damage_tied_out
from rigging.document import Plan
from rigging.study.place import AtPlace


class DamageInPull(Found, topic="margins"):
    line: str
    rope: str
    number: int
    at_m: float


def find(here: AtPlace) -> Iterator[DamageInPull]:
    for rope, line in here.ropes:
        for number, damage in enumerate(rope.damage):
            if damage.taken_out is None:
                yield DamageInPull(
                    level="stop", about=f"{line}:rope", key=f"{rope.id}:{number}", line=line, rope=rope.id, number=number, at_m=damage.at_m
                )  # fmt: skip


def mends(found: DamageInPull, plan: Plan) -> Iterator[Mend]:
    yield damage_tied_out(plan, found.rope, found.number)
