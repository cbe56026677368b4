"""One working point that bears several lines, and nothing beside it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.holding.single import bearing
from rigging.checks.mending import Mend, own_anchor
from rigging.document import Plan
from rigging.judging.removal import Gone
from rigging.study.place import AtPlace


class SharedPlate(Found, topic="parts", anywhere=True):
    anchor: str
    lines: tuple[str, ...]
    gone: Gone


def find(here: AtPlace) -> Iterator[SharedPlate]:
    for one in here.alone:
        lines = bearing(here.plan, one)
        if len(lines) > 1:
            yield SharedPlate(
                level="stop", about=one.part, key=one.part, state=one.states[0], anchor=one.part.removeprefix("anchor:"), lines=lines,
                gone=one.gone,
            )  # fmt: skip


def mends(found: SharedPlate, plan: Plan) -> Iterator[Mend]:
    yield from own_anchor(plan)
