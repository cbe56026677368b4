"""Word to every open device that a plan has something new: within this process, as soon as it is kept. And one writer after the
other: the database takes one at a time, and who waits in turn waits less than who tries again and again."""

import threading
import uuid

_news = threading.Condition()
writing = threading.RLock()
_count: dict[uuid.UUID, int] = {}


def tell(plan: uuid.UUID) -> None:
    """Something of this plan was kept."""
    with _news:
        _count[plan] = _count.get(plan, 0) + 1
        _news.notify_all()


def count(plan: uuid.UUID) -> int:
    """How much has been told of a plan since the server began."""
    with _news:
        return _count.get(plan, 0)


def wait(plan: uuid.UUID, seen: int, seconds: float) -> int:
    """Until more than `seen` has been told of a plan, or the time is up; how much then has."""
    with _news:
        _news.wait_for(lambda: _count.get(plan, 0) > seen, seconds)
        return _count.get(plan, 0)
