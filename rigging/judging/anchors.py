"""Every anchor in every state: what each leg sees as the pull swings, and what each leg's chain and feature hold."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from rigging.anchors.chain import Link, least, leg_chain
from rigging.anchors.pull import Asked, turned
from rigging.anchors.rig import AnchorRig, LegLine, check_pull, rig_anchor
from rigging.anchors.states import States, Swing, all_states, alone
from rigging.document import Plan
from rigging.mechanics.bounds import Cloud
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.site.features import Estimate, estimate


@dataclass(frozen=True)
class LegStrength:
    """A leg's least link and what its feature holds: the same in every state. The first of a tied back anchor bears all."""

    line: LegLine
    link: Link
    feature: Estimate
    bears_all: bool


def leg_strengths(rig: AnchorRig) -> list[LegStrength]:
    """Strength of every leg of the anchor."""
    return [
        LegStrength(
            line, least(leg_chain(rig.arrangement, line)), estimate(line.feature, line.rise_rad),
            rig.bears_all(line),
        )
        for line in rig.lines
    ]  # fmt: skip


@dataclass(frozen=True)
class AnchorState:
    """An anchor under one state's pull; `states` is None where the legs come to no balance, for the reason in `faults`."""

    anchor: str
    asked: Asked
    states: States | None
    legs: tuple[LegStrength, ...]
    faults: tuple[str, ...] = ()

    @property
    def force_n(self) -> Range:
        return self.asked.force_n


class Pulled(Protocol):
    """A moment that pulls on anchors, by the anchor's id."""

    @property
    def id(self) -> str: ...

    @property
    def on_anchors(self) -> dict[str, Cloud]: ...


# How legs are asked what they bear under a pull.
Bearing = Callable[[AnchorRig, Asked, Swing], States]


def whole(rig: AnchorRig, asked: Asked, swing: Swing) -> States:
    """What the legs of a whole anchor bear, over all luck and the whole swing."""
    return all_states(rig, asked, swing, [None])


def anchor_states(
    plan: Plan, solved: Iterable[Pulled], only: frozenset[str] | None = None, bearing: Bearing = whole
) -> dict[tuple[str, str], AnchorState]:
    """Every pulled anchor by (state, anchor). Pulls on one anchor that go the same way are worked out together. `only`: the
    anchors that are asked for; `bearing`: how."""
    pulls: dict[str, list[tuple[str, Cloud]]] = {}
    for state in solved:
        for anchor, pull in state.on_anchors.items():
            if pull.size.high >= 1e-6 and (only is None or anchor in only):
                pulls.setdefault(anchor, []).append((state.id, pull))
    found: dict[tuple[str, str], AnchorState] = {}
    for anchor, rows in pulls.items():
        found.update(_one_anchor(plan, anchor, rows, bearing))
    return found


def _one_anchor(
    plan: Plan, id: str, rows: list[tuple[str, Cloud]], bearing: Bearing
) -> Iterable[tuple[tuple[str, str], AnchorState]]:
    arrangement = plan.anchor(id).arrangement
    rig = rig_anchor(plan, arrangement)
    legs = tuple(leg_strengths(rig))
    # States that pull alike are worked out once.
    alike: dict[bytes, AnchorState] = {}
    for state, pull in rows:
        asked = Asked.of(pull, turned(pull.along, arrangement.heading_rad))
        key = np.round(np.concatenate([asked.expected[None], asked.ends]), 6).tobytes()
        if key not in alike:
            alike[key] = _asked(plan, rig, id, asked, legs, bearing)
        yield (state, id), alike[key]


def _asked(
    plan: Plan, rig: AnchorRig, id: str, asked: Asked, legs: tuple[LegStrength, ...], bearing: Bearing
) -> AnchorState:
    """One pull on an anchor worked out."""
    arrangement = rig.arrangement
    swing = Swing(arrangement.swing_rad)
    try:
        check_pull(plan, rig, asked.unit)
        # A lone leg carries all of each pull, wherever it swings.
        lone = rig.count == 1 and not arrangement.prop
        states = alone(rig, asked, swing) if lone else bearing(rig, asked, swing)
    except Refused as refused:
        if arrangement.heading_rad is not None:
            # A pull that the leader turned this way is theirs to turn back.
            raise
        return AnchorState(id, asked, None, legs, tuple(fault.problem for fault in refused.faults))
    return AnchorState(id, asked, states, legs)
