"""A ratchet that does not let go under load."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import Hitch, catalogue
from rigging.checks.found import Found
from rigging.checks.mending import RELEASING_M, Mend, line_number, setting
from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class CaptureRelease(Found, topic="release"):
    line: str
    hitch: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[CaptureRelease]:
    for line, haul in here.hauled(solved):
        hitch = catalogue().hitches[haul.capture] if haul.capture else None
        if hitch and not opens(hitch, line.at_load) and haul.capture_releasing_m is None:
            of = line.rig.line.id
            yield CaptureRelease(level="note", about=f"{of}:ratchet", state=solved.id, line=of, hitch=hitch.name)


def opens(hitch: Hitch, load: Range) -> bool:
    """Whether a hand opens a hitch under a load, wherever both are."""
    below = hitch.releases_below_n
    return hitch.releases_under_load and (below is None or load.high <= below.low)


def mends(found: CaptureRelease, plan: Plan) -> Iterator[Mend]:
    path = f"/lines/{line_number(plan, found.line)}/haul/capture_releasing_m"
    yield setting("releasing", path, RELEASING_M, length_m=RELEASING_M)
