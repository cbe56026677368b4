"""Rope that is too short, with the missing metres."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, rope_number, setting
from rigging.document import Plan
from rigging.lines.lengths import BudgetJob
from rigging.study.place import AtPlace


class Short(Found, topic="geometry", source="rope-tail"):
    job: BudgetJob
    rope: str
    missing_m: float
    needed_m: float
    there_m: float
    beside_m: float


def find(here: AtPlace) -> Iterator[Short]:
    for one in here.judged.budgets:
        if one.left_m < 0:
            yield Short(
                level="stop", about=f"{one.line}:rope", key=one.job if one.line == "main" else f"{one.job}:{one.line}", job=one.job,
                rope=one.rope, missing_m=-one.left_m, needed_m=one.needed_m, there_m=one.there_m, beside_m=one.beside_m + one.used_m,
            )  # fmt: skip


def mends(found: Short, plan: Plan) -> Iterator[Mend]:
    wanted = math.ceil(found.needed_m / 10 - 1e-9) * 10
    yield setting("longer-rope", f"/ropes/{rope_number(plan, found.rope)}/length_m", wanted, length_m=wanted)
