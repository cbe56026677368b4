"""Cord too thick for its rope."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.hitches.breaks_first import cords_that_fit
from rigging.checks.hitches.on_line import here_on, tied_anew, tied_hitches
from rigging.checks.mending import Mend, line_number
from rigging.document import Plan
from rigging.lines.tied import Place, cord_of, too_thick
from rigging.study.place import AtPlace


class CordThick(Found, topic="geometry", source="hitch-cord"):
    line: str
    place: Place
    hitch: str
    cord_m: float
    rope_m: float


def find(here: AtPlace) -> Iterator[CordThick]:
    for one in tied_hitches(here):
        cord = cord_of(one.at.hitch, one.at.made)
        if too_thick(cord, catalogue().ropes[one.rope.kind]):
            yield CordThick(
                level="stop" if cord.thickness_m >= one.rope_m else "look", about=one.about, key=one.key, line=one.line.id, place=one.at.place,
                hitch=one.held.name, cord_m=cord.thickness_m, rope_m=one.rope_m,
            )  # fmt: skip


def mends(found: CordThick, plan: Plan) -> Iterator[Mend]:
    at, rope = here_on(plan, found.line, found.place), plan.rope(plan.lines[line_number(plan, found.line)].rope)
    for cord in cords_that_fit(at, rope, plan.tested)[:1]:
        change = {"cord": cord.id, "cord_length_m": None}
        yield tied_anew(plan, found.line, found.place, "cord", change, what=cord.name)
