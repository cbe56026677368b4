"""The engine in processes of its own, begun by the server, so that no question to it keeps anybody from being heard. Where none were begun, in a
command or a test, it works where it is asked."""

import inspect
import multiprocessing
import os
import signal
import threading
from collections import deque
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.process import BaseProcess
from typing import Any, TypeVar

from pydantic import BaseModel

from rigging.quantities.progress import Tell

T = TypeVar("T")

# What the processes give way to: the threads that answer, and to those a STOP.
_NICE = 5
# Read in once, before the first question, by a process that those of the engine are forked from: no thread of the server is in it. What solves is among
# it, which the engine by itself reads in only where it is asked for: it takes longer than a first answer.
_READ_IN = [
    "rigging.telling.check.sheet", "rigging.telling.work.operation", "rigging.mechanics.descent", "rigging.mechanics.cones", "scipy.optimize",
]  # fmt: skip
# So many long works can tell how far they have come at a time; each in two numbers of its own, that nobody locks.
_TELLING = 32


class _Engine:
    def __init__(self, processes: int):
        self.processes = processes
        # One process is always there for what a finger waits for.
        self.long = threading.BoundedSemaphore(max(1, processes - 1))
        self.lock = threading.Lock()
        self.forked = multiprocessing.get_context("forkserver")
        self.forked.set_forkserver_preload(_READ_IN)
        self.told = self.forked.RawArray("i", 2 * _TELLING)
        self.free = deque(range(_TELLING))
        self.doing: dict[str, int] = {}
        self.pool = self._made()

    def _made(self) -> ProcessPoolExecutor:
        return ProcessPoolExecutor(self.processes, mp_context=self.forked, initializer=_at_work, initargs=(self.told,))

    def ask(self, work: Callable[..., T], *given: object) -> T:
        pool = self.pool
        try:
            return pool.submit(work, *given).result()
        except BrokenProcessPool:
            # A process was killed, by a machine that is short of memory for instance: made anew, and asked once more.
            with self.lock:
                if self.pool is pool:
                    self.pool = self._made()
            return self.pool.submit(work, *given).result()

    def ask_telling(self, question: str, work: Callable[..., T], *given: object) -> T:
        """The same of a work that tells how far it has come, found under its question meanwhile."""
        with self.lock:
            place = self.free.popleft() if self.free else None
            if place is not None:
                self.told[2 * place] = self.told[2 * place + 1] = 0
                self.doing[question] = place
        try:
            answer: T = self.ask(_telling, place, work, *given)
            return answer
        finally:
            if place is not None:
                with self.lock:
                    self.doing.pop(question, None)
                    self.free.append(place)


_engine: _Engine | None = None


def begin(processes: int | None = None) -> None:
    """Processes for the engine, as many as there are processors and at least two, warm before they are asked."""
    global _engine
    _engine = _Engine(processes or max(2, os.cpu_count() or 2))
    # Beside what the server begins with: who asks before they are warm waits for them.
    threading.Thread(target=_engine.pool.submit, args=(os.getpid,), daemon=True).start()


def ask(work: Callable[..., T], *given: object) -> T:
    """The answer of a function that stands in a module, to what it is given; what it refuses is refused here."""
    return work(*given) if _engine is None else _engine.ask(work, *given)


def ask_long(work: Callable[..., T], *given: object, question: str = "") -> T:
    """The same of something that takes long: never in all processes at once. How far it has come is found under its `question`."""
    if _engine is None:
        return work(*given)
    with _engine.long:
        return _engine.ask_telling(question, work, *given) if question else _engine.ask(work, *given)


def come_to(question: str) -> tuple[int, int]:
    """How much of how much is done of a question that is being worked out; nothing of nothing where it is not, or does not tell."""
    place = _engine.doing.get(question) if _engine else None
    return (0, 0) if _engine is None or place is None else (_engine.told[2 * place], _engine.told[2 * place + 1])


def told(report: Callable[..., BaseModel], *given: object, tell: Tell | None = None) -> bytes:
    """A report as it is sent: valid by construction, it is not read in again."""
    more: dict[str, Any] = {"tell": tell} if tell and "tell" in inspect.signature(report).parameters else {}
    return report(*given, **more).model_dump_json().encode()


# In a process of the engine: the numbers that the server reads.
_numbers: Any = None


def _telling(place: int | None, work: Callable[..., T], *given: object) -> T:
    """A work done by a process of the engine, telling in its two numbers how far it has come."""

    def tell(done: int, of: int) -> None:
        if place is not None:
            _numbers[2 * place], _numbers[2 * place + 1] = done, of

    return work(*given, tell=tell)


def _with(server: BaseProcess) -> None:
    server.join()
    os._exit(0)


def _at_work(numbers: Any) -> None:
    """A process that gives way, leaves the interrupt to the server, and ends when the server does, however that ends."""
    global _numbers
    _numbers = numbers
    os.nice(_NICE)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    server = multiprocessing.parent_process()
    assert server is not None
    threading.Thread(target=_with, args=(server,), daemon=True).start()
