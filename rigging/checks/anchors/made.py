"""An arrangement as it is made, and its legs: no check, but what those of anchors ask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from rigging.anchors.rig import AnchorRig, LegLine, rig_anchor
from rigging.catalogue import AnchorScheme, catalogue
from rigging.checks.mending import Mend, other_feature
from rigging.document import Arrangement, Feature, Plan
from rigging.judging.pulls import lines_on
from rigging.lines.rig import anchor_node
from rigging.quantities.faults import Refused


@dataclass(frozen=True)
class Made:
    """One arrangement of a plan; `where` goes before what a finding is about ("": it is looked at by itself)."""

    plan: Plan
    arrangement: Arrangement
    where: str = ""

    @property
    def key(self) -> str:
        return f"{self.where}{self.arrangement.id}"

    @property
    def scheme(self) -> AnchorScheme:
        return self.arrangement.made_as

    @property
    def connector_three_way(self) -> bool:
        """Whether what gathers its legs takes pulls from all sides: bights in a knot do."""
        return self.arrangement.connector is None or catalogue().connectors[self.arrangement.connector].three_way

    def tied(self) -> Iterator[tuple[str, int, Feature]]:
        """Every leg: what a finding of it is about, its number, the feature it is tied to."""
        for index, leg in enumerate(self.arrangement.legs):
            yield f"{self.where}leg:{index}", index, self.plan.feature(leg.feature)

    @cached_property
    def rig(self) -> AnchorRig | None:
        """The legs laid out; None where they can not be, which is said where the pull is worked out."""
        try:
            return rig_anchor(self.plan, self.arrangement)
        except Refused:
            return None

    def legs(self) -> Iterator[tuple[str, str, LegLine]]:
        """Every leg laid out: what a finding of it is about, its key."""
        for line in self.rig.lines if self.rig else ():
            yield f"{self.where}leg:{line.index}", f"{self.key}:{line.index}", line


def in_use(plan: Plan) -> Iterator[Made]:
    """Every anchor that a line runs from or is turned at, as it is taken."""
    for anchor in plan.anchors:
        tight = any(anchor.id in (line.anchor, line.far) for line in plan.tension_lines)
        if tight or lines_on(plan, anchor.id):
            yield Made(plan, anchor.arrangement, f"{anchor_node(anchor.id)}:")


def path_of(plan: Plan, arrangement: str) -> str:
    """Where an arrangement stands in the document."""
    for a, anchor in enumerate(plan.anchors):
        for b, one in enumerate(anchor.alternatives):
            if one.id == arrangement:
                return f"/anchors/{a}/alternatives/{b}"
    raise LookupError(arrangement)


def tied_elsewhere(plan: Plan, arrangement: str, leg: int) -> Iterator[Mend]:
    yield from other_feature(plan, f"{path_of(plan, arrangement)}/legs/{leg}/feature", 0.0)
