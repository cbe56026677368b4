"""A haul over a lip that its rope has bitten into: what gets through is next to nothing."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Bitten(Found, topic="margins", source="snow-lip", anywhere=True):
    """`number`: of the edge in the plan (None: it is the ground's own)."""

    edge: str
    number: int | None
    passes: Range


def find(here: AtPlace) -> Iterator[Bitten]:
    raising = here.states.get("raising")
    if not isinstance(raising, Solved):
        return
    for crossing in raising.lines[0].rig.crossings.values():
        if crossing.role == "edge" and catalogue().surfaces[crossing.kind].bites:
            number = next((n for n, edge in enumerate(here.plan.site.edges) if edge.name == crossing.name), None)
            yield Bitten(
                level="stop", about=crossing.id, key=crossing.name, edge=crossing.name, number=number, passes=crossing.quantity
            )  # fmt: skip
            return


def mends(found: Bitten, plan: Plan) -> Iterator[Mend]:
    if found.number is not None:
        pad = catalogue().surfaces["axe-pad"]
        yield setting("pad", f"/site/edges/{found.number}/protection", pad.id, what=pad.name)
