"""Keeping what was practised."""

from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta

from django.contrib.auth.models import User
from django.db import transaction
from plans.models import Revision

from practice.models import Answered, Tied
from practice.schemas import About, NewAnswers, NewTied
from rigging.learning.knots import knots
from rigging.quantities.faults import Fault, Refused

# A clock may be ahead by so much.
_AHEAD = timedelta(minutes=10)


def keep_answers(
    person: User, body: NewAnswers, right: Sequence[bool | None], of: dict[About, Revision], now: datetime
) -> None:
    """Answers of one device kept, each once. Within a device they count in the order they were given in: one whose clock was set back meanwhile comes
    at the time of the one before it.

    Raises
    ------
    Refused
        If one is no answer to its drill, was given in the future, or has the id of somebody else's.
    """
    with transaction.atomic():
        faults = list(_faults(person, body, right, now))
        if faults:
            raise Refused(faults)
        before = Answered.objects.filter(person=person, device=body.device)
        known = set(before.filter(id__in=[one.id for one in body.answers]).values_list("id", flat=True))
        for one, good in sorted(zip(body.answers, right, strict=True), key=lambda row: row[0].number):
            if one.id in known:
                continue
            last = before.filter(number__lt=one.number).order_by("-number").values_list("at", flat=True).first()
            Answered.objects.create(
                id=one.id, person=person, device=body.device, number=one.number, skill=one.skill, seed=one.seed, level=one.level, given=one.given,
                right=bool(good), took_s=one.took_s, about=of[one.about] if one.about else None, at=max(one.at, last) if last else one.at,
            )  # fmt: skip
            known.add(one.id)


def _faults(person: User, body: NewAnswers, right: Sequence[bool | None], now: datetime) -> Iterator[Fault]:
    theirs = set(Answered.objects.filter(id__in=[one.id for one in body.answers]).exclude(person=person).values_list("id", flat=True))  # fmt: skip
    for number, (one, good) in enumerate(zip(body.answers, right, strict=True)):
        here = f"answers[{number}]"
        if good is None:
            yield Fault(f"{here}.given", "is no answer to that drill", "the numbers of its options, each once")
        if one.at.tzinfo is None:
            yield Fault(f"{here}.at", "has no zone", "a time with its zone, as 2026-06-01T10:00:00Z")
        elif one.at > now + _AHEAD:
            yield Fault(f"{here}.at", f"{one.at:%Y-%m-%d %H:%M} has not come yet", "set the device's clock")
        if one.id in theirs:
            yield Fault(f"{here}.id", "stands for somebody else's answer", "give each a new id")


def keep_tied(ticked_by: User, person: User, body: NewTied, now: datetime) -> None:
    """A knot that somebody tied before another.

    Raises
    ------
    Refused
        If there is no such knot, it has other stages, the id stands elsewhere, or somebody ticks their own.
    """
    one = knots().get(body.knot)
    if one is None:
        raise Refused([Fault("knot", f"there is no drawing of {body.knot!r}", f"one of {', '.join(knots())}")])
    if person == ticked_by:
        raise Refused([Fault("who", "nobody ticks what they tied themselves", "another person's name")])
    if len(body.stages) != len(one.stages):
        raise Refused([Fault("stages", f"{len(body.stages)} stages of {len(one.stages)}", "one mark for each stage")])
    row = Tied(id=body.id, person=person, ticked_by=ticked_by, knot=one.id, hand=body.hand, stages=body.stages, took_s=body.took_s, at=now)  # fmt: skip
    with transaction.atomic():
        known = Tied.objects.filter(id=body.id).first()
        if known is None:
            row.save(force_insert=True)
        elif (known.person, known.ticked_by, known.knot) != (person, ticked_by, one.id):
            raise Refused([Fault("id", "stands for another knot", "give each a new id")])


def forget(person: User) -> None:
    """All that somebody practised, at their own wish."""
    with transaction.atomic():
        Answered.objects.filter(person=person).delete()
        Tied.objects.filter(person=person).delete()
