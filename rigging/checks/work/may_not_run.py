"""So little left at the hand that the device may not run by itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number
from rigging.checks.work.friction import other_devices
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class MayNotRun(Found, topic="margins", source="device-runs", anywhere=True):
    line: str
    device: str
    least_n: float
    hand_n: Range = field(compare=False)

    @property
    def room(self) -> float:
        return self.least_n


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[MayNotRun]:
    for line, _, device, key in here.lowered(solved):
        assert line.running is not None
        hand, of = line.running.hand, line.rig.line.id
        if line.at_load.expected > 0 and hand.low < catalogue().people.device_runs_n:
            yield MayNotRun(
                level="look" if hand.expected < catalogue().people.device_runs_n else "note",
                about=f"{of}:device",
                key=key,
                state=solved.id,
                line=of,
                device=device.name,
                least_n=hand.low,
                hand_n=hand,
            )


def mends(found: MayNotRun, plan: Plan) -> Iterator[Mend]:
    runs_n = catalogue().people.device_runs_n
    yield from other_devices(plan, line_number(plan, found.line), found.hand_n, runs_n)
