"""A duty of the operation that there are too few people for."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.study.whole import Study


class TooFewPeople(Found, topic="ground"):
    duty: str
    steps: int
    needed: int
    there: int


def find_over(study: Study) -> Iterator[tuple[TooFewPeople, None]]:
    for one in study.operation.lacks if study.operation else ():
        yield TooFewPeople(
            level="look", about="hand", key=one.duty, duty=one.duty, steps=len(one.keys), needed=one.needed, there=one.there
        ), None  # fmt: skip
