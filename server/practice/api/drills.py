"""Endpoints of practice: drills to do, answers kept, knots tied before somebody, what a team can do."""

import random
import uuid
from collections.abc import Iterator
from typing import Annotated

from accounts.models import Membership, Role
from accounts.permissions import person, role_of, team_of
from answering.faults import REFUSED
from core import engine
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from plans.models import Plan, Revision
from plans.permissions import plan_of
from plans.selectors import revision_of
from pydantic import Field
from storing import clock

from practice.about import about
from practice.schemas import About, NewAnswers, NewTied, PracticeOut, TeamPractised
from practice.selectors import practised, team_practised
from practice.services import forget, keep_answers, keep_tied
from rigging.learning.drills.drill import Level
from rigging.learning.drills.own import OWN
from rigging.quantities.faults import refuse
from rigging.quantities.units import ForceUnit, LengthUnit, Wording
from rigging.telling.learning.drills import NAMES, RoundReport, marked_report, round_report
from rigging.telling.learning.own_drills import own_marked_report, own_round_report

router = Router()


@router.get("/practice", response={200: PracticeOut, **REFUSED}, operation_id="practice")
def read_practice(request: HttpRequest) -> PracticeOut:
    """What whoever asks has practised, and what is due."""
    return practised(person(request), clock.now())


@router.get("/practice/round", response={200: RoundReport, **REFUSED}, operation_id="practice_round")
def read_round(
    request: HttpRequest,
    count: Annotated[int, Query(ge=1, le=40)] = 10,
    skill: Annotated[list[Annotated[str, Field(max_length=60)]] | None, Query(max_length=24)] = None,
    seed: Annotated[int | None, Query(ge=0, le=1_000_000_000)] = None,
    plan: uuid.UUID | None = None,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    """Drills to do one after another: what is due first, then what was never done; of the skills named, where some are; or about a plan."""
    luck = seed if seed is not None else random.SystemRandom().randrange(1_000_000_000)
    say = Wording(force_unit, length_unit)
    if plan is not None:
        return _about_plan(request, plan_of(request, plan), count, luck, say)
    for one in skill or ():
        if one not in NAMES:
            raise refuse("skill", f"there is no skill {one!r}", f"one of {', '.join(NAMES)}")
    rows = [one for one in practised(person(request), clock.now()).skills if not skill or one.skill in skill]
    asked = [(rows[number % len(rows)].skill, _level(rows[number % len(rows)].level)) for number in range(count)]
    told = engine.ask(engine.told, round_report, asked, luck, say)
    return HttpResponse(told, content_type="application/json")


def _about_plan(request: HttpRequest, plan: Plan, count: int, luck: int, say: Wording) -> HttpResponse:
    latest = plan.latest
    levels = {one.skill: _level(one.level) for one in practised(person(request), clock.now()).skills}
    told = engine.ask_long(engine.told, own_round_report, about(plan, latest), count, levels, luck, latest.number, say)
    return HttpResponse(told, content_type="application/json")


def _level(level: int) -> Level:
    return 1 if level == 1 else 2 if level == 2 else 3


@router.post("/practice/answers", response={200: PracticeOut, **REFUSED}, operation_id="practice_answers")
def new_answers(request: HttpRequest, body: NewAnswers) -> PracticeOut:
    """Answers kept, marked here; sent again they are the same ones."""
    for number, one in enumerate(body.answers):
        known = OWN if one.about else NAMES
        if one.skill not in known:
            raise refuse(f"answers[{number}].skill", f"there is no skill {one.skill!r}", f"one of {', '.join(known)}")
    of = {one.about: _revision(request, one.about) for one in body.answers if one.about}
    right = [mark for asked in (None, *of) for mark in _marked(body, asked, of)]
    marks = [mark for _, mark in sorted(right)]
    keep_answers(person(request), body, marks, of, clock.now())
    return practised(person(request), clock.now())


def _revision(request: HttpRequest, asked: About) -> Revision:
    return revision_of(plan_of(request, asked.plan), asked.revision)


def _marked(body: NewAnswers, asked: About | None, of: dict[About, Revision]) -> Iterator[tuple[int, bool | None]]:
    """The numbers of the answers about a plan, or about none, each with whether it is right."""
    rows = [(number, one) for number, one in enumerate(body.answers) if one.about == asked]
    given = [(one.skill, one.seed, one.level, tuple(one.given)) for _, one in rows]
    if not given:
        return
    if asked is None:
        marks = engine.ask_long(marked_report, given)
    else:
        marks = engine.ask_long(own_marked_report, about(of[asked].plan, of[asked]), given)
    yield from zip((number for number, _ in rows), marks.right, strict=True)


@router.delete("/practice", response={200: PracticeOut, **REFUSED}, operation_id="forget_practice")
def forget_practice(request: HttpRequest) -> PracticeOut:
    """All that whoever asks has practised, gone for good."""
    forget(person(request))
    return practised(person(request), clock.now())


@router.get("/teams/{team_id}/practice", response={200: TeamPractised, **REFUSED}, operation_id="team_practice")
def read_team_practice(request: HttpRequest, team_id: int) -> TeamPractised:
    """Who of a team can do what; its leaders see it."""
    return team_practised(team_of(request, team_id, Role.LEADER), clock.now())


@router.post("/teams/{team_id}/tied", response={200: TeamPractised | None, **REFUSED}, operation_id="new_tied")
def new_tied(request: HttpRequest, team_id: int, body: NewTied) -> TeamPractised | None:
    """A knot that somebody of the team tied before whoever sends it; what the team can do, to a leader."""
    team = team_of(request, team_id, *Role)
    member = Membership.objects.filter(team=team, user__username=body.who).select_related("user").first()
    if member is None:
        raise refuse("who", f"nobody of this team is called {body.who!r}", "a name of the team")
    keep_tied(person(request), member.user, body, clock.now())
    return team_practised(team, clock.now()) if role_of(request.user, team) == Role.LEADER else None
