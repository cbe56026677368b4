"""An edit, and what it names found in the rig."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator

from rigging.catalogue import catalogue
from rigging.lines.rig import anchor_node
from rigging.mechanics.holds import bears, drop
from rigging.procedures.state import Item, State
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict

# Less than this the load has not moved.
STAYS_M = 0.01
Metres = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
Named = Annotated[str, Field(max_length=200)]


class Thing(Strict):
    """What is put on a rope: its kind, what it is of the catalogue, what it is fastened to or leads round, where on the rope, its cord."""

    kind: Literal["hitch", "device", "bend", "tie", "edge", "hands", "corners"] | None = None
    what: Named | None = None
    to: Named | None = None
    at: Named | None = None
    round: Named | None = None
    rope: Named | None = None
    ahead_of: Named | None = None
    behind: Named | None = None
    out_m: Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)] | None = None
    before_m: Metres | None = None
    cord_m: Metres | None = None
    gives_m: Metres | None = None
    long_m: Metres | None = None
    engaged: bool | None = None
    clipped: bool | None = None
    last: bool | None = None
    up: bool | None = None
    id: Named | None = None


class Says(Thing):
    """All that an edit may say beside its part."""

    by_m: Metres | None = None
    by: Named | None = None
    from_: Annotated[Named | None, Field(alias="from")] = None
    items: Annotated[list[Thing], Field(max_length=40)] | None = None


class Edit(Strict):
    """One edit: its verb, the part that it is about, and what else it says (`Says`, as it was written); `because` accepts what is else
    refused: that the load hangs on hands alone."""

    verb: str
    part: str = ""
    values: dict[str, Any] = {}
    because: str = ""

    @field_validator("values")
    @classmethod
    def _said(cls, values: dict[str, Any]) -> dict[str, Any]:
        return Says.model_validate(values).model_dump(exclude_none=True, by_alias=True)

    @property
    def words(self) -> str:
        return f"{self.verb} {self.part}".strip()

    @property
    def row(self) -> dict[str, Any]:
        """As it is written."""
        return {self.verb: self.part, **self.values}


def name_of(state: State, part: str, line: str | None = None) -> str:
    """A part's name in full: within its line, or as it stands."""
    if not part or part in state.at or ":" in part or state.find(part):
        return part
    return f"{line or next(iter(state.ropes))}:{part}"


def there(state: State, edit: Edit) -> Item:
    found = state.find(name_of(state, edit.part))
    if found is None:
        raise refuse(edit.words, f"there is no {edit.part} on the rope", "put it on first")
    return found[1]


def anchor_of(state: State, edit: Edit, key: str = "to", making: bool = False) -> str:
    """The anchor that an edit names. `making`: by this edit it is made.

    Raises
    ------
    Refused
        If there is none of that name, or it is still to be made.
    """
    to = str(edit.values.get(key, ""))
    for name in (to, anchor_node(to), name_of(state, to)):
        if name in state.anchors or name in state.guards or name in state.at:
            if name in state.unmade and not making:
                raise refuse(f"{edit.words}, {key}", f"the {plainly(name)} is not made yet", "drive or dig it first")
            return name
    known = ", ".join(sorted(plainly(one) for one in (*state.anchors, *state.guards)))
    raise refuse(f"{edit.words}, {key}", f"there is no anchor {to!r}", f"one of {known}")


def plainly(node: str) -> str:
    return node.partition(":")[2]


def bearing(state: State, item: Item) -> bool:
    """Whether the load hangs on something: by what fastens it, by the rope that it ties, or by a strand of another rope at it."""
    lying = state.lying()
    loaded = set(bears(drop(lying), lying.weight_kn))
    pieces = [piece for piece in lying.pieces if piece.id in loaded]
    if item.kind == "tie":
        return any(one.route[-1] == item.to and one.rope.startswith("rope:") for one in pieces)
    if item.cords:
        return any(one.id.startswith((f"{item.id} cord", f"tie of {item.id}")) for one in pieces)
    if item.kind == "hands":
        return any(item.id in one.ends for one in pieces)
    found = state.find(item.id)
    own = f"rope:{found[0]}" if found else ""
    return any(item.id in one.route[1:-1] or (item.id in one.ends and one.rope != own) for one in pieces)


def goes_m(state: State, then: State) -> float:
    """How far the load goes down by a change of its rig: endless where it falls, nothing where nothing held it before."""
    before, after = drop(state.lying()).drop_m, drop(then.lying()).drop_m
    if before is None:
        return 0.0
    return math.inf if after is None else after - before


def lets_go(item: Item) -> bool:
    """Whether a hitch is made so that a hand lets it off while it bears."""
    known = catalogue().hitches.get(item.what)
    return known is not None and known.releases_under_load


def metres(edit: Edit) -> float:
    by: float | None = edit.values.get("by_m")
    if not by:
        raise refuse(
            f"{edit.words}, by_m", "how far is missing", "give metres above 0, for instance {haul: '', by_m: 1}"
        )
    return by
