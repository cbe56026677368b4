"""A brake-side hitch that is drawn into its device."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace


class ReachesDevice(Found, topic="geometry"):
    line: str
    reach_m: float
    out_m: float


def find(here: AtPlace) -> Iterator[ReachesDevice]:
    for line in here.plan.lines:
        low = line.lowering
        if low and low.brake_hitch and low.hitch_m + low.slack_m >= low.out_m - 1e-9:
            reach_m = low.hitch_m + low.slack_m
            yield ReachesDevice(
                level="stop", about=f"{line.id}:brake", key=line.id, line=line.id, reach_m=reach_m, out_m=low.out_m
            )


def mends(found: ReachesDevice, plan: Plan) -> Iterator[Mend]:
    out = round(found.reach_m + 0.2, 2)
    yield setting("device-out", f"/lines/{line_number(plan, found.line)}/lowering/out_m", out, length_m=out)
