"""How each frame stands, in the state in which it stands worst: no check, but what four ask."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rigging.anchors.rig import at
from rigging.checks.mending import Mend
from rigging.document import Feature, Leg, Place3, Plan
from rigging.document.edits import Edit
from rigging.judging.anchors import AnchorState
from rigging.judging.frames import inside_m, is_frame
from rigging.mechanics.bounds import Cloud
from rigging.site.features import kind_of, rejected_because
from rigging.study.place import AtPlace


@dataclass(frozen=True)
class Stands:
    """A frame in one state: how far inside its feet the pull goes down (negative: outside), where it goes in plan, what it stands on,
    and whether its legs and ropes can hold it (`tips`), everywhere in their ranges (`may_tip`), in the whole swing (`swung`)."""

    anchor: str
    state: str
    inside_m: float
    toward: tuple[float, float]
    feet: int
    guys: int
    tips: bool
    may_tip: bool
    swung: bool

    @property
    def order(self) -> float:
        return self.inside_m - (2e6 if self.tips else 1e6 if self.may_tip else 0.0)


def frames(here: AtPlace) -> list[Stands]:
    """Every frame where it stands worst."""
    return here.once("frames", lambda: list(_frames(here)))


def _frames(here: AtPlace) -> Iterator[Stands]:
    worst: dict[str, Stands] = {}
    for id, one in here.solved.items():
        for anchor, pulls in one.on_anchors.items():
            state = here.anchors.get((id, anchor))
            if state is None or not is_frame(state):
                continue
            found = _stands(state, anchor, id, pulls)
            if anchor not in worst or found.order < worst[anchor].order:
                worst[anchor] = found
    yield from worst.values()


def _stands(state: AnchorState, anchor: str, id: str, pulls: Cloud) -> Stands:
    feet = [at(leg.line.feature) for leg in state.legs if kind_of(leg.line.feature).pushes]
    head = state.legs[0].line.toward
    inside = min(inside_m(head, pull, np.array(feet)) for pull in pulls.extremes if np.linalg.norm(pull) > 1e-6)
    toward = (float(pulls.along[0]), float(pulls.along[1]))
    stood = state.states
    return Stands(
        anchor, id, inside, toward, len(feet), len(state.legs) - len(feet), stood is None, stood is not None and stood.falls,
        stood is not None and stood.falls_swung,
    )  # fmt: skip


def guyed(plan: Plan, anchor: str, toward: tuple[float, float]) -> Iterator[Mend]:
    """A guy from the head to a feature on the far side of the pull."""
    number = next(n for n, one in enumerate(plan.anchors) if one.id == anchor)
    there = plan.anchors[number]
    at_way = next(n for n, one in enumerate(there.alternatives) if one.id == there.taken)
    head = there.arrangement.point
    tied = {leg.feature for one in plan.anchors for leg in one.arrangement.legs}
    behind = [
        one for one in plan.features
        if one.id not in tied and one.verdict != "reject" and not rejected_because(one) and not kind_of(one).pushes and not kind_of(one).temporary
        and _behind(one, head, toward) > 0.7
    ]  # fmt: skip
    for one in sorted(behind, key=lambda one: -_behind(one, head, toward))[:1]:
        leg = Leg(
            feature=one.id, method="wrap-pull", material="tubular-25", turns=3, extension="rope-11", pretension_n=300
        )
        edit = Edit("add", f"/anchors/{number}/alternatives/{at_way}/legs/-", leg.model_dump(mode="json"))
        yield Mend("guy", (edit,), {"feature": one.name})


def _behind(feature: Feature, head: Place3, toward: tuple[float, float]) -> float:
    """How straight a feature lies behind a head that is pulled that way: 1 straight behind, −1 ahead."""
    away = (feature.x_m - head.x_m, feature.y_m - head.y_m)
    size = math.hypot(*away) * math.hypot(*toward)
    return -(away[0] * toward[0] + away[1] * toward[1]) / size if size > 1e-6 else 0.0
