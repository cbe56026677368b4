"""Nothing is chosen that holds a bearing rope at its station."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.lines.planning import PLANNING
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class NothingHolds(Found, topic="hands-off", better=True):
    pass


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[NothingHolds]:
    if solved.id != "held":
        return
    for line in here.plan.lines:
        bears = line.id != PLANNING and line.role in ("main", "second")
        if bears and line.lowering is None and not (line.haul and line.haul.capture):
            key = "" if line.id == "main" else line.id
            yield NothingHolds(level="stop", about=f"{line.id}:rope", key=key, state=solved.id)
