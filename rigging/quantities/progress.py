"""How far something that takes long has come, told to whoever waits for it."""

from collections.abc import Callable

# So much is done, of so much in all.
Tell = Callable[[int, int], None]


def silent(done: int, of: int) -> None:
    """Nobody waits."""
