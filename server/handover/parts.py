"""What a bundle holds, file by file. The bundle carries the JSON Schema of these, so that anybody can read it."""

import uuid
from datetime import datetime
from typing import Annotated, Any, Literal, get_type_hints

from pydantic import Field, TypeAdapter

from rigging.quantities.ranges import Strict

Hash = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Whole = Annotated[int, Field(ge=0, le=2**31)]


class Manifest(Strict):
    """What is in the bundle: the SHA-256 of every file by its name. It is what the signature is over."""

    format: Literal["outrigger-handover"] = "outrigger-handover"
    version: Literal[1] = 1
    plan: uuid.UUID
    title: str
    made_at: datetime
    files: dict[str, Hash]


class Signature(Strict):
    """Ed25519, in hex: the public key of the installation that made the bundle, and its signature over the manifest's bytes."""

    key: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    signature: Annotated[str, Field(pattern=r"^[0-9a-f]{128}$")]


class Somebody(Strict):
    """A person by the number that the seals of the log name them by."""

    id: Whole
    name: Annotated[str, Field(max_length=150)]


class RevisionPart(Strict):
    """A revision: `sha256` is over the document's canonical JSON (keys sorted, no spaces, UTF-8)."""

    number: Whole
    sha256: Hash
    author: Annotated[str, Field(max_length=150)]
    saved_at: datetime
    document: dict[str, Any]


class EntryPart(Strict):
    """An entry of the log; `hash` is over the canonical JSON of everything it says with `before`, the hash of the entry before it.
    `signed`: the lines of a list that was signed by it."""

    id: uuid.UUID
    sequence: Whole
    time: datetime
    author: Whole
    kind: Annotated[str, Field(max_length=12)]
    decision: str
    reason: str
    considered: str
    revision: Whole
    corrects: uuid.UUID | None
    step: Annotated[str, Field(max_length=160)]
    data: dict[str, Any] | None
    device_time: datetime | None
    device_ahead_ms: int | None
    before: str
    hash: Hash
    signed: dict[str, dict[str, str]] | None


class RunPart(Strict):
    """A run as it ended, or as it stood; `own`: procedures that it went by in place of those that ship; `otherwise`: what was found in it that the plan has not."""

    id: uuid.UUID
    revision: Whole
    status: Literal["going", "stopped", "ended"]
    begun_at: datetime
    ended_at: datetime | None
    at: Annotated[str, Field(max_length=160)]
    since: datetime
    version: Whole
    stopped: dict[str, Any] | None
    contingency: dict[str, Any] | None
    own: dict[str, Any]
    otherwise: list[dict[str, Any]] = []
    done: list[dict[str, Any]]
    counts: dict[str, Any]
    here: dict[str, Any]
    looked: dict[str, Any]
    conflicts: list[dict[str, Any]]
    changed: str


class BlockPart(Strict):
    """Readings one after the other: `data` is base64 of zlib of 32-bit little-endian differences, first the times in ms after `from_ms`, then the
    forces in tenths of a newton; `hash` is over the block's numbers and data with the hash of the block before it."""

    first: Whole
    count: Annotated[int, Field(ge=1, le=65535)]
    from_ms: Annotated[int, Field(ge=0, le=2**53)]
    to_ms: Annotated[int, Field(ge=0, le=2**53)]
    data: str
    hash: Hash


class CellPart(Strict):
    """A load cell and everything that it read."""

    id: uuid.UUID
    name: Annotated[str, Field(max_length=60)]
    place: Annotated[str, Field(max_length=120)]
    unit: Annotated[str, Field(max_length=8)]
    made_at: datetime
    from_file: Annotated[str, Field(max_length=200)] = ""
    blocks: list[BlockPart]


class Parts(Strict):
    """The JSON files of a bundle, each by its name."""

    people: list[Somebody]
    revisions: Annotated[list[RevisionPart], Field(min_length=1)]
    log: list[EntryPart]
    runs: list[RunPart]
    readings: list[CellPart]


def typed(field: str) -> TypeAdapter[Any]:
    """How one of the parts is written and read."""
    return TypeAdapter(get_type_hints(Parts, include_extras=True)[field])
