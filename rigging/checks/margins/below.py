"""Every part below the rule of the school in force, once, where it is worst."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.margins.stronger import stronger
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.judging.margins import Part
from rigging.judging.removal import Gone
from rigging.lines.catch import Caught
from rigging.study.place import AtPlace


class Below(Found, topic="margins", anywhere=True):
    """`gone`: what happens where the part slips (None: it breaks, or nothing hangs on it)."""

    part: Part
    gone: Gone | None

    @property
    def room(self) -> float:
        return room_of(self.part)


def find(here: AtPlace) -> Iterator[Below]:
    for state, part in here.below.values():
        assert part.margin is not None
        caught = isinstance(here.solved[state], Caught)
        if slips_under_load(here, state, part):
            continue
        # Under the peak of a catch no rule of the team speaks: it is loud only where the part may break.
        yield Below(
            level="look" if caught and part.margin.low >= 1 else "stop", about=part.about, key=part.id, state=state, part=part,
            gone=if_it_slips(here, state, part),
        )  # fmt: skip


def room_of(part: Part) -> float:
    """A part's margin over its rule."""
    return part.margin.low / max(part.target, 1e-9) if part.margin is not None else math.inf


def slips_under_load(here: AtPlace, state: str, part: Part) -> bool:
    """Whether what slips does so under the load itself, where nothing is caught."""
    assert part.margin is not None
    return part.gives == "slips" and part.margin.low < 1 and not isinstance(here.solved[state], Caught)


def if_it_slips(here: AtPlace, state: str, part: Part) -> Gone | None:
    standing = here.standings[state]
    return standing.gone(part.takes) if part.gives == "slips" and part.takes in standing.parts else None


def mends(found: Below, plan: Plan) -> Iterator[Mend]:
    yield from stronger(found.part, plan)
