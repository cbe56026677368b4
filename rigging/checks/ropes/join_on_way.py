"""Joins that come to a device, a ratchet or a belay while the load is on its way: each is passed there."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.lines.whole_way import Job
from rigging.study.whole import Study

# Where a join has to be passed; over edges and round redirects it is watched.
_PASSED = ("device", "ratchet", "belay")


class JoinOnWay(Found, topic="geometry"):
    line: str
    at_m: float
    to: str
    job: Job
    metre: float


def find_over(study: Study) -> Iterator[tuple[JoinOnWay, float]]:
    seen = set()
    for one in study.way.events if study.way else ():
        if one.kind != "join" or one.comes_to not in _PASSED:
            continue
        rope = next(line.rope for line in study.plan.lines if line.id == one.line)
        key = f"{rope}:{one.number}"
        if key not in seen:
            seen.add(key)
            at_m = study.plan.rope(rope).joins[one.number].at_m
            found = JoinOnWay(
                level="look", about=f"{one.line}:rope", key=key, state=one.job, line=one.line, at_m=at_m, to=one.comes_to, job=one.job,
                metre=one.metre,
            )  # fmt: skip
            yield found, one.run_m
