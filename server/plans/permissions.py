"""Who may do what with a plan."""

import uuid

from accounts.models import Role
from accounts.permissions import role_of
from django.http import HttpRequest
from ninja.errors import HttpError

from plans.models import Plan
from plans.selectors import is_played, reads_until, was_handed_over


def role_in(request: HttpRequest, plan: Plan) -> Role | None:
    """The person's role in a plan: the team's, but an observer's where it is only read."""
    return _role_in(request, plan, role_of(request.user, plan.team))


def _role_in(request: HttpRequest, plan: Plan, of_team: Role | None) -> Role | None:
    if of_team is not None:
        return Role.OBSERVER if was_handed_over(plan) else of_team
    return Role.OBSERVER if reads_until(request.user, plan) else None


def may_write(request: HttpRequest, plan: Plan) -> bool:
    """Whether the person writes in a plan's log: its leaders and members do."""
    return role_in(request, plan) in (Role.LEADER, Role.MEMBER)


def only_reads(request: HttpRequest, plan: Plan) -> bool:
    """Whether nothing in a plan, not even a STOP, is the person's: it was handed over, or they were let in from outside."""
    return was_handed_over(plan) or role_of(request.user, plan.team) is None


def plan_of(request: HttpRequest, plan_id: uuid.UUID, *roles: Role) -> Plan:
    """The plan, for somebody with one of `roles`, who writes in it; for anyone of the team, and whoever was let in to read, where none is named."""
    plan = Plan.objects.select_related("team", "handed_over", "table_top").filter(id=plan_id).first()
    of_team = role_of(request.user, plan.team) if plan else None
    role = _role_in(request, plan, of_team) if plan else None
    if plan is None or role is None:
        raise HttpError(404, "no such plan in your teams")
    if roles and was_handed_over(plan):
        raise HttpError(403, "this plan was handed over: it is read here, and nothing is written to it")
    if roles and (role not in roles or of_team is None):
        raise HttpError(403, "your role in this team does not allow that")
    return plan


def real_plan_of(request: HttpRequest, plan_id: uuid.UUID, *roles: Role) -> Plan:
    """As `plan_of`, but not one that is only played on: nothing of that leaves the house."""
    plan = plan_of(request, plan_id, *roles)
    if is_played(plan):
        raise HttpError(403, "this is a table-top: nothing of it goes on paper, into a bundle or to anybody outside")
    return plan
