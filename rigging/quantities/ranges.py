"""Low, expected, high: no friction, grip or strength is one number."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, GetCoreSchemaHandler
from pydantic import Strict as StrictNumber
from pydantic_core import CoreSchema, PydanticCustomError, core_schema


class Strict(BaseModel):
    """A value of the document or the catalogue: immutable, unknown fields are refused, and a number is a number: neither `true` nor a text."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, defer_build=True)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        found = handler(source)
        _numbers_as_they_are(found)
        return found


def _numbers_as_they_are(schema: Any) -> None:
    """Every number and truth of a schema taken as it is. A whole number may be written 2.0, as JSON knows no difference."""
    if isinstance(schema, list | tuple):
        for one in schema:
            _numbers_as_they_are(one)
        return
    if not isinstance(schema, dict):
        return
    kind = schema.get("type")
    if kind in ("float", "bool"):
        schema["strict"] = True
    elif kind == "int" and not schema.get("strict"):
        inner = core_schema.no_info_before_validator_function(_whole, {**schema})
        schema.clear()
        schema.update(inner)
        return
    for one in schema.values():
        _numbers_as_they_are(one)


def _whole(value: Any) -> Any:
    if isinstance(value, bool | str | bytes):
        raise PydanticCustomError("int_parsing", "input should be a whole number")
    return value


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

    low: Annotated[float, StrictNumber()]
    expected: Annotated[float, StrictNumber()]
    high: Annotated[float, StrictNumber()]

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
