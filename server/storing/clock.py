"""What time it is: now, or the moment of a story that is being told."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime

from django.utils import timezone

_told: ContextVar[datetime | None] = ContextVar("told", default=None)


def now() -> datetime:
    return _told.get() or timezone.now()


@contextmanager
def told_at(moment: datetime) -> Iterator[None]:
    """Within it, what is written was written at that moment; kept in UTC, as what is sealed is."""
    before = _told.set(moment.astimezone(UTC))
    try:
        yield
    finally:
        _told.reset(before)
