"""Sections of the operation that can not be done: nothing leads to the rig that they begin with, or the plan has not what they ask for."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.procedures.operation import Section, Unmade
from rigging.study.whole import Study


class SectionUnmade(Found, topic="ground"):
    section: str
    place: int
    unmade: Unmade
    instead: str = ""


def find_over(study: Study) -> Iterator[tuple[SectionUnmade, None]]:
    for section in study.operation.sections if study.operation else ():
        yield from _of(section, "", study.own is None)
        for branch in section.instead:
            yield from _of(branch.section, branch.when, study.own is None)


def _of(section: Section, instead: str, anybodys: bool) -> Iterator[tuple[SectionUnmade, None]]:
    if section.unmade is not None:
        # Where nobody said whose plan it is, a procedure that does not ship may be the team's own.
        level: Level = "look" if instead or (anybodys and section.unmade.kind == "unknown") else "stop"
        yield SectionUnmade(
            level=level, about="load", key=section.id, section=section.name, place=section.place, unmade=section.unmade, instead=instead
        ), None  # fmt: skip


def mends(found: SectionUnmade, plan: Plan) -> Iterator[Mend]:
    """It is left out of what the leader arranged."""
    if plan.operation.sections and not found.instead:
        yield Mend("leave-out", (Edit("remove", f"/operation/sections/{found.place}"),), {"what": found.section})
