"""What somebody does to a run, and that it had moved on meanwhile."""

import uuid
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from operations.models import Run

# What an act's entry says: its kind, the words, and what else.
Said = tuple[str, str, dict[str, Any]]


@dataclass(frozen=True)
class Act:
    """What somebody does to a run."""

    id: uuid.UUID
    act: str
    at: str = ""
    text: str = ""
    data: dict[str, Any] | None = None
    device_time: datetime | None = None
    device_ahead_ms: int | None = None
    # Done on a device without a connection, and sent later.
    kept: bool = False


class Moved(Exception):
    """An act about a step that is no longer the one now: somebody moved the run on meanwhile."""

    def __init__(self, run: Run):
        self.run = run
