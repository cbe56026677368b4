"""The operation as the leader arranged it: where it begins, its sections in order, what is done instead where one does not bring the load on."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rigging.quantities.ranges import Strict

Begins = Literal["ground", "hanging", "arrested", "belayed", "tension-line"]
# A procedure that ships, or one of the team's own: which there are is known where the operation is composed.
ProcedureId = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,60}$")]


class Instead(Strict):
    """What is done where a section does not come to its end: the procedure, and in words when."""

    when: Annotated[str, Field(min_length=1, max_length=200)]
    procedure: ProcedureId


class SectionGiven(Strict):
    """A procedure of the operation, and what there is instead of it."""

    procedure: ProcedureId
    instead: Annotated[list[Instead], Field(max_length=4)] = []


class Course(Strict):
    """Where the operation begins: the load on the ground, hanging on what the plan has, in somebody's arrest on snow, on a belay,
    or by a tension line; what a belay hangs on: the belayer's harness, or the anchor of its line; and its sections, None where they are as
    composed for that."""

    begins: Begins = "ground"
    belay: Literal["harness", "anchor"] = "harness"
    sections: Annotated[list[SectionGiven], Field(max_length=24)] | None = None
