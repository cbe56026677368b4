"""How long the work takes: what moves by its metres, a change-over or a join passed as a whole, shared among its steps, the rest by hand; as a
practised team does it by day, slower in the cold and in the wet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from rigging.catalogue import catalogue
from rigging.document import Anchor, Plan
from rigging.procedures.operation import Planned
from rigging.procedures.run import ProcedureGiven, known
from rigging.quantities.ranges import Range, added, exactly, times
from rigging.site.conditions import slower

_HAND = "step"
Takes = Callable[[str], Range]


def timed(plan: Plan, given: ProcedureGiven, rows: Sequence[Planned]) -> list[Planned]:
    """Steps of one procedure, each with the seconds that it takes the team, and that the catalogue expects of it."""
    # A team's own takes as long as the one in whose place it stands, where it says nothing else.
    ships = known().get(given.id)
    takes = given.takes or (ships.takes if ships else "")
    by_hand = sum(_is_by_hand(one) for one in rows)
    day = slower(plan)

    def seconds(one: Planned, takes_s: Takes) -> Range:
        still = _times(takes_s(takes), 1 / max(1, by_hand)) if takes else takes_s(_HAND)
        return times(day, _seconds(one, still, takes_s))

    return [
        replace(
            one, seconds=seconds(one, plan.takes_s), takes=_kind(one, takes), by_catalogue_s=seconds(one, _by_catalogue).expected
        )
        for one in rows
    ]  # fmt: skip


def _is_by_hand(one: Planned) -> bool:
    return not one.motions and not one.across_m and not one.step.given.takes


def _kind(one: Planned, takes: str) -> str:
    """What of the catalogue's minutes a step is."""
    if one.step.given.takes:
        return one.step.given.takes
    if one.up_m:
        return "haul"
    return "lower" if one.down_m or one.across_m else takes or _HAND


def _by_catalogue(id: str) -> Range:
    return catalogue().minutes[id].takes_s


def _seconds(one: Planned, still: Range, takes_s: Takes) -> Range:
    own = one.step.given.takes
    if own:
        return takes_s(own)
    if not one.motions and not one.across_m:
        return still
    # A pull of some metres lasts as long as its rope; giving the word for it, as a step by hand does at the least.
    through = one.step.hands.ideal if one.step.hands else 1.0
    runs = {"lower": one.down_m + one.across_m, "haul": one.up_m}
    moving = added(*(_times(takes_s(id), far_m * (through if _of_rope(id) else 1.0)) for id, far_m in runs.items()))
    least = takes_s(_HAND).low
    return Range(max(moving.low, least), max(moving.expected, least), max(moving.high, least))


def _of_rope(id: str) -> bool:
    """Whether it is reckoned by the rope through the hands, and not by the way of the load."""
    return catalogue().minutes[id].each == "rope-metre"


def _times(one: Range, count: float) -> Range:
    return times(one, exactly(count))


def building(plan: Plan, anchor: Anchor) -> str:
    """What an anchor takes, as the catalogue has it."""
    made = anchor.arrangement
    kinds = {catalogue().features[plan.feature(leg.feature).kind].estimate for leg in made.legs}
    if kinds & {"deadman"}:
        return "anchor-buried"
    if any(leg.tie_off for leg in made.legs):
        return "anchor-structure"
    return made.made_as.minutes
