"""A minder who is not on the list of people."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.lines.people import JobKind
from rigging.study.place import AtPlace


class NotThere(Found, topic="hands-off"):
    person: str
    job: JobKind


def find(here: AtPlace) -> Iterator[NotThere]:
    listed = {one.name for one in here.plan.team.people}
    for one in here.jobs:
        if one.who and listed and one.who not in listed:
            yield NotThere(
                level="unknown", about=f"{one.line}:{one.job}", key=one.who, state=here.people_state, person=one.who, job=one.job
            )  # fmt: skip


def mends(found: NotThere, plan: Plan) -> Iterator[Mend]:
    edit = Edit("add", "/team/people/-", {"name": found.person, "role": "other"})
    yield Mend("list-person", (edit,), {"who": found.person})
