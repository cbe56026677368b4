"""A change of a plan's operation in words: where it begins, which sections came, went or moved, what there is instead of them."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, Any

from rigging.procedures.course import PLACED, SET_UP
from rigging.procedures.run import known
from rigging.telling.words.names import listed, lower_first

if TYPE_CHECKING:
    from rigging.telling.work.changed import Change

BEGUN = {
    "ground": "the load on the ground", "hanging": "the load hanging", "arrested": "an arrest on snow", "belayed": "a belay",
    "tension-line": "a tension line",
}  # fmt: skip


def of_operation(change: Change) -> str:
    if change.last == "begins":
        return f"operation begins with {BEGUN[change.new]}, not with {BEGUN[change.old]}"
    if change.last == "belay":
        return f"belay from the {change.new}, not from the {change.old}"
    if change.new is None:
        return "operation as it is composed"
    if change.old is None:
        return f"operation in this order: {listed(_section(one) for one in change.new)}"
    came, went = _more(change.new, change.old), _more(change.old, change.new)
    said = [
        f"{listed(rows)} {verb}"
        for rows, verb in ((came, "put into the operation"), (went, "left out of the operation"))
        if rows
    ]
    return "; ".join(said) or f"operation in another order: {listed(_section(one) for one in change.new)}"


def _more(rows: list[dict[str, Any]], than: list[dict[str, Any]]) -> list[str]:
    """Sections and ways instead of them that are in one list more often than in the other."""
    counts = Counter(_section(one) for one in rows)
    counts.subtract(_section(one) for one in than)
    return [name for name, count in counts.items() if count > 0]


def _section(given: dict[str, Any]) -> str:
    ways = listed(f"{_name(one['procedure'])} if {one['when']}" for one in given["instead"])
    return f"{_name(given['procedure'])} (or {ways})" if ways else _name(given["procedure"])


def _name(id: str) -> str:
    if id == SET_UP:
        return "set-up"
    found = PLACED.get(id) or known().get(id)
    return lower_first(found.name) if found else id
