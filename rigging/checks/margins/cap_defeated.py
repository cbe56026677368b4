"""Force limit: a clutch tied off behind at full strength."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.margins.cap import slipping
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.judging.margins import Part
from rigging.judging.parts import tied_behind
from rigging.study.place import AtPlace


class CapDefeated(Found, topic="margins"):
    line: str
    part: Part


def find(here: AtPlace) -> Iterator[CapDefeated]:
    for _, part, id in slipping(here):
        if tied_behind(here.plan, part):
            line = part.takes.partition(":")[0]
            yield CapDefeated(level="stop", about=part.about, key=part.takes, state=id, line=line, part=part)


def mends(found: CapDefeated, plan: Plan) -> Iterator[Mend]:
    number = line_number(plan, found.line)
    which = "belay" if plan.lines[number].belay else "lowering"
    yield setting("untie", f"/lines/{number}/{which}/tied_behind_m", None)
