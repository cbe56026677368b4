"""Every anchor in every state: what each leg sees as the pull swings, and what each leg's chain and feature hold."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from rigging.anchors.chain import Link, least, leg_chain
from rigging.anchors.pull import turned
from rigging.anchors.rig import AnchorRig, LegLine, check_pull, rig_anchor
from rigging.anchors.states import States, all_states, directions, offsets
from rigging.document import Plan
from rigging.lines.solve import size_of
from rigging.mechanics.vectors import Array, Vector
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.site.features import Estimate, estimate

# Directions asked about in every state: straight, and all of the swing to either side.
_SWINGS = 3
_SAME_WAY = 0.99996  # within half a degree


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
            rig.arrangement.scheme == "back-tied" and line.index == 0,
        )
        for line in rig.lines
    ]  # fmt: skip


@dataclass(frozen=True)
class AnchorState:
    """An anchor under one state's pull; `states` is None where the legs come to no balance, for the reason in `faults`."""

    anchor: str
    force_n: Range
    states: States | None
    legs: tuple[LegStrength, ...]
    faults: tuple[str, ...] = ()


class Pulled(Protocol):
    """A moment that pulls on anchors: for each of three cases, by the anchor's id."""

    @property
    def id(self) -> str: ...

    @property
    def on_anchors(self) -> dict[str, tuple[Vector, Vector, Vector]]: ...


def anchor_states(
    plan: Plan, solved: Iterable[Pulled], only: frozenset[str] | None = None
) -> dict[tuple[str, str], AnchorState]:
    """Every pulled anchor by (state, anchor). Pulls on one anchor that go the same way are worked out together. `only`: the
    anchors that are asked for."""
    ways: dict[str, list[tuple[Array, list[tuple[str, Range]]]]] = {}
    for state in solved:
        for anchor, pulls in state.on_anchors.items():
            force = size_of(pulls)
            if force.high < 1e-6 or (only is not None and anchor not in only):
                continue
            along = _unit(pulls)
            here = ways.setdefault(anchor, [])
            same = next((rows for way, rows in here if float(way @ along) > _SAME_WAY), None)
            if same is None:
                here.append((along, [(state.id, force)]))
            else:
                same.append((state.id, force))
    found: dict[tuple[str, str], AnchorState] = {}
    for anchor, groups in ways.items():
        found.update(_one_anchor(plan, anchor, groups))
    return found


def _unit(pulls: tuple[tuple[float, float, float], ...]) -> Array:
    vectors = np.array(pulls)
    size = np.linalg.norm(vectors, axis=1)
    best = 1 if size[1] > 1e-9 else int(size.argmax())
    return np.asarray(vectors[best] / size[best])


def _swung(rig: AnchorRig, sizes: list[Range], unit: Array, swing: Array) -> list[States]:
    """The anchor whole under pulls of several sizes; a lone leg carries all of each, wherever it swings."""
    if rig.arrangement.scheme != "single" or rig.arrangement.prop:
        return all_states(rig, sizes, unit, swing, [None])
    found = []
    for force in sizes:
        luck = np.array([force.expected, force.high, force.low])
        shape = (1, len(swing), 3)
        points = np.broadcast_to(rig.point, (*shape, 3))
        found.append(
            States(swing, directions(unit, swing), np.broadcast_to(luck[:, None], (*shape, 1)), points, rig.point)
        )
    return found


def _one_anchor(
    plan: Plan, id: str, groups: list[tuple[Array, list[tuple[str, Range]]]]
) -> Iterable[tuple[tuple[str, str], AnchorState]]:
    arrangement = plan.anchor(id).arrangement
    rig = rig_anchor(plan, arrangement)
    legs = tuple(leg_strengths(rig))
    for along, rows in groups:
        unit = turned(along, arrangement.heading_rad)
        try:
            check_pull(plan, rig, unit)
            swing = offsets(arrangement.swing_rad, _SWINGS)
            # States that pull alike are worked out once.
            sizes = list(dict.fromkeys(force for _, force in rows))
            each = dict(zip(sizes, _swung(rig, sizes, unit, swing), strict=True))
            states: list[States | None] = [each[force] for _, force in rows]
            faults: tuple[str, ...] = ()
        except Refused as refused:
            if arrangement.heading_rad is not None:
                # A pull that the leader turned this way is theirs to turn back.
                raise
            states, faults = [None] * len(rows), tuple(fault.problem for fault in refused.faults)
        alike: dict[Range, AnchorState] = {}
        for (state, force), one in zip(rows, states, strict=True):
            yield (state, id), alike.setdefault(force, AnchorState(id, force, one, legs, faults))
