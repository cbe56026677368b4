"""An anchor out of one piece of which one cut takes every leg away."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.anchors.made import Made, path_of
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit


class OneCut(Found, topic="geometry"):
    """`name`: the feature of the leg that is cut."""

    arrangement: str
    name: str
    legs: int


def find_made(made: Made) -> Iterator[OneCut]:
    if made.rig is None or made.arrangement.piece is None or made.rig.count < 2:
        return
    course = made.rig.course
    worst = course.worst_cut()
    if len(course.lost(worst)) == course.legs:
        cut = made.rig.lines[course.strands[worst]]
        yield OneCut(level="look", about=f"{made.where}point", key=made.key, arrangement=made.arrangement.id, name=cut.feature.name, legs=course.legs)  # fmt: skip


def mends(found: OneCut, plan: Plan) -> Iterator[Mend]:
    """Limiting knots beside the slider."""
    yield Mend("limit", (Edit("replace", f"{path_of(plan, found.arrangement)}/limit_m", 0.3),), {"length_m": 0.3})
