"""Steps of the operation that can not be done on this plan."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found, Level
from rigging.procedures.operation import Section
from rigging.quantities.faults import Fault
from rigging.study.whole import Study


class StepRefused(Found, topic="ground"):
    section: str
    do: str
    fault: Fault

    @property
    def at_step(self) -> str:
        return self.key


def find_over(study: Study) -> Iterator[tuple[StepRefused, None]]:
    for section in study.operation.sections if study.operation else ():
        yield from _of(section, "stop")
        # What is only done if something else does not come is looked at.
        for branch in section.instead:
            yield from _of(branch.section, "look")


def _of(section: Section, level: Level) -> Iterator[tuple[StepRefused, None]]:
    for one in section.steps:
        fault = next((fault for made in one.step.made for fault in made.refused), None)
        if fault is not None:
            yield StepRefused(
                level=level, about="load", key=one.key, section=section.name, do=one.step.given.do, fault=fault
            ), None  # fmt: skip
