"""Who is signed in."""

from api.faults import REFUSED
from api.schemas import SessionOut, SignIn, TeamOut
from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf

from accounts.models import Membership
from rigging.quantities.faults import refuse
from rigging.telling.figures.shapes import CAUTION

router = Router()


def _teams(request: HttpRequest) -> list[TeamOut]:
    rows = Membership.objects.filter(user_id=request.user.pk).select_related("team").order_by("team__name")
    return [TeamOut(id=row.team.id, name=row.team.name, role=row.role) for row in rows]


def session_out(request: HttpRequest) -> SessionOut:
    return SessionOut(
        username=request.user.get_username(), teams=_teams(request), csrf_token=get_token(request), caution=CAUTION
    )


@router.get("/session", response=SessionOut, auth=None, operation_id="session")
def who_is_signed_in(request: HttpRequest) -> SessionOut:
    return session_out(request)


@router.post("/session", response={200: SessionOut, **REFUSED}, auth=None, operation_id="sign_in")
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    if check_csrf(request):
        raise HttpError(403, "the sign-in page was out of date")
    given = {"username": body.username}
    if not AxesProxyHandler.is_allowed(request, given):
        raise HttpError(429, "too many wrong passwords for this name from here: try again in ten minutes")
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        raise refuse("password", "name and password do not belong together", "try again, or ask the team's keeper")
    login(request, user)
    return session_out(request)


@router.delete("/session", response=SessionOut, operation_id="sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return session_out(request)


@router.get("/caution", response=str, auth=None, operation_id="caution")
def caution(request: HttpRequest) -> str:
    return CAUTION
