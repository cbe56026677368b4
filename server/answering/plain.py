"""Cells of a table that a spreadsheet takes for what they say, and not for a formula."""

_BEGINS = ("=", "+", "-", "@", "\t", "\r")


def plain(cell: object) -> object:
    """A text that would begin a formula, with an apostrophe before it; numbers as they are."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_BEGINS) else cell
