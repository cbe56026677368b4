"""A team's people and their roles; one-time links in place of passwords that are passed round."""

import hashlib
import secrets
from datetime import timedelta

from answering.faults import REFUSED
from django.contrib.auth import get_user_model, login
from django.contrib.auth.hashers import make_password
from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf
from storing.writing import writing

from accounts import attempts, passwords
from accounts.api.session import session_out
from accounts.events import note, of_team
from accounts.models import Invitation, Membership, Role, SecurityEvent, Team
from accounts.permissions import person, team_of
from accounts.schemas import (
    ChangeRole,
    EventOut,
    Invite,
    InvitedOut,
    JoinOut,
    LinkOut,
    MemberOut,
    MembersOut,
    OwnPassword,
    SessionOut,
)
from rigging.quantities.faults import refuse

router = Router()
_LASTS = timedelta(hours=24)
_SHOWN = 100


def _members(team: Team) -> MembersOut:
    rows = Membership.objects.filter(team=team).select_related("user").order_by("user__username")
    open_links = Invitation.objects.filter(team=team, used_at=None, expires_at__gt=timezone.now()).order_by("username")
    return MembersOut(
        members=[MemberOut(username=one.user.get_username(), role=one.role) for one in rows],
        invited=[InvitedOut(username=one.username, role=one.role, expires_at=one.expires_at) for one in open_links],
    )


@router.get("/teams/{team_id}/members", response={200: MembersOut, **REFUSED}, operation_id="members")
def read_members(request: HttpRequest, team_id: int) -> MembersOut:
    return _members(team_of(request, team_id, Role.LEADER))


@router.post("/teams/{team_id}/invitations", response={200: LinkOut, **REFUSED}, operation_id="invite")
def invite(request: HttpRequest, team_id: int, body: Invite) -> LinkOut:
    """A link for somebody new, or a fresh one for somebody who is there; an older one of theirs is void."""
    team = team_of(request, team_id, Role.LEADER)
    there = get_user_model().objects.filter(username=body.username).first()
    teams = set(Membership.objects.filter(user=there).values_list("team_id", flat=True)) if there else {team.pk}
    if teams != {team.pk}:
        # A fresh link is a fresh password: nobody's is another team's to give.
        raise refuse("username", f"{body.username!r} is somebody of another team", "choose another name")
    token = secrets.token_urlsafe(24)
    with writing():
        Invitation.objects.filter(team=team, username=body.username, used_at=None).delete()
        made = Invitation.objects.create(
            team=team, username=body.username, role=body.role, made_by=person(request), token_sha256=_hash(token),
            expires_at=timezone.now() + _LASTS,
        )  # fmt: skip
    note(request, SecurityEvent.Kind.INVITED, body.username, team, body.role)
    return LinkOut(path=f"/join/{token}", expires_at=made.expires_at)


@router.put("/teams/{team_id}/members/{username}", response={200: MembersOut, **REFUSED}, operation_id="change_role")
def change_role(request: HttpRequest, team_id: int, username: str, body: ChangeRole) -> MembersOut:
    """Another role, or none: then they are out of the team. It keeps a leader."""
    team = team_of(request, team_id, Role.LEADER)
    with writing():
        one = Membership.objects.filter(team=team, user__username=username).first()
        if one is None:
            raise refuse("username", f"there is no {username!r} in this team", "name somebody of it")
        leaders = Membership.objects.filter(team=team, role=Role.LEADER)
        if one.role == Role.LEADER and body.role != "leader" and leaders.count() == 1:
            raise refuse("role", f"{username} is the team's only leader", "make somebody else leader first")
        if body.role is None:
            # What was open for them, and what they had opened for others, is void.
            Invitation.objects.filter(Q(username=username) | Q(made_by=one.user), team=team, used_at=None).delete()
            one.delete()
        else:
            one.role = body.role
            one.save()
    note(
        request,
        SecurityEvent.Kind.OUT if body.role is None else SecurityEvent.Kind.ROLE,
        username,
        team,
        body.role or "",
    )
    return _members(team)


@router.get("/teams/{team_id}/security", response={200: list[EventOut], **REFUSED}, operation_id="security")
def read_security(request: HttpRequest, team_id: int) -> list[EventOut]:
    """The last hundred of who came in, who tried to, and what was changed about it."""
    team = team_of(request, team_id, Role.LEADER)
    return [
        EventOut(time=one.time, kind=one.kind, name=one.name, address=one.address, by=one.by, said=one.said)
        for one in of_team(team, _SHOWN)
    ]


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _open(token: str) -> Invitation:
    found = Invitation.objects.select_related("team").filter(token_sha256=_hash(token)).first()
    if found is None or found.used_at is not None or found.expires_at < timezone.now():
        raise HttpError(404, "this link has been used, or has run out: ask your leader for a fresh one")
    return found


@router.get("/join/{token}", response={200: JoinOut, **REFUSED}, auth=None, operation_id="read_invitation")
def read_invitation(request: HttpRequest, token: str) -> JoinOut:
    found = _open(token)
    return JoinOut(username=found.username, team=found.team.name)


@router.post("/join/{token}", response={200: SessionOut, **REFUSED}, auth=None, operation_id="join")
def join(request: HttpRequest, token: str, body: OwnPassword) -> SessionOut:
    """A password of their own, and in. A fresh link for somebody who is there ends their sessions everywhere else."""
    if check_csrf(request):
        raise HttpError(403, "the page was out of date")
    attempts.count(request.META.get("REMOTE_ADDR", ""))
    passwords.fit("password", body.password, get_user_model()(username=_open(token).username))
    # Hashing is slow on purpose: nobody waits to write meanwhile.
    hashed = make_password(body.password)
    with writing():
        found = _open(token)
        user, _ = get_user_model().objects.get_or_create(username=found.username)
        user.password = hashed
        user.save()
        Membership.objects.update_or_create(user=user, team=found.team, defaults={"role": found.role})
        found.used_at = timezone.now()
        found.save()
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    note(request, SecurityEvent.Kind.JOINED, found.username, found.team, found.role)
    return session_out(request)
