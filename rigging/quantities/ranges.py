"""Low, expected, high: no friction, grip or strength is one number."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import AfterValidator, BaseModel, ConfigDict


class Strict(BaseModel):
    """A value of the document or the catalogue: immutable, and unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, defer_build=True)


def flat(levels: int) -> AfterValidator:
    """For what may be anything: lists and tables in it stand no deeper in one another than this, or it is refused."""

    def checked(value: Any) -> Any:
        if _deeper(value, levels):
            raise ValueError(f"lists or tables stand in one another more than {levels} deep; give it flatter")
        return value

    return AfterValidator(checked)


def _deeper(value: Any, levels: int) -> bool:
    if not isinstance(value, dict | list):
        return False
    rows = value.values() if isinstance(value, dict) else value
    return levels == 0 or any(_deeper(one, levels - 1) for one in rows)


@dataclass(frozen=True, slots=True)
class Range:
    """A quantity known between `low` and `high`, most likely near `expected`."""

    __pydantic_config__ = ConfigDict(extra="forbid", allow_inf_nan=False)

    low: float
    expected: float
    high: float

    def __post_init__(self) -> None:
        if not self.low <= self.expected <= self.high:
            raise ValueError(
                f"low {self.low:g}, expected {self.expected:g}, high {self.high:g} are out of order; "
                "low ≤ expected ≤ high"
            )

    def map(self, rule: Callable[[float], float]) -> Range:
        """The range of a monotonic `rule` of this quantity, rising or falling."""
        first, last = rule(self.low), rule(self.high)
        return Range(low=min(first, last), expected=rule(self.expected), high=max(first, last))


def exactly(value: float) -> Range:
    """A quantity taken as known."""
    return Range(low=value, expected=value, high=value)


def times(*parts: Range) -> Range:
    """Product of ranges of positive quantities, lowest by lowest and highest by highest."""
    return Range(
        low=math.prod(one.low for one in parts),
        expected=math.prod(one.expected for one in parts),
        high=math.prod(one.high for one in parts),
    )


def added(*parts: Range) -> Range:
    """Sum of ranges, each anywhere in its own."""
    return Range(sum(one.low for one in parts), sum(one.expected for one in parts), sum(one.high for one in parts))


def spanning(low: float, expected: float, high: float) -> Range:
    """The range over three cases, whichever of them turns out lowest or highest."""
    return Range(low=min(low, expected, high), expected=expected, high=max(low, expected, high))
