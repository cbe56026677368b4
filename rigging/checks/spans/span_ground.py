"""A tension line over ground that is not entered."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.spans.crossed import crossed
from rigging.study.place import AtPlace


class SpanGround(Found, topic="ground"):
    line: str


def find(here: AtPlace) -> Iterator[SpanGround]:
    for one in crossed(here):
        if one.way and one.way.lowest is None:
            yield SpanGround(level="unknown", about=one.about, key=one.line.id, line=one.line.id)
