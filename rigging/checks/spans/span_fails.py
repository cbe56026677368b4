"""A tension line that can not be laid out."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.spans.crossed import crossed
from rigging.quantities.faults import Fault
from rigging.study.place import AtPlace


class SpanFails(Found, topic="margins"):
    line: str
    fault: Fault


def find(here: AtPlace) -> Iterator[SpanFails]:
    for one in crossed(here):
        if one.fault is not None:
            yield SpanFails(level="stop", about=one.about, key=one.line.id, line=one.line.id, fault=one.fault)
