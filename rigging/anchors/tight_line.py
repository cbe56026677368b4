"""A line between two ends with the load on it: sag, tension, what pretension wins and costs, where a device slips.

The line is two elastic legs from the load's place to the ends (or one cord where the load rolls on it, held by tag lines). Its own weight is left
out. At mid-span, T = W·√(L²/4 + s²)/(2s) for span L and sag s."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import LEVELS, AnchorRig, LegLine, span_ends
from rigging.catalogue import catalogue
from rigging.mechanics.legs import hang_all, unloaded
from rigging.mechanics.sliding import held_on_line
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, exactly, spanning
from rigging.telling.anchor_report import PretensionRow, SpanReport
from rigging.telling.working import KNOWN, Trace, symbol

_PRETENSIONS_N = np.array([0.0, 500.0, 1000.0, 2000.0, 3000.0, 4000.0])
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


def span_report(rig: AnchorRig, pull: Pulling, trace: Trace) -> SpanReport:
    """Sag, tension and slip of the line as it is, and a table of pretension against height and anchor load."""
    settings = rig.arrangement.span
    assert settings is not None
    line = line_of(rig)
    forces = np.array([pull.force_n.low, pull.force_n.expected, pull.force_n.high]) / 1000
    loads = forces[:, None] * pull.unit
    slip = catalogue().devices[settings.slips].strength_n if settings.slips else None
    ropes = settings.ropes
    limit = np.array([slip.low, slip.expected, slip.high]) / 1000 * ropes if slip else np.full(3, np.inf)
    points, tensions, fed = line.fed_until(loads, limit)
    sags, most = sag_m(points, line.ends, pull.unit), tensions.max(axis=1) * 1000
    span_m = float(np.linalg.norm(line.ends[0] - line.ends[1]))
    span = trace.figure("span", "Span, end to end", exactly(span_m), "m", "distance between the ends", [])
    sag = trace.figure("sag", "Sag under the load", _three(sags), "m", "distance from the chord, along the pull",
                       [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry")])  # fmt: skip
    tension = trace.figure("tension", "Tension in the line", _three(most), "N", "at mid-span T = W·√(L²/4 + s²)/(2s)",
                           [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry"),
                            symbol("s", "sag", _three(sags), "m", "cable-sag")])  # fmt: skip
    slips = None
    if slip:
        slips = trace.figure("slip", "The device slips at", slip.map(lambda one: one * ropes), "N", "slip · ropes",
                             [symbol("slip", catalogue().devices[settings.slips or ""].name, slip, "N", "self-locking-slip")], None, KNOWN)  # fmt: skip
    rows = _pretension_rows(rig, pull, limit[1])
    return SpanReport(span, sag, tension, slips, bool(fed[1] > 0), float(fed[1]), rows)


def _three(values: Array) -> Range:
    return spanning(float(values[0]), float(values[1]), float(values[2]))


def _pretension_rows(rig: AnchorRig, pull: Pulling, limit_kn: float) -> list[PretensionRow]:
    """Each pretension at expected stiffness and load: what the line and its ends then bear, and the height it wins."""
    line = pretensioned(rig, _PRETENSIONS_N)
    count = len(_PRETENSIONS_N)
    load = np.tile(pull.force_n.expected / 1000 * pull.unit, (count, 1))
    points, tensions, _ = line.fed_until(load, np.full(count, limit_kn))
    sags, most = sag_m(points, line.ends, pull.unit), tensions.max(axis=1) * 1000
    return [
        PretensionRow(float(pretension), float(force), float(force), float(sag), float(sags[0] - sag))
        for pretension, force, sag in zip(_PRETENSIONS_N, most, sags, strict=True)
    ]
