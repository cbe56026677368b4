"""What a tension line or span anchor does, told: sag, pull, slip, and what pretension wins and costs."""

from __future__ import annotations

import numpy as np

from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig
from rigging.anchors.tight_line import line_of, pretensioned, sag_m
from rigging.catalogue import catalogue
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, exactly, spanning
from rigging.quantities.symbols import symbol
from rigging.telling.anchor_report import PretensionRow, SpanReport
from rigging.telling.working import KNOWN, Told, Trace

_PRETENSIONS_N = np.array([0.0, 500.0, 1000.0, 2000.0, 3000.0, 4000.0])


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
    span = trace.figure("span", exactly(span_m), "m", lambda: Told("Span, end to end", "distance between the ends", []))
    sag = trace.figure("sag", _three(sags), "m", lambda: Told("Sag under the load", "distance from the chord, along the pull", [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry")]))  # fmt: skip
    tension = trace.figure("tension", _three(most), "N", lambda: Told("Tension in the line", "at mid-span T = W·√(L²/4 + s²)/(2s)", [symbol("W", "load on the line", pull.force_n, "N", "statics"), symbol("L", "span", span_m, "m", "geometry"),
                            symbol("s", "sag", _three(sags), "m", "cable-sag")]))  # fmt: skip
    slips = None
    if slip:
        slips = trace.figure("slip", slip.map(lambda one: one * ropes), "N", lambda: Told("The device slips at", "slip · ropes", [symbol("slip", catalogue().devices[settings.slips or ""].name, slip, "N", "self-locking-slip")], [], KNOWN))  # fmt: skip
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
