"""Parts whose strength nobody knows."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.judging.margins import Part
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class Unknown(Found, topic="margins", anywhere=True):
    part: Part


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[Unknown]:
    for part in here.parts[solved.id]:
        if part.verdict == "unknown" and part.gives == "unknown":
            yield Unknown(level="look", about=part.about, key=part.id, state=solved.id, part=part)
