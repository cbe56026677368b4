"""Frames: whether the pull on the head goes down inside the feet, and what stands by its guys alone."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from rigging.anchors.rig import at
from rigging.judging.anchors import AnchorState
from rigging.judging.found import Found
from rigging.lines.rig import anchor_node
from rigging.lines.solve import Solved
from rigging.mechanics.bounds import Cloud
from rigging.mechanics.vectors import Array
from rigging.site.features import kind_of


def is_frame(state: AnchorState) -> bool:
    return any(kind_of(leg.line.feature).pushes for leg in state.legs)


def find_frames(solved: Iterable[Solved], anchors: dict[tuple[str, str], AnchorState]) -> Iterator[Found]:
    """Every frame in the state in which it stands worst."""
    worst: dict[str, tuple[float, Found]] = {}
    for one in solved:
        for anchor, pulls in one.on_anchors.items():
            state = anchors.get((one.id, anchor))
            if state is None or not is_frame(state):
                continue
            inside, found = _stands(state, anchor, one.id, pulls)
            if anchor not in worst or inside < worst[anchor][0]:
                worst[anchor] = (inside, found)
    yield from (found for _, found in worst.values())


def _stands(state: AnchorState, anchor: str, id: str, pulls: Cloud) -> tuple[float, Found]:
    """How far inside its feet the pull goes down (negative: outside), and what follows."""
    feet = [at(leg.line.feature) for leg in state.legs if kind_of(leg.line.feature).pushes]
    guys = [leg for leg in state.legs if not kind_of(leg.line.feature).pushes]
    head = state.legs[0].line.toward
    inside = min(inside_m(head, pull, np.array(feet)) for pull in pulls.extremes if np.linalg.norm(pull) > 1e-6)
    toward = (float(pulls.along[0]), float(pulls.along[1]))
    values = {
        "anchor": anchor, "inside_m": inside, "state": id, "guys": len(guys), "feet": len(feet), "toward": toward,
    }  # fmt: skip
    about = anchor_node(anchor)
    if state.states is None:
        return inside - 2e6, Found("frame-tips", "stop", about, values, anchor)
    if state.states.falls:
        return inside - 1e6, Found("frame-may-tip", "stop", about, {**values, "swung": False}, anchor)
    if state.states.falls_swung:
        return inside, Found("frame-may-tip", "look", about, {**values, "swung": True}, anchor)
    if inside < 0:
        return inside, Found("frame-by-guys", "look", about, values, anchor)
    return inside, Found("frame-stands", "note", about, values, anchor)


def inside_m(head: Array, pull: Array, feet: Array) -> float:
    """How far inside the polygon of its feet a pull on the head meets their plane, in metres; outside it is negative, and a pull
    that never comes down to them is far outside. Two feet make a line: the pull is never inside."""
    middle = feet.mean(axis=0)
    spread = feet - middle
    normal = np.linalg.svd(spread)[2][-1] if len(feet) > 2 else np.array([0.0, 0.0, 1.0])
    down = float(pull @ normal)
    height = float((head - middle) @ normal)
    if abs(down) < 1e-9 or down * height >= 0:
        return -1e3
    meets = head - pull * (height / down)
    axis = spread[0] / np.linalg.norm(spread[0])
    across = np.cross(normal, axis)
    flat = np.stack([spread @ axis, spread @ across], axis=1)
    spot = np.array([(meets - middle) @ axis, (meets - middle) @ across])
    order = np.argsort(np.arctan2(flat[:, 1], flat[:, 0]))
    corners = flat[order]
    if len(corners) == 2:
        side = corners[1] - corners[0]
        gap = spot - corners[0]
        return -abs(float(side[0] * gap[1] - side[1] * gap[0])) / float(np.linalg.norm(side))
    sides = np.roll(corners, -1, axis=0) - corners
    gaps = spot - corners
    return float(((sides[:, 0] * gaps[:, 1] - sides[:, 1] * gaps[:, 0]) / np.linalg.norm(sides, axis=1)).min())
