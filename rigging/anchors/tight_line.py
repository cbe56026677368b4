"""A line between two ends with the load on it: sag, tension, what pretension wins and costs, where a device slips.

The line is two elastic legs from the load's place to the ends (or one cord where the load rolls on it, held by tag lines). Its own weight is left
out. At mid-span, T = W·√(L²/4 + s²)/(2s) for span L and sag s."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rigging.anchors.rig import LEVELS, AnchorRig, LegLine, span_ends
from rigging.mechanics.legs import hang_all, unloaded
from rigging.mechanics.sliding import held_on_line
from rigging.mechanics.vectors import Array

_FEEDS = 40


@dataclass(frozen=True)
class Line:
    """The line in states of luck: (2, 3) ends, (b, 2) EA in kN, (b, 2) unloaded lengths, whether the load rolls."""

    ends: Array
    ea_kn: Array
    rest_m: Array
    rolls: bool
    start: Array

    def hang(self, load_kn: Array) -> tuple[Array, Array]:
        """Points (b, 3) and tensions (b, 2) in kN under loads (b, 3)."""
        start = np.broadcast_to(self.start, (len(load_kn), 3))
        if self.rolls:
            found = held_on_line(self.ends, self.ea_kn.mean(axis=1), self.rest_m.sum(axis=1), load_kn, start)
        else:
            found = hang_all(self.ends, self.ea_kn, self.rest_m, load_kn, start)
        return found.points, found.tensions

    def fed_until(self, load_kn: Array, slip_kn: Array) -> tuple[Array, Array, Array]:
        """Points, tensions and metres (b,) fed through a device at the first end until no state pulls more than it slips at."""
        points, tensions = self.hang(load_kn)
        low, high = np.zeros(len(load_kn)), np.zeros(len(load_kn))
        over = tensions[:, 0] > slip_kn
        if not over.any():
            return points, tensions, low
        span = float(np.linalg.norm(self.ends[0] - self.ends[1]))
        high = np.where(over, span, 0.0)
        for _ in range(_FEEDS):
            middle = (low + high) / 2
            points, tensions = self._longer(middle).hang(load_kn)
            still = tensions[:, 0] > slip_kn
            low, high = np.where(still & over, middle, low), np.where(still & over, high, middle)
        return points, tensions, np.where(over, high, 0.0)

    def _longer(self, by_m: Array) -> Line:
        rest = self.rest_m.copy()
        rest[:, 0] += by_m
        return replace(self, rest_m=rest)


def sag_m(points: Array, ends: Array, unit: Array) -> Array:
    """How far points (b, 3) lie from the chord between the ends, along the pull (3,)."""
    chord = ends[1] - ends[0]
    along = chord / np.linalg.norm(chord)
    away = points - ends[0]
    off = away - (away @ along)[:, None] * along
    square = unit - (unit @ along) * along
    return np.asarray(off @ square / max(float(np.linalg.norm(square)), 1e-9))


def line_of(rig: AnchorRig) -> Line:
    """The span as a line of two ends, at low, expected and high stiffness."""
    rows, ends = _ends(rig)
    ea = np.array([[getattr(line.ea_kn, level) for line in rows] for level in LEVELS])
    rest = np.array([[line.rest_m(one) for line, one in zip(rows, level, strict=True)] for level in ea])
    return Line(ends, ea, rest, _rolls(rig), rig.point)


def pretensioned(rig: AnchorRig, pretensions_n: Array) -> Line:
    """The same line drawn straight between its ends and pulled to each of several pretensions, at expected stiffness."""
    rows, ends = _ends(rig)
    chord = ends[1] - ends[0]
    share = float(np.clip((rig.point - ends[0]) @ chord / (chord @ chord), 0.05, 0.95))
    straight = np.linalg.norm(chord) * np.array([share, 1 - share])
    ea = np.tile([line.ea_kn.expected for line in rows], (len(pretensions_n), 1))
    rest = unloaded(straight, pretensions_n[:, None] / 1000, ea)
    return Line(ends, ea, rest, _rolls(rig), ends[0] + share * chord)


def _ends(rig: AnchorRig) -> tuple[list[LegLine], Array]:
    """A leg of each end, and where the ends are."""
    return [rig.lines[0], rig.lines[rig.count // 2]], span_ends(rig.lines)


def _rolls(rig: AnchorRig) -> bool:
    return rig.arrangement.span is not None and rig.arrangement.span.carriage == "rolls"
