"""Every part of a tension line and of its ends below the rule, once, where it is worst."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.checks.spans.crossed import crossed, eased
from rigging.document import Plan
from rigging.judging.margins import Part
from rigging.study.place import AtPlace


class SpanBelow(Found, topic="margins", source="cable-sag"):
    line: str
    number: int
    part: Part
    run_m: float


def find(here: AtPlace) -> Iterator[SpanBelow]:
    for one in crossed(here):
        for number, part in one.way.below if one.way else ():
            # What slips gives rope and holds on: it is worth a look, and no more.
            yield SpanBelow(
                level="look" if part.gives == "slips" else "stop", about=part.about, key=f"{one.line.id}:{part.id}", line=one.line.id,
                number=one.number, part=part, run_m=one.way.places[number].run_m if one.way else 0.0,
            )  # fmt: skip


def mends(found: SpanBelow, plan: Plan) -> Iterator[Mend]:
    yield from eased(plan, found.number)
    if plan.tension_lines[found.number].pretension_n > 0:
        yield setting("pretension", f"/tension_lines/{found.number}/pretension_n", 0.0, force_n=0.0)
