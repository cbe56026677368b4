"""What is taken and given about people."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from rigging.quantities.ranges import Strict


class SignIn(Strict):
    username: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=1000)]


class NewPassword(Strict):
    old: Annotated[str, Field(max_length=1000)]
    new: Annotated[str, Field(max_length=1000)]


class TeamOut(BaseModel):
    id: int
    name: str
    role: Literal["leader", "member", "observer"]


class SessionOut(BaseModel):
    """Who is signed in; `username` is empty for nobody. `csrf_token` goes into the X-CSRFToken header."""

    username: str
    teams: list[TeamOut]
    csrf_token: str
    caution: str


Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[\w.@+-]+$")]


RoleName = Literal["leader", "member", "observer"]


class MemberOut(BaseModel):
    username: str
    role: RoleName


class InvitedOut(BaseModel):
    """Somebody who has not used their link yet."""

    username: str
    role: RoleName
    expires_at: datetime


class MembersOut(BaseModel):
    members: list[MemberOut]
    invited: list[InvitedOut]


class Invite(Strict):
    username: Name
    role: RoleName


class LinkOut(BaseModel):
    """The link's path: it is shown this once, and works once, until it runs out."""

    path: str
    expires_at: datetime


class JoinOut(BaseModel):
    username: str
    team: str


class EventOut(BaseModel):
    """Something about who gets in: `kind` in words, whose name it is about, from which address, by whom where that is somebody else."""

    time: datetime
    kind: str
    name: str
    address: str
    by: str
    said: str


class OwnPassword(Strict):
    password: Annotated[str, Field(max_length=1000)]


class ChangeRole(Strict):
    role: RoleName | None
