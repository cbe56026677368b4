"""What an anchor is tied with, piece by piece: attachments and extensions of its legs, or the one piece that they all are of; ties that only hold it in
place; what sets its working point down."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from rigging.anchors.one_piece import course_of
from rigging.anchors.rig import AnchorRig, LegLine, at, gathered_at, rig_anchor, tie_lines
from rigging.anchors.wraps import attachment_m, extension_m, method_of
from rigging.catalogue import catalogue
from rigging.document import Arrangement, Plan
from rigging.quantities.faults import Refused
from rigging.site.features import kind_of

Use = Literal["attachment", "extension", "piece", "tie", "stage"]


@dataclass(frozen=True)
class Taken:
    """A piece of material that an anchor takes: for what, of which leg, tie or stage, where to, how long, and of which rope of the plan (None: out of the
    bags)."""

    use: Use
    number: int
    where: str
    material: str
    length_m: float
    rope: str | None


@dataclass(frozen=True)
class PiecePart:
    """What takes so much of a piece: a leg's way, its knot at the feature, all that is gathered at the point, the bend that joins its ends."""

    what: Literal["way", "knot", "gathered", "join"]
    leg: int | None
    length_m: float
    times: int = 1


def reach_m(line: LegLine) -> float:
    """How far a leg's material has to reach: to the point, or as long as it is tied."""
    return max(line.spans_m, line.tied_m)


def piece_parts(arrangement: Arrangement, lines: list[LegLine]) -> Iterator[PiecePart]:
    """What an anchor out of one piece takes of it: the sum is how long it has to be. A feature nobody measured counts as a point."""
    piece = arrangement.piece
    assert piece is not None
    knots = catalogue().knots
    for line in lines:
        method = method_of(line.leg)
        yield PiecePart("way", line.index, attachment_m(line.leg, line.radius_m or 0.0, reach_m(line)) - method.take_m)
        if method.in_piece == "end":
            yield PiecePart("knot", line.index, method.take_m)
        elif method.grips and method.knot:
            yield PiecePart("knot", line.index, knots[method.knot].takes_m)
    if piece.knot:
        bights = sum(one.leg is None for one in course_of(arrangement).stations)
        yield PiecePart("gathered", None, bights * knots[piece.knot].takes_m, bights)
    if piece.joined:
        yield PiecePart("join", None, knots[piece.joined].takes_m)


def piece_m(arrangement: Arrangement, lines: list[LegLine]) -> float:
    """How long the piece has to be."""
    return math.fsum(one.length_m for one in piece_parts(arrangement, lines))


def stage_m(arrangement: Arrangement) -> float:
    """How far each stage reaches that sets a working point down; nothing where it is not."""
    if arrangement.set_down is None:
        return 0.0
    far = float(np.linalg.norm(at(arrangement.point) - gathered_at(arrangement)))
    return far / len(arrangement.set_down.stages)


def taken_by(plan: Plan, rig: AnchorRig) -> list[Taken]:
    """Every piece that an anchor takes."""
    return list(_taken(plan, rig))


def _taken(plan: Plan, rig: AnchorRig) -> Iterator[Taken]:
    made = rig.arrangement
    if made.piece is not None:
        first = made.legs[0]
        where = f"{rig.lines[0].feature.name} and on" if rig.count > 1 else rig.lines[0].feature.name
        yield Taken("piece", 0, where, first.material, piece_m(made, rig.lines), first.rope)
    else:
        for line in rig.lines:
            yield from _of_leg(line)
    for line in tie_lines(plan, made):
        yield Taken(
            "tie",
            line.index,
            line.feature.name,
            line.leg.material,
            attachment_m(line.leg, line.radius_m or 0.0, line.spans_m),
            line.leg.rope,
        )
    knots = catalogue().knots
    for number, stage in enumerate(made.set_down.stages if made.set_down else ()):
        joins = knots[stage.joined].takes_m if stage.joined else 0.0
        long = stage.strands * (stage_m(made) + 2 * knots[stage.knot].takes_m) + joins
        yield Taken("stage", number, "the working point", stage.material, long, stage.rope)


def _of_leg(line: LegLine) -> Iterator[Taken]:
    """A feature nobody measured counts as a point; what stands on its foot is tied with nothing."""
    radius, leg = line.radius_m or 0.0, line.leg
    if kind_of(line.feature).pushes:
        return
    name = line.feature.name
    yield Taken("attachment", line.index, name, leg.material, attachment_m(leg, radius, reach_m(line)), leg.rope)
    if leg.extension:
        yield Taken("extension", line.index, name, leg.extension, extension_m(leg, radius, reach_m(line)), leg.rope)


def tied_with_m(plan: Plan, rope: str) -> float:
    """What of a rope of the plan its anchors are tied with."""
    own = (one for _, one in pieces_needed(plan, rope))
    return math.fsum(one.length_m for one in own if one.rope == rope)


def _ropes_of(made: Arrangement) -> set[str | None]:
    stages = made.set_down.stages if made.set_down else []
    return {*(one.rope for one in (*made.legs, *made.ties)), *(one.rope for one in stages)}


def pieces_needed(plan: Plan, rope: str | None = None) -> Iterator[tuple[str, Taken]]:
    """Every piece that a plan's anchors take, with the anchor's id; of those only that are of a `rope`, where one is named. An anchor that can not be laid
    out takes none: it is refused where it is looked at."""
    for anchor in plan.anchors:
        if rope is not None and rope not in _ropes_of(anchor.arrangement):
            continue
        try:
            rig = rig_anchor(plan, anchor.arrangement)
            found = taken_by(plan, rig)
        except Refused:
            continue
        yield from ((anchor.id, one) for one in found)
