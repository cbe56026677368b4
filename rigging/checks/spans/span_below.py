"""The weakest part of a tension line at its worst place, where it is below the rule."""

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
        thin = one.way.weakest[one.way.thinnest] if one.way else None
        if one.way and thin is not None and thin.verdict == "below" and thin.gives != "slips":
            yield SpanBelow(
                level="stop", about=thin.about, key=one.line.id, line=one.line.id, number=one.number, part=thin,
                run_m=one.way.places[one.way.thinnest].run_m,
            )  # fmt: skip


def mends(found: SpanBelow, plan: Plan) -> Iterator[Mend]:
    yield from eased(plan, found.number)
    if plan.tension_lines[found.number].pretension_n > 0:
        yield setting("pretension", f"/tension_lines/{found.number}/pretension_n", 0.0, force_n=0.0)
