"""What is taken and given about plans that go out of the house."""

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from rigging.quantities.ranges import Strict


class LinkRow(BaseModel):
    """An observer link: for whom, made by whom, until when; whether it was used yet."""

    id: int
    name: str
    made_by: str
    ends_at: datetime
    used: bool


class Statement(BaseModel):
    """What this installation says of a plan: its last revision and the last entry of its log by their hashes, at a time."""

    plan: uuid.UUID
    revision: int
    revision_sha256: str
    entries: int
    last_hash: str
    at: datetime


class HandoverOut(BaseModel):
    """What a reader from outside wants to know first: that every seal fits, or which does not; who says so, by the print of the installation's
    key, and its Ed25519 signature over the statement's canonical JSON. `until`: when the reader's own link ends. `handed_over`: by which
    installation this plan was made, and when, if it was read in from a bundle. `links` are for leaders."""

    title: str
    statement: Statement
    broken: list[str]
    key: str
    key_print: str
    signature: str
    until: datetime | None
    handed_over: datetime | None
    handed_over_print: str
    links: list[LinkRow] | None


class NewLink(Strict):
    """For whom, and for how many days."""

    name: Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
    days: Annotated[int, Field(ge=1, le=90)] = 14


class LookLink(BaseModel):
    """The link's path: it is shown this once."""

    path: str
    ends_at: datetime


class LookOut(BaseModel):
    """What a link is for."""

    name: str
    title: str
    team: str
    ends_at: datetime
