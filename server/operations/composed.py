"""A plan's operation and its report, made by the engine: no database and no server is needed for it."""

import json
import pickle
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

from rigging.document import Plan as Document
from rigging.lines.whole_way import Job
from rigging.procedures.compose import composed
from rigging.procedures.operation import Operation, Planned, Section
from rigging.procedures.otherwise import Otherwise
from rigging.procedures.run import own_procedures
from rigging.procedures.timing import waits_of
from rigging.telling.work.operation import OperationReport, StepReport, operation_report

T = TypeVar("T")


@dataclass(frozen=True)
class Stretch:
    """A section in short: its job, where that begins, its steps by key, and the metres that come in over all of them."""

    procedure: str
    job: Job | None
    at_m: float | None
    keys: tuple[str, ...]
    up_m: float


class Composed:
    """An operation and its report; the position of every step; its sections in short.

    Handed from one process to another, the operation and the report are read only when somebody asks for them: most who open a run are answered
    with the report as it was written."""

    def __init__(self, operation: Operation, report: OperationReport):
        self.operation, self.report = operation, report
        # By name, what is not read in until somebody asks for it.
        self._written: dict[str, bytes] = {}
        self.asked: dict[tuple[str, ...], Any] = {}
        self.order = tuple(one.key for one in report.steps)
        self.waits = waits_of(operation)
        self.sections = frozenset(one.id for one in operation.sections)
        self.stretches = tuple(
            Stretch(
                one.procedure,
                one.job,
                one.at_m,
                tuple(step.key for step in one.steps),
                sum(step.up_m for step in one.steps),
            )
            for one in operation.sections
        )

    @cached_property
    def operation(self) -> Operation:
        return pickle.loads(self._written["operation"])  # type: ignore[no-any-return]

    @cached_property
    def report(self) -> OperationReport:
        return pickle.loads(self._written["report"])  # type: ignore[no-any-return]

    @cached_property
    def told(self) -> bytes:
        """The report, as it is sent."""
        return self.report.model_dump_json().encode()

    def __getstate__(self) -> dict[str, Any]:
        written = {"operation": pickle.dumps(self.operation), "report": pickle.dumps(self.report)}
        return {
            "order": self.order,
            "sections": self.sections,
            "waits": self.waits,
            "stretches": self.stretches,
            "told": self.told,
            "asked": {},
            "_written": written,
        }

    def __setstate__(self, state: dict[str, Any]) -> None:
        self.__dict__.update(state)

    def once(self, question: tuple[str, ...], work: Callable[[], T]) -> T:
        """What was asked of it before is not worked out again."""
        if question not in self.asked:
            self.asked[question] = work()
        return self.asked[question]  # type: ignore[no-any-return]

    def index(self, key: str) -> int:
        return self.order.index(key) if key in self.order else 0

    def step(self, key: str) -> StepReport:
        return self.report.steps[self.index(key)]

    def after(self, key: str) -> str:
        """The step that comes next; the last stays."""
        return self.order[min(self.index(key) + 1, len(self.order) - 1)]

    def planned(self, key: str) -> Planned:
        return self.operation.steps[self.index(key)]

    def section(self, key: str) -> Section:
        """The section that a step is in."""
        id = self.step(key).section
        return next(one for one in self.operation.sections if one.id == id)


def compose(document: str, given: str) -> Composed:
    """The operation of a document, as JSON, with what its team and its run bring, as JSON too: `own` procedures by id, and what was found `otherwise`.

    Raises
    ------
    Refused
        If it can not be composed.
    """
    brought = json.loads(given)
    own = own_procedures(brought["own"])
    plan = Document.model_validate_json(document)
    operation = composed(plan, own, [Otherwise.model_validate(one) for one in brought["otherwise"]])
    return Composed(operation, operation_report(plan, operation))
