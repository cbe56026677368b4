"""The run, its photographs, and what is told live to every device."""

import json
import time
import uuid
from collections.abc import Iterator
from datetime import datetime
from typing import Annotated, Any, Literal

from accounts.models import Role
from api.access import team_of
from api.faults import REFUSED
from api.schemas import EntryOut
from django.db import connection
from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status
from ninja.errors import HttpError
from ninja.files import UploadedFile
from plans.api import plan_of
from plans.canonical import canonical, sha256
from plans.models import Plan
from pydantic import BaseModel, Field

from operations import live, photos
from operations.log_api import entry_out
from operations.models import LogEntry, Run, append
from operations.runs import (
    LOOK_EVERY_S,
    Act,
    Composed,
    Moved,
    act_on,
    composed_of,
    contingency_steps,
    current,
    own_of,
    own_procedure,
)
from rigging.catalogue import catalogue
from rigging.document import Plan as Document
from rigging.document.words import Text
from rigging.procedures.run import ProcedureGiven, known
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict
from rigging.telling.operation import OperationReport, StepReport

router = Router()
# A beat is sent this often, so that a connection that is gone is noticed at both ends.
_BEAT_S = 5.0
ActName = Literal[
    "begin", "done", "back", "skip", "stop", "why", "go", "contingency", "return", "here", "relieve", "look", "reading", "procedure", "end",
]  # fmt: skip


class RunAct(Strict):
    """What somebody does to the run: `id` made by the client, `at` the step it is about, and what the act needs."""

    id: uuid.UUID
    act: ActName
    at: Annotated[str, Field(max_length=160)] = ""
    text: Text = ""
    data: dict[str, Any] = {}
    device_time: datetime | None = None
    device_ahead_ms: Annotated[int, Field(ge=-(10**10), le=10**10)] | None = None


class Counts(BaseModel):
    """Hauls and resets done, metres in and out; to the edge, until the next join comes in; seconds a metre so far, minutes to the edge at
    that."""

    hauls: int
    hauls_in_all: int
    resets: int
    in_m: float
    out_m: float
    to_edge_m: float | None
    join_in_m: float | None
    seconds_per_metre: float | None
    minutes_to_edge: float | None


class LookedAt(BaseModel):
    anchor: str
    name: str
    seconds_ago: float
    due: bool


class Contingency(BaseModel):
    id: str
    name: str
    place: int
    steps: list[StepReport]


class Stopped(BaseModel):
    by: str
    why: str
    at: datetime


class RunState(BaseModel):
    """Where the run is. `operation` names what it is composed of: it is read again when that changes."""

    id: uuid.UUID
    status: Literal["going", "stopped", "ended"]
    version: int
    revision: int
    operation: str
    at: str
    since: datetime
    begun_at: datetime
    now: datetime
    stopped: Stopped | None
    contingency: Contingency | None
    counts: Counts
    here: dict[str, dict[str, str]]
    looks: list[LookedAt]
    changed: str


class RunOut(BaseModel):
    """The run, and the operation that the plan composes to; before it is begun, that alone."""

    run: RunState | None
    operation: OperationReport
    composed: str
    team: int


class MovedOut(BaseModel):
    """A refused act: the run had moved on. `run` is where it is now."""

    moved: Literal[True] = True
    run: RunState


class ProceduresOut(BaseModel):
    """Everything that ships, with the team's own in place of some."""

    procedures: list[ProcedureGiven]
    own: list[str]


def run_state(plan: Plan, run: Run) -> RunState:
    made = composed_of(plan, run.revision, run)
    now = timezone.now()
    entered = None
    if run.contingency:
        id = run.contingency["id"]
        entered = Contingency(
            id=id, name=known()[id].name, place=run.contingency["place"], steps=contingency_steps(plan, run)
        )
    return RunState(
        id=run.id, status=run.status, version=run.version, revision=run.revision.number, operation=_print(plan, run), at=run.at, since=run.since,
        begun_at=run.begun_at, now=now, stopped=Stopped(**run.stopped) if run.stopped else None, contingency=entered,
        counts=_counts(run, made, now), here=run.here, looks=list(_looks(run, now)), changed=run.changed,
    )  # fmt: skip


def _print(plan: Plan, run: Run | None) -> str:
    """A name for what an operation is composed of."""
    revision = run.revision if run else plan.latest
    return sha256(f"{revision.sha256}{canonical(own_of(plan, run))}")[:16]


def _counts(run: Run, made: Composed, now: datetime) -> Counts:
    counts, sections = run.counts, made.report.sections
    hauls = [one for one in sections if one.procedure == "raise"]
    done = counts.get("hauls", 0)
    each = hauls[1].at_m if len(hauls) > 1 else None
    left = None
    if hauls and each:
        left = max(0.0, len(hauls) * each - done * each)
    moved = counts.get("in_m", 0.0)
    here = next((n for n, one in enumerate(sections) if run.at in one.steps), 0)
    joins = [one.at_m for one in sections[here:] if one.procedure == "knot-pass-raising" and one.at_m is not None]
    begun = next((datetime.fromisoformat(one["at"]) for one in run.done if one["key"].startswith("raise")), None)
    pace = (now - begun).total_seconds() / moved if begun and moved > 0 else None
    return Counts(
        hauls=done, hauls_in_all=len(hauls), resets=counts.get("resets", 0), in_m=moved, out_m=counts.get("out_m", 0.0), to_edge_m=left, join_in_m=max(0.0, joins[0] - moved) if joins else None,
        seconds_per_metre=pace, minutes_to_edge=left * pace / 60 if left is not None and pace else None,
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
def read_run(request: HttpRequest, plan_id: uuid.UUID) -> RunOut:
    plan = plan_of(request, plan_id)
    run = current(plan)
    live_run = run if run and run.status != Run.Status.ENDED else None
    made = composed_of(plan, live_run.revision if live_run else plan.latest, live_run)
    return RunOut(
        run=run_state(plan, run) if run else None,
        operation=made.report,
        composed=_print(plan, live_run),
        team=plan.team_id,
    )


@router.post("/plans/{plan_id}/run", response={200: RunState, 409: MovedOut, **REFUSED}, operation_id="act_on_run")
def act(request: HttpRequest, plan_id: uuid.UUID, body: RunAct) -> Any:
    """One act. A STOP is anybody's; going on is the leader's."""
    plan = plan_of(request, plan_id)
    given = Act(body.id, body.act, body.at, body.text, body.data, body.device_time, body.device_ahead_ms)
    try:
        return run_state(plan, act_on(plan, request.user, given))
    except Moved as moved:
        return Status(409, MovedOut(run=run_state(plan, moved.run)))


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
    text: str = Form("", max_length=2000),
    name: str = Form("", max_length=200),
) -> EntryOut:
    """A photograph from a member's device, with what it shows."""
    plan = plan_of(request, plan_id, Role.LEADER, Role.MEMBER)
    if (file.size or 0) > photos.LARGEST:
        raise refuse(
            "file", f"{(file.size or 0) / 1e6:.1f} MB is too large", f"send at most {photos.LARGEST // 1_000_000} MB"
        )
    said = photos.keep(file.read(), name or file.name or "")
    run = current(plan)
    revision = run.revision if run and run.status != Run.Status.ENDED else plan.latest
    entry = append(
        plan, request.user, id=id, revision=revision, kind=LogEntry.Kind.PHOTO, decision=text or "Photograph", data=canonical(said),
        step=run.at if run and run.status != Run.Status.ENDED else "",
    )  # fmt: skip
    return entry_out(entry)


@router.get("/plans/{plan_id}/photographs/{entry_id}", response={200: None, **REFUSED}, operation_id="photograph")
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


# Live


@router.get("/plans/{plan_id}/events", response={200: None, **REFUSED}, operation_id="events")
def events(request: HttpRequest, plan_id: uuid.UUID, after: int | None = None) -> HttpResponse:
    """Server-Sent Events: every entry after `after` (or the last event id of a connection that broke), and the run as it moves."""
    plan = plan_of(request, plan_id)
    last = request.headers.get("Last-Event-ID", "")
    seen = int(last) if last.isdigit() else after
    if seen is None:
        newest = plan.log.order_by("-sequence").values_list("sequence", flat=True).first()
        seen = newest or 0
    answer = StreamingHttpResponse(_stream(plan, seen), content_type="text/event-stream")
    answer["Cache-Control"] = "no-store"
    answer["X-Accel-Buffering"] = "no"
    return answer


def _stream(plan: Plan, seen: int) -> Iterator[bytes]:
    yield b"retry: 1000\n\n"
    told, version = live.count(plan.id), -1
    while True:
        for entry in plan.log.filter(sequence__gt=seen).select_related("author", "revision")[:500]:
            seen = entry.sequence
            yield _event("entry", entry_out(entry).model_dump_json(), seen)
        run = current(plan)
        if run is not None and run.version != version:
            version = run.version
            yield _event("run", run_state(plan, run).model_dump_json())
        connection.close_if_unusable_or_obsolete()
        now = live.wait(plan.id, told, _BEAT_S)
        if now == told:
            yield _event("beat", str(round(time.time())))
        told = now


def _event(name: str, data: str, id: int | None = None) -> bytes:
    return f"event: {name}\n{f'id: {id}' + chr(10) if id is not None else ''}data: {data}\n\n".encode()
