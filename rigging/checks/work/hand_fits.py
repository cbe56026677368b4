"""What one gloved hand holds."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class HandFits(Found, topic="margins", source="hand-grip", better=True):
    device: str
    hand_n: Range
    grip_n: Range


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[HandFits]:
    for line, lowering, device, key in here.lowered(solved):
        assert line.running is not None
        hand, grip_n = line.running.hand, here.grip_n(lowering)
        if line.at_load.expected > 0 and not device.self_locking and hand.high <= grip_n.low:
            yield HandFits(
                level="note", about=f"{line.rig.line.id}:device", key=key, state=solved.id, device=device.name, hand_n=hand, grip_n=grip_n
            )  # fmt: skip
