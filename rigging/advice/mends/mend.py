"""A mend: a change that would do away with a finding, as edits of the document that can be made and taken back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from rigging.document import Line, Plan
from rigging.document.edits import Edit
from rigging.judging.found import Found

PULLEY, MINDING, HITCH = "ball-bearing-pulley", "minding-pulley", "french-8"
RELEASING_M = 1.0


@dataclass(frozen=True)
class Mend:
    """A change that would mend something: its kind, the values that name it, and its edits."""

    kind: str
    edits: tuple[Edit, ...]
    values: dict[str, Any] = field(default_factory=dict)


Mender = Callable[[Found, Plan], Iterator[Mend]]


def line_at(plan: Plan, line: str) -> tuple[int, Line]:
    """A line with its number in the document."""
    return next((number, one) for number, one in enumerate(plan.lines) if one.id == line)


def straight_back(line: int) -> Mend:
    """A line hauled straight back: without its redirects."""
    edits = (
        Edit("replace", f"/lines/{line}/haul/redirects", []),
        Edit("replace", f"/lines/{line}/haul/walk_rad", None),
    )
    return Mend("straight-back", edits)


def line_of(found: Found) -> str:
    return str(found.values.get("line") or found.about.partition(":")[0])


def setting(kind: str, path: str, value: Any, **values: Any) -> Mend:
    return Mend(kind, (Edit("replace", path, value),), values)
