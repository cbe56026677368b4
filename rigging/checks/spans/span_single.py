"""What the load of a tension line hangs on alone: all of it, but where another tension line has its like. Tag lines, and the lines of
another part of the work, hold it along the line, not up."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, setting
from rigging.document import Plan, TensionLine
from rigging.study.place import AtPlace


class SpanSingle(Found, topic="margins", anywhere=True):
    """`anchor`: the end that it is ("": the only rope)."""

    line: str
    number: int
    anchor: str
    rope: str


def find(here: AtPlace) -> Iterator[SpanSingle]:
    plan = here.plan
    for number, line in enumerate(plan.tension_lines):
        others = [one for one in plan.tension_lines if one is not line]
        rope = catalogue().ropes[plan.rope(line.rope).kind].name
        if line.ropes == 1 and all(one.rope == line.rope for one in others):
            about = f"{line.id}:rope"
            yield SpanSingle(
                level="stop", about=about, key=f"{line.id}:{about}", line=line.id, number=number, anchor="", rope=rope
            )
        for anchor in (line.anchor, line.far):
            if all(_hangs_on(plan, one, anchor) for one in others):
                yield SpanSingle(
                    level="stop", about=f"anchor:{anchor}", key=f"{line.id}:{anchor}", line=line.id, number=number, anchor=anchor, rope=rope
                )  # fmt: skip


def _hangs_on(plan: Plan, line: TensionLine, anchor: str) -> bool:
    """Whether a tension line goes when an anchor does: tied to it, or to nothing but what it is tied to."""
    gone = {leg.feature for leg in plan.anchor(anchor).arrangement.legs}
    ends = (line.anchor, line.far)
    return anchor in ends or any({leg.feature for leg in plan.anchor(one).arrangement.legs} <= gone for one in ends)


def mends(found: SpanSingle, plan: Plan) -> Iterator[Mend]:
    if not found.anchor:
        yield setting("two-ropes", f"/tension_lines/{found.number}/ropes", 2)
