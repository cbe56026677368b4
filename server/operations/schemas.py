"""What is taken and given about the log and the run."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.models import Role
from answering.moments import Moment
from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag

from rigging.document import Course, Pace
from rigging.document import Plan as Document
from rigging.document.words import Text
from rigging.procedures.run import ProcedureGiven
from rigging.quantities.ranges import Strict, flat
from rigging.telling.work.operation import OperationReport, StepReport

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


class SignCheck(Strict):
    """A second person's name under lines of the check; `lines` left out, under all that can be signed."""

    id: UUID
    revision: int
    lines: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=300)] | None = None


class BeforeOut(BaseModel):
    """What stands open before a load comes on, in words; empty where nothing is."""

    text: str


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


def _kind(given: object) -> str:
    """Whether something is a bundle or a plan by itself."""
    packed = "document" in given or "format" in given if isinstance(given, dict) else isinstance(given, Bundle)
    return "kind:bundle" if packed else "kind:plan"


class ImportPlan(Strict):
    team: int
    id: UUID
    content: Annotated[
        Annotated[Bundle, Tag("kind:bundle")] | Annotated[Document, Tag("kind:plan")], Discriminator(_kind)
    ]


ActName = Literal[
    "begin", "done", "back", "skip", "stop", "why", "go", "contingency", "return", "here", "relieve", "look", "reading", "procedure", "enter", "otherwise", "end", "settle",
]  # fmt: skip


class RunAct(Strict):
    """What somebody does to the run: `id` made by the client, `at` the step it is about, and what the act needs; `kept`: done without
    a connection and sent later."""

    id: UUID
    act: ActName
    at: Annotated[str, Field(max_length=160)] = ""
    text: Text = ""
    data: Annotated[dict[str, Any], flat(8)] = {}
    device_time: Moment | None = None
    device_ahead_ms: Annotated[int, Field(ge=-(10**10), le=10**10)] | None = None
    kept: bool = False


class Arrange(Strict):
    """The operation as its leader puts it in order, on the revision that they saw."""

    id: UUID
    base: int
    operation: Course


class TakePaces(Strict):
    """The team's own times taken for a plan, or given up where the list is empty, on the revision that was seen."""

    id: UUID
    base: int
    paces: Annotated[list[Pace], Field(max_length=40)]


class Arranged(BaseModel):
    """The revision that has it."""

    revision: int


class Counts(BaseModel):
    """Hauls and resets done, metres in and out; to the edge, until the next join comes in; seconds a metre so far."""

    hauls: int
    hauls_in_all: int
    resets: int
    in_m: float
    out_m: float
    to_edge_m: float | None
    join_in_m: float | None
    seconds_per_metre: float | None


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


class Deed(BaseModel):
    """Something done to the run, in words (`do`), with when by the clock of whoever did it."""

    act: str
    at: str
    do: str
    by: str
    when: datetime


class Conflict(BaseModel):
    """What somebody did without a connection (`theirs`) that did not fit, what was done here meanwhile, why it did not fit; where the
    run would be by theirs."""

    id: UUID
    by: str
    theirs: list[Deed]
    meanwhile: list[Deed]
    because: str
    leads_to: str
    leads_to_do: str


class RunState(BaseModel):
    """Where the run is. `operation` names what it is composed of: it is read again when that changes; `beside`: steps that can be done at the
    same time; `done_ahead`: those that are done already, further on; `all_done`: it only waits to be ended; `pace`: of a table-top, how many times as fast its
    clock goes (None: it is a real one)."""

    id: UUID
    status: Literal["going", "stopped", "ended"]
    version: int
    revision: int
    operation: str
    at: str
    beside: list[str]
    done_ahead: list[str]
    all_done: bool
    since: datetime
    begun_at: datetime
    now: datetime
    stopped: Stopped | None
    contingency: Contingency | None
    counts: Counts
    here: dict[str, dict[str, str]]
    looks: list[LookedAt]
    conflicts: list[Conflict]
    changed: str
    pace: float | None = None


class RunNow(BaseModel):
    """The run, where one is begun. `latest`: the plan's revision; `role`: what who asks is in this plan; `reads`: they only read it, and stop nothing."""

    run: RunState | None
    composed: str
    latest: int
    team: int
    role: Role
    reads: bool


class RunOut(RunNow):
    """The run, and the operation that the plan composes to."""

    operation: OperationReport


class MovedOut(BaseModel):
    """A refused act: the run had moved on. `run` is where it is now."""

    moved: Literal[True] = True
    run: RunState


class ProceduresOut(BaseModel):
    """Everything that ships, with the team's own in place of some."""

    procedures: list[ProcedureGiven]
    own: list[str]
