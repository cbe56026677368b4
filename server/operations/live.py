"""Word to every open device that a plan has something new. What is written is read once for all who listen to the plan, put in its form once,
and handed to each of them; nobody who listens takes up a thread."""

import asyncio
import threading
import uuid
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field

# How much is kept for a device that is slow to take it; whoever is further behind comes again and reads on from the log.
_KEPT = 4000
_GATHER_S = 0.02


# Where what everybody hears who listens to anything is told: stops.
EVERYWHERE = uuid.UUID(int=0)


@dataclass(frozen=True)
class Piece:
    """Something told of a plan: in its form, and the entry's place in the log if it is one."""

    plan: uuid.UUID
    form: bytes
    sequence: int | None = None


@dataclass(eq=False)
class Channel:
    """What is told of one plan to whoever listens now. `sequence`: the last entry told; `version`: of the run that was told last."""

    plan: uuid.UUID
    sequence: int
    version: tuple[str, int] | None = None
    pieces: deque[Piece] = field(default_factory=lambda: deque(maxlen=_KEPT))
    told: int = 0
    ears: "dict[Ear, None]" = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)
    loop: asyncio.AbstractEventLoop | None = None
    due: bool = False

    def tell(self, *pieces: Piece, at_once: bool = False) -> None:
        with self.lock:
            self.pieces.extend(pieces)
            self.told += len(pieces)
            loop = self.loop
        # A loop that is closed has nobody left who listens.
        if loop is not None and not loop.is_closed():
            loop.call_soon_threadsafe(self._wake if at_once else self._wake_soon)

    def _wake_soon(self) -> None:
        """What comes within a moment wakes everybody once: an entry and the run that it moves."""
        if not self.due:
            self.due = True
            asyncio.get_running_loop().call_later(_GATHER_S, self._wake)

    def _wake(self) -> None:
        self.due = False
        for ear in self.ears:
            ear.news.set()


class Ear:
    """One who listens, to each channel from when it was opened on."""

    def __init__(self) -> None:
        self.news = asyncio.Event()
        self._at: dict[Channel, int] = {}

    def open(self, channel: Channel) -> None:
        with channel.lock:
            channel.loop = asyncio.get_running_loop()
            channel.ears[self] = None
            self._at[channel] = channel.told

    def close(self, channel: Channel) -> None:
        with channel.lock:
            channel.ears.pop(self, None)

    async def hear(self, seconds: float) -> list[Piece] | None:
        """What was told since, at once or within so long; None for one that has fallen too far behind."""
        with suppress(TimeoutError):
            # No task of its own for each wait: hundreds are woken at once.
            async with asyncio.timeout(seconds):
                await self.news.wait()
        self.news.clear()
        heard: list[Piece] = []
        for channel, at in self._at.items():
            with channel.lock:
                behind = channel.told - at
                if behind > len(channel.pieces):
                    return None
                self._at[channel] = channel.told
                heard += list(channel.pieces)[-behind:] if behind else []
        return heard


_channels: dict[uuid.UUID, Channel] = {}
_lock = threading.Lock()
# Entries and stops are read by threads of their own: nothing that is composed or computed stands before them.
_readers = ThreadPoolExecutor(2, thread_name_prefix="live")
_slow = ThreadPoolExecutor(2, thread_name_prefix="live-runs")
_due: set[tuple[str, uuid.UUID]] = set()
# Set by whoever knows how: reads what is new of a channel's plan and tells it.
_news_of: list[tuple[str, ThreadPoolExecutor, Callable[[Channel], None]]] = []


def reads(name: str, quick: bool) -> Callable[[Callable[[Channel], None]], Callable[[Channel], None]]:
    """What reads something of a plan for its channel, whenever something of the plan was kept."""

    def named(read: Callable[[Channel], None]) -> Callable[[Channel], None]:
        _news_of.append((name, _readers if quick else _slow, read))
        return read

    return named


@contextmanager
def listening(ear: Ear, plan: uuid.UUID, newest: int) -> Iterator[None]:
    """An ear open to a plan, whose newest entry is known from before."""
    with _lock:
        channel = _channels.get(plan)
        if channel is None:
            channel = _channels[plan] = Channel(plan, newest)
        ear.open(channel)
    try:
        yield
    finally:
        with _lock:
            ear.close(channel)
            if not channel.ears:
                _channels.pop(plan, None)


def tell(plan: uuid.UUID) -> None:
    """Something of this plan was kept."""
    with _lock:
        channel = _channels.get(plan)
        if channel is None:
            return
        for name, pool, read in _news_of:
            # Told often while it is being read, it is read once more.
            if (name, plan) not in _due:
                _due.add((name, plan))
                pool.submit(_read, name, channel, read)


def _read(name: str, channel: Channel, read: Callable[[Channel], None]) -> None:
    with _lock:
        _due.discard((name, channel.plan))
    read(channel)


def say(plan: uuid.UUID, event: str, data: str, everywhere: bool = False) -> None:
    """Something for whoever listens now, as JSON; who comes later reads it elsewhere. `everywhere`: also for those who listen to other plans."""
    piece = Piece(plan, form_of(event, data))
    with _lock:
        channels = [_channels.get(one) for one in ([EVERYWHERE, plan] if everywhere else [plan])]
    for channel in channels:
        if channel is not None:
            channel.tell(piece, at_once=True)


def form_of(event: str, data: str, id: int | None = None) -> bytes:
    """An event as Server-Sent Events have it."""
    return f"event: {event}\n{f'id: {id}' + chr(10) if id is not None else ''}data: {data}\n\n".encode()
