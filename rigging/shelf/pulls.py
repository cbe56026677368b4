"""A team's own pull tests, and the ranges that follow from them beside the catalogue's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from rigging.catalogue import catalogue
from rigging.document import AsPulled, HitchMade, Rope, Tested
from rigging.document.tested import Force
from rigging.lines.tied import device_strength_n, hitch_hold, knot_holds
from rigging.mechanics.next_pull import next_of
from rigging.quantities.ranges import Range

Gives = Literal["slips", "breaks"]
# Fewer say too little to be taken in place of the catalogue.
LEAST = 3


class PullMade(AsPulled):
    """One pull until something gave, or until it was stopped (`held`): at what force, and what it looked like."""

    gave: Literal["slipped", "broke", "held"]
    force_n: Force
    looked: Annotated[str, Field(max_length=2000)] = ""


@dataclass(frozen=True)
class OwnRange:
    """Where the next one pulled so gives, by `counted` pulls of which `seen` gave so: by the catalogue (`before_n`; None: it has nothing) and by
    the team's own (None: nothing gave so). `odd` are the places, among all pulls, of those that stand apart from the others. `astray`: the team's
    own middle lies outside the catalogue's range."""

    as_pulled: AsPulled
    gives: Gives
    before_n: Range | None
    own_n: Range | None
    seen: int
    counted: int
    odd: tuple[int, ...]

    @property
    def astray(self) -> bool:
        own, before = self.own_n, self.before_n
        return bool(own and before) and not before.low <= own.expected <= before.high  # type: ignore[union-attr]

    @property
    def tested(self) -> Tested | None:
        """What a plan would take over; None where there are too few."""
        if self.own_n is None or self.seen < LEAST:
            return None
        own = {
            "low_n": round(self.own_n.low, 1),
            "expected_n": round(self.own_n.expected, 1),
            "high_n": round(self.own_n.high, 1),
        }
        return Tested(**self.as_pulled.model_dump(), gives=self.gives, pulls=self.counted, **own)


def own_ranges(pulls: Sequence[PullMade]) -> list[OwnRange]:
    """The ranges of everything that was pulled, as it was pulled, in the order in which it first was.

    What broke has not slipped, and what slipped has not broken: either says of the other only that it would have come later; what was held says
    that of both.
    """
    found: list[OwnRange] = []
    for setup in dict.fromkeys(one.setup for one in pulls):
        mine = [(number, one) for number, one in enumerate(pulls) if one.setup == setup]
        as_pulled = AsPulled(**mine[0][1].model_dump(include=set(AsPulled.model_fields)))
        found += [_range(as_pulled, gives, mine) for gives in _GAVE if any(one.gave == _GAVE[gives] for _, one in mine)]
    return found


_GAVE: dict[Gives, str] = {"slips": "slipped", "breaks": "broke"}


def _range(as_pulled: AsPulled, gives: Gives, mine: list[tuple[int, PullMade]]) -> OwnRange:
    at = [(number, one.force_n) for number, one in mine if one.gave == _GAVE[gives]]
    beyond = [(number, one.force_n) for number, one in mine if one.gave != _GAVE[gives]]
    before = by_catalogue(as_pulled, gives)
    believed = before or _nothing_believed([force for _, force in at])
    told = next_of(believed, [force for _, force in at], [force for _, force in beyond])
    places = [number for number, _ in (*at, *beyond)]
    return OwnRange(as_pulled, gives, before, told.range, len(at), len(mine), tuple(places[one] for one in told.odd))


def _nothing_believed(at: list[float]) -> Range:
    """Where the catalogue says nothing: anything within a factor of four of what was seen."""
    middle = sorted(at)[len(at) // 2]
    return Range(middle / 4, middle, middle * 4)


def by_catalogue(one: AsPulled, gives: Gives) -> Range | None:
    """Where the catalogue has it give, as it was pulled; None where it has nothing."""
    rope, known = Rope(id="pulled", kind=one.rope, length_m=10, state=one.state, glazed=one.glazed), catalogue()
    if one.of == "device":
        device = known.devices[one.kind]
        return device_strength_n(device, rope) if device.gives == gives else None
    if one.of == "knot":
        assert one.pulled is not None
        knot = knot_holds(known.knots[one.kind], rope, one.pulled)
        return knot.slips_n if gives == "slips" else knot.breaks_n
    hitch, made = (
        known.hitches[one.kind],
        HitchMade(cord=one.cord, wraps=one.wraps, glazed=one.glazed) if one.tied else None,
    )
    held = hitch_hold(hitch, made, rope)
    # Round two ropes a hitch does not slip.
    return (held.slip_n if one.ropes == 1 else None) if gives == "slips" else held.breaks_n
