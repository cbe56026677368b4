"""A ratchet that nobody minds, and that counts as open."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, minder, minding_pulley
from rigging.document import Plan
from rigging.lines.parts import at_ratchet, minded
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace

# What a hitch is drawn through.
OPEN_BENDS = ("carabiner", "slick-sling", "minding-pulley")


class Unminded(Found, topic="hands-off"):
    line: str
    hitch: str


def find_in_state(here: AtPlace, solved: Solved) -> Iterator[Unminded]:
    for line, haul in here.hauled(solved):
        if haul.capture and not minded(haul) and at_ratchet(haul) not in OPEN_BENDS:
            of, hitch = line.rig.line.id, catalogue().hitches[haul.capture].name
            yield Unminded(level="look", about=f"{of}:ratchet", state=solved.id, line=of, hitch=hitch)


def mends(found: Unminded, plan: Plan) -> Iterator[Mend]:
    yield from minder(plan, found.line, "ratchet")
    yield from minding_pulley(plan, found.line)
