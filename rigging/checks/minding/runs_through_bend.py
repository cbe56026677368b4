"""A ratchet that nobody minds beside a bend that it is drawn through."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, minder, minding_pulley
from rigging.checks.minding.unminded import OPEN_BENDS
from rigging.document import Plan
from rigging.lines.parts import at_ratchet, minded
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace


class RunsThroughBend(Found, topic="hands-off"):
    line: str
    hitch: str
    bend: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[RunsThroughBend]:
    for line, haul in here.hauled(solved):
        if haul.capture and not minded(haul) and at_ratchet(haul) in OPEN_BENDS:
            of, hitch = line.rig.line.id, catalogue().hitches[haul.capture].name
            bend = catalogue().bends[at_ratchet(haul)].name
            yield RunsThroughBend(level="look", about=f"{of}:ratchet", state=solved.id, line=of, hitch=hitch, bend=bend)


def mends(found: RunsThroughBend, plan: Plan) -> Iterator[Mend]:
    yield from minding_pulley(plan, found.line)
    yield from minder(plan, found.line, "ratchet")
