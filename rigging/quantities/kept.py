"""Answers kept by what was asked: one place of the way after another, and one edit of something else, ask the same again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import lru_cache, wraps
from typing import Any, TypeVar, TypeVarTuple

Given = TypeVarTuple("Given")
T = TypeVar("T")
_keeping: list[Any] = []


class _Question:
    """What a function is given, known by every number of it: things that can not be compared say theirs as `every_number`."""

    def __init__(self, given: tuple[Any, ...]):
        self.given = given
        self._numbers = tuple(getattr(one, "every_number", one) for one in given)
        self._hash = hash(self._numbers)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Question) and self._numbers == other._numbers


def kept(count: int) -> Callable[[Callable[[*Given], T]], Callable[[*Given], T]]:
    """For a function of nothing but what it is given: its last `count` answers, kept. Nobody may change them."""

    def keeping(work: Callable[[*Given], T]) -> Callable[[*Given], T]:
        @lru_cache(maxsize=count)
        def answer(asked: _Question) -> T:
            return work(*asked.given)

        @wraps(work)
        def ask(*given: *Given) -> T:
            return answer(_Question(given))

        _keeping.append(answer)
        return ask

    return keeping


@contextmanager
def forgotten() -> Iterator[None]:
    """Nothing is kept from before, nor of what is asked meanwhile."""
    for one in _keeping:
        one.cache_clear()
    yield
    for one in _keeping:
        one.cache_clear()
