"""A rope that lay long in the sun, or near chemicals."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from rigging.checks.found import Found, Level
from rigging.checks.mending import Mend, rope_number, setting
from rigging.document import Plan
from rigging.study.place import AtPlace


class Stood(Found, topic="margins", source="sunlight"):
    rope: str
    line: str
    stood: Literal["sunlight", "chemicals"]


def find(here: AtPlace) -> Iterator[Stood]:
    for rope, line in here.ropes:
        if rope.stood == "sunlight" or rope.stood == "chemicals":
            level: Level = "stop" if rope.stood == "chemicals" else "look"
            yield Stood(level=level, about=f"{line}:rope", key=rope.id, rope=rope.id, line=line, stood=rope.stood)


def mends(found: Stood, plan: Plan) -> Iterator[Mend]:
    yield setting("other-rope", f"/ropes/{rope_number(plan, found.rope)}/stood", "nothing")
