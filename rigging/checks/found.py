"""What a check finds: a value with its kind, how urgent it is and what it is about. Words are put to it in telling."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field
from typing import ClassVar, Literal, dataclass_transform

# unknown: what was not entered, and counts as open.
Level = Literal["stop", "unknown", "look", "note"]
URGENCY: tuple[Level, ...] = ("stop", "unknown", "look", "note")
Topic = Literal["parts", "hands-off", "margins", "jam", "release", "geometry", "ground"]


@dataclass_transform(kw_only_default=True, frozen_default=True, field_specifiers=(field,))
@dataclass(frozen=True, kw_only=True)
class Found:
    """One finding: how urgent, the part it is about, the state in which it is so; `key` tells it from its like. Each kind is a class of its
    own in a file of its own, with the values behind it; what is not compared is not told, and only used to mend it.

    Of each kind: the `topic` it stands under on the sheet, the `source` of its rule or value in the catalogue ("": common practice),
    whether it may be otherwise `anywhere` along the way, and whether another line of the check says it `better`, so that only a
    single state's sheet has it.
    """

    kind: ClassVar[str]
    topic: ClassVar[Topic]
    source: ClassVar[str]
    anywhere: ClassVar[bool]
    better: ClassVar[bool]

    level: Level
    about: str
    key: str = ""
    state: str = ""

    def __init_subclass__(cls, *, topic: Topic, source: str = "", anywhere: bool = False, better: bool = False):
        dataclass(frozen=True, kw_only=True)(cls)
        cls.kind = re.sub(r"(?<!^)(?=[A-Z])", "-", cls.__name__).lower()
        cls.topic, cls.source, cls.anywhere, cls.better = topic, source, anywhere, better

    @property
    def id(self) -> str:
        return f"{self.kind}:{self.key}" if self.key else self.kind

    @property
    def room(self) -> float:
        """How much is left of what it asks, to find the worst of its like: infinite where it asks for nothing that has a size."""
        return math.inf

    @property
    def at_step(self) -> str | None:
        """The step of the operation that it is about; None where it is about none."""
        return None

    @property
    def urgency(self) -> int:
        return URGENCY.index(self.level)
