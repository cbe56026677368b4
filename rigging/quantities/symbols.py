"""A symbol of a formula with the value that was put in and where it comes from."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.quantities.ranges import Range


@dataclass(slots=True)
class Symbol:
    """A symbol of the formula with its value and origin (`source`: id in the catalogue's sources)."""

    symbol: str
    meaning: str
    low: float
    expected: float
    high: float
    unit: str
    source: str


def symbol(name: str, meaning: str, value: Range | float, unit: str, source: str) -> Symbol:
    if isinstance(value, Range):
        return Symbol(name, meaning, value.low, value.expected, value.high, unit, source)
    return Symbol(name, meaning, value, value, value, unit, source)
