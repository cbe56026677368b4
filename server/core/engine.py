"""The engine in processes of its own, begun by the server, so that no question to it keeps anybody from being heard. Where none were begun, in a
command or a test, it works where it is asked."""

import multiprocessing
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.process import BaseProcess
from typing import TypeVar

from pydantic import BaseModel

T = TypeVar("T")

# What the processes give way to: the threads that answer, and to those a STOP.
_NICE = 5


class _Engine:
    def __init__(self, processes: int):
        self.processes = processes
        # One process is always there for what a finger waits for.
        self.long = threading.BoundedSemaphore(max(1, processes - 1))
        self.lock = threading.Lock()
        self.pool = self._made()

    def _made(self) -> ProcessPoolExecutor:
        spawned = multiprocessing.get_context("spawn")
        return ProcessPoolExecutor(self.processes, mp_context=spawned, initializer=_at_work)

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


_engine: _Engine | None = None


def begin(processes: int | None = None) -> None:
    """Processes for the engine, as many as there are processors and at least two, warm before they are asked."""
    global _engine
    _engine = _Engine(processes or max(2, os.cpu_count() or 2))
    for _ in range(_engine.processes):
        _engine.pool.submit(os.getpid)


def ask(work: Callable[..., T], *given: object) -> T:
    """The answer of a function that stands in a module, to what it is given; what it refuses is refused here."""
    return work(*given) if _engine is None else _engine.ask(work, *given)


def ask_long(work: Callable[..., T], *given: object) -> T:
    """The same of something that takes long: never in all processes at once."""
    if _engine is None:
        return work(*given)
    with _engine.long:
        return _engine.ask(work, *given)


def told(report: Callable[..., BaseModel], *given: object) -> bytes:
    """A report as it is sent: valid by construction, it is not read in again."""
    return report(*given).model_dump_json().encode()


def _with(server: BaseProcess) -> None:
    server.join()
    os._exit(0)


def _at_work() -> None:
    """A process that gives way, leaves the interrupt to the server, and ends when the server does, however that ends."""
    os.nice(_NICE)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    server = multiprocessing.parent_process()
    assert server is not None
    threading.Thread(target=_with, args=(server,), daemon=True).start()
    # Read in before the first question.
    import rigging.telling.check.sheet
    import rigging.telling.work.operation  # noqa: F401
