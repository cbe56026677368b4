"""When the last backup was made, and one to take away."""

from accounts.models import Membership, Role, Team
from accounts.permissions import person
from answering.contents import answers
from answering.faults import REFUSED
from django.conf import settings
from django.http import FileResponse, HttpRequest
from ninja import Router
from ninja.errors import HttpError

from backups.backup import back_up, kept, made_at
from backups.schemas import BackupOut

router = Router()


def _may(request: HttpRequest) -> bool:
    """A backup holds every team's plans: it is for whoever leads all of them."""
    leads = Membership.objects.filter(user=person(request), role=Role.LEADER).count()
    return 0 < leads == Team.objects.count()


def _check(request: HttpRequest) -> None:
    if not _may(request):
        raise HttpError(403, "a backup holds every team's plans: whoever leads all teams here takes it")


def _out() -> BackupOut:
    last = next(iter(kept(settings.VAR)), None)
    if last is None:
        return BackupOut(name=None, made_at=None, bytes=0)
    return BackupOut(name=last.name, made_at=made_at(last), bytes=last.stat().st_size)


@router.get("/backup", response={200: BackupOut, **REFUSED}, operation_id="backup")
def read_backup(request: HttpRequest) -> BackupOut:
    _check(request)
    return _out()


@router.post("/backup", response={200: BackupOut, **REFUSED}, operation_id="make_backup")
def make_backup(request: HttpRequest) -> BackupOut:
    _check(request)
    back_up(settings.VAR)
    return _out()


@router.get(
    "/backup/{name}",
    response={200: None, **REFUSED},
    operation_id="take_backup",
    openapi_extra=answers("application/zip"),
)
def take_backup(request: HttpRequest, name: str) -> FileResponse:
    _check(request)
    file = next((one for one in kept(settings.VAR) if one.name == name), None)
    if file is None:
        raise HttpError(404, "there is no such backup")
    return FileResponse(file.open("rb"), as_attachment=True, filename=file.name)
