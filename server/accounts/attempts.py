"""How often somebody has tried to get in: counted before anything is checked, so that many at once are many."""

import threading
import time
from collections import defaultdict, deque

from ninja.errors import HttpError

WITHIN_S = 600.0
OF_A_NAME, OF_AN_ADDRESS = 10, 60

_lock = threading.Lock()
_tried: "defaultdict[str, deque[float]]" = defaultdict(deque)
_refused: dict[str, float] = {}


def count(address: str, name: str | None = None) -> None:
    """One more attempt from an address, on a name from there if it is on one.

    Raises
    ------
    HttpError
        429, if there were too many in the last ten minutes.
    """
    now = time.monotonic()
    with _lock:
        for key in [one for one, times in _tried.items() if now - times[-1] > WITHIN_S]:
            del _tried[key]
        keys = {f"address {address}": OF_AN_ADDRESS} | (
            {f"name {name} {address}": OF_A_NAME} if name is not None else {}
        )
        for key, most in keys.items():
            times = _tried[key]
            while times and now - times[0] > WITHIN_S:
                times.popleft()
            if len(times) >= most:
                raise HttpError(429, "too many attempts from here: try again in ten minutes")
            times.append(now)


def is_first_refusal(address: str, name: str) -> bool:
    """Whether nobody has been told of it in the last ten minutes: one who goes on trying is one line, not thousands."""
    now, key = time.monotonic(), f"{name} {address}"
    with _lock:
        for one in [one for one, at in _refused.items() if now - at > WITHIN_S]:
            del _refused[one]
        if key in _refused:
            return False
        _refused[key] = now
        return True


def came_in(address: str, name: str) -> None:
    """Whoever came in by their own name and password had every right to try."""
    with _lock:
        tried = _tried.pop(f"name {name} {address}", None)
        of_address = _tried.get(f"address {address}")
        for _ in range(min(len(tried or ()), len(of_address or ()))):
            of_address.pop()  # type: ignore[union-attr]
        if of_address is not None and not of_address:
            del _tried[f"address {address}"]


def forget() -> None:
    with _lock:
        _tried.clear()
        _refused.clear()
