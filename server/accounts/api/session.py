"""Who is signed in."""

from answering.faults import REFUSED
from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf

from accounts import attempts, passwords, sessions
from accounts.events import note
from accounts.models import Membership, SecurityEvent
from accounts.permissions import person
from accounts.schemas import NewPassword, SessionOut, SignIn, TeamOut
from rigging.quantities.faults import refuse
from rigging.telling.figures.shapes import CAUTION

router = Router()


def _teams(request: HttpRequest) -> list[TeamOut]:
    if not request.user.pk:
        return []
    rows = Membership.objects.filter(user_id=request.user.pk).select_related("team").order_by("team__name")
    return [TeamOut(id=row.team.id, name=row.team.name, role=row.role) for row in rows]


def session_out(request: HttpRequest) -> SessionOut:
    return SessionOut(
        username=request.user.get_username(), teams=_teams(request), csrf_token=get_token(request), caution=CAUTION
    )


@router.get("/session", response={200: SessionOut, **REFUSED}, auth=None, operation_id="session")
def who_is_signed_in(request: HttpRequest) -> SessionOut:
    return session_out(request)


@router.post("/session", response={200: SessionOut, **REFUSED}, auth=None, operation_id="sign_in")
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    if check_csrf(request):
        raise HttpError(403, "the sign-in page was out of date")
    address = request.META.get("REMOTE_ADDR", "")
    try:
        attempts.count(address, body.username)
    except HttpError:
        if attempts.is_first_refusal(address, body.username):
            note(request, SecurityEvent.Kind.TOO_MANY, body.username)
        raise
    given = {"username": body.username}
    if not AxesProxyHandler.is_allowed(request, given):
        raise HttpError(429, "too many wrong passwords for this name from here: try again in ten minutes")
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        note(request, SecurityEvent.Kind.REFUSED, body.username)
        raise refuse("password", "name and password do not belong together", "try again, or ask the team's keeper")
    attempts.came_in(address, body.username)
    login(request, user)
    note(request, SecurityEvent.Kind.SIGNED_IN, body.username)
    return session_out(request)


@router.post("/session/password", response={200: SessionOut, **REFUSED}, operation_id="change_password")
def change_password(request: HttpRequest, body: NewPassword) -> SessionOut:
    """A password of one's own in place of the old one; every other session of theirs ends."""
    attempts.count(request.META.get("REMOTE_ADDR", ""), request.user.get_username())
    if not request.user.check_password(body.old):
        raise refuse("old", "it is not your password", "type the one that you sign in with now")
    passwords.fit("new", body.new, request.user)
    request.user.set_password(body.new)
    request.user.save()
    update_session_auth_hash(request, person(request))
    note(request, SecurityEvent.Kind.PASSWORD, request.user.get_username())
    return session_out(request)


@router.delete("/session/others", response={200: SessionOut, **REFUSED}, operation_id="end_other_sessions")
def end_other_sessions(request: HttpRequest) -> SessionOut:
    """Everybody signed in under this name is signed out, but for here."""
    for user, one in sessions.signed_in():
        if user == request.user.pk and one.session_key != request.session.session_key:
            one.delete()
    note(request, SecurityEvent.Kind.ENDED, request.user.get_username())
    return session_out(request)


@router.delete("/session", response={200: SessionOut, **REFUSED}, operation_id="sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    note(request, SecurityEvent.Kind.SIGNED_OUT, request.user.get_username())
    logout(request)
    return session_out(request)


@router.get("/caution", response={200: str, **REFUSED}, auth=None, operation_id="caution")
def caution(request: HttpRequest) -> str:
    return CAUTION
