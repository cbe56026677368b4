"""A frame that nothing holds where its pull goes down outside its feet."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.frames.stands import frames, guyed
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.rig import anchor_node
from rigging.study.place import AtPlace


class FrameTips(Found, topic="margins", source="legs", anywhere=True):
    anchor: str
    inside_m: float
    feet: int
    toward: tuple[float, float]


def find(here: AtPlace) -> Iterator[FrameTips]:
    for one in frames(here):
        if one.tips:
            yield FrameTips(
                level="stop", about=anchor_node(one.anchor), key=one.anchor, state=one.state, anchor=one.anchor, inside_m=one.inside_m,
                feet=one.feet, toward=one.toward,
            )  # fmt: skip


def mends(found: FrameTips, plan: Plan) -> Iterator[Mend]:
    yield from guyed(plan, found.anchor, found.toward)
