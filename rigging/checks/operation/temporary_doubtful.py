"""An anchor made in passing on which more may come than it holds."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.procedures.temporary import Temporary, temporaries
from rigging.quantities.ranges import Range
from rigging.study.whole import Study


class TemporaryDoubtful(Found, topic="ground"):
    kind_of: str
    section: str
    bears_n: Range
    holds_n: Range
    there: int


def find_over(study: Study) -> Iterator[tuple[TemporaryDoubtful, None]]:
    """Each once, where most comes on it."""
    worst: dict[str, tuple[Temporary, str]] = {}
    for section in study.operation.sections if study.operation else ():
        for step in section.steps:
            for one in temporaries(step):
                known = worst.get(one.id)
                if one.asks and (known is None or one.bears_n.high > known[0].bears_n.high):
                    worst[one.id] = one, section.name
    for id, (one, name) in worst.items():
        yield TemporaryDoubtful(
            level="stop" if one.surely_goes else "look", about="load", key=id, kind_of=one.kind, section=name, bears_n=one.bears_n, holds_n=one.holds_n,
            there=one.there,
        ), None  # fmt: skip
