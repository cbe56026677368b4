"""Answers kept: what is asked again of the same document is told again, and not worked out."""

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from typing import Generic, TypeVar

from pydantic import BaseModel

from core import engine
from rigging.document import Plan as Document

# What no answer speaks of.
_UNSAID = {"title", "place"}


def content_of(document: Document) -> str:
    """A hash of what a document says, but for the fields that do not count."""
    return hashlib.sha256(document.model_dump_json(exclude=_UNSAID).encode()).hexdigest()


T = TypeVar("T")


class Answers(Generic[T]):
    """Answers by their question, the longest unasked forgotten first; who asks what is being worked out waits for it. `most` of them are
    kept, each counting for its `size`."""

    def __init__(self, most: int, size: Callable[[T], int]):
        self.most, self.size, self._taken = most, size, 0
        self._kept: OrderedDict[str, Future[T]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, question: str, work: Callable[[], T]) -> T:
        """The answer to a question, worked out where it is not kept. A refusal is not kept."""
        with self._lock:
            asked = self._kept.get(question)
            mine = asked is None
            if asked is None:
                asked = self._kept[question] = Future()
            self._kept.move_to_end(question)
        if mine:
            self._work(question, asked, work)
        return asked.result()

    def forget(self) -> None:
        with self._lock:
            self._kept.clear()
            self._taken = 0

    def _work(self, question: str, asked: "Future[T]", work: Callable[[], T]) -> None:
        try:
            asked.set_result(work())
        except BaseException as error:
            with self._lock:
                self._kept.pop(question, None)
            asked.set_exception(error)
            return
        with self._lock:
            self._taken += self.size(asked.result())
            while self._taken > self.most and len(self._kept) > 1:
                oldest = next(iter(self._kept.values()))
                if not oldest.done():
                    break
                self._kept.popitem(last=False)
                self._taken -= self.size(oldest.result())


answers: Answers[bytes] = Answers(48_000_000, len)


def told_once(question: str, doing: str, report: Callable[..., BaseModel], *given: object) -> bytes:
    """A report as it is sent, worked out once for all who ask the same; known by the id of whoever waits for it."""
    with asked_as(doing, question):
        return answers.of(question, lambda: engine.ask_long(engine.told, report, *given, question=question))


# By the id that whoever asks gave it: the question that is being answered. So many at a time; the rest go untold.
_asked: dict[str, str] = {}
_MOST_ASKED = 500


@contextmanager
def asked_as(id: str, question: str) -> Iterator[None]:
    """While a question is answered it is known by an id of whoever asks."""
    known = bool(id) and len(id) <= 36 and len(_asked) < _MOST_ASKED and id not in _asked
    if known:
        _asked[id] = question
    try:
        yield
    finally:
        if known:
            _asked.pop(id, None)


def question_of(id: str) -> str:
    """The question that is being answered under an id; none where there is none."""
    return _asked.get(id, "")
