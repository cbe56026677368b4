"""One writer after the other, in one order: whoever writes waits here first, and only then for the database, which takes one at a time. Who
waits in turn waits less than who tries again and again."""

import itertools
import threading
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import transaction

_one = threading.RLock()
# Plans written to in this turn, of one writer after the other.
_touched: set[uuid.UUID] = set()
_deep = 0


# What is done for each plan that was written to, before that is settled.
before_settling: list[Callable[[uuid.UUID], None]] = []


@contextmanager
def writing() -> Iterator[None]:
    """A transaction of the only writer in this process.

    Whoever took the database first and this lock after it would wait for somebody who does it the other way round.
    """
    global _deep
    with _one, transaction.atomic():
        _deep += 1
        try:
            yield
            if _deep == 1:
                for plan, done in itertools.product(_touched, before_settling):
                    done(plan)
        finally:
            _deep -= 1
            if _deep == 0:
                _touched.clear()


def touched(plan: uuid.UUID) -> None:
    """A plan is written to in this turn."""
    _touched.add(plan)
