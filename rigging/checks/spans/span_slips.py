"""What slips in a tension line, and feeds it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.spans.crossed import crossed
from rigging.study.place import AtPlace

_LEAST_M = 0.01


class SpanSlips(Found, topic="margins", source="self-locking-slip"):
    line: str
    device: str
    fed_m: float


def find(here: AtPlace) -> Iterator[SpanSlips]:
    for one in crossed(here):
        fed = max(place.fed_m for place in one.way.places) if one.way else 0.0
        if one.line.slips is not None and fed > _LEAST_M:
            device = catalogue().devices[one.line.slips].name
            yield SpanSlips(level="note", about=one.about, key=one.line.id, line=one.line.id, device=device, fed_m=fed)
