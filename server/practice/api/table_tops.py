"""Endpoints of table-tops: made, listed, their clock, what has happened and what it came to."""

import uuid

from accounts.models import Role
from accounts.permissions import team_of
from answering.faults import REFUSED
from django.http import HttpRequest
from ninja import Router
from operations.composing import begun, composed_of
from operations.models import Run
from plans.models import Plan, TableTop
from plans.moments import pace_of, played
from plans.permissions import plan_of
from plans.selectors import is_played

from practice.schemas import NewTableTop, SetPace, TableTopOut, TableTopRow
from practice.selectors import rows_of
from practice.table_tops import made, met_in, not_come, set_pace
from rigging.document import Plan as Document
from rigging.quantities.faults import refuse
from rigging.telling.learning.table_top import HappenedReport, ScoreReport, happened_report, score_report

router = Router()


@router.get("/teams/{team_id}/table-tops", response={200: list[TableTopRow], **REFUSED}, operation_id="table_tops")
def read_table_tops(request: HttpRequest, team_id: int) -> list[TableTopRow]:
    """The team's table-tops, the newest first."""
    return rows_of(team_of(request, team_id, *Role))


@router.post("/teams/{team_id}/table-tops", response={200: TableTopOut, **REFUSED}, operation_id="new_table_top")
def new_table_top(request: HttpRequest, team_id: int, body: NewTableTop) -> TableTopOut:
    """A table-top on one of the team's plans: begun at once."""
    team = team_of(request, team_id, Role.LEADER)
    of = plan_of(request, body.plan)
    if of.team_id != team.pk or is_played(of):
        raise refuse("plan", "it is no plan of this team", "one of the team's own plans")
    return _out(made(of, request.user, body))


def _top(request: HttpRequest, plan_id: uuid.UUID, *roles: Role) -> TableTop:
    plan = plan_of(request, plan_id, *roles)
    if not is_played(plan):
        raise refuse("plan", "this plan is a real one", "one that is played at a table")
    return plan.table_top


@router.get("/plans/{plan_id}/table-top", response={200: TableTopOut, **REFUSED}, operation_id="table_top")
def read_table_top(request: HttpRequest, plan_id: uuid.UUID) -> TableTopOut:
    """Its clock, what has happened so far; what it came to, once it has ended."""
    return _out(_top(request, plan_id).plan)


@router.put("/plans/{plan_id}/table-top/pace", response={200: TableTopOut, **REFUSED}, operation_id="set_pace")
def put_pace(request: HttpRequest, plan_id: uuid.UUID, body: SetPace) -> TableTopOut:
    """Its clock so many times as fast; 0: it stands."""
    top = _top(request, plan_id, Role.LEADER)
    set_pace(top, body.pace)
    return _out(top.plan)


def _out(plan: Plan) -> TableTopOut:
    top, run = plan.table_top, begun(plan)
    document = Document.model_validate_json(run.revision.document)
    found = [happened_report(document, one) for one in met_in(top, run)]
    ended = run.status == Run.Status.ENDED
    return TableTopOut(
        plan=plan.id, title=plan.title, seed=top.seed, rigged=top.rigged, pace=pace_of(plan) or 0.0, now=played(top), begun_at=run.begun_at,
        ended=ended, happened=found, score=_score(top, run, found) if ended else None,
    )  # fmt: skip


def _score(top: TableTop, run: Run, met: list[HappenedReport]) -> ScoreReport:
    composed = composed_of(top.plan, run.revision, run)
    done = [composed.step(one["key"]) for one in run.done if one["key"] in composed.order]
    ended = run.ended_at or played(top)
    over = top.plan.log.filter(time__gte=run.begun_at, data__contains='"over"').count()
    # It may have been begun in the middle.
    left = (done[0].left_min if done else None) or composed.report.timing.until_min
    return score_report((ended - run.begun_at).total_seconds() / 60, left, done, over, met, not_come(top))
