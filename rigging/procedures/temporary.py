"""Anchors made in passing: what comes on an axe, a picket or a braced person against what it holds, and so whether to add to it."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.procedures.begin import Ground
from rigging.procedures.forces import forces_n
from rigging.procedures.operation import Planned
from rigging.quantities.ranges import Range, added
from rigging.site.features import estimate

# What a procedure calls them, and what that is of the catalogue.
KINDS = {"axe": "ice-axe", "picket": "snow-picket"}


@dataclass(frozen=True)
class Temporary:
    """One that bears in a step: its node, its kind in the catalogue, what comes on it and what it holds, in newtons; how many `there` are of the kind
    in the plan, looked at, that work as one (0: none, and it holds what its kind does)."""

    id: str
    kind: str
    bears_n: Range
    holds_n: Range
    there: int

    @property
    def surely_goes(self) -> bool:
        return self.bears_n.low > self.holds_n.high

    @property
    def asks(self) -> bool:
        """Whether more may come on it than it holds: then it is added to, or left."""
        return self.bears_n.high > self.holds_n.low


def temporaries(planned: Planned) -> list[Temporary]:
    """Every anchor made in passing that bears in a step, guarded as it is, with the load where the step brings it."""
    asked = planned.rests
    state, ground = asked.state, asked.state.ground
    guarded = [name for name, guard in state.guards.items() if guard]
    if not guarded or state.grounded or not isinstance(ground, Ground):
        return []
    forces = forces_n(ground, asked)
    found = []
    for name in guarded:
        kind = KINDS.get(name.partition(":")[2])
        if kind is not None and name in forces:
            holds_n, there = _holds(ground.plan, kind)
            found.append(Temporary(name, kind, forces[name], holds_n, there))
    return found


def _holds(plan: Plan, kind: str) -> tuple[Range, int]:
    """What those of a kind hold together that the plan has, as rated or by their inspection; where it has none, what the kind does in any snow."""
    known = [one.rating_n or estimate(one).strength_n for one in plan.features if one.kind == kind]
    held = [Range(one.low, one.expected, one.high) for one in known if one is not None]
    if held:
        return added(*held), len(held)
    base = next(one for one in catalogue().features[kind].questions if one.gives == "base")
    values = [one.value for one in base.options if one.value is not None]
    middle = values[len(values) // 2].expected
    return Range(min(one.low for one in values), middle, max(one.high for one in values)), 0
