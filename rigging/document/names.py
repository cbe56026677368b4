"""Ids made plain: whatever a document calls its things, inside the core a name holds none of the signs that join names there,
and none of the words that stand for something else.

An id is anything that JSON allows. Parts of a rig are named by the id of their line and their place on it; so that such a name can
be read in one way only, ids that would make it ambiguous are written with a middle dot as they are read in, everywhere alike."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

_SIGNS = re.compile(r"[:/@~|]")
_WORDS = frozenset(
    [
        "anchor",
        "cord",
        "feature",
        "goes",
        "ground",
        "hands",
        "haul",
        "load",
        "planning",
        "rope",
        "tie",
        "raising",
        "lowering",
        "held",
        "jammed",
        "hitch",
        "tail",
    ]
)
_ENDS = (" cord", " behind", "-cord")
_BEGINS = ("tie of ",)
# Where ids stand in a document: the list, and the fields of any depth below it that name one of its things.
_TABLES: dict[str, tuple[str, ...]] = {
    "features": ("feature",), "anchors": ("anchor", "far", "tied_to"), "ropes": ("rope", "strands_of"), "lines": (), "tension_lines": (),
}  # fmt: skip


def plain(given: dict[str, Any]) -> dict[str, Any]:
    """The document with every ambiguous id written plainly, and everything that names it alike; the same one where none is."""
    found: Any = given
    for table, fields in _TABLES.items():
        renamed = _renamed([one.get("id") for one in _rows(given.get(table))])
        if renamed:
            found = _over(found, _by(renamed), table, fields)
    alternatives = [two.get("id") for one in _rows(given.get("anchors")) for two in _rows(one.get("alternatives"))]
    renamed = _renamed(alternatives)
    if renamed:
        anchors = [
            {
                **one, "taken": renamed.get(one.get("taken"), one.get("taken")),
                "alternatives": [{**two, "id": renamed.get(two.get("id"), two.get("id"))} for two in _rows(one.get("alternatives"))],
            }
            for one in _rows(found.get("anchors"))
        ]  # fmt: skip
        found = {**found, "anchors": anchors}
    return found  # type: ignore[no-any-return]


def _rows(value: Any) -> list[dict[str, Any]]:
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


def _renamed(ids: list[Any]) -> dict[Any, str]:
    """A plain name for each id that needs one; no two alike."""
    taken = {one for one in ids if isinstance(one, str)}
    found: dict[Any, str] = {}
    for one in ids:
        if not isinstance(one, str) or one in found:
            continue
        name = _SIGNS.sub("·", one)
        if name in _WORDS or name.endswith(_ENDS) or name.startswith(_BEGINS) or not name.strip():
            name = f"·{name.strip()}·"
        while name != one and name in taken:
            name += "·"
        if name != one:
            found[one] = name
            taken.add(name)
    return found


def _by(renamed: dict[Any, str]) -> Callable[[Any], Any]:
    return lambda value: renamed.get(value, value)


def _over(value: Any, rename: Callable[[Any], Any], table: str, fields: tuple[str, ...]) -> Any:
    """Every naming of a table's things put through `rename`: their ids, and the fields that name them."""

    def named(one: Any) -> Any:
        return rename(one) if isinstance(one, str) else one

    if isinstance(value, list):
        return [_over(one, rename, table, fields) for one in value]
    if not isinstance(value, dict):
        return value
    found = {}
    for key, one in value.items():
        if key == "system":
            found[key] = one
        elif key == table and isinstance(one, list):
            found[key] = [
                _over({**row, "id": named(row.get("id"))} if isinstance(row, dict) else row, rename, "", fields)
                for row in one
            ]
        elif key == "anchors" and isinstance(one, dict) and "anchor" in fields:
            found[key] = {node: named(name) for node, name in one.items()}
        else:
            found[key] = named(one) if key in fields else _over(one, rename, table, fields)
    return found
