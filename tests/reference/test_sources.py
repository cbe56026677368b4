"""What the page of sources says decides most on the demo: asked anew, every number of the catalogue at either end by itself."""

import math
from collections import defaultdict

from rigging.catalogue import catalogue, sources
from rigging.catalogue.__main__ import TABLES, settling
from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.judging.margins import share_of_rule, weakest_of
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range, exactly
from tests.plans import demo_plan

STATES = ("held", "lowering", "raising", "between-hauls")


def measured(plan: Plan) -> list[float]:
    """The weakest margin and the pull at the hands of every working state, as logarithms."""
    judged, found = judge(plan), []
    for id in STATES:
        state = judged.states[id]
        found.append(math.log(share_of_rule(weakest_of(judged.parts[id]))))
        if isinstance(state, Solved) and state.lines[0].running:
            found.append(math.log(state.lines[0].running.hand.expected))
    return found


def test_what_decides_most_on_the_demo_is_listed_first():
    plan, shelf, moves = demo_plan(), catalogue(), defaultdict[str, float](float)
    for table in TABLES:
        entries = getattr(shelf, table)
        for id, entry in list(entries.items()):
            for number in entry.model_fields_set:
                value = getattr(entry, number)
                if not isinstance(value, Range) or value.low == value.high:
                    continue
                ends = []
                for end in (value.low, value.high):
                    entries[id] = entry.model_copy(update={number: exactly(end)})
                    ends.append(measured(plan))
                entries[id] = entry
                source = entry.origin(number).split()[-1]
                moves[source] = max(moves[source], sum(abs(a - b) for a, b in zip(*ends, strict=True)))
    memory = [id for id in sorted(moves, key=lambda id: -moves[id]) if sources()[id].kind == "M" and moves[id] > 0.01]
    assert memory == [one["id"] for one in settling()]
