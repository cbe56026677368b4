"""What the API takes and gives beyond the core's own models."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from api.moments import Moment
from rigging.catalogue import Catalogue
from rigging.catalogue.haul import HaulSystem
from rigging.document import Frame, Place3
from rigging.document import Plan as Document
from rigging.document.words import Text
from rigging.quantities.ranges import Strict
from rigging.site.survey import Format, Reading, Taped


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


class CatalogueOut(BaseModel):
    """The catalogue, and one of each display unit in SI."""

    catalogue: Catalogue
    units: dict[str, float]


class NewPlan(Strict):
    team: int
    id: UUID
    document: Document


class SavePlan(Strict):
    """A save: `base` is the revision it started from, `id` is made by the client."""

    base: int
    id: UUID
    document: Document


class RevisionOut(BaseModel):
    number: int
    sha256: str
    author: str
    saved_at: datetime
    document: Document


class PlanOut(BaseModel):
    id: UUID
    team: TeamOut
    latest: RevisionOut


class PlanRow(BaseModel):
    id: UUID
    title: str
    place: str
    team: TeamOut
    revision: int
    saved_at: datetime
    log_entries: int


class StaleOut(BaseModel):
    """A refused save: somebody saved in between. `latest` is what is there now."""

    stale: Literal[True] = True
    base: int
    latest: RevisionOut


Kind = Literal[
    "decision", "observation", "correction", "imported", "signed", "run", "step", "stop", "go", "contingency", "reading", "photo", "here", "plan", "conflict", "alarm",
]  # fmt: skip


class NewEntry(Strict):
    """A log entry; `revision` is the plan as it was. `corrects` points at the entry it puts right."""

    id: UUID
    kind: Literal["decision", "observation", "correction"]
    decision: Annotated[str, Field(min_length=1, max_length=2000)]
    reason: Text = ""
    considered: Text = ""
    revision: int
    corrects: UUID | None = None
    step: Annotated[str, Field(max_length=160)] | None = None
    device_time: Moment | None = None
    device_ahead_ms: Annotated[int, Field(ge=-(10**10), le=10**10)] | None = None


class EntryOut(BaseModel):
    model_config = ConfigDict(extra="forbid")

    id: UUID
    sequence: int
    time: datetime
    author: str
    kind: Kind
    decision: str
    reason: str
    considered: str
    revision: int
    revision_sha256: str
    corrects: UUID | None
    corrects_sequence: int | None = None
    before: str
    hash: str
    step: str = ""
    data: dict[str, Any] = {}
    device_time: Moment | None = None
    device_ahead_ms: int | None = None


class LogOut(BaseModel):
    """A page of the log in order: of the `total` entries that fit, those from `place` on, counted from the first as 0."""

    entries: list[EntryOut]
    total: int
    place: int


class VerifiedOut(BaseModel):
    """How many entries were read again, and what does not fit its seal."""

    entries: int
    broken: list[str]


class SignCheck(Strict):
    """A second person's name under lines of the check; `lines` left out, under all that can be signed."""

    id: UUID
    revision: int
    lines: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=300)] | None = None


class SignedLine(BaseModel):
    """The last answer that somebody signed of a line, and when."""

    line: str
    answer: str
    by: str
    at: datetime
    revision: int


class Bundle(Strict):
    """A plan as a file: the document, which revision it was, and the log that belongs to it."""

    format: Literal["outrigger-plan"]
    version: Literal[1]
    revision: int
    sha256: str
    document: Document
    log: Annotated[list[EntryOut], Field(max_length=5000)]


class ImportPlan(Strict):
    team: int
    id: UUID
    content: Bundle | Document


class NewReading(Reading):
    """A reading as an instrument sends it."""

    instrument: Annotated[str, Field(min_length=1, max_length=60)]


class ReadingOut(BaseModel):
    id: int
    time: datetime
    author: str
    instrument: str
    reading: Reading


class SimulateReading(Strict):
    frame: Frame | None = None


class PlaceReading(Strict):
    """A reading or a taped measure, from where it was taken, to be placed on the sheet."""

    measured: Reading | Taped
    frame: Frame | None = None
    held_at: Place3 = Place3()


class ReadSurvey(Strict):
    """A file of features to read into a plan."""

    format: Format
    text: Annotated[str, Field(max_length=1_000_000)]
    document: Document


class WriteSurvey(Strict):
    format: Format
    document: Document


class SurveyFile(BaseModel):
    name: str
    text: str


class AskWorking(Strict):
    """Which figure's working: of the plan's report, or of its anchors' in a state."""

    document: Document
    figure: Annotated[str, Field(min_length=1, max_length=300)]
    of: Literal["plan", "anchors"] = "plan"
    state: Annotated[str, Field(max_length=140)] = "raising"


class AskHolds(Strict):
    """What holds in a state, and what happens when a part of it is `gone`; `every` part is questioned, or none."""

    document: Document
    state: Annotated[str, Field(max_length=140)]
    gone: Annotated[str, Field(max_length=140)] | None = None
    every: bool = True


class AskDecided(Strict):
    """A plan before and after what was changed."""

    before: Document
    after: Document


class StackSystems(Strict):
    """`top` stacked on the haul strand of `base`."""

    base: HaulSystem
    top: HaulSystem
