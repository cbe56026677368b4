"""The weakest part of a state, where it is below the team's rule."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.judging.margins import Part, weakest_of
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class Weakest(Found, topic="margins", better=True):
    part: Part


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[Weakest]:
    weakest = None if solved.moment.solving == "jammed" else weakest_of(here.parts[solved.id])
    if weakest and weakest.verdict == "below":
        yield Weakest(level="stop", about=weakest.about, state=solved.id, part=weakest)
