"""More at the hand than gloved hands hold for long."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number
from rigging.checks.work.friction import fitting, other_devices
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class HandTooMuch(Found, topic="margins", source="hand-grip", anywhere=True):
    """`fits`: the first device that one hand would hold (None: none here does)."""

    line: str
    device: str
    hand_n: Range
    grip_n: Range
    fits: str | None

    @property
    def room(self) -> float:
        return 1.0 / max(self.hand_n.high, 1e-9)


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[HandTooMuch]:
    for line, lowering, device, key in here.lowered(solved):
        assert line.running is not None
        hand, grip_n, of = line.running.hand, here.grip_n(lowering), line.rig.line.id
        if line.at_load.expected <= 0 or device.self_locking or hand.high <= grip_n.low:
            continue
        fits = next((one.name for one in fitting(here.plan, of, hand, grip_n.low)), None)
        yield HandTooMuch(
            # As expected it is within the hand: then its highest is looked at, not stopped for.
            level="stop" if hand.expected > grip_n.expected else "look", about=f"{of}:device", key=key, state=solved.id, line=of, device=device.name, hand_n=hand, grip_n=grip_n, fits=fits
        )  # fmt: skip


def mends(found: HandTooMuch, plan: Plan) -> Iterator[Mend]:
    yield from other_devices(plan, line_number(plan, found.line), found.hand_n, 0.0)
