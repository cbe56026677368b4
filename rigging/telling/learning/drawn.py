"""Which drawing shows how a thing is tied, for whoever speaks of it by its id or its name in the catalogue."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from rigging.learning.drawings import drawings


@dataclass(slots=True)
class DrawnAs:
    """A drawing of the reference: its id, and what it shows as the catalogue calls it."""

    id: str
    name: str


@lru_cache
def _drawn() -> dict[str, DrawnAs]:
    """By id and by name."""
    return {key: DrawnAs(drawing, name) for id, (drawing, name) in drawings().items() for key in (id, name)}


def drawn_as(thing: str) -> str:
    """The id of the drawing of a thing; nothing where there is none."""
    found = _drawn().get(thing)
    return found.id if found else ""


def drawings_of(values: Iterable[object]) -> list[DrawnAs]:
    """The drawings of what some values are, each once."""
    found = (_drawn().get(one) for one in values if isinstance(one, str))
    return list({one.id: one for one in found if one is not None}.values())
