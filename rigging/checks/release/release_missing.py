"""A belay that, set hard, can not be let off under load."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import RELEASING_M, Mend, line_number, locking_belay, setting
from rigging.checks.release.releases import belay_opens
from rigging.document import Plan
from rigging.study.place import AtPlace


class ReleaseMissing(Found, topic="release"):
    line: str
    what: str


def find(here: AtPlace) -> Iterator[ReleaseMissing]:
    for line in here.plan.lines:
        if line.belay is not None and not belay_opens(line):
            what = catalogue().catching(line.belay.holds, line.belay.what).name
            yield ReleaseMissing(level="look", about=f"{line.id}:belay", key=line.id, line=line.id, what=what)


def mends(found: ReleaseMissing, plan: Plan) -> Iterator[Mend]:
    number = line_number(plan, found.line)
    belay = plan.lines[number].belay
    if belay and belay.holds == "hitch":
        yield setting("releasing", f"/lines/{number}/belay/releasing_m", RELEASING_M, length_m=RELEASING_M)
    elif belay:
        yield locking_belay(number)
