"""What may lie otherwise than the plan has it at a step, in words: each thing on the ropes with how it may be found, and what would bring a step that
does not go."""

from __future__ import annotations

from typing import Any

from rigging.procedures.begin import Ground
from rigging.procedures.edits.edit import Edit
from rigging.procedures.operation import Operation, Planned, Section
from rigging.procedures.otherwise import ways, would_bring
from rigging.procedures.run import Bound, ProcedureGiven, known
from rigging.quantities.faults import refuse
from rigging.quantities.units import Wording
from rigging.telling.words.names import upper_first
from rigging.telling.words.otherwise import how, now, said
from rigging.telling.work.operation import HoldsNow, Mark, Stretch, Teller
from rigging.telling.work.timing import Told


class HowReport(Told):
    """One way in which a thing may lie: `edits` say it."""

    label: str
    edits: list[dict[str, Any]]


class ThingReport(Told):
    """Something on the ropes: what it is called, how it lies as the plan has it (empty: it is not there), how else it may lie; `part` is its mark on the
    drawing."""

    part: str
    name: str
    now: str
    ways: list[HowReport]


class OtherwiseReport(Told):
    """What can be said of the rig that a step finds, with its drawing; `brings`: what could be done first so that a step that does not go then goes."""

    key: str
    holds: HoldsNow
    stretches: list[Stretch]
    marks: list[Mark]
    things: list[ThingReport]
    brings: list[HowReport]


def otherwise_report(operation: Operation, key: str, say: Wording | None = None) -> OtherwiseReport:
    """What may be otherwise before a step of an operation.

    Raises
    ------
    Refused
        If there is no such step.
    """
    section, planned = step_of(operation, key)
    before = planned.step.found
    teller, given = Teller(section.there, say or Wording()), _given(operation, section)
    bound = Bound(Ground(section.there), given.begins if given else "")
    later = [one.step.given for one in section.steps[section.steps.index(planned) :]]
    things: dict[str, ThingReport] = {}
    for one in ways(before.state, later, bound.values):
        lies = now(one.item, before.state, one.part)
        thing = ThingReport(part=one.part, name=upper_first(teller.part(before.state, one.part)), now=lies, ways=[])
        things.setdefault(one.part, thing).ways.append(_way(how(one.edit), one.edit))
    brings = (
        would_bring(bound, planned.step.given, before, given.steps if given else []) if planned.step.refused else []
    )
    return OtherwiseReport(
        key=key, **teller.lying(before), things=list(things.values()), brings=[_way(said(teller.part, before.state, [one]), one) for one in brings]
    )  # fmt: skip


def step_of(operation: Operation, key: str) -> tuple[Section, Planned]:
    """A step, with its section.

    Raises
    ------
    Refused
        If there is none.
    """
    found = next(((section, one) for section in operation.sections for one in section.steps if one.key == key), None)
    if found is None:
        raise refuse("at", f"there is no step {key!r} in the operation", "name one of its steps")
    return found


def _given(operation: Operation, section: Section) -> ProcedureGiven | None:
    return operation.own.get(section.procedure) or known().get(section.procedure)


def _way(label: str, edit: Edit) -> HowReport:
    return HowReport(label=upper_first(label), edits=[edit.row])
