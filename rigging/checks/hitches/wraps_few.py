"""Fewer wraps than are usual."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.hitches.on_line import here_on, tied_anew, tied_hitches
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.tied import Place
from rigging.study.place import AtPlace


class WrapsFew(Found, topic="geometry", source="hitch-wraps"):
    line: str
    place: Place
    hitch: str
    wraps: int
    usual: int


def find(here: AtPlace) -> Iterator[WrapsFew]:
    for one in tied_hitches(here):
        hitch, wraps = one.at.hitch, one.at.made.wraps
        if wraps is not None and hitch.wraps is not None and wraps < (hitch.wraps_least or hitch.wraps):
            yield WrapsFew(
                level="look", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.held.name, wraps=wraps,
                usual=hitch.wraps,
            )  # fmt: skip


def mends(found: WrapsFew, plan: Plan) -> Iterator[Mend]:
    usual = here_on(plan, found.line, found.place).hitch.wraps
    yield tied_anew(plan, found.line, found.place, "wraps", {"wraps": None}, wraps=usual)
