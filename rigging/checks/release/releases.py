"""What can be let off under load, and by what."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.document import Line
from rigging.study.place import AtPlace


class Releases(Found, topic="release"):
    """`by_m`: what the releasing hitch can give back (None: the thing itself is let off)."""

    line: str
    what: str
    by_m: float | None


def find(here: AtPlace) -> Iterator[Releases]:
    for line in here.plan.lines:
        belay = line.belay
        if belay is not None and belay_opens(line):
            what = catalogue().catching(belay.holds, belay.what).name
            yield Releases(
                level="note", about=f"{line.id}:belay", key=line.id, line=line.id, what=what, by_m=belay.releasing_m
            )
        elif belay is None and line.lowering is not None:
            # It is let off by letting it run; a hitch behind it bears only what is left at the brake side.
            what = catalogue().devices[line.lowering.device].name
            yield Releases(level="note", about=f"{line.id}:device", key=line.id, line=line.id, what=what, by_m=None)


def belay_opens(line: Line) -> bool:
    """Whether a belay that was set hard can be let off: one that opens only below a force does not under what a catch leaves on it."""
    belay = line.belay
    if belay is None:
        return False
    if belay.releasing_m is not None or belay.holds == "device":
        return True
    hitch = catalogue().hitches[belay.what] if belay.holds == "hitch" else None
    return hitch is not None and hitch.releases_under_load and hitch.releases_below_n is None
