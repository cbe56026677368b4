"""Cells of a table that a spreadsheet takes for what they say, and not for a formula; and the mark by which it knows their letters."""

from collections.abc import Iterator

_BEGINS = ("=", "+", "-", "@", "\t", "\r")


def plain(cell: object) -> object:
    """A text that would begin a formula, with an apostrophe before it; numbers as they are."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_BEGINS) else cell


def with_mark(rows: Iterator[str], mark: bool) -> Iterator[str]:
    """A table's rows with a byte order mark before them, where that is wished."""
    if mark:
        yield "\ufeff"
    yield from rows
