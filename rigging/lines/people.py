"""People at the ropes: who minds what, how many a pull takes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.document import Line
from rigging.quantities.ranges import Range

JobKind = Literal["brake", "belay", "ratchet"]


@dataclass(frozen=True)
class Job:
    """What has to be minded on a line, who does it ("": nobody is named), and the field below the line that names them."""

    line: str
    job: JobKind
    who: str
    field: str


def jobs(line: Line) -> Iterator[Job]:
    """What has to be minded on a line."""
    if line.lowering and line.lowering.brake_hitch:
        yield Job(line.id, "brake", line.lowering.minder.strip(), "lowering/minder")
    if line.belay and line.belay.holds != "tied":
        yield Job(line.id, "belay", line.belay.minder.strip(), "belay/minder")
    if line.haul and line.haul.capture:
        yield Job(line.id, "ratchet", line.haul.capture_minder.strip(), "haul/capture_minder")


def haulers_needed(hand_n: float, each_n: float) -> int:
    """People needed for a pull of whom each gives so much."""
    return math.ceil(hand_n / each_n - 1e-9)


def haulers_range(hand: Range, each_n: Range) -> Range:
    """People needed for a pull: fewest where it is least and each gives most."""
    ends = (hand.low, each_n.high), (hand.expected, each_n.expected), (hand.high, each_n.low)
    return Range(*(float(haulers_needed(force, each)) for force, each in ends))
