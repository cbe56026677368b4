"""A load that does not go down by itself."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class NoSlide(Found, topic="margins", source="incline"):
    pass


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[NoSlide]:
    for line, _, _, key in here.lowered(solved):
        if line.at_load.expected <= 0:
            yield NoSlide(level="look", about="load", key=key, state=solved.id)
