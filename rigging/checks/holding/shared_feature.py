"""One feature that bears every anchor of the ropes."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, own_anchor
from rigging.document import Plan
from rigging.judging.removal import Gone
from rigging.study.place import AtPlace


class SharedFeature(Found, topic="parts", anywhere=True):
    feature: str
    gone: Gone


def find(here: AtPlace) -> Iterator[SharedFeature]:
    for one in here.alone:
        if one.part.startswith("feature:"):
            yield SharedFeature(
                level="stop", about=one.part, key=one.part, state=one.states[0], feature=one.part.removeprefix("feature:"), gone=one.gone
            )  # fmt: skip


def mends(found: SharedFeature, plan: Plan) -> Iterator[Mend]:
    yield from own_anchor(plan)
