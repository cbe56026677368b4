"""Handing a plan over: the bundle out and in, and links by which somebody from outside reads it until a date."""

import itertools
import secrets
import tempfile
import uuid
from datetime import timedelta
from typing import Any

from accounts import attempts
from accounts.api.session import session_out
from accounts.events import note
from accounts.models import Role, SecurityEvent
from accounts.permissions import person, role_of, team_of
from accounts.schemas import SessionOut
from answering.contents import answers
from answering.faults import REFUSED
from answering.plain import with_mark
from django.contrib.auth import get_user_model, login
from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Form, Router, UploadedFile
from ninja.errors import HttpError
from ninja.utils import check_csrf
from operations.tables import log_table
from plans.api import plan_out
from plans.models import HandedOver, ObserverLink, Plan
from plans.permissions import real_plan_of
from plans.schemas import PlanOut
from plans.selectors import reads_until
from sealing import keys
from sealing.seals import broken_seals
from storing.canonical import canonical, sha256
from storing.writing import writing

from handover.bundle import parts_of, write_bundle
from handover.parts import EntryPart
from handover.reading_in import read_bundle
from handover.schemas import HandoverOut, LinkRow, LookLink, LookOut, NewLink, Statement
from rigging.quantities.faults import refuse

router = Router()
LARGEST = 512 * 1024**2
_SHOWN = 20


def _links(plan: Plan) -> list[LinkRow]:
    rows = plan.observer_links.filter(ends_at__gt=timezone.now()).select_related("made_by").order_by("ends_at")
    return [
        LinkRow(id=one.pk, name=one.name, made_by=one.made_by.get_username(), ends_at=one.ends_at, used=one.reader_id is not None)
        for one in rows
    ]  # fmt: skip


def _out(request: HttpRequest, plan: Plan) -> HandoverOut:
    latest, last = plan.latest, plan.log.order_by("-sequence").first()
    statement = Statement(
        plan=plan.id, revision=latest.number, revision_sha256=latest.sha256, entries=last.sequence if last else 0,
        last_hash=last.hash if last else "", at=timezone.now().replace(microsecond=0),
    )  # fmt: skip
    said = canonical(statement.model_dump(mode="json")).encode()
    link, handed = reads_until(request.user, plan), HandedOver.objects.filter(plan=plan).first()
    leads = role_of(request.user, plan.team) == Role.LEADER
    key = keys.public_key()
    return HandoverOut(
        title=plan.title, statement=statement, broken=list(itertools.islice(broken_seals(plan), _SHOWN)), key=key.hex(), key_print=keys.print_of(key),
        signature=keys.signed(said).hex(), until=link.ends_at if link else None, handed_over=handed.made_at if handed else None,
        handed_over_print=handed.key_print if handed else "", links=_links(plan) if leads else None,
    )  # fmt: skip


@router.get("/plans/{plan_id}/handover", response={200: HandoverOut, **REFUSED}, operation_id="handover")
def read_handover(request: HttpRequest, plan_id: uuid.UUID) -> HandoverOut:
    return _out(request, real_plan_of(request, plan_id))


@router.get(
    "/plans/{plan_id}/bundle",
    response={200: None, **REFUSED},
    operation_id="bundle",
    openapi_extra=answers("application/zip"),
)
def read_bundle_of(request: HttpRequest, plan_id: uuid.UUID) -> FileResponse:
    """The plan with everything that belongs to it, as one signed file."""
    plan = real_plan_of(request, plan_id)
    out = tempfile.TemporaryFile()  # noqa: SIM115 -- the answer closes it
    write_bundle(plan, out)
    out.seek(0)
    return FileResponse(out, as_attachment=True, filename=f"outrigger-{plan.id}.zip", content_type="application/zip")


@router.get(
    "/plans/{plan_id}/log.csv",
    response={200: None, **REFUSED},
    operation_id="log_csv",
    openapi_extra=answers("text/csv"),
)
def read_log_table(request: HttpRequest, plan_id: uuid.UUID, mark: bool = False) -> StreamingHttpResponse:
    answer = StreamingHttpResponse(
        with_mark(log_table(real_plan_of(request, plan_id)), mark), content_type="text/csv; charset=utf-8"
    )
    answer["Content-Disposition"] = 'attachment; filename="log.csv"'
    return answer


@router.get("/plans/{plan_id}/log.json", response={200: list[EntryPart], **REFUSED}, operation_id="log_json")
def read_log_json(request: HttpRequest, plan_id: uuid.UUID, answer: HttpResponse) -> list[EntryPart]:
    """Every entry with its seal, as the bundle has them."""
    answer["Content-Disposition"] = 'attachment; filename="log.json"'
    return parts_of(real_plan_of(request, plan_id)).log


@router.post("/handover", response={200: PlanOut, **REFUSED}, operation_id="read_bundle")
def take_bundle(request: HttpRequest, team: Form[int], file: File[UploadedFile]) -> PlanOut:
    """A plan read in from a bundle, to be read here; what was altered in it is named, and then nothing of it is kept."""
    reading = team_of(request, team, Role.LEADER)
    if (file.size or 0) > LARGEST:
        raise refuse(
            "file", f"{(file.size or 0) / 1e6:.0f} MB is too large", f"choose one of at most {LARGEST // 1024**2} MB"
        )
    return plan_out(request, read_bundle(file.open(), reading, request.user).plan)


# Links for readers from outside


@router.post("/plans/{plan_id}/observers", response={200: LookLink, **REFUSED}, operation_id="make_observer_link")
def make_link(request: HttpRequest, plan_id: uuid.UUID, body: NewLink) -> LookLink:
    plan = real_plan_of(request, plan_id)
    team_of(request, plan.team_id, Role.LEADER)
    token = secrets.token_urlsafe(24)
    made = ObserverLink.objects.create(
        plan=plan, name=body.name.strip(), token_sha256=sha256(token), made_by=person(request), ends_at=timezone.now() + timedelta(days=body.days)
    )  # fmt: skip
    return LookLink(path=f"/look/{token}", ends_at=made.ends_at)


@router.delete(
    "/plans/{plan_id}/observers/{link_id}", response={200: HandoverOut, **REFUSED}, operation_id="end_observer_link"
)
def end_link(request: HttpRequest, plan_id: uuid.UUID, link_id: int) -> HandoverOut:
    """Ended now: whoever reads by it is out with their next question."""
    plan = real_plan_of(request, plan_id)
    team_of(request, plan.team_id, Role.LEADER)
    plan.observer_links.filter(id=link_id).update(ends_at=timezone.now())
    return _out(request, plan)


def _open(token: str) -> ObserverLink:
    found = (
        ObserverLink.objects.select_related("plan__team")
        .filter(token_sha256=sha256(token), ends_at__gt=timezone.now())
        .first()
    )
    if found is None:
        raise HttpError(404, "this link has ended: ask whoever gave it to you for a fresh one")
    return found


@router.get("/look/{token}", response={200: LookOut, **REFUSED}, auth=None, operation_id="read_observer_link")
def read_link(request: HttpRequest, token: str) -> LookOut:
    found = _open(token)
    return LookOut(name=found.name, title=found.plan.title, team=found.plan.team.name, ends_at=found.ends_at)


@router.post("/look/{token}", response={200: SessionOut, **REFUSED}, auth=None, operation_id="look")
def look(request: HttpRequest, token: str) -> SessionOut:
    """In, to read this one plan until the link ends."""
    if check_csrf(request):
        raise HttpError(403, "the page was out of date")
    attempts.count(request.META.get("REMOTE_ADDR", ""))
    with writing():
        found = _open(token)
        if found.reader is None:
            found.reader = _reader(found)
            found.save()
    login(request, found.reader, backend="django.contrib.auth.backends.ModelBackend")
    request.session.set_expiry(found.ends_at)
    note(request, SecurityEvent.Kind.LOOKS, found.reader.get_username(), found.plan.team, found.plan.title)
    return session_out(request)


def _reader(link: ObserverLink) -> Any:
    """Who comes in by a link: of no team, without a password."""
    user = get_user_model().objects.create(username=f"{link.name} (reader {link.pk})")
    user.set_unusable_password()
    user.save()
    return user
