"""Word to every open device that a plan has something new: within this process, as soon as it is kept."""

import threading
import uuid
from collections import deque
from typing import Any

_news = threading.Condition()
_count: dict[uuid.UUID, int] = {}
# What is told once and not kept here: how much was said of a plan so far, and the last of it.
_said: dict[uuid.UUID, tuple[int, deque[tuple[int, str, Any]]]] = {}
_LAST = 400


def tell(plan: uuid.UUID) -> None:
    """Something of this plan was kept."""
    with _news:
        _count[plan] = _count.get(plan, 0) + 1
        _news.notify_all()


def count(plan: uuid.UUID) -> int:
    """How much has been told of a plan since the server began."""
    with _news:
        return _count.get(plan, 0)


def say(plan: uuid.UUID, event: str, data: Any) -> None:
    """Something for whoever listens now; who comes later reads it elsewhere."""
    with _news:
        number, rows = _said.get(plan, (0, deque(maxlen=_LAST)))
        rows.append((number + 1, event, data))
        _said[plan] = (number + 1, rows)
        _news.notify_all()


def said(plan: uuid.UUID, after: int | None = None) -> tuple[int, list[tuple[str, Any]]]:
    """How much has been said of a plan, and what after so much (None: nothing yet)."""
    with _news:
        number, rows = _said.get(plan, (0, deque()))
        return number, [] if after is None else [(event, data) for at, event, data in rows if at > after]


def wait(plan: uuid.UUID, seen: int, heard: int, seconds: float) -> int:
    """Until more than `seen` has been told of a plan or more than `heard` said, or the time is up; how much then is told."""
    with _news:
        _news.wait_for(lambda: _count.get(plan, 0) > seen or _said.get(plan, (0,))[0] > heard, seconds)
        return _count.get(plan, 0)
