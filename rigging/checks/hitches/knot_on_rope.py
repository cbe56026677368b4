"""A joining knot that lies on the rope and keeps the wraps apart."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.hitches.on_line import tied_anew, tied_hitches
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.tied import Place
from rigging.study.place import AtPlace


class KnotOnRope(Found, topic="geometry"):
    line: str
    place: Place
    hitch: str


def find(here: AtPlace) -> Iterator[KnotOnRope]:
    for one in tied_hitches(here):
        if one.at.made.knot_on_rope:
            yield KnotOnRope(
                level="look", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.held.name
            )


def mends(found: KnotOnRope, plan: Plan) -> Iterator[Mend]:
    yield tied_anew(plan, found.line, found.place, "knot-off", {"knot_on_rope": False})
