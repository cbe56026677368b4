"""A clamp that cuts the sheath instead of slipping."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.hitches.on_line import all_hitches
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Cuts(Found, topic="geometry", source="clamps"):
    hitch: str
    breaks_n: Range


def find(here: AtPlace) -> Iterator[Cuts]:
    for one in all_hitches(here):
        if one.at.hitch.form == "clamp" and one.held.slip_n is None:
            yield Cuts(level="note", about=one.about, key=one.key, hitch=one.held.name, breaks_n=one.held.breaks_n)
