"""A hanging load whose rope leans: it would swing in."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.study.place import AtPlace

# Turns and leans smaller than this are not said.
SAID_RAD = math.radians(10)


class Swing(Found, topic="geometry", source="incline"):
    lean_rad: float


def find(here: AtPlace) -> Iterator[Swing]:
    resting = here.judged.solver.resting
    # On a tension line it hangs from its carriage.
    if resting is None or not here.states:
        return
    lean = math.pi / 2 - (resting.slope_rad + resting.lift_rad)
    if resting.hangs and abs(lean) > SAID_RAD:
        yield Swing(level="look", about="load", lean_rad=lean)
