"""Force limit: nothing slips before it breaks."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.margins.cap import slipping
from rigging.checks.mending import Mend, device
from rigging.document import Plan
from rigging.judging.parts import tied_behind
from rigging.study.place import AtPlace


class NoCap(Found, topic="margins"):
    pass


def find(here: AtPlace) -> Iterator[NoCap]:
    limited = here.parts and here.plan.rules.school == "force-limit"
    if limited and all(tied_behind(here.plan, part) for _, part, _ in slipping(here)):
        yield NoCap(level="stop", about="load", state="held")


def mends(found: NoCap, plan: Plan) -> Iterator[Mend]:
    for number, line in enumerate(plan.lines):
        if line.role == "main" and line.lowering is not None:
            yield device(number, "self-locking")
