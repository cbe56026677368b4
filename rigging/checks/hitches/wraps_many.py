"""More wraps than grip."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.hitches.on_line import here_on, tied_anew, tied_hitches
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.tied import Place, wraps_of
from rigging.study.place import AtPlace


class WrapsMany(Found, topic="geometry", source="hitch-wraps"):
    line: str
    place: Place
    hitch: str
    wraps: int
    usual: int | None


def find(here: AtPlace) -> Iterator[WrapsMany]:
    for one in tied_hitches(here):
        wraps = wraps_of(one.at.hitch, one.at.made)
        if wraps > catalogue().tying.wraps_most:
            yield WrapsMany(
                level="look", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.held.name, wraps=wraps,
                usual=one.at.hitch.wraps,
            )  # fmt: skip


def mends(found: WrapsMany, plan: Plan) -> Iterator[Mend]:
    usual = here_on(plan, found.line, found.place).hitch.wraps
    yield tied_anew(plan, found.line, found.place, "wraps", {"wraps": None}, wraps=usual)
