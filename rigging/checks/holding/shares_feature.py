"""A feature that several lines' anchors are tied to, where it is not all that they hang on."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, own_anchor
from rigging.document import Plan
from rigging.study.place import AtPlace


class SharesFeature(Found, topic="parts"):
    feature: str
    anchors: tuple[str, ...]


def find(here: AtPlace) -> Iterator[SharesFeature]:
    if not here.standings:
        return
    alone = {one.part for one in here.alone}
    bearing: dict[str, dict[str, None]] = {}
    for id in dict.fromkeys(line.anchor for line in here.plan.lines):
        for leg in here.plan.anchor(id).arrangement.legs:
            bearing.setdefault(leg.feature, {})[id] = None
    for feature, anchors in bearing.items():
        if len(anchors) > 1 and f"feature:{feature}" not in alone:
            yield SharesFeature(
                level="look", about=f"feature:{feature}", key=feature, state="held", feature=feature, anchors=tuple(anchors)
            )  # fmt: skip


def mends(found: SharesFeature, plan: Plan) -> Iterator[Mend]:
    yield from own_anchor(plan)
