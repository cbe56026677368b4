"""What a knot keeps, by how it is pulled and in what it is tied."""

from __future__ import annotations

from typing import Literal

from rigging.catalogue import Knot, catalogue
from rigging.quantities.ranges import Range, times

Pulled = Literal["loop", "along", "apart", "bend"]


def in_line(knot: Knot) -> bool:
    """Whether a knot may be pulled along its rope."""
    return knot.bend or knot.along is not None


def knot_keeps(knot: Knot, slick: bool, pulled: Pulled = "loop") -> tuple[Range, str]:
    """Share of the strength that a knot keeps, and its source.

    Less along the line where it is not made for that; in slick cord as much less than others as it keeps less than a
    figure-eight in rope.
    """
    tying = catalogue().tying
    number = pulled if pulled in ("along", "apart") and getattr(knot, pulled) is not None else "keeps"
    keeps, source = getattr(knot, number), knot.origin(number)
    if pulled == "along" and not in_line(knot):
        keeps, source = times(keeps, tying.across_keeps), "out-of-line"
    if not slick:
        return keeps, source
    eight = catalogue().knots["figure-eight-loop"].keeps
    beside = Range(keeps.low / eight.high, keeps.expected / eight.expected, keeps.high / eight.low)
    alone = knot.id == "figure-eight-loop" and pulled != "along"
    shares = tying.slick_keeps if alone else times(tying.slick_keeps, beside)
    return shares.map(lambda kept: min(1.0, kept)), "slick-knots-each"


def slick_runs_n(knot: Knot, thickness_m: float) -> Range:
    """Where a knot in slick cord runs, with nothing that stops it."""
    tying = catalogue().tying
    usual = tying.slick_thin_slips_n if thickness_m <= tying.slick_thin_m else tying.slick_slips_n
    return times(usual, knot.slick_runs)
