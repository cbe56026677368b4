"""An anchor out of one piece told: where it runs, what takes how much of it, what a cut takes away and what a knot undone; legs pulled tight in order;
what sets a working point down."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.anchors.chain import Link, stage_links
from rigging.anchors.material import PiecePart, piece_parts
from rigging.anchors.one_piece import Course, PieceKnot
from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig
from rigging.anchors.tightening import order_of, tightened_kn
from rigging.anchors.wraps import strands_of
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.anchors.shapes import NeedReport, OnePieceReport, OnePieceRow, StageReport, TightReport, TightRow
from rigging.telling.figures.working import KNOWN, Told, Trace
from rigging.telling.words.names import listed, lower_first, upper_first


def piece_report(rig: AnchorRig, need: NeedReport | None) -> OnePieceReport | None:
    """The one piece of an arrangement; None where its legs are of pieces of their own."""
    if need is None:
        return None
    course, names = rig.course, [line.feature.name for line in rig.lines]
    way = ["working point" if at.leg is None else names[at.leg] for at in course.stations]
    parts = [OnePieceRow(_part(rig, one, names), one.length_m) for one in piece_parts(rig.arrangement, rig.lines)]
    cuts = [_cut(course, leg, names) for leg in range(rig.count)]
    knots = [_undone(course, one, names) for one in course.knots]
    return OnePieceReport(need, [*way, *(way[:1] if course.loop else [])], parts, cuts, list(dict.fromkeys(knots)))


def _part(rig: AnchorRig, one: PiecePart, names: list[str]) -> str:
    made, knots = rig.arrangement.piece, catalogue().knots
    assert made is not None
    if one.what == "way":
        line = rig.lines[one.leg or 0]
        return f"{names[line.index]}, {strands_of(line.leg)} strand{'s' if strands_of(line.leg) > 1 else ''}"
    if one.what == "knot":
        return f"knot round {lower_first(names[one.leg or 0])}"
    if one.what == "gathered":
        return (
            f"{one.times} bights in the {lower_first(knots[made.knot or ''].name)}"
            if made.closed == "one-knot"
            else f"{one.times} × {lower_first(knots[made.knot or ''].name)}"
        )
    return f"ends joined, {lower_first(knots[made.joined or ''].name)}"


def _cut(course: Course, leg: int, names: list[str]) -> str:
    """The worst that a cut in one of a leg's strands does."""
    whole = course.left()
    strand = course.worst_cut(leg)
    lost, left = course.lost(strand), course.left(strand)
    if len(lost) == course.legs:
        return f"Cut on the leg to {names[leg]}: everything goes." if course.legs > 1 else "Cut: it goes."
    if not lost:
        return f"Cut on the leg to {names[leg]}: {whole[leg] - left[leg]} of its {whole[leg]} strand{'s' if whole[leg] > 1 else ''} go{'es' if whole[leg] - left[leg] == 1 else ''}."
    which = listed([names[one] for one in lost])
    return f"Cut on the leg to {names[leg]}: {'that leg goes' if lost == (leg,) else which + ' go'}; {_stays(course, lost, names)}."


def _stays(course: Course, lost: tuple[int, ...], names: list[str]) -> str:
    left = [names[one] for one in range(course.legs) if one not in lost]
    return f"{listed(left)} hold{'s' if len(left) == 1 else ''}"


_UNDONE = {
    "point": "The knot at the point",
    "end": "The knot at the end of the leg to {names}",
    "between": "The knot between the legs to {names}",
    "feature": "The hitch round {names}",
    "join": "The bend that joins its ends",
}


def _undone(course: Course, knot: PieceKnot, names: list[str]) -> str:
    lost, left = course.lost(undone=knot), course.left(undone=knot)
    what = _UNDONE[knot.where].format(names=listed([names[leg] for leg in knot.legs]))
    if len(lost) == course.legs:
        return f"{what} undone: everything goes."
    if lost:
        return f"{what} undone: {listed([names[one] for one in lost])} go{'es' if len(lost) == 1 else ''}; {_stays(course, lost, names)}."
    if left != course.left():
        return f"{what} undone: {sum(course.left()) - sum(left)} of {sum(course.left())} strands go."
    return f"{what} undone: nothing goes, but the piece runs there."


def stage_reports(plan: Plan, rig: AnchorRig, pull: Pulling, trace: Trace) -> list[StageReport]:
    """Each stage that sets the working point down, with what it holds against all of the pull."""
    return [_stage(link, pull, trace) for link in stage_links(rig.arrangement, plan.day.state)]


def _stage(link: Link, pull: Pulling, trace: Trace) -> StageReport:
    holds = trace.figure(link.id, link.strength_n, "N", lambda: Told(f"{link.name} holds", f"S = {link.rule}", list(link.symbols), [], KNOWN))  # fmt: skip
    return StageReport(link.name, holds, link.strength_n.low / max(pull.force_n.high, 1.0))


# A leg that keeps less of what it was pulled to than this is not as tight as was said (common practice, no source).
KEEPS = 0.8


def tight_report(rig: AnchorRig, pull: Pulling, say: Wording) -> TightReport | None:
    """What each leg keeps of its pretension, round by round; None where none of several is pulled tight."""
    tight = [line for line in rig.lines if line.leg.pretension_n]
    if len(tight) < 2 or rig.slides or rig.scheme.made != "point":
        return None
    given = rig.arrangement.tightened
    order, rounds = (tuple(given.order), given.rounds) if given else (order_of(rig, pull.unit), 1)
    after = 1000 * tightened_kn(rig, order, rounds + 1)
    rows = [
        TightRow(line.feature.name, line.leg.pretension_n or 0.0, [float(one[line.index]) for one in after[:rounds]])
        for line in (rig.lines[leg] for leg in order)
        if line.leg.pretension_n
    ]  # fmt: skip
    return TightReport(
        [rig.lines[leg].feature.name for leg in order],
        given is not None,
        rows,
        " ".join(_kept(rows, rig, after[rounds], say)),
    )


def _kept(rows: list[TightRow], rig: AnchorRig, again_n: list[float], say: Wording) -> Iterator[str]:
    """What is less tight than was said, and whether going round once more would mend it."""
    loose = [row for row in rows if row.after_n[-1] < KEEPS * row.wanted_n]
    if not loose:
        return
    least = min(loose, key=lambda row: row.after_n[-1] / row.wanted_n)
    yield f"Pulled tight in this order, {lower_first(least.name)} keeps {say.force(least.after_n[-1])} of {say.force(least.wanted_n)}."
    then = {line.feature.name: again_n[line.index] for line in rig.lines}
    if then[least.name] > least.after_n[-1] + 0.05 * least.wanted_n:
        yield upper_first(f"going round once more, {say.force(then[least.name])}.")
    else:
        yield "Going round again does not mend it: these do not balance each other."
