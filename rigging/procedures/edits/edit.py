"""An edit, and what it names found in the rig."""

from __future__ import annotations

from typing import Any

from rigging.lines.rig import anchor_node
from rigging.mechanics.holds import bears, drop
from rigging.procedures.state import Item, State
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Strict


class Edit(Strict):
    """One edit: its verb, the part that it is about, and what else it says; `because` accepts what is else refused: that the load
    hangs on hands alone."""

    verb: str
    part: str = ""
    values: dict[str, Any] = {}
    because: str = ""

    @property
    def words(self) -> str:
        return f"{self.verb} {self.part}".strip()


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


def anchor_of(state: State, edit: Edit, key: str = "to") -> str:
    to = str(edit.values.get(key, ""))
    for name in (to, anchor_node(to), name_of(state, to)):
        if name in state.anchors or name in state.guards or name in state.at:
            return name
    known = ", ".join(sorted(one.partition(":")[2] for one in (*state.anchors, *state.guards)))
    raise refuse(f"{edit.words}, {key}", f"there is no anchor {to!r}", f"one of {known}")


def bearing(state: State, item: Item) -> bool:
    """Whether the load hangs on something: by what fastens it, by the rope that it ties, or by a strand of another rope at it."""
    lying = state.lying()
    loaded = set(bears(drop(lying), lying.weight_kn))
    pieces = [piece for piece in lying.pieces if piece.id in loaded]
    if item.kind == "tie":
        return any(one.route[-1] == item.to and one.rope.startswith("rope:") for one in pieces)
    if item.cords:
        return any(one.id.startswith((f"{item.id} cord", f"tie of {item.id}")) for one in pieces)
    found = state.find(item.id)
    own = f"rope:{found[0]}" if found else ""
    return any(item.id in one.route[1:-1] or (item.id in one.ends and one.rope != own) for one in pieces)


def metres(edit: Edit) -> float:
    by = float(edit.values["by_m"])
    if not 0 < by <= 1000:
        raise refuse(f"{edit.words}, by_m", f"{by:g} m is no way", "give metres, above 0")
    return by
