"""A finding: what, where, how much, against what. Words are made in telling, the edits that mend it in advice."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

# unknown: what was not entered, and counts as open.
Level = Literal["stop", "unknown", "look", "note"]
URGENCY: tuple[Level, ...] = ("stop", "unknown", "look", "note")


@dataclass(frozen=True)
class Found:
    """One finding: its kind, how urgent, the part it is about, the values behind it; `key` tells it from its like."""

    kind: str
    level: Level
    about: str
    values: dict[str, Any] = field(default_factory=dict)
    key: str = ""

    @property
    def id(self) -> str:
        return f"{self.kind}:{self.key}" if self.key else self.kind
