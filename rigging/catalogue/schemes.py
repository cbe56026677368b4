"""Schemes of anchors: how legs come together in one working point, a file each. Nothing else knows one by name."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rigging.quantities.ranges import Strict

Made = Literal["point", "front", "line", "stands"]


class SchemeSpot(Strict):
    """Something of a scheme's drawing, across and up."""

    kind: Literal["anchor", "block", "load"]
    x_m: float
    y_m: float


class AnchorScheme(Strict):
    """A scheme: its name, how many legs it may have, what it is and what to look at.

    `made`: all legs on one point; the first on the point, its feature tied back by the others; a line between two ends; what stands on feet, with guys.
    `slides`: legs share one cord until a knot locks it. `goes`: each leg is asked to go by itself. `gathers`: bights meet in one connector, so that angles
    between them matter; `one_way`: tied to length for one direction. `tight`: every leg is to be tight before the load; `propped`: a pole may hold its point
    up. `usual`: taken where nobody chose. `minutes`: what of the catalogue's durations building it takes. `spots` and `laid` (kind, through which spots)
    are how it is drawn: from above, the pull to the right, or from the side.
    """

    id: str
    name: str
    legs: list[int]
    made: Made = "point"
    slides: Literal["never", "unless-locked"] = "never"
    goes: bool = True
    gathers: bool = False
    one_way: bool = False
    tight: bool = False
    propped: bool = False
    usual: bool = False
    minutes: str = "anchor-gathered"
    what: str
    look: str
    spots: dict[str, SchemeSpot]
    laid: list[Annotated[list[str], Field(min_length=3)]]

    @property
    def counts(self) -> str:
        """How many legs, in words."""
        least, most = self.legs[0], self.legs[-1]
        if least == most:
            return f"{least} leg{'s' if least > 1 else ''}"
        every = len(self.legs) == most - least + 1
        return f"{least} to {most} legs" if every else f"{' or '.join(map(str, self.legs))} legs"
