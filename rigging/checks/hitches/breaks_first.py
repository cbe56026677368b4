"""Cord that breaks about where it should slip."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from rigging.catalogue import SlingMaterial, catalogue
from rigging.checks.found import Found
from rigging.checks.hitches.on_line import here_on, tied_anew, tied_hitches
from rigging.checks.mending import Mend, line_number
from rigging.document import Plan, Rope, Tested
from rigging.lines.tied import HitchPlace, Place, hitch_hold, too_thick
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class BreaksFirst(Found, topic="margins", source="en-564"):
    line: str
    place: Place
    hitch: str
    breaks_n: Range
    slips_n: Range


def find(here: AtPlace) -> Iterator[BreaksFirst]:
    for one in tied_hitches(here):
        slips, breaks = one.held.slip_n, one.held.breaks_n
        if slips is not None and one.at.ropes == 1 and breaks.expected < slips.expected:
            yield BreaksFirst(
                level="look", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.held.name, breaks_n=breaks,
                slips_n=slips,
            )  # fmt: skip


def cords_that_fit(at: HitchPlace, rope: Rope, tested: Sequence[Tested]) -> list[SlingMaterial]:
    """Cords that grip a rope and slip before they break, thickest first."""
    found = []
    for cord in catalogue().slings.values():
        if not cord.cord or cord.slick or too_thick(cord, catalogue().ropes[rope.kind]):
            continue
        held = hitch_hold(at.hitch, at.made.model_copy(update={"cord": cord.id}), rope, tested)
        if held.slip_n is not None and held.breaks_n.expected >= held.slip_n.expected:
            found.append(cord)
    return sorted(found, key=lambda one: -one.thickness_m)


def mends(found: BreaksFirst, plan: Plan) -> Iterator[Mend]:
    at, rope = here_on(plan, found.line, found.place), plan.rope(plan.lines[line_number(plan, found.line)].rope)
    if at.made.wraps:
        yield tied_anew(plan, found.line, found.place, "wraps", {"wraps": None}, wraps=at.hitch.wraps)
    for cord in cords_that_fit(at, rope, plan.tested)[:1]:
        change = {"cord": cord.id, "cord_length_m": None}
        yield tied_anew(plan, found.line, found.place, "cord", change, what=cord.name)
