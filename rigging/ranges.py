"""Low, expected, high: no friction, grip or strength is one number."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

Finite = Annotated[float, Field(allow_inf_nan=False)]


class Strict(BaseModel):
    """A value of the document or the catalogue: immutable, and unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Range(Strict):
    """A quantity known between `low` and `high`, most likely near `expected`."""

    low: float
    expected: float
    high: float

    @model_validator(mode="after")
    def _ordered(self) -> Range:
        if not self.low <= self.expected <= self.high:
            raise ValueError(
                f"low {self.low:g}, expected {self.expected:g}, high {self.high:g} are out of order; "
                "low ≤ expected ≤ high"
            )
        return self

    def map(self, rule: Callable[[float], float]) -> Range:
        """The range of a monotonic `rule` of this quantity, rising or falling."""
        first, last = rule(self.low), rule(self.high)
        return Range.model_construct(low=min(first, last), expected=rule(self.expected), high=max(first, last))

    def times(self, factor: float) -> Range:
        return self.map(lambda value: value * factor)


def exactly(value: float) -> Range:
    """A quantity taken as known."""
    return Range.model_construct(low=value, expected=value, high=value)


def spanning(low: float, expected: float, high: float) -> Range:
    """The range over three cases, whichever of them turns out lowest or highest."""
    return Range.model_construct(low=min(low, expected, high), expected=expected, high=max(low, expected, high))
