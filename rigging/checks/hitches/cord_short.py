"""A loop of cord that its wraps, reach and knot use up."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.hitches.on_line import tied_anew, tied_hitches
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.lines.tied import Place, cord_length_m
from rigging.study.place import AtPlace


class CordShort(Found, topic="geometry", source="cord-length"):
    line: str
    place: Place
    hitch: str
    there_m: float
    wanted_m: float


def find(here: AtPlace) -> Iterator[CordShort]:
    for one in tied_hitches(here):
        there = one.at.made.cord_length_m
        wanted = cord_length_m(one.at.hitch, one.at.made, catalogue().ropes[one.rope.kind], one.at.reach_m)
        if there is not None and there < wanted - 1e-9:
            yield CordShort(
                level="stop", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.held.name, there_m=there,
                wanted_m=wanted,
            )  # fmt: skip


def mends(found: CordShort, plan: Plan) -> Iterator[Mend]:
    long = math.ceil(found.wanted_m * 10 - 1e-9) / 10
    yield tied_anew(plan, found.line, found.place, "cord-length", {"cord_length_m": long}, length_m=long)
