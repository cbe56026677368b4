"""Fewer at the haul than its pull asks for."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.haul import stack
from rigging.checks.found import Found, Level
from rigging.checks.mending import PULLEY, Mend, all_pulleys, hauling_number, other_system
from rigging.document import Plan
from rigging.lines.people import haulers_needed
from rigging.lines.solve import Solved
from rigging.lines.swaps import stacked_two
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.site.conditions import sustained_n
from rigging.study.place import AtPlace


class TooFewHaulers(Found, topic="jam", source="hauler-pull", anywhere=True):
    """`stacked`: how many it takes with a 2:1 stacked on the haul strand (None: it can not be)."""

    low: int
    high: int
    there: int
    each_n: float
    hand_n: Range
    stacked: int | None

    @property
    def room(self) -> float:
        return 1.0 / max(self.hand_n.high, 1e-9)


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[TooFewHaulers]:
    plan = here.plan
    for line, haul in here.hauled(solved):
        gives = here.judged.gives
        assert line.running is not None
        hand, there, each = line.running.hand, plan.team.haulers, sustained_n(plan)
        low, high = haulers_needed(hand.low, each.high), haulers_needed(hand.high, each.low)
        if there >= high or gives is None:
            continue
        stacked = stacked_two(plan, haul)
        fewer = haulers_needed(hand.high * gives.actual.expected / stacked, each.low) if stacked else None
        # People as expected: short of them at the pull that is expected is a stop, at the most that it may be a look.
        level: Level = "stop" if there < haulers_needed(hand.expected, each.expected) else "look"
        if there >= haulers_needed(hand.high, each.expected):
            level = "note"
        yield TooFewHaulers(
            level=level, about="hand", state=solved.id, low=low, high=high, there=there, each_n=each.expected,
            hand_n=hand, stacked=fewer,
        )  # fmt: skip


def mends(found: TooFewHaulers, plan: Plan) -> Iterator[Mend]:
    """Pulleys first, then a 2:1 stacked on the haul strand."""
    yield from all_pulleys(plan)
    number = hauling_number(plan)
    haul = plan.lines[number].haul if number is not None else None
    if number is None or haul is None:
        return
    try:
        yield other_system(number, haul, stack(haul.system, catalogue().systems["drop-2"]), PULLEY)
    except Refused:
        return
