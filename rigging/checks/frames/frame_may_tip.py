"""A frame that stands as expected, but not everywhere in the ranges of its ropes and its pull, or not wherever that swings."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.frames.stands import frames, guyed
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.rig import anchor_node
from rigging.study.place import AtPlace


class FrameMayTip(Found, topic="margins", source="legs", anywhere=True):
    anchor: str
    swung: bool
    toward: tuple[float, float]


def find(here: AtPlace) -> Iterator[FrameMayTip]:
    for one in frames(here):
        if not one.tips and (one.may_tip or one.swung):
            yield FrameMayTip(
                level="stop" if one.may_tip else "look", about=anchor_node(one.anchor), key=one.anchor, state=one.state, anchor=one.anchor,
                swung=not one.may_tip, toward=one.toward,
            )  # fmt: skip


def mends(found: FrameMayTip, plan: Plan) -> Iterator[Mend]:
    yield from guyed(plan, found.anchor, found.toward)
