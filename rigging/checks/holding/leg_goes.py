"""Each leg of each anchor taken away, where the anchor is pulled hardest."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.judging.legs_gone import LegGone, Outcome, legs_gone
from rigging.lines.rig import anchor_node
from rigging.study.place import WORKING, AtPlace

_LEVELS: dict[Outcome, Level] = {"gives": "stop", "nothing": "stop", "unknown": "unknown", "below": "look"}


class LegGoes(Found, topic="parts", source="peak", anywhere=True):
    anchor: str
    leg: LegGone


def find(here: AtPlace) -> Iterator[LegGoes]:
    for anchor in here.plan.anchors:
        pulled = [
            (state.force_n.high, id, state)
            for (id, name), state in here.anchors.items()
            if name == anchor.id and id in WORKING
        ]
        if not pulled:
            continue
        _, id, state = max(pulled, key=lambda row: row[0])
        for gone in legs_gone(here.plan, anchor, state, here.solved[id]):
            level, index = _LEVELS.get(gone.outcome), gone.leg.line.index
            if level is not None:
                yield LegGoes(
                    level=level, about=f"{anchor_node(anchor.id)}:leg:{index}", key=f"{anchor.id}:{index}", state=id, anchor=anchor.id,
                    leg=gone,
                )  # fmt: skip
