"""An operation that can not be composed at all: nobody knows then what of it can be done."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.quantities.faults import Fault
from rigging.study.whole import Study


class Uncomposed(Found, topic="ground"):
    fault: Fault


def find_over(study: Study) -> Iterator[tuple[Uncomposed, None]]:
    for fault in study.uncomposed:
        yield Uncomposed(level="stop", about="load", key=fault.path, fault=fault), None
