"""The run, its photographs, and what is told live to every device."""

import json
import uuid
from collections.abc import Iterator
from datetime import datetime
from typing import Annotated, Any

from accounts.models import Role
from accounts.permissions import team_of
from answering.contents import answers
from answering.faults import REFUSED
from answering.moments import Moment
from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Form, Router, Status
from ninja.errors import HttpError
from ninja.files import UploadedFile
from plans.models import Plan
from plans.moments import now_of, pace_of
from plans.permissions import only_reads, plan_of, role_in
from plans.services import save_changed
from pydantic import Field
from storing.canonical import canonical, sha256

from operations import photos
from operations.acts import Act, Moved
from operations.api.log import entry_out
from operations.before import before
from operations.composed import Composed
from operations.composing import begun, brought_by, composed_of, contingency_steps, current, own_procedure, under_way
from operations.models import LogEntry, Run
from operations.paces import paces_of
from operations.runs import LOOK_EVERY_S, act_on, all_done, beside, done_ahead
from operations.schemas import (
    Arrange,
    Arranged,
    BeforeOut,
    Conflict,
    Contingency,
    Counts,
    EntryOut,
    LookedAt,
    MovedOut,
    ProceduresOut,
    RunAct,
    RunNow,
    RunOut,
    RunState,
    Stopped,
    TakePaces,
)
from operations.services import append
from rigging.catalogue import catalogue
from rigging.document import Pace
from rigging.document import Plan as Document
from rigging.procedures.run import ProcedureGiven, known
from rigging.quantities.faults import refuse
from rigging.telling.work.otherwise import OtherwiseReport, otherwise_report

router = Router()


def run_state(plan: Plan, run: Run) -> RunState:
    made = composed_of(plan, run.revision, run)
    now = now_of(plan)
    entered = None
    if run.contingency:
        id = run.contingency["id"]
        entered = Contingency(
            id=id, name=known()[id].name, place=run.contingency["place"], steps=contingency_steps(plan, run)
        )
    return RunState(
        id=run.id, status=run.status, version=run.version, revision=run.revision.number, operation=_print(plan, run), at=run.at, beside=beside(run, made), done_ahead=done_ahead(run, made), all_done=all_done(run, made), since=run.since,
        begun_at=run.begun_at, now=now, stopped=Stopped(**run.stopped) if run.stopped else None, contingency=entered,
        counts=_counts(run, made, now), here=run.here, looks=list(_looks(run, now)), changed=run.changed,
        conflicts=[Conflict.model_validate(one) for one in run.conflicts], pace=pace_of(plan),
    )  # fmt: skip


def _print(plan: Plan, run: Run | None) -> str:
    """A name for what an operation is composed of."""
    revision = run.revision if run else plan.latest
    return sha256(f"{revision.sha256}{canonical(brought_by(plan, run))}")[:16]


def _counts(run: Run, made: Composed, now: datetime) -> Counts:
    done, sections = run.counts, made.stretches
    in_m, out_m = done.get("in_m", 0.0), done.get("out_m", 0.0)
    here = next((n for n, one in enumerate(sections) if run.at in one.keys), 0)
    raising = [one for one in sections if one.job == "raising"]
    left = max(0.0, sum(one.up_m for one in raising) - in_m) if raising else None
    join = next(
        (one for one in sections[here:] if one.procedure.startswith("knot-pass") and one.at_m is not None), None
    )
    begun = next((datetime.fromisoformat(one["at"]) for one in run.done if one["key"].startswith("raise")), None)
    pace = (now - begun).total_seconds() / in_m if begun and in_m > 0 else None
    return Counts(
        hauls=done.get("hauls", 0), hauls_in_all=sum(one.procedure == "raise" for one in sections), resets=done.get("resets", 0),
        in_m=in_m, out_m=out_m, to_edge_m=left,
        join_in_m=max(0.0, join.at_m - (in_m if join.job == "raising" else out_m)) if join and join.at_m is not None else None,
        seconds_per_metre=pace,
    )  # fmt: skip


def _looks(run: Run, now: datetime) -> Iterator[LookedAt]:
    """Anchors that somebody guards or that are temporary, with the time since anybody looked."""
    document = Document.model_validate_json(run.revision.document)
    kinds = catalogue().features
    for anchor in document.anchors:
        features = [document.feature(leg.feature) for leg in anchor.arrangement.legs]
        if any(one.guard or kinds[one.kind].temporary for one in features):
            last = run.looked.get(anchor.id)
            ago = (now - (datetime.fromisoformat(last) if last else run.begun_at)).total_seconds()
            yield LookedAt(anchor=anchor.id, name=anchor.name, seconds_ago=ago, due=ago > LOOK_EVERY_S)


@router.get("/plans/{plan_id}/run", response={200: RunOut, **REFUSED}, operation_id="run")
def read_run(request: HttpRequest, plan_id: uuid.UUID) -> HttpResponse:
    plan = plan_of(request, plan_id)
    going, revision = under_way(plan)
    made, now = composed_of(plan, revision, going), _run_now(request, plan)
    # The operation is long, and valid by construction: it goes out as it was written.
    told = b'{"operation":' + made.told + b"," + now.model_dump_json().encode()[1:]
    return HttpResponse(told, content_type="application/json")


@router.get("/plans/{plan_id}/run/now", response={200: RunNow, **REFUSED}, operation_id="run_now")
def read_run_now(request: HttpRequest, plan_id: uuid.UUID) -> RunNow:
    """Where the run is, without its operation: for whoever has that already, by its name."""
    return _run_now(request, plan_of(request, plan_id))


@router.get("/plans/{plan_id}/run/before", response={200: BeforeOut, **REFUSED}, operation_id="before_run")
def read_before(request: HttpRequest, plan_id: uuid.UUID) -> BeforeOut:
    """What stands open in the check of the latest revision: a run begun with it needs a reason."""
    plan = plan_of(request, plan_id)
    return BeforeOut(text=before(plan, plan.latest).text)


@router.get("/plans/{plan_id}/run/otherwise", response={200: OtherwiseReport, **REFUSED}, operation_id="otherwise")
def read_otherwise(request: HttpRequest, plan_id: uuid.UUID) -> OtherwiseReport:
    """How the rig may lie otherwise than the plan has it at the step that is now, and what would bring that step if it does not go."""
    plan = plan_of(request, plan_id)
    run = begun(plan)
    made = composed_of(plan, run.revision, run)
    return made.once(("otherwise", run.at), lambda: otherwise_report(made.operation, run.at))


def _run_now(request: HttpRequest, plan: Plan) -> RunNow:
    run = current(plan)
    going, _ = under_way(plan)
    return RunNow(
        run=run_state(plan, run) if run else None, composed=_print(plan, going), latest=plan.latest.number, team=plan.team_id,
        role=role_in(request, plan) or Role.OBSERVER, reads=only_reads(request, plan),
    )  # fmt: skip


@router.post("/plans/{plan_id}/run", response={200: RunState, 409: MovedOut, **REFUSED}, operation_id="act_on_run")
def act(request: HttpRequest, plan_id: uuid.UUID, body: RunAct) -> Any:
    """One act. A STOP is anybody's in the team; going on is the leader's."""
    plan = plan_of(request, plan_id, *Role)
    given = Act(body.id, body.act, body.at, body.text, body.data, body.device_time, body.device_ahead_ms, body.kept)
    try:
        return run_state(plan, act_on(plan, request.user, given))
    except Moved as moved:
        return Status(409, MovedOut(run=run_state(plan, moved.run)))


@router.put("/plans/{plan_id}/operation", response={200: Arranged, **REFUSED}, operation_id="arrange")
def arrange(request: HttpRequest, plan_id: uuid.UUID, body: Arrange) -> Arranged:
    """The plan's operation begun elsewhere or put in another order: a revision of its own, which a run that goes follows."""
    plan = plan_of(request, plan_id, Role.LEADER)
    return _saved(plan, request.user, body, operation=body.operation)


@router.put("/plans/{plan_id}/paces", response={200: Arranged, **REFUSED}, operation_id="take_paces")
def take_paces(request: HttpRequest, plan_id: uuid.UUID, body: TakePaces) -> Arranged:
    """The team's own times in place of the catalogue's: a decision, and a revision of its own."""
    plan = plan_of(request, plan_id, Role.LEADER)
    team = Document.model_validate_json(plan.latest.document).team
    return _saved(plan, request.user, body, team=team.model_copy(update={"paces": body.paces}))


def _saved(plan: Plan, user: Any, body: Arrange | TakePaces, **fields: Any) -> Arranged:
    return Arranged(revision=save_changed(plan, user, body.base, body.id, **fields).number)


@router.get("/teams/{team_id}/paces", response={200: list[Pace], **REFUSED}, operation_id="paces")
def read_paces(request: HttpRequest, team_id: int) -> list[Pace]:
    """How long the team itself took for each kind of work, in the runs that it has ended."""
    return paces_of(team_of(request, team_id, Role.LEADER, Role.MEMBER, Role.OBSERVER))


@router.get("/teams/{team_id}/procedures", response={200: ProceduresOut, **REFUSED}, operation_id="procedures")
def read_procedures(request: HttpRequest, team_id: int) -> ProceduresOut:
    team = team_of(request, team_id, Role.LEADER, Role.MEMBER, Role.OBSERVER)
    own = {one.procedure: ProcedureGiven.model_validate(one.given) for one in team.procedures.all()}
    return ProceduresOut(procedures=list((known() | own).values()), own=list(own))


@router.put("/plans/{plan_id}/procedures", response={200: ProceduresOut, **REFUSED}, operation_id="save_procedure")
def save_procedure(request: HttpRequest, plan_id: uuid.UUID, body: ProcedureGiven) -> ProceduresOut:
    """A procedure as the team's own, where this plan lets its steps stand in that order."""
    plan = plan_of(request, plan_id, Role.LEADER)
    own_procedure(plan, body, request.user)
    return read_procedures(request, plan.team_id)


# Photographs


@router.post("/plans/{plan_id}/photographs", response={200: EntryOut, **REFUSED}, operation_id="keep_photograph")
def keep_photograph(
    request: HttpRequest,
    plan_id: uuid.UUID,
    id: Form[uuid.UUID],
    file: File[UploadedFile],
    text: str = Form("", max_length=2000),  # type: ignore[type-arg]
    name: str = Form("", max_length=200),  # type: ignore[type-arg]
    step: str = Form("", max_length=160),  # type: ignore[type-arg]
    device_time: Form[Moment | None] = None,
    device_ahead_ms: Form[Annotated[int, Field(ge=-(10**10), le=10**10)] | None] = None,
) -> EntryOut:
    """A photograph from a member's device, with what it shows and the step it was taken at."""
    plan = plan_of(request, plan_id, Role.LEADER, Role.MEMBER)
    if (file.size or 0) > photos.LARGEST:
        raise refuse(
            "file", f"{(file.size or 0) / 1e6:.1f} MB is too large", f"send at most {photos.LARGEST // 1_000_000} MB"
        )
    said = photos.keep(file.read(), name or file.name or "")
    _, revision = under_way(plan)
    entry = append(
        plan, request.user, id=id, revision=revision, kind=LogEntry.Kind.PHOTO, decision=text or "Photograph", data=canonical(said),
        step=step, device_time=device_time, device_ahead_ms=device_ahead_ms,
    )  # fmt: skip
    return entry_out(entry)


@router.get(
    "/plans/{plan_id}/photographs/{entry_id}",
    response={200: None, **REFUSED},
    operation_id="photograph",
    openapi_extra=answers("image/*"),
)
def read_photograph(request: HttpRequest, plan_id: uuid.UUID, entry_id: uuid.UUID, small: bool = False) -> Any:
    plan = plan_of(request, plan_id)
    entry = plan.log.filter(id=entry_id, kind=LogEntry.Kind.PHOTO).first()
    if entry is None:
        raise HttpError(404, "there is no such photograph")
    said = json.loads(entry.data)
    kind = "image/jpeg" if small or said["type"] == "jpg" else f"image/{said['type']}"
    return FileResponse(
        photos.file_of(said, small).open("rb"), content_type=kind, headers={"X-Content-Type-Options": "nosniff"}
    )
