"""What does not grip wire rope."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.hitches.on_line import all_hitches
from rigging.lines.tied import Place
from rigging.study.place import AtPlace


class WireGrip(Found, topic="margins"):
    place: Place
    hitch: str


def find(here: AtPlace) -> Iterator[WireGrip]:
    for one in all_hitches(here):
        if catalogue().ropes[one.rope.kind].fibre == "metal":
            yield WireGrip(level="stop", about=one.about, key=one.key, place=one.at.place, hitch=one.at.hitch.name)
