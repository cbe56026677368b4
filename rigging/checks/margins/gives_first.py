"""What the whole team's heave does to a load that can not move, and what gives first."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.judging.margins import Part
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class GivesFirst(Found, topic="jam", source="hauler-pull"):
    people: int
    heave_n: Range
    arrives_n: Range
    first: Part | None


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[GivesFirst]:
    if solved.id != "jammed":
        return
    known = [part for part in here.parts[solved.id] if part.margin is not None]
    first = min(known, key=lambda part: part.margin.low if part.margin else math.inf, default=None)
    for line in solved.lines:
        assert line.running is not None
        # What slips in a jam is the clutch that it is there to be; what breaks is a stop.
        breaks = first is not None and first.verdict == "below" and first.gives != "slips"
        yield GivesFirst(
            level="stop" if breaks else "note", about=first.about if first else "hand", state=solved.id,
            people=here.plan.team.haulers, heave_n=line.running.hand, arrives_n=line.at_load, first=first,
        )  # fmt: skip
