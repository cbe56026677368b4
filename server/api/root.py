"""Every endpoint. All but the sign-in and the caution ask for a signed-in person, and check the role."""

import uuid
from typing import Annotated, Any

from accounts.models import Membership, Role, Team, role_of
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import NinjaAPI, Status
from ninja.errors import HttpError
from ninja.security import django_auth
from ninja.utils import check_csrf
from operations.models import LogEntry, append
from plans.models import Plan, Revision, Stale, create_plan, save_revision
from pydantic import Field

from api.access import team_of
from api.faults import REFUSED, CarefulParser, FaultsOut, add_handlers
from api.schemas import (
    Bundle,
    CatalogueOut,
    EntryOut,
    ImportPlan,
    NewEntry,
    NewPlan,
    PlanOut,
    PlanRow,
    RevisionOut,
    SavePlan,
    SessionOut,
    SignIn,
    StackSystems,
    StaleOut,
    TeamOut,
)
from api.survey import router as survey
from rigging.telling.analyse import analyse
from rigging.telling.anchor_report import AnchorsReport
from rigging.anchors.states import SWEEP
from rigging.telling.anchor_study import study
from rigging.lines.build import Phase
from rigging.catalogue import catalogue
from rigging.document import Plan as Document
from rigging.quantities.faults import Fault, Refused, refuse
from rigging.catalogue.haul import HaulSystem, add_redirect, drop_redirect, stack
from rigging.telling.report import CAUTION, Report
from rigging.quantities.units import FORCE_UNITS, LENGTH_UNITS, ForceUnit, LengthUnit, Wording, si_value

api = NinjaAPI(
    title="Outrigger", version="1", auth=django_auth, parser=CarefulParser(), docs_url=None, openapi_url=None
)
add_handlers(api)
api.add_router("", survey)


def _teams(request: HttpRequest) -> list[TeamOut]:
    rows = Membership.objects.filter(user_id=request.user.pk).select_related("team").order_by("team__name")
    return [TeamOut(id=row.team.id, name=row.team.name, role=row.role) for row in rows]


def _session(request: HttpRequest) -> SessionOut:
    return SessionOut(
        username=request.user.get_username(), teams=_teams(request), csrf_token=get_token(request), caution=CAUTION
    )


@api.get("/session", response=SessionOut, auth=None, operation_id="session")
def who_is_signed_in(request: HttpRequest) -> SessionOut:
    return _session(request)


@api.post("/session", response={200: SessionOut, **REFUSED}, auth=None, operation_id="sign_in")
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    if check_csrf(request):
        raise HttpError(403, "the sign-in page was out of date")
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        raise refuse("password", "name and password do not belong together", "try again, or ask the team's keeper")
    login(request, user)
    return _session(request)


@api.delete("/session", response=SessionOut, operation_id="sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return _session(request)


@api.get("/caution", response=str, auth=None, operation_id="caution")
def caution(request: HttpRequest) -> str:
    return CAUTION


@api.get("/catalogue", response={200: CatalogueOut, 401: FaultsOut}, operation_id="catalogue")
def read_catalogue(request: HttpRequest) -> CatalogueOut:
    units = {str(name): si_value(unit) for name, unit in (FORCE_UNITS | LENGTH_UNITS).items()}
    return CatalogueOut(catalogue=catalogue(), units=units)


@api.get("/schema/plan", response=dict[str, Any], operation_id="plan_schema")
def plan_schema(request: HttpRequest) -> dict[str, Any]:
    return Document.model_json_schema()


@api.post("/analyse", response={200: Report, **REFUSED}, operation_id="analyse")
def analyse_document(
    request: HttpRequest, body: Document, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> HttpResponse:
    report = analyse(body, Wording(force_unit, length_unit))
    # Already validated by construction: written straight out, not read in again.
    return HttpResponse(report.model_dump_json(), content_type="application/json")


@api.post("/anchors", response={200: AnchorsReport, **REFUSED}, operation_id="anchors")
def study_anchors(
    request: HttpRequest,
    body: Document,
    phase: Phase = "raise",
    only: str | None = None,
    directions: Annotated[int, Field(ge=3, le=121)] = SWEEP,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    report = study(body, phase, Wording(force_unit, length_unit), only, directions)
    return HttpResponse(report.model_dump_json(), content_type="application/json")


@api.post("/haul/redirect", response={200: HaulSystem, **REFUSED}, operation_id="haul_redirect")
def haul_redirect(request: HttpRequest, body: HaulSystem) -> HaulSystem:
    return add_redirect(body)


@api.post("/haul/straight", response={200: HaulSystem, **REFUSED}, operation_id="haul_straight")
def haul_straight(request: HttpRequest, body: HaulSystem) -> HaulSystem:
    shorter = drop_redirect(body)
    if shorter is None:
        raise refuse("system", "its last bend is not a redirect of its own", "choose another system")
    return shorter


@api.post("/haul/stack", response={200: HaulSystem, **REFUSED}, operation_id="haul_stack")
def haul_stack(request: HttpRequest, body: StackSystems) -> HaulSystem:
    try:
        return stack(body.base, body.top)
    except ValueError as error:
        raise refuse("system", "stacked, this would be more rope and nodes than a plan takes", "stack less") from error


def _plan(request: HttpRequest, plan_id: uuid.UUID, *roles: Role) -> Plan:
    """The plan, for somebody with one of `roles` (anyone in the team where none is named)."""
    plan = Plan.objects.select_related("team").filter(id=plan_id).first()
    role = role_of(request.user, plan.team) if plan else None
    if plan is None or role is None:
        raise HttpError(404, "no such plan in your teams")
    if roles and role not in roles:
        raise HttpError(403, "your role in this team does not allow that")
    return plan


def _revision_out(revision: Revision) -> RevisionOut:
    return RevisionOut(
        number=revision.number, sha256=revision.sha256, author=revision.author.get_username(),
        saved_at=revision.saved_at, document=Document.model_validate_json(revision.document),
    )  # fmt: skip


def _plan_out(request: HttpRequest, plan: Plan) -> PlanOut:
    return PlanOut(id=plan.id, team=_team_out(request, plan.team), latest=_revision_out(plan.latest))


def _team_out(request: HttpRequest, team: Team) -> TeamOut:
    return TeamOut(id=team.id, name=team.name, role=role_of(request.user, team) or Role.OBSERVER)


@api.get("/plans", response=list[PlanRow], operation_id="plans")
def list_plans(request: HttpRequest) -> list[PlanRow]:
    plans = Plan.objects.filter(team__membership__user_id=request.user.pk).select_related("team")
    rows = []
    for plan in plans:
        latest = plan.latest
        document = Document.model_validate_json(latest.document)
        rows.append(
            PlanRow(
                id=plan.id, title=document.title, place=document.place, team=_team_out(request, plan.team),
                revision=latest.number, saved_at=latest.saved_at, log_entries=plan.log.count(),
            )
        )  # fmt: skip
    return sorted(rows, key=lambda row: row.saved_at, reverse=True)


@api.post("/plans", response={200: PlanOut, **REFUSED}, operation_id="create_plan")
def make_plan(request: HttpRequest, body: NewPlan) -> PlanOut:
    team = team_of(request, body.team, Role.LEADER)
    return _plan_out(request, create_plan(team, request.user, body.document, body.id))


@api.post("/plans/import", response={200: PlanOut, **REFUSED}, operation_id="import_plan")
def import_plan(request: HttpRequest, body: ImportPlan) -> PlanOut:
    """A new plan from a file. The file's log is kept as imported entries, each with who wrote it and when."""
    team = team_of(request, body.team, Role.LEADER)
    bundle = body.content if isinstance(body.content, Bundle) else None
    plan = create_plan(team, request.user, bundle.document if bundle else body.content, body.id)
    for entry in bundle.log if bundle else []:
        append(
            plan, request.user, id=uuid.uuid5(plan.id, str(entry.id)), revision=plan.latest,
            kind=LogEntry.Kind.IMPORTED, decision=entry.decision, reason=entry.reason, corrects=None,
            considered=f"{entry.considered}\nWritten {entry.time:%Y-%m-%d %H:%M} UTC by {entry.author}, hash {entry.hash}".strip(),
        )  # fmt: skip
    return _plan_out(request, plan)


@api.get("/plans/{plan_id}", response={200: PlanOut, **REFUSED}, operation_id="plan")
def read_plan(request: HttpRequest, plan_id: uuid.UUID) -> PlanOut:
    return _plan_out(request, _plan(request, plan_id))


@api.put("/plans/{plan_id}", response={200: RevisionOut, 409: StaleOut, **REFUSED}, operation_id="save_plan")
def save_plan(request: HttpRequest, plan_id: uuid.UUID, body: SavePlan) -> Any:
    plan = _plan(request, plan_id, Role.LEADER)
    try:
        return _revision_out(save_revision(plan, request.user, body.document, body.base, body.id))
    except Stale as stale:
        return Status(409, StaleOut(base=body.base, latest=_revision_out(stale.latest)))


@api.get("/plans/{plan_id}/revisions/{number}", response={200: RevisionOut, **REFUSED}, operation_id="revision")
def read_revision(request: HttpRequest, plan_id: uuid.UUID, number: int) -> RevisionOut:
    return _revision_out(_revision(_plan(request, plan_id), number))


def _revision(plan: Plan, number: int) -> Revision:
    # Numbers past what the database holds are as absent as any other.
    found = plan.revisions.filter(number=number).first() if 0 < number < 2**31 else None
    if found is None:
        raise Refused([Fault("revision", f"this plan has no revision {number}", f"1 to {plan.latest.number}")])
    return found


def _entry_out(entry: LogEntry) -> EntryOut:
    return EntryOut(
        id=entry.id, sequence=entry.sequence, time=entry.time, author=entry.author.get_username(), kind=entry.kind,
        decision=entry.decision, reason=entry.reason, considered=entry.considered, revision=entry.revision.number,
        revision_sha256=entry.revision.sha256, corrects=entry.corrects_id, before=entry.before, hash=entry.hash,
    )  # fmt: skip


def _log(plan: Plan) -> list[EntryOut]:
    return [_entry_out(entry) for entry in plan.log.select_related("author", "revision")]


@api.get("/plans/{plan_id}/log", response={200: list[EntryOut], **REFUSED}, operation_id="log")
def read_log(request: HttpRequest, plan_id: uuid.UUID) -> list[EntryOut]:
    return _log(_plan(request, plan_id))


@api.post("/plans/{plan_id}/log", response={200: EntryOut, **REFUSED}, operation_id="append_log")
def write_log(request: HttpRequest, plan_id: uuid.UUID, body: NewEntry) -> EntryOut:
    plan = _plan(request, plan_id, Role.LEADER, Role.MEMBER)
    corrects = plan.log.filter(id=body.corrects).first() if body.corrects else None
    if body.corrects and corrects is None:
        raise refuse("corrects", "no such entry in this log", "name the id of an entry of this plan")
    entry = append(
        plan, request.user, id=body.id, revision=_revision(plan, body.revision), kind=body.kind,
        decision=body.decision, reason=body.reason, considered=body.considered, corrects=corrects,
    )  # fmt: skip
    if entry.plan_id != plan.id:
        raise refuse("id", "an entry of another plan has this id", "make a fresh id")
    return _entry_out(entry)


@api.get("/plans/{plan_id}/export", response={200: Bundle, **REFUSED}, operation_id="export_plan")
def export_plan(request: HttpRequest, plan_id: uuid.UUID) -> Bundle:
    plan = _plan(request, plan_id)
    latest = plan.latest
    return Bundle(
        format="outrigger-plan", version=1, revision=latest.number, sha256=latest.sha256,
        document=Document.model_validate_json(latest.document), log=_log(plan),
    )  # fmt: skip
