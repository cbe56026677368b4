"""How long an operation takes, told: until the load is up, who is busy when, what takes longest."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.document import Pace, Plan
from rigging.procedures.course import SET_UP
from rigging.procedures.operation import Operation, Section
from rigging.procedures.timing import Busy, Timing
from rigging.quantities.ranges import Range
from rigging.telling.words.names import listed, lower_first


class Told(BaseModel):
    model_config = ConfigDict(frozen=True)


class BusyStretch(Told):
    """Somebody at one stretch of the work, in minutes from the beginning; `longest`: all is late if this is."""

    section: str
    text: str
    begins_min: float
    ends_min: float
    longest: bool


class PersonTimes(Told):
    name: str
    never_free: bool
    stretches: list[BusyStretch]


class TimingReport(Told):
    """Minutes until the load is up (`done`: how that is said of this plan), and what is worth knowing of them; `whose`
    minutes they are, and the team's own among them."""

    until_min: Range
    done: str
    all_min: float
    text: str
    notes: list[str]
    whose: str
    paces: list[Pace]
    people: list[PersonTimes]


def minutes(seconds: Range) -> Range:
    """To a tenth: nobody knows them better."""
    return seconds.map(lambda one: round(one / 60, 1))


# The load comes up in these.
_RAISES = ("raise", "straight-lift", "drop-haul", "drop-six")


def about(seconds: Range) -> str:
    """Whole minutes, with the range where it says something else."""
    low, expected, high = (round(one / 60) for one in (seconds.low, seconds.expected, seconds.high))
    return f"{expected} min" if low == high else f"{expected} min ({low} to {high})"


def timing_report(plan: Plan, operation: Operation, found: Timing) -> TimingReport:
    sections = {one.id: one for one in operation.sections}
    rises = any(one.procedure in _RAISES for one in operation.sections)
    done = "up" if rises else "down"
    people = [
        PersonTimes(
            name=who, never_free=who in found.never_free,
            stretches=[_stretch(plan, operation, sections, found, one) for one in rows],
        )
        for who, rows in _by_person(found.busy)
    ]  # fmt: skip
    return TimingReport(
        until_min=minutes(found.until_s), done=done, all_min=round(found.all_s.expected / 60, 1),
        text=f"{done} in {about(found.until_s)}", notes=list(_notes(found)), whose=_whose(plan), paces=plan.team.paces,
        people=people,
    )  # fmt: skip


def _notes(found: Timing) -> Iterator[str]:
    if found.never_free:
        yield f"{listed(found.never_free)} {'is' if len(found.never_free) == 1 else 'are'} never free once the load hangs."
    if found.one_more_s is not None:
        yield f"Set up in {round(found.set_up_s.expected / 60)} min; with one person more in {round(found.one_more_s / 60)}."


def _whose(plan: Plan) -> str:
    """Where the minutes come from."""
    own = [
        f"{lower_first(catalogue().minutes[one.takes].name)} ({one.count}{f', {one.practised} of them in practice' if one.practised else ''})"
        for one in plan.team.paces
    ]
    if not own:
        return "From memory, for a practised team by day, until the team's own times are known."
    return f"By the team's own times, {listed(own)}; the rest from memory, for a practised team by day."


def _by_person(busy: Sequence[Busy]) -> Iterator[tuple[str, list[Busy]]]:
    rows = sorted(busy, key=lambda one: one.begins_s)
    for who in dict.fromkeys(one.who for one in rows):
        yield who, [one for one in rows if one.who == who]


def _stretch(plan: Plan, operation: Operation, sections: dict[str, Section], found: Timing, one: Busy) -> BusyStretch:
    return BusyStretch(
        section=one.section, text=_words(plan, operation, sections[one.section], one), begins_min=round(one.begins_s / 60, 1),
        ends_min=round(one.ends_s / 60, 1), longest=not one.role and any(key in found.longest for key in one.keys),
    )  # fmt: skip


def _words(plan: Plan, operation: Operation, section: Section, one: Busy) -> str:
    """What they do in it, in a word or two."""
    if section.id == SET_UP:
        step = next(step for step in section.steps if step.key == one.keys[0])
        what = step.task.id if step.task else ""
        kind, _, id = what.partition(":")
        if kind == "anchor":
            return lower_first(plan.anchor(id).name)
        return f"rope {id}" if kind == "rope" else lower_first(plan.site.edges[int(id)].name)
    if one.role:
        return one.role
    hauls = sum(other.procedure == "raise" for other in operation.sections)
    if section.procedure == "raise":
        return f"raise, {hauls} haul{'s' if hauls != 1 else ''}"
    return lower_first(section.name.partition(",")[0])
