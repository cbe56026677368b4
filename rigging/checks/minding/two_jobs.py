"""One person with two ropes in hand at the same time: brake hitch or ratchet, and belay, or those of two lines."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, minder
from rigging.document import Plan
from rigging.lines.people import Job, JobKind
from rigging.study.place import AtPlace


class TwoJobs(Found, topic="hands-off"):
    person: str
    line: str
    job: JobKind
    other_job: JobKind


def find(here: AtPlace) -> Iterator[TwoJobs]:
    for moment in ("brake", "ratchet"):
        at_once = [one for one in here.jobs if one.who and one.job in (moment, "belay")]
        for number, one in enumerate(at_once):
            for other in at_once[:number]:
                if one.who == other.who:
                    yield _twice(one, other, moment, here.people_state)


def _twice(one: Job, other: Job, moment: str, state: str) -> TwoJobs:
    return TwoJobs(
        level="look", about=f"{one.line}:{one.job}", key=f"{one.who}:{moment}", state=state, person=one.who, line=one.line, job=one.job,
        other_job=other.job,
    )  # fmt: skip


def mends(found: TwoJobs, plan: Plan) -> Iterator[Mend]:
    yield from minder(plan, found.line, found.job)
