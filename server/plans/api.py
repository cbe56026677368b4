"""Plans and their revisions."""

import json
import uuid
from typing import Any

from accounts.models import Membership, Role
from accounts.permissions import person, team_of
from accounts.schemas import TeamOut
from answering.faults import REFUSED
from django.conf import settings
from django.http import HttpRequest
from ninja import Router, Status

from plans.models import Plan, Revision
from plans.permissions import plan_of, role_in
from plans.schemas import Archive, Example, NewPlan, PlanOut, PlanRow, RevisionOut, SavePlan, Sketch, StaleOut, Stands
from plans.selectors import Listed, is_played, listed, revision_of
from plans.services import Stale, create_plan, put_away, save_revision
from rigging.document import Plan as Document
from rigging.document import Point

router = Router()
# Since this version, what a list shows of a plan stands where it stands today.
_SAME_PLACES = 3


def _revision_out(revision: Revision) -> RevisionOut:
    return RevisionOut(
        number=revision.number, sha256=revision.sha256, author=revision.author.get_username(),
        saved_at=revision.saved_at, document=Document.model_validate_json(revision.document),
    )  # fmt: skip


def plan_out(request: HttpRequest, plan: Plan) -> PlanOut:
    return PlanOut(
        id=plan.id, team=_team_out(request, plan), latest=_revision_out(plan.latest), table_top=is_played(plan)
    )


def _team_out(request: HttpRequest, plan: Plan) -> TeamOut:
    return TeamOut(id=plan.team.id, name=plan.team.name, role=role_in(request, plan) or Role.OBSERVER)


@router.get("/plans", response={200: list[PlanRow], **REFUSED}, operation_id="plans")
def list_plans(request: HttpRequest) -> list[PlanRow]:
    roles = dict(Membership.objects.filter(user=person(request)).values_list("team_id", "role"))
    return [_row(one, roles.get(one.revision.plan.team_id)) for one in listed(person(request).pk)]


@router.get("/examples", response={200: list[Example], **REFUSED}, operation_id="examples")
def list_examples(request: HttpRequest) -> list[Example]:
    """The demo's operations as documents, for whoever starts with nothing."""
    files = sorted((settings.ROOT / "demo").glob("*.json"))
    return [Example(id=file.stem, document=Document.model_validate_json(file.read_bytes())) for file in files]


def _role(role: str | None, plan: Plan) -> Role:
    return Role.OBSERVER if role is None or hasattr(plan, "handed_over") else Role(role)


def _row(one: Listed, role: str | None) -> PlanRow:
    plan = one.revision.plan
    # Only its name and a few places are wanted: the document is not checked again, but where it was saved by an earlier version.
    document = json.loads(one.revision.document)
    if document["schema_version"] < _SAME_PLACES:
        document = Document.model_validate(document).model_dump(mode="json")
    team = TeamOut(id=plan.team_id, name=plan.team.name, role=_role(role, plan))
    stands: Stands = one.run or (
        "checked" if one.signed else "lines" if document.get("lines") or document.get("tension_lines") else "anchors"
    )
    return PlanRow(
        id=plan.pk, title=document["title"], place=document.get("place", ""), team=team, revision=one.revision.number,
        saved_at=one.revision.saved_at, log_entries=one.entries, archived=plan.archived, stands=stands,
        here=one.here if stands in ("going", "stopped") else [], sketch=_sketch(document),
    )  # fmt: skip


def _sketch(document: dict[str, Any]) -> Sketch:
    site = document["site"]
    taken = [
        next(one for one in anchor["alternatives"] if one["id"] == anchor["taken"]).get("point") or {}
        for anchor in document["anchors"]
    ]
    return Sketch(
        ground=[_at(point) for point in site["profile"]],
        anchors=[_at(point) for point in taken],
        load=_at(site["load_at"]),
    )


def _at(point: dict[str, float]) -> Point:
    return Point(x_m=point.get("x_m", 0.0), z_m=point.get("z_m", 0.0))


@router.put("/plans/{plan_id}/archived", response={200: Archive, **REFUSED}, operation_id="archive_plan")
def archive_plan(request: HttpRequest, plan_id: uuid.UUID, body: Archive) -> Archive:
    put_away(plan_of(request, plan_id, Role.LEADER), body.archived)
    return body


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
