"""A plan's whole operation as steps in order: set up, checked, lowered, joins passed where they fall, changed over, raised haul by
haul, over the edge, struck; each with the load where it then is, how long it takes, the people there named, and what asks for more hands than there are."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any

from rigging.document import Plan, SectionGiven
from rigging.lines.whole_way import Event, Job, WholeWay, at_work, moved, whole_way
from rigging.procedures.asked import Asked
from rigging.procedures.begin import Ground, with_tag_line
from rigging.procedures.course import (
    CHECKED,
    EDGE,
    LOWERS_ON,
    PLACED,
    SET_UP,
    alone,
    by_one,
    down_on,
    first_rig,
    follows,
    goes_on,
    leaves,
    usual,
)
from rigging.procedures.crew import Crew, lacks
from rigging.procedures.edits.edit import Edit
from rigging.procedures.minutes import timed
from rigging.procedures.operation import Branch, Lies, Operation, Planned, Section, Task, Unmade
from rigging.procedures.otherwise import Otherwise, standing_on, still_so
from rigging.procedures.otherwise import found as as_found
from rigging.procedures.run import Procedure, ProcedureGiven, begun, edit_of, given_of, known, walked
from rigging.procedures.set_up import setting_up
from rigging.procedures.state import State
from rigging.quantities.faults import Refused

# In the name of what is done instead of a section.
_INSTEAD = "/or:"
# Places of the load at which joins and resets are looked for; at no more of them are hauls laid out.
_PLACES = 50
# So many hauls are laid out each by itself; of more, several share their ground.
_OWN_GROUND = 12
# So far the load may be from where it is taken to be; common practice, no source.
_ASTRAY_M = 1.0


def composed(
    plan: Plan, own: dict[str, ProcedureGiven] | None = None, otherwise: Sequence[Otherwise] = ()
) -> Operation:
    """The operation that a plan asks for. `own`: the team's own procedures, in place of those that ship under the same id; `otherwise`: what was
    found in its run that the plan has otherwise, in order.

    Raises
    ------
    Refused
        If no line leads to the load, or it can not be laid out.
    """
    composer = _Composer(plan, own or {}, otherwise)
    sections = tuple(composer.measured())
    plan = composer.plan
    return Operation(
        sections, tuple(lacks(composer.ground, sections)), composer.way, composer.own, plan.operation.begins, first_rig(plan, composer.lowers)
    )  # fmt: skip


class _Composer:
    def __init__(self, plan: Plan, own: dict[str, ProcedureGiven], otherwise: Sequence[Otherwise] = ()):
        plan = with_tag_line(plan)
        self.plan, self.own = plan, own
        # By the step's key; what is still so of it at the section that is composed.
        self.otherwise: dict[str, list[Otherwise]] = {}
        for one in otherwise:
            self.otherwise.setdefault(one.at, []).append(one)
        self.standing: dict[str, Edit] = {}
        self.times = ""
        self.alone = plan.operation.begins == "arrested" and alone(plan)
        self.ground = Ground(plan)
        self.crew = Crew(self.ground)
        self._made_at: dict[tuple[str, int], Procedure] = {}
        self._grounds: dict[tuple[Job, float], Ground] = {}
        self._givens: dict[str, ProcedureGiven] = {}
        missing = {id: moment.missing for id, moment in self.ground.moments.items()}
        self.lowers, self.raises = not missing["lowering"], not missing["raising"]
        self.way: WholeWay | None = None
        # Rope of the line at work from the load's start to its first corner.
        self.way_m: dict[Job, float] = {"lowering": 0.0, "raising": 0.0}
        if self.lowers or self.raises:
            self.way = whole_way(plan, at_work(plan), _PLACES)
            for job in self.way_m:
                bottom, top = self._ends_m(job)
                self.way_m[job] = bottom - top

    def _ends_m(self, job: Job) -> tuple[float, float]:
        """Rope of the line at work with the load at its start and at the first corner."""
        assert self.way is not None
        line = self.ground.line(job).id
        return self.way.places[0].lengths_m[line], self.way.places[-1].lengths_m[line]

    def _runs_m(self, job: Job, from_m: float, until_m: float) -> tuple[float, ...]:
        """Where the load is between so many metres of a job done and so many: where it begins, the places between, where it ends; in
        metres up its way."""
        assert self.way is not None
        (bottom, top), line = self._ends_m(job), self.ground.line(job).id
        begins, ends = (
            self.way.run_at(line, bottom - far if job == "raising" else top + far) for far in (from_m, until_m)
        )
        between = sorted(one.run_m for one in self.way.places if min(begins, ends) < one.run_m < max(begins, ends))
        return tuple(dict.fromkeys((begins, *(between if ends > begins else between[::-1]), ends)))

    def _there(self, job: Job, at_m: float, until_m: float | None = None) -> Ground:
        """The plan laid out with its load where so many metres of a job are done; the hands' pull is that of the hardest place until then."""
        if (job, at_m) not in self._grounds:
            assert self.way is not None
            runs_m = self._runs_m(job, at_m, at_m if until_m is None else until_m)
            pulls = [one.pulls("raising") for one in self.way.places if runs_m[0] <= one.run_m <= runs_m[-1]]
            hardest_n = max((one.hand_n.expected for one in pulls if one), default=0.0)
            self._grounds[job, at_m] = Ground(moved(self.plan, runs_m[0]), hardest_n)
        return self._grounds[job, at_m]

    def sections(self) -> Iterator[Section]:
        """Every section from the rig that the one before left; where what is left is no moment of the plan, that rig itself goes on."""
        rig, state = first_rig(self.plan, self.lowers), None
        times: dict[str, int] = {}
        for place, wanted in enumerate(self.plan.operation.sections or usual(self.plan, self.lowers, self.raises)):
            given = self._named(wanted.procedure)
            number = times[wanted.procedure] = times.get(wanted.procedure, 0) + 1
            self.times = f".{number}" if number > 1 else ""
            if given is None or not follows(given, rig):
                why = Unmade("found", given.begins, rig) if given else Unmade("unknown")
                rows = [self._not_made(wanted.procedure, given.name if given else wanted.procedure, why)]
                left = rig
            else:
                rows = list(self._made(given, rig, state if goes_on(given, rig) else None))
                left = leaves(given, rig)
            if number > 1:
                rows = [self._again(one, number) for one in rows]
            rows[-1] = replace(rows[-1], instead=tuple(self._instead(wanted, rows[-1], rig)), rig=left)
            yield from (replace(one, place=place) for one in rows)
            rig, state = left, rows[-1].steps[-1].step.after.state if rows[-1].steps else state

    def _again(self, section: Section, number: int) -> Section:
        """A section of a procedure that was there before, under a name of its own."""
        id = f"{section.id}.{number}"
        self._givens[id] = self._givens[section.id]
        steps = (replace(one, key=f"{id}/{n}") for n, one in enumerate(section.steps, start=1))
        return replace(section, id=id, steps=tuple(steps))

    def _named(self, id: str) -> ProcedureGiven | None:
        found = self.own.get(id) or PLACED.get(id) or known().get(id)
        if id == SET_UP:
            found = self._to_set_up[0]
        if found is None and id == LOWERS_ON:
            found = down_on(self._given("lower"))
        return by_one(found) if found and self.alone else found

    def _made(self, given: ProcedureGiven, rig: str, state: State | None) -> Iterator[Section]:
        """A procedure as the sections that it takes on this plan, from a rig by name, or from the one that is there."""
        top_m = self.way_m["raising"]
        if given.id == SET_UP:
            yield self._set_up()
        elif given.id == "lower" and self.lowers:
            yield from self._lowered(given)
        elif given.id == "raise" and self.raises:
            yield from self._hauls(given)
        elif given.id == EDGE.id and self.raises:
            yield self._of(given, self._there("raising", top_m), job="raising", at_m=top_m)
        elif (
            given.begins == "lowering"
            and any("lower" in edit for one in given.steps for edit in one.edits)
            and self.lowers
        ):
            yield self._of(given, self._there("lowering", 0.0), job="lowering", at_m=0.0)
        else:
            here = given if given.begins else given.model_copy(update={"begins": rig})
            yield self._of(here, self.ground, state=state)

    def _instead(self, wanted: SectionGiven, section: Section, rig: str) -> Iterator[Branch]:
        """What is done instead of a section that found a rig, each from before the step that was to move the load."""
        for number, one in enumerate(wanted.instead, start=1):
            given, id = self._named(one.procedure), f"{section.id}{_INSTEAD}{number}"
            moving = next((n for n, row in enumerate(section.steps) if row.motions), 0)
            before = section.steps[moving - 1].step.after.state if section.steps and moving else section.begins
            if given is None or before is None or not follows(given, rig):
                why = Unmade("found", given.begins, rig) if given else Unmade("unknown")
                yield Branch(id, one.when, self._not_made(id, given.name if given else one.procedure, why))
                continue
            found = self._of(given, self.ground, id=id, state=before)
            yield Branch(id, one.when, replace(found, steps=tuple(timed(self.plan, given, found.steps))))

    def _not_made(self, id: str, name: str, why: Unmade) -> Section:
        self._givens.setdefault(id, CHECKED)
        return Section(id, id, name, (), self.plan, unmade=why)

    @cached_property
    def _to_set_up(self) -> tuple[ProcedureGiven, tuple[Task, ...]]:
        return setting_up(self.plan)

    def _set_up(self) -> Section:
        given, tasks = self._to_set_up
        section = self._of(given, self.ground)
        steps = (replace(one, task=task) for one, task in zip(section.steps, tasks, strict=False))
        return replace(section, steps=tuple(steps))

    def _given(self, id: str) -> ProcedureGiven:
        return self.own.get(id) or given_of(id)

    def _lowered(self, given: ProcedureGiven) -> Iterator[Section]:
        """Down to each join, past it, and on."""
        joins = self._joins("lowering")
        first = self._of(given, self._there("lowering", 0.0), job="lowering", at_m=0.0)
        further = down_on(given)
        yield _until_down(first) if joins else first
        for number, event in enumerate(joins, start=1):
            mark, at_m, there = f":{number}", event.metre, self._there("lowering", event.metre)
            why = f"join at the {event.comes_to}"
            yield self._of(self._given("knot-pass-lowering"), there, mark, job="lowering", at_m=at_m, why=why)
            on = self._of(further, there, mark, job="lowering", at_m=at_m)
            yield _until_down(on) if number < len(joins) else on

    def _joins(self, job: Job) -> list[Event]:
        """Where a join of the line at work comes to its device, or to its block."""
        line = self.ground.line(job)
        stop = "device" if job == "lowering" else "ratchet" if line.haul and line.haul.capture else "block"
        found: dict[int, Event] = {}
        for one in self.way.events if self.way else ():
            if one.kind == "join" and one.job == job and one.line == line.id and one.comes_to == stop:
                found.setdefault(round(one.metre), one)
        return list(found.values())

    def _hauls(self, given: ProcedureGiven) -> Iterator[Section]:
        """Every haul up to the edge; a join that comes to the anchor is passed before the haul that it would come in on."""
        assert self.way is not None
        pass_it = self._given("knot-pass-raising")
        resets = [0.0, *(one.metre for one in self.way.events if one.kind == "reset" and one.job == "raising")]
        together = math.ceil(len(resets) / _OWN_GROUND)
        joins = self._joins("raising")
        for number, at_m in enumerate(resets, start=1):
            first = (number - 1) // together * together
            ends = [*resets, self.way_m["raising"]]
            there = self._there("raising", resets[first], ends[min(first + together, len(resets))])
            yield self._of(given, there, f":{number}", job="raising", at_m=at_m, number=number, count=len(resets))
            for place, event in enumerate(joins, start=1):
                if at_m <= event.metre < (ends[number] if number < len(resets) else math.inf):
                    why, there = f"join at the {event.comes_to}", self._there("raising", event.metre, ends[number])
                    yield self._of(pass_it, there, f":{place}", job="raising", at_m=event.metre, why=why)

    def measured(self) -> Iterator[Section]:
        """Every section, each step with the metres that the load moves in it and where it then is: what its edits say; but the last that moves it
        in a section that is at work on the way goes on until the next begins, or to the way's end."""
        sections = list(self.sections())
        reached: dict[Job, float] = {}
        for number, section in enumerate(sections):
            rows = [
                replace(one, up_m=_metres(one, "haul"), down_m=_metres(one, "lower"), across_m=_metres(one, "travel"))
                for one in section.steps
            ]
            job, at_m = section.job, section.at_m
            given = self._givens[section.id]
            if job is None or at_m is None:
                yield replace(section, steps=tuple(timed(self.plan, given, rows)))
                continue
            # What the one before hauled through by hand is not hauled again.
            at_m = max(at_m, reached.get(job, 0.0))
            ends = (one.at_m for one in sections[number + 1 :] if one.job == job and one.at_m is not None)
            moving = [n for n, one in enumerate(rows) if job in one.motions]
            if moving:
                *before, last = moving
                end_m = next(ends, self.way_m[job])
                rest_m = max(0.0, end_m - at_m - sum(rows[n].up_m + rows[n].down_m for n in before))
                rows[last] = (
                    replace(rows[last], up_m=rest_m) if job == "raising" else replace(rows[last], down_m=rest_m)
                )
                rows[last:] = self._at_end(given, job, end_m, rows, last)
            reached = {job: at_m + sum(one.up_m if job == "raising" else one.down_m for one in rows)}
            rows = list(self._placed(job, at_m, rows))
            yield replace(section, at_m=at_m, steps=tuple(timed(self.plan, given, rows)))

    def _at_end(self, given: ProcedureGiven, job: Job, end_m: float, rows: list[Planned], last: int) -> list[Planned]:
        """The steps from the last that moves the load on, each also as it is made with the load where that brings it; but where they are on a rig that
        was found otherwise."""
        if any(one.lies for one in rows) or self.standing:
            return rows[last:]
        try:
            there = self._walked(given, self._there(job, end_m)).steps
        except Refused:
            return rows[last:]
        # Where nothing more can be hauled, what is left of the steps says nothing of them.
        if [one.given for one in there] != [one.step.given for one in rows] or any(
            one.refused and not row.step.refused for one, row in zip(there, rows, strict=True)
        ):
            return rows[last:]
        return [replace(row, there=one) for one, row in zip(there[last:], rows[last:], strict=True)]

    def _placed(self, job: Job, at_m: float, rows: list[Planned]) -> Iterator[Planned]:
        """The steps of a section with where the load is in each."""
        for one in rows:
            until_m = at_m + (one.up_m if job == "raising" else one.down_m)
            span_m = max(0.0, at_m - _ASTRAY_M), min(self.way_m[job], until_m + _ASTRAY_M)
            yield replace(one, runs_m=self._runs_m(job, *span_m))
            at_m = until_m

    def _of(
        self,
        given: ProcedureGiven,
        there: Ground,
        mark: str = "",
        id: str = "",
        state: State | None = None,
        **more: Any,
    ) -> Section:
        """A procedure made with the load at one place. Repeated there from the same rig, it is the same: it is made once."""
        id = id or f"{given.id}{mark}"
        self._givens[id] = given
        try:
            made, lies = self._as_found(f"{id}{self.times}", given, there, state)
        except Refused as refused:
            return Section(id, given.id, given.name, (), there.plan, unmade=Unmade("refused", faults=refused.faults))
        rows = tuple(
            Planned(f"{id}/{n}", step, self.crew.asks(given.id, step), lies=tuple(lies.get(n, ())))
            for n, step in enumerate(made.steps, start=1)
        )
        return Section(id, given.id, given.name, rows, there.plan, begins=made.start.state, **more)

    def _as_found(
        self, id: str, given: ProcedureGiven, there: Ground, state: State | None
    ) -> tuple[Procedure, dict[int, list[Lies]]]:
        """A procedure made, with what was found before its steps and what is still so since before it began."""
        rows = {n: said for n in range(1, 1 + len(given.steps)) if (said := self.otherwise.get(f"{id}/{n}"))}
        if (not rows and not self.standing) or _INSTEAD in id:
            return self._walked(given, there, state), {}
        lies: dict[int, list[Lies]] = {}

        def found(number: int, now: Asked) -> Asked:
            for one in rows.get(number, []) if number not in lies else ():
                edits = tuple(edit_of(row, {}) for row in one.edits)
                try:
                    now = as_found(now, one)
                    lies.setdefault(number, []).append(Lies(edits, one.done))
                except Refused as refused:
                    lies.setdefault(number, []).append(Lies(edits, one.done, refused.faults))
            return now

        begins = state or still_so(begun(there, given.begins or "held"), self.standing)
        made = walked(there, given, begins, found)
        for number, step in enumerate(made.steps, start=1):
            self.standing = standing_on(self.standing, step.found.state, lies.get(number, []), step)
        return made, lies

    def _walked(self, given: ProcedureGiven, there: Ground, state: State | None = None) -> Procedure:
        if state is not None:
            return walked(there, given, state)
        key = given.id, id(there)
        if key not in self._made_at:
            self._made_at[key] = walked(there, given)
        return self._made_at[key]


def _until_down(section: Section) -> Section:
    """As far as its last step that lowers: passing the join that comes then begins with the stop."""
    last = max((n for n, one in enumerate(section.steps) if "lowering" in one.motions), default=len(section.steps) - 1)
    return replace(section, steps=section.steps[: last + 1])


def _metres(planned: Planned, verb: str) -> float:
    return sum(by_m for said, by_m in planned.moved if said == verb)
