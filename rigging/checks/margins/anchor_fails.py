"""Anchors whose legs can not balance the pull on them."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.judging.frames import is_frame
from rigging.lines.rig import anchor_node
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class AnchorFails(Found, topic="margins", source="legs", anywhere=True):
    anchor: str
    faults: tuple[str, ...]


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[AnchorFails]:
    for (id, name), state in here.anchors.items():
        if id == solved.id and state.states is None and not is_frame(state):
            yield AnchorFails(
                level="stop", about=anchor_node(name), key=name, state=id, anchor=name, faults=tuple(state.faults)
            )
