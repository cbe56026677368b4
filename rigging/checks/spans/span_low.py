"""A load on a tension line with next to nothing free under it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.checks.spans.crossed import crossed
from rigging.document import Plan
from rigging.judging.spans import LEAST_CLEAR_M
from rigging.study.place import AtPlace


class SpanLow(Found, topic="ground"):
    line: str
    number: int
    clear_m: float
    run_m: float


def find(here: AtPlace) -> Iterator[SpanLow]:
    for one in crossed(here):
        place = one.way.places[one.way.lowest] if one.way and one.way.lowest is not None else None
        if place is not None and place.clear_m is not None and place.clear_m.low < LEAST_CLEAR_M:
            yield SpanLow(
                level="stop", about=one.about, key=one.line.id, line=one.line.id, number=one.number, clear_m=place.clear_m.low, run_m=place.run_m
            )  # fmt: skip


def mends(found: SpanLow, plan: Plan) -> Iterator[Mend]:
    """Less sag, or the load hung shorter."""
    path, line = f"/tension_lines/{found.number}", plan.tension_lines[found.number]
    short = round(max(0.3, line.hang_m - (1.0 - found.clear_m)), 1)
    if short < line.hang_m:
        yield setting("hang", f"{path}/hang_m", short, length_m=short)
    tight = line.pretension_n + 1000
    yield setting("pretension", f"{path}/pretension_n", tight, force_n=tight)
