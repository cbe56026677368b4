"""A frame whose pull comes down between its feet."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.frames.stands import frames
from rigging.lines.rig import anchor_node
from rigging.study.place import AtPlace


class FrameStands(Found, topic="margins", source="legs"):
    anchor: str
    inside_m: float


def find(here: AtPlace) -> Iterator[FrameStands]:
    for one in frames(here):
        if not (one.tips or one.may_tip or one.swung) and one.inside_m >= 0:
            yield FrameStands(
                level="note", about=anchor_node(one.anchor), key=one.anchor, state=one.state, anchor=one.anchor, inside_m=one.inside_m
            )  # fmt: skip
