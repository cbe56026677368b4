"""Numbers as people write them: which sign is the decimal sign is told over the whole of a file, or asked, and never guessed.

`10,3` has a decimal comma and `1,234,567` has not; `1,234` by itself may be either. A sign is the file's if every number in it can be
read with it, and it is known to be if some number can be read with no other."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

DECIMALS = {".": "point", ",": "comma"}
# Between groups of three: a blank of any width, an apostrophe of either kind.
_BLANK = " \u00a0\u2009\u202f'\u2019"
_SHAPE = {
    decimal: re.compile(
        rf"[+\-\u2212]?(?:(?:[1-9]\d{{0,2}}(?:(?P<s>[{_BLANK}{other}])\d{{3}}(?:(?P=s)\d{{3}})*)|\d+)(?:{re.escape(decimal)}\d*)?"
        rf"|{re.escape(decimal)}\d+)(?:[eE][+\-\u2212]?\d{{1,3}})?",
        re.ASCII,
    )
    for decimal, other in ((".", ","), (",", "."))
}
_WITH_UNIT = re.compile(r"(.*\d[.,]?)\s*([A-Za-z°µ%][^\d]*)", re.S)
_DROPPED = str.maketrans({**dict.fromkeys(_BLANK), "\u2212": "-"})


def readings_of(text: str) -> frozenset[str]:
    """The decimal signs with which a text is a number: none, one, or both."""
    return frozenset(decimal for decimal, shape in _SHAPE.items() if shape.fullmatch(text))


def looks_like_number(text: str) -> bool:
    return bool(readings_of(text))


def number(text: str, decimal: str) -> float:
    """A text as a number, with that decimal sign.

    Raises
    ------
    ValueError
        If it is none.
    """
    if not _SHAPE[decimal].fullmatch(text):
        raise ValueError(f"{text!r} is not a number with a decimal {DECIMALS[decimal]}")
    other = "," if decimal == "." else "."
    return float(text.translate(_DROPPED).replace(other, "").replace(decimal, "."))


def without_unit(text: str) -> tuple[str, str]:
    """A number with its unit behind it, taken apart: `10.3 kN`."""
    found = _WITH_UNIT.fullmatch(text)
    if found and looks_like_number(found.group(1).strip()):
        return found.group(1).strip(), found.group(2).strip()
    return text, ""


def signs_possible(texts: Iterable[str]) -> frozenset[str]:
    """The decimal signs with which every number among the texts can be read."""
    possible = frozenset(DECIMALS)
    for one in texts:
        read = readings_of(one)
        if read:
            possible &= read
    return possible


def marked(texts: Iterable[str]) -> Iterator[str]:
    """Those numbers in which there is a point or a comma: what is asked where both signs are possible."""
    return (one for one in texts if ("." in one or "," in one) and looks_like_number(one))
