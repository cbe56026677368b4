"""Texts made fit for where they are written: cells that no spreadsheet takes for a formula, XML without signs that it may not hold."""

from __future__ import annotations

import re

_FORMULA = re.compile(r"'*[=+\-@\t\r]")
_MARKED = re.compile(r"'+[=+\-@\t\r]")
# XML 1.0, production 2: what a document may hold.
_UNFIT = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def cell(text: str) -> str:
    """A text that would begin a formula, with an apostrophe before it."""
    return f"'{text}" if _FORMULA.match(text) else text


def uncelled(text: str) -> str:
    """A cell's text as it was before `cell`."""
    return text[1:] if _MARKED.match(text) else text


def xml_text(text: str) -> str:
    """A text without the signs that no XML may hold."""
    return _UNFIT.sub("", text)
