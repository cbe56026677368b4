"""One thing alone: a part without which nothing holds the load."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, belay_added
from rigging.document import Plan
from rigging.judging.removal import Gone
from rigging.study.place import Alone, AtPlace


class Single(Found, topic="parts", anywhere=True):
    """`thing`: what the part is of; `what` it is made of, as the catalogue has it: an acceptance holds as long as it stays that."""

    thing: str
    what: str
    states: tuple[str, ...]
    gone: Gone


def find(here: AtPlace) -> Iterator[Single]:
    for one in here.alone:
        if not one.part.startswith("feature:") and len(bearing(here.plan, one)) < 2:
            yield Single(
                level="stop", about=one.part, key=one.thing, state=one.states[0], thing=one.thing, what=made_of(here.plan, one.thing),
                states=one.states, gone=one.gone,
            )  # fmt: skip


def bearing(plan: Plan, one: Alone) -> tuple[str, ...]:
    """Lines whose anchor a part is."""
    return tuple(line.id for line in plan.lines if one.part == f"anchor:{line.anchor}")


def made_of(plan: Plan, thing: str) -> str:
    """What a thing is made of, by its id in the catalogue; itself where it is in none."""
    line = next((one for one in plan.lines if thing.startswith(f"{one.id}:")), None)
    if line is None:
        return thing
    place = thing.removeprefix(f"{line.id}:")
    made = {
        "rope": plan.rope(line.rope).kind, "device": line.lowering.device if line.lowering else "",
        "brake": line.lowering.brake_hitch if line.lowering else "", "ratchet": line.haul.capture if line.haul else "",
        "belay": line.belay.what if line.belay else "",
    }  # fmt: skip
    return made.get(place) or (line.haul.bends.get(place, line.haul.grab) if line.haul else place)


def mends(found: Single, plan: Plan) -> Iterator[Mend]:
    yield from belay_added(plan)
