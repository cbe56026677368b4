"""A brake strand led where its device brakes little."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import Led
from rigging.checks.found import Found
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class LedWrong(Found, topic="geometry"):
    device: str
    led: Led
    keeps: Range


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[LedWrong]:
    for line, lowering, device, key in here.lowered(solved):
        if line.at_load.expected > 0 and lowering.led is not None and lowering.led != device.led:
            yield LedWrong(
                level="stop" if device.other_way.high < 0.5 else "look", about=f"{line.rig.line.id}:device", key=key, state=solved.id,
                device=device.name, led=lowering.led, keeps=device.other_way,
            )  # fmt: skip
