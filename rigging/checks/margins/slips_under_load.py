"""A load heavier than what holds it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.margins.below import if_it_slips, room_of, slips_under_load
from rigging.checks.margins.stronger import stronger
from rigging.checks.mending import HITCH, Mend, line_number
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.judging.margins import Part
from rigging.judging.removal import Gone
from rigging.study.place import AtPlace


class SlipsUnderLoad(Found, topic="margins", anywhere=True):
    part: Part
    gone: Gone | None

    @property
    def room(self) -> float:
        return room_of(self.part)


def find(here: AtPlace) -> Iterator[SlipsUnderLoad]:
    for state, part in here.below.values():
        if slips_under_load(here, state, part):
            yield SlipsUnderLoad(
                level="stop", about=part.about, key=part.id, state=state, part=part, gone=if_it_slips(here, state, part)
            )  # fmt: skip


def mends(found: SlipsUnderLoad, plan: Plan) -> Iterator[Mend]:
    part = found.part
    if part.kind not in ("locked-device", "device"):
        yield from stronger(part, plan)
        return
    number = line_number(plan, part.id.partition(":")[0])
    kinds = [
        one for one in catalogue().devices.values() if one.gives == "breaks" and one.mu is None and not one.special
    ]
    best = max(kinds, key=lambda one: one.holding().expected)
    edits = (
        Edit("replace", f"/lines/{number}/lowering/device", best.id),
        Edit("replace", f"/lines/{number}/lowering/brake_hitch", HITCH),
    )
    yield Mend("device", edits, {"what": best.name})
