"""A belay under the competence test: how far it lets the mass go, and how hard it stops."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.holding.caught import arrested
from rigging.checks.mending import Mend, gripping_more, line_number, rope_number, setting
from rigging.document import Plan
from rigging.lines.catch import TEST_KG, passes_test
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class BelayTest(Found, topic="parts", source="belay-test"):
    """`stops_in_m` None: it may not stop."""

    by: str
    mass_kg: float
    peak_n: Range
    stops_in_m: Range | None
    passes: bool


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[BelayTest]:
    for one in arrested(solved):
        for kg, tested in one.tested:
            passes, by = passes_test(tested), one.by or ""
            yield BelayTest(
                level="note" if passes or kg > TEST_KG[0] else "look", about=f"{by}:rope", key=by if kg == TEST_KG[0] else f"{by}:{kg:g}",
                state=one.id, by=by, mass_kg=kg, peak_n=tested.peak_n, stops_in_m=tested.stops_in_m, passes=passes,
            )  # fmt: skip


def mends(found: BelayTest, plan: Plan) -> Iterator[Mend]:
    """More grip, or a rope that gives less; slack is no part of the test."""
    if found.level == "note":
        return
    number = line_number(plan, found.by)
    yield from gripping_more(plan, number)
    at, stiff = rope_number(plan, plan.lines[number].rope), catalogue().ropes["general-use-12.7"]
    if plan.ropes[at].kind != stiff.id:
        yield setting("take", f"/ropes/{at}/kind", stiff.id, what=stiff.name)
