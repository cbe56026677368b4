"""A frame that stands by its guys alone."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.frames.stands import frames
from rigging.lines.rig import anchor_node
from rigging.study.place import AtPlace


class FrameByGuys(Found, topic="margins", source="legs", anywhere=True):
    anchor: str
    inside_m: float
    feet: int
    guys: int


def find(here: AtPlace) -> Iterator[FrameByGuys]:
    for one in frames(here):
        if not (one.tips or one.may_tip or one.swung) and one.inside_m < 0:
            yield FrameByGuys(
                level="look", about=anchor_node(one.anchor), key=one.anchor, state=one.state, anchor=one.anchor, inside_m=one.inside_m,
                feet=one.feet, guys=one.guys,
            )  # fmt: skip
