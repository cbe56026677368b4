"""A rope that a step of the operation asks more of than there is, all that it does at that time counted."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, rope_number, setting
from rigging.document import Plan
from rigging.procedures.rope_used import least_left
from rigging.study.whole import Study


class RunsOut(Found, topic="geometry"):
    """`strands`: those of it that lie in the rig then."""

    rope: str
    step: str
    do: str
    strands: tuple[str, ...]
    missing_m: float
    there_m: float
    laid_m: float
    besides_m: float

    @property
    def at_step(self) -> str:
        return self.step


def find_over(study: Study) -> Iterator[tuple[RunsOut, None]]:
    operation = study.operation
    if operation is None:
        return
    steps = {one.key: one.step.given.do for one in operation.steps}
    # A rope that is short for a line's job is said there.
    said = {one.rope for one in study.start.judged.budgets if one.left_m < 0}
    for one in least_left(study.plan, operation):
        if one.left_m < 0 and one.rope not in said:
            yield RunsOut(
                level="stop", about=f"{one.strands[0].partition(':')[0]}:rope", key=one.rope, rope=one.rope, step=one.key, do=steps[one.key],
                strands=one.strands, missing_m=-one.left_m, there_m=one.there_m, laid_m=one.laid_m, besides_m=one.besides_m,
            ), None  # fmt: skip


def mends(found: RunsOut, plan: Plan) -> Iterator[Mend]:
    wanted = math.ceil((found.laid_m + found.besides_m) / 10 - 1e-9) * 10
    yield setting("longer-rope", f"/ropes/{rope_number(plan, found.rope)}/length_m", wanted, length_m=wanted)
