"""One writer after the other, in one order: whoever writes waits here first, and only then for the database, which takes one at a time. Who
waits in turn waits less than who tries again and again."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction

_one = threading.RLock()


@contextmanager
def writing() -> Iterator[None]:
    """A transaction of the only writer in this process.

    Whoever took the database first and this lock after it would wait for somebody who does it the other way round.
    """
    with _one, transaction.atomic():
        yield
