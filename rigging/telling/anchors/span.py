"""What a tension line or span anchor does, told: sag, pull, slip, and what pretension wins and costs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig
from rigging.anchors.tight_line import Line, line_of, pretensioned, sag_m
from rigging.catalogue import catalogue
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.symbols import symbol
from rigging.telling.anchors.shapes import PretensionRow, SpanReport
from rigging.telling.figures.working import KNOWN, Told, Trace

_PRETENSIONS_N = np.array([0.0, 500.0, 1000.0, 2000.0, 3000.0, 4000.0])


def span_report(rig: AnchorRig, pull: Pulling, trace: Trace) -> SpanReport:
    """Sag, tension and slip of the line as it is, and a table of pretension against height and anchor load."""
    settings = rig.arrangement.span
    assert settings is not None
    slip = catalogue().devices[settings.slips].strength_n if settings.slips else None
    ropes = settings.ropes
    line, loads, limit = _corners(rig, pull, slip)
    points, tensions, fed = line.fed_until(loads, limit)
    sags, most = sag_m(points, line.ends, pull.unit), tensions.max(axis=1) * 1000
    span_m = float(np.linalg.norm(line.ends[0] - line.ends[1]))
    span = trace.figure("span", exactly(span_m), "m", lambda: Told("Span, end to end", "distance between the ends", []))
    sag = trace.figure("sag", _told(sags), "m", lambda: Told("Sag under the load", "distance from the chord, along the pull", [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry")]))  # fmt: skip
    tension = trace.figure("tension", _told(most), "N", lambda: Told("Tension in the line", "at mid-span T = W·√(L²/4 + s²)/(2s)", [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry"),
                            symbol("s", "sag", _told(sags), "m", "cable-sag")]))  # fmt: skip
    slips = None
    if slip:
        slips = trace.figure("slip", slip.map(lambda one: one * ropes), "N", lambda: Told("The device slips at", "slip · ropes", [symbol("slip", catalogue().devices[settings.slips or ""].name, slip, "N", "self-locking-slip")], [], KNOWN))  # fmt: skip
    rows = _pretension_rows(rig, pull, limit[0])
    return SpanReport(span, sag, tension, slips, bool(fed[0] > 0), float(fed[0]), rows)


def _corners(rig: AnchorRig, pull: Pulling, slip: Range | None) -> tuple[Line, Array, Array]:
    """The line, its load (c, 3) in kN and where it slips (c,) in kN, at every corner of stiffness, load and slip; the first as expected."""
    whole = line_of(rig)
    count = 1 + len(pull.asked.ends)
    loads = np.concatenate([pull.asked.expected[None], pull.asked.ends]) / 1000
    ropes = rig.arrangement.span.ropes if rig.arrangement.span else 1
    slips = [getattr(slip, end) / 1000 * ropes for end in ("expected", "low", "high")] if slip else [np.inf]
    rows = [(1, 0, slips[0])] + [
        (level, load, at) for level in (0, 2) for load in range(1, count) for at in slips[1:] or slips
    ]
    level, load, limit = (np.array(part) for part in zip(*rows, strict=True))
    corners = replace(whole, ea_kn=whole.ea_kn[level.astype(int)], rest_m=whole.rest_m[level.astype(int)])
    return corners, loads[load.astype(int)], limit


def _told(values: Array) -> Range:
    return Range(float(values.min()), float(values[0]), float(values.max()))


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
