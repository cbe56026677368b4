"""One writer after the other, in one order: whoever writes waits here first, and only then for the database, which takes one at a time. Who
waits in turn waits less than who tries again and again."""

import threading
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from django.db import transaction

_one = threading.RLock()


class _Turn(threading.local):
    """What the thread whose turn it is has saved last of each part of which plans; None in every other."""

    saved: dict[uuid.UUID, dict[str, Any]] | None = None


_turn = _Turn()

# What is done for each plan that was written to, told the last of each part of it, before that is settled.
before_settling: list[Callable[[uuid.UUID, dict[str, Any]], None]] = []


@contextmanager
def writing() -> Iterator[None]:
    """A transaction of the only writer in this process.

    Whoever took the database first and this lock after it would wait for somebody who does it the other way round.
    """
    with _one, transaction.atomic():
        if _turn.saved is not None:
            yield
            return
        _turn.saved = {}
        try:
            yield
            for plan, saved in _turn.saved.items():
                for done in before_settling:
                    done(plan, saved)
        finally:
            _turn.saved = None


def touched(plan: uuid.UUID, part: str, saved: Any) -> None:
    """Something of a plan is saved, in this turn if it is one."""
    if _turn.saved is not None:
        _turn.saved.setdefault(plan, {})[part] = saved
