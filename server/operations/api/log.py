"""The log in pages, the check signed, and a plan as a file with the log that belongs to it."""

import json
import uuid
from typing import Annotated

from accounts.models import Role
from accounts.permissions import team_of
from answering.faults import REFUSED
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from ninja import Router
from plans.api import plan_out
from plans.models import Plan
from plans.permissions import plan_of, real_plan_of
from plans.schemas import PlanOut
from plans.selectors import revision_of
from plans.services import create_plan
from pydantic import Field
from storing.writing import writing

from operations.checked import check_of, check_told
from operations.models import LogEntry
from operations.schemas import Bundle, EntryOut, ImportPlan, LogOut, NewEntry, SignCheck, SignedLine
from operations.selectors import signed_lines
from operations.services import append, sign
from rigging.document import Plan as Document
from rigging.quantities.faults import refuse
from rigging.quantities.units import ForceUnit, LengthUnit, Wording
from rigging.telling.check.sheet import CheckReport

router = Router()
PAGE = 100


def entry_out(entry: LogEntry) -> EntryOut:
    return EntryOut(
        id=entry.id, sequence=entry.sequence, time=entry.time, author=entry.author.get_username(), kind=entry.kind,
        decision=entry.decision, reason=entry.reason, considered=entry.considered, revision=entry.revision.number,
        revision_sha256=entry.revision.sha256, corrects=entry.corrects_id,
        corrects_sequence=entry.corrects.sequence if entry.corrects else None, before=entry.before, hash=entry.hash, step=entry.step,
        data=json.loads(entry.data) if entry.data else {}, device_time=entry.device_time, device_ahead_ms=entry.device_ahead_ms,
    )  # fmt: skip


def log_of(plan: Plan) -> list[EntryOut]:
    return [entry_out(entry) for entry in plan.log.select_related("author", "revision", "corrects")]


@router.get("/plans/{plan_id}/log", response={200: LogOut, **REFUSED}, operation_id="log")
def read_log(
    request: HttpRequest,
    plan_id: uuid.UUID,
    place: Annotated[int, Field(ge=0, le=2**31 - 1)] | None = None,
    kind: str = "",
    who: str = "",
    step: str = "",
    words: Annotated[str, Field(max_length=200)] = "",
) -> LogOut:
    """A page of the log, the entries from a place on, else the last; only those of a kind, a person, a step, or that hold some words."""
    plan = plan_of(request, plan_id)
    rows = plan.log.all()
    if kind:
        rows = rows.filter(kind=kind)
    if who:
        rows = rows.filter(author__username=who)
    if step:
        rows = rows.filter(step__startswith=step)
    if words.strip():
        rows = rows.filter(Q(decision__icontains=words.strip()) | Q(reason__icontains=words.strip()))
    total = rows.count()
    start = max(0, total - PAGE) if place is None else place
    found = rows.select_related("author", "revision", "corrects").order_by("sequence")[start : start + PAGE]
    return LogOut(entries=[entry_out(one) for one in found], total=total, place=start)


@router.post("/plans/{plan_id}/log", response={200: EntryOut, **REFUSED}, operation_id="append_log")
def write_log(request: HttpRequest, plan_id: uuid.UUID, body: NewEntry) -> EntryOut:
    plan = plan_of(request, plan_id, Role.LEADER, Role.MEMBER)
    corrects = plan.log.filter(id=body.corrects).first() if body.corrects else None
    if body.corrects and corrects is None:
        raise refuse("corrects", "no such entry in this log", "name the id of an entry of this plan")
    entry = append(
        plan, request.user, id=body.id, revision=revision_of(plan, body.revision), kind=body.kind,
        decision=body.decision, reason=body.reason, considered=body.considered, corrects=corrects, step=body.step or "",
        device_time=body.device_time, device_ahead_ms=body.device_ahead_ms,
    )  # fmt: skip
    if entry.plan_id != plan.id:
        raise refuse("id", "an entry of another plan has this id", "make a fresh id")
    return entry_out(entry)


@router.get("/plans/{plan_id}/signed", response={200: list[SignedLine], **REFUSED}, operation_id="signed")
def read_signed(request: HttpRequest, plan_id: uuid.UUID) -> list[SignedLine]:
    return _signed(plan_of(request, plan_id))


def _signed(plan: Plan) -> list[SignedLine]:
    return [
        SignedLine(
            line=line,
            answer=said["answer"],
            by=entry.author.get_username(),
            at=entry.time,
            revision=entry.revision.number,
        )
        for line, (said, entry) in signed_lines(plan).items()
    ]


@router.post("/plans/{plan_id}/check", response={200: CheckReport, **REFUSED}, operation_id="check_plan")
def check_plan(
    request: HttpRequest,
    plan_id: uuid.UUID,
    body: Document,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    """The check of a document of this plan as it stands on a sheet, with the team's own procedures."""
    say = Wording(force_unit, length_unit)
    told = check_told(plan_of(request, plan_id), body, say, request.headers.get("X-Doing", ""))
    return HttpResponse(told, content_type="application/json")


@router.post("/plans/{plan_id}/sign", response={200: list[SignedLine], **REFUSED}, operation_id="sign_check")
def sign_check(request: HttpRequest, plan_id: uuid.UUID, body: SignCheck) -> list[SignedLine]:
    """Lines of the check of the latest revision, signed by somebody who did not save it."""
    plan = plan_of(request, plan_id, Role.LEADER, Role.MEMBER)
    if plan.log.filter(id=body.id).exists():
        return _signed(plan)
    latest = plan.latest
    if body.revision != latest.number:
        raise refuse("revision", f"revision {latest.number} has been saved since", "look at it again, then sign")
    if latest.author_id == request.user.pk:
        raise refuse(
            "id", f"you saved revision {latest.number} yourself", "a second person signs, under their own sign-in"
        )
    can = check_of(plan, latest.document).signable()
    wanted = list(can) if body.lines is None else body.lines
    for number, line in enumerate(wanted):
        if line not in can:
            raise refuse(f"lines[{number}]", f"{line!r} is open, or no line of this check", "mend or accept it first")
    if not wanted:
        raise refuse("lines", "nothing can be signed", "mend or accept what is open first")
    sign(plan, request.user, id=body.id, revision=latest, lines={line: can[line] for line in wanted})
    return _signed(plan)


@router.post("/plans/import", response={200: PlanOut, **REFUSED}, operation_id="import_plan")
def import_plan(request: HttpRequest, body: ImportPlan) -> PlanOut:
    """A new plan from a file. The file's log is kept as imported entries, each with who wrote it and when."""
    team = team_of(request, body.team, Role.LEADER)
    bundle = body.content if isinstance(body.content, Bundle) else None
    document = body.content.document if isinstance(body.content, Bundle) else body.content
    # All of it or nothing, and settled once.
    with writing():
        plan = create_plan(team, request.user, document, body.id)
        latest = plan.latest
        for entry in bundle.log if bundle else []:
            append(
                plan, request.user, id=uuid.uuid5(plan.id, str(entry.id)), revision=latest,
                kind=LogEntry.Kind.IMPORTED, decision=entry.decision, reason=entry.reason, corrects=None,
                considered=f"{entry.considered}\nWritten {entry.time:%Y-%m-%d %H:%M} UTC by {entry.author}, hash {entry.hash}".strip(),
            )  # fmt: skip
    return plan_out(request, plan)


@router.get("/plans/{plan_id}/export", response={200: Bundle, **REFUSED}, operation_id="export_plan")
def exportplan_of(request: HttpRequest, plan_id: uuid.UUID) -> Bundle:
    plan = real_plan_of(request, plan_id)
    latest = plan.latest
    return Bundle(
        format="outrigger-plan", version=1, revision=latest.number, sha256=latest.sha256,
        document=Document.model_validate_json(latest.document), log=log_of(plan),
    )  # fmt: skip
