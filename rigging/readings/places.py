"""Where a load cell hangs in a rig, and what it should read there in a state."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from rigging.anchors.rig import rig_anchor
from rigging.document import Plan
from rigging.judging.anchors import anchor_states
from rigging.lines.every_state import solve
from rigging.lines.solve import Missing, Solved, Solver, ways_of
from rigging.lines.states import moments
from rigging.mechanics.legs import hang_all
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range

Motion = Literal["still", "raising", "lowering"]
# What the rig may be doing while it stands still: held on the device, on the ratchet between hauls.
_STATES: dict[Motion, tuple[str, ...]] = {
    "still": ("held", "between-hauls"), "raising": ("raising",), "lowering": ("lowering",),
}  # fmt: skip


@dataclass(frozen=True)
class Place:
    """`at`: load, working-point, belay, or a leg of an anchor (`leg`, counted from 0)."""

    at: Literal["load", "working-point", "belay", "leg"]
    anchor: str = ""
    leg: int = 0

    def __str__(self) -> str:
        return f"leg:{self.anchor}:{self.leg}" if self.at == "leg" else self.at


def place(plan: Plan, said: str) -> Place:
    """A place by its name: `load`, `working-point`, `belay`, `leg:ANCHOR:NUMBER` (legs counted from 0).

    Raises
    ------
    Refused
        If the plan has no such place.
    """
    if said in ("load", "working-point"):
        return Place(said)  # type: ignore[arg-type]
    if said == "belay" and plan.line("belay"):
        return Place("belay")
    kind, _, rest = said.partition(":")
    anchor, _, number = rest.rpartition(":")
    known = {one.id: len(one.arrangement.legs) for one in plan.anchors}
    if kind == "leg" and anchor in known and number.isdigit() and int(number) < known[anchor]:
        return Place("leg", anchor, int(number))
    raise refuse("place", f"there is no place {said!r} in this plan", f"one of {', '.join(places(plan))}")


def places(plan: Plan) -> dict[str, str]:
    """Every place that a cell can hang at, by name, in words."""
    found = {"load": "at the load", "working-point": "at the working point"}
    if plan.line("belay"):
        found["belay"] = "on the belay"
    for anchor in plan.anchors:
        for number, leg in enumerate(anchor.arrangement.legs):
            found[f"leg:{anchor.id}:{number}"] = f"{anchor.name}, leg to the {plan.feature(leg.feature).name.lower()}"
    return found


class Predictor:
    """What cells should read in the states of one plan. `ratios`: as the solver's."""

    def __init__(self, plan: Plan, ratios: bool = False):
        self.plan = plan
        self.solver = Solver(plan, ways_of(plan), ratios)
        self.moments = {one.id: one for one in moments(plan)}
        self._solved: dict[str, Solved | None] = {}
        self._at: dict[tuple[Place, str], Range | None] = {}

    def solved(self, state: str) -> Solved | None:
        if state not in self._solved:
            found = solve(self.solver, self.moments[state]) if state in self.moments else None
            self._solved[state] = None if found is None or isinstance(found, Missing) else found
        return self._solved[state]

    def band(self, where: Place, motion: Motion) -> Range | None:
        """Least, expected and most that a cell should read while the rig stands still, or the load comes up, or goes down, in newtons;
        None where the plan has no such state."""
        found = [band for state in _STATES[motion] if (band := self.at(where, state)) is not None]
        return _over(found)

    def at(self, where: Place, state: str) -> Range | None:
        """What a cell should read in one state, in newtons."""
        if (where, state) not in self._at:
            self._at[where, state] = self._read(where, state)
        return self._at[where, state]

    def _read(self, where: Place, state: str) -> Range | None:
        solved = self.solved(state)
        if solved is None:
            return None
        if where.at == "belay":
            belay = self.plan.line("belay")
            forces = solved.line(belay.id) if belay else None
            # Its rope hangs slack until something goes: its own weight and a hand's pull are not counted.
            return forces.at_load if forces else Range(0.0, 0.0, 0.0)
        if where.at == "load":
            return solved.lines[0].at_load if solved.lines else None
        anchor = where.anchor or solved.lines[0].rig.line.anchor
        if where.at == "working-point":
            return solved.on_anchors[anchor].size if anchor in solved.on_anchors else None
        if anchor not in solved.on_anchors:
            # It is rigged for another state of the work.
            return Range(0.0, 0.0, 0.0)
        found = anchor_states(self.plan, [solved], frozenset({anchor})).get((state, anchor))
        return found.states.force(where.leg) if found and found.states else None

    def creep_n_per_m(self, where: Place, state: str) -> float | None:
        """How much force a leg loses for each metre that it lengthens while the pull stays as it is, in newtons a metre (negative: the
        other legs take it over); None where it is the only one."""
        solved = self.solved(state)
        if where.at != "leg" or solved is None or where.anchor not in solved.on_anchors:
            return None
        rig = rig_anchor(self.plan, self.plan.anchor(where.anchor).arrangement)
        whole = rig.whole
        if rig.count < 2 or rig.slides:
            return None
        load = np.array(solved.on_anchors[where.anchor].expected)[None] / 1000
        longer = np.where(whole.owner == where.leg, 0.001, 0.0)
        ea, rest = whole.ea_kn[1], whole.rest_m[1]
        before, after = (
            hang_all(whole.to, ea[None], lengths[None], load, rig.point[None], whole.acts).tensions[0]
            for lengths in (rest, rest + longer)
        )
        mine = whole.owner == where.leg
        return float((after[mine].sum() - before[mine].sum()) * 1000 / 0.001)


class Along:
    """What cells should read with the load anywhere on a stretch of its way: at places of it, in their order. `loaded`: whether the load hangs on the
    rig as the stretch begins, and as it ends; while it lies on the ground nothing is predicted, and nothing watched for while it comes on or off."""

    def __init__(self, there: Sequence[Predictor], loaded: tuple[bool, bool] = (True, True)):
        self.there, self.loaded = there, loaded

    @property
    def halfway(self) -> Predictor:
        return self.there[len(self.there) // 2]

    def band(self, where: Place, motion: Motion) -> Range | None:
        """As of one place, over all of them; expected as halfway."""
        found = [band for one in self.there if (band := one.band(where, motion)) is not None]
        return _over(found, len(found) // 2)

    def bands(self, where: Place, motions: Iterable[Motion]) -> list[Range]:
        """Those of everything that a step does on the stretch, standing still first."""
        return self._worked_out(where, motions) if all(self.loaded) else []

    def _worked_out(self, where: Place, motions: Iterable[Motion]) -> list[Range]:
        return [band for motion in ("still", *motions) if (band := self.band(where, motion)) is not None]

    def of_step(self, where: Place, motions: Iterable[Motion]) -> Range | None:
        """The band over all of them, from nothing where the load comes on or off in it; expected as it moves, halfway."""
        found = _over(self._worked_out(where, motions)) if any(self.loaded) else None
        return found if found is None or all(self.loaded) else Range(0.0, found.expected, found.high)

    def at(self, where: Place, state: str) -> Range | None:
        """As of one place, over all of them; expected as halfway."""
        found = [band for one in self.there if (band := one.at(where, state)) is not None]
        return _over(found, len(found) // 2)


def _over(bands: list[Range], expected: int = -1) -> Range | None:
    """The band over several, expected as in one of them: the last, if not said."""
    if not bands:
        return None
    return Range(min(one.low for one in bands), bands[expected].expected, max(one.high for one in bands))
