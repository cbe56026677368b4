"""Plans and their revisions."""

import json
import uuid
from typing import Any

from accounts.models import Membership, Role, role_of
from api.access import team_of
from api.faults import REFUSED
from api.schemas import NewPlan, PlanOut, PlanRow, RevisionOut, SavePlan, StaleOut, TeamOut
from django.db.models import Count, OuterRef, Q, QuerySet, Subquery
from django.http import HttpRequest
from django.utils import timezone
from handover.models import reads_until, was_handed_over
from ninja import Router, Status
from ninja.errors import HttpError

from plans.models import Plan, Revision, Stale, create_plan, save_revision
from rigging.document import Plan as Document
from rigging.quantities.faults import Fault, Refused

router = Router()


def role_in(request: HttpRequest, plan: Plan) -> Role | None:
    """The person's role in a plan: the team's, but an observer's where it is only read."""
    role = role_of(request.user, plan.team)
    if role is not None:
        return Role.OBSERVER if was_handed_over(plan) else role
    return Role.OBSERVER if reads_until(request.user, plan) else None


def may_write(request: HttpRequest, plan: Plan) -> bool:
    """Whether the person writes in a plan's log: its leaders and members do."""
    return role_in(request, plan) in (Role.LEADER, Role.MEMBER)


def only_reads(request: HttpRequest, plan: Plan) -> bool:
    """Whether nothing in a plan, not even a STOP, is the person's: it was handed over, or they were let in from outside."""
    return was_handed_over(plan) or role_of(request.user, plan.team) is None


def plan_of(request: HttpRequest, plan_id: uuid.UUID, *roles: Role) -> Plan:
    """The plan, for somebody with one of `roles`, who writes in it; for anyone of the team, and whoever was let in to read, where none is named."""
    plan = Plan.objects.select_related("team").filter(id=plan_id).first()
    role = role_in(request, plan) if plan else None
    if plan is None or role is None:
        raise HttpError(404, "no such plan in your teams")
    if roles and was_handed_over(plan):
        raise HttpError(403, "this plan was handed over: it is read here, and nothing is written to it")
    if roles and (role not in roles or role_of(request.user, plan.team) is None):
        raise HttpError(403, "your role in this team does not allow that")
    return plan


def _revision_out(revision: Revision) -> RevisionOut:
    return RevisionOut(
        number=revision.number, sha256=revision.sha256, author=revision.author.get_username(),
        saved_at=revision.saved_at, document=Document.model_validate_json(revision.document),
    )  # fmt: skip


def plan_out(request: HttpRequest, plan: Plan) -> PlanOut:
    return PlanOut(id=plan.id, team=_team_out(request, plan), latest=_revision_out(plan.latest))


def _team_out(request: HttpRequest, plan: Plan) -> TeamOut:
    return TeamOut(id=plan.team.id, name=plan.team.name, role=role_in(request, plan) or Role.OBSERVER)


def readable(user: int) -> "QuerySet[Plan]":
    """The plans of somebody's teams, and those that they were let in to."""
    mine = Q(team__membership__user_id=user)
    read = Q(observer_links__reader_id=user, observer_links__ends_at__gt=timezone.now())
    return Plan.objects.filter(mine | read).distinct()


@router.get("/plans", response=list[PlanRow], operation_id="plans")
def list_plans(request: HttpRequest) -> list[PlanRow]:
    plans = readable(request.user.pk)
    newest = Revision.objects.filter(plan=OuterRef("plan")).order_by("-number").values("pk")[:1]
    latest = Revision.objects.filter(plan__in=plans, pk=Subquery(newest)).select_related(
        "plan__team", "plan__handed_over"
    )
    roles = dict(Membership.objects.filter(user_id=request.user.pk).values_list("team_id", "role"))
    entries = dict(plans.annotate(entries=Count("log", distinct=True)).values_list("pk", "entries"))
    return [_row(one, roles.get(one.plan.team_id), entries[one.plan_id]) for one in latest.order_by("-saved_at")]


def _row(latest: Revision, role: str | None, entries: int) -> PlanRow:
    plan = latest.plan
    # Only its name is wanted: the document is not checked again.
    document = json.loads(latest.document)
    reads = role is None or hasattr(plan, "handed_over")
    team = TeamOut(id=plan.team_id, name=plan.team.name, role=Role.OBSERVER if reads else Role(role))
    return PlanRow(
        id=plan.pk, title=document["title"], place=document.get("place", ""), team=team, revision=latest.number, saved_at=latest.saved_at,
        log_entries=entries,
    )  # fmt: skip


@router.post("/plans", response={200: PlanOut, **REFUSED}, operation_id="create_plan")
def make_plan(request: HttpRequest, body: NewPlan) -> PlanOut:
    team = team_of(request, body.team, Role.LEADER)
    return plan_out(request, create_plan(team, request.user, body.document, body.id))


@router.get("/plans/{plan_id}", response={200: PlanOut, **REFUSED}, operation_id="plan")
def read_plan(request: HttpRequest, plan_id: uuid.UUID) -> PlanOut:
    return plan_out(request, plan_of(request, plan_id))


@router.put("/plans/{plan_id}", response={200: RevisionOut, 409: StaleOut, **REFUSED}, operation_id="save_plan")
def save_plan(request: HttpRequest, plan_id: uuid.UUID, body: SavePlan) -> Any:
    plan = plan_of(request, plan_id, Role.LEADER)
    try:
        return _revision_out(save_revision(plan, request.user, body.document, body.base, body.id))
    except Stale as stale:
        return Status(409, StaleOut(base=body.base, latest=_revision_out(stale.latest)))


@router.get("/plans/{plan_id}/revisions/{number}", response={200: RevisionOut, **REFUSED}, operation_id="revision")
def read_revision(request: HttpRequest, plan_id: uuid.UUID, number: int) -> RevisionOut:
    return _revision_out(revision_of(plan_of(request, plan_id), number))


def revision_of(plan: Plan, number: int) -> Revision:
    # Numbers past what the database holds are as absent as any other.
    found = plan.revisions.filter(number=number).first() if 0 < number < 2**31 else None
    if found is None:
        raise Refused([Fault("revision", f"this plan has no revision {number}", f"1 to {plan.latest.number}")])
    return found
