"""What a team's own pull tests say of a hitch, a knot or a device, as it was in them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from rigging.catalogue import catalogue
from rigging.catalogue.knots import Pulled
from rigging.document.site import Condition
from rigging.document.words import CordId, RopeKindId
from rigging.quantities.ranges import Range, Strict

# What was pulled, of which kind, on which rope and how many of it, with which cord and wraps, pulled how, wet or not, glazed.
Setup = tuple[str, str, str, int, str | None, int | None, str | None, str, bool]
Force = Annotated[float, Field(gt=0, le=200_000)]
_TABLES = {"hitch": "hitches", "knot": "knots", "device": "devices"}


class AsPulled(Strict):
    """A hitch, a knot or a device as it was pulled: on which rope, how many of them it went round, wet or not, glazed; a hitch with its cord and
    wraps, a knot by how it was pulled."""

    of: Literal["hitch", "knot", "device"]
    kind: Annotated[str, Field(max_length=60)]
    rope: RopeKindId
    ropes: Literal[1, 2] = 1
    cord: CordId | None = None
    wraps: Annotated[int, Field(ge=1, le=12)] | None = None
    pulled: Pulled | None = None
    state: Condition = "dry"
    glazed: bool = False

    @model_validator(mode="after")
    def _whole(self) -> AsPulled:
        if self.kind not in getattr(catalogue(), _TABLES[self.of]):
            raise ValueError(f"there is no {self.of} {self.kind!r}; one of the catalogue's {_TABLES[self.of]}")
        if self.tied and self.cord is None:
            raise ValueError("what cord it was tied with is not said; a hitch holds by its cord: name it")
        if self.tied and self.wraps is None:
            raise ValueError("how many wraps it had is not said; a hitch holds by its wraps: count them")
        if not self.tied and (self.cord or self.wraps):
            raise ValueError("it is not tied of cord; leave cord and wraps out")
        if (self.of == "knot") != (self.pulled is not None):
            raise ValueError(
                "how it was pulled belongs to a knot, and to nothing else; on its loop, along, apart or as a bend"
            )
        return self

    @property
    def tied(self) -> bool:
        """Whether it is tied of cord."""
        return self.of == "hitch" and catalogue().hitches[self.kind].form == "hitch"

    @property
    def setup(self) -> Setup:
        """How it was pulled, without what came of it."""
        return self.of, self.kind, self.rope, self.ropes, self.cord, self.wraps, self.pulled, self.state, self.glazed


class Tested(AsPulled):
    """Where it slips or breaks by the team's own pull tests, `pulls` of them, taken in place of the catalogue's range."""

    gives: Literal["slips", "breaks"]
    low_n: Force
    expected_n: Force
    high_n: Force
    pulls: Annotated[int, Field(ge=1, le=100_000)]

    @model_validator(mode="after")
    def _in_order(self) -> Tested:
        if not self.low_n <= self.expected_n <= self.high_n:
            raise ValueError("low, expected and high are out of order; low ≤ expected ≤ high")
        return self

    @property
    def range_n(self) -> Range:
        return Range(self.low_n, self.expected_n, self.high_n)
