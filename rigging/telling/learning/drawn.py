"""Which drawing shows how a thing is tied."""

from __future__ import annotations

from functools import lru_cache

from rigging.catalogue import catalogue
from rigging.learning import FILES


@lru_cache
def _by_name() -> dict[str, str]:
    """The drawing of what the catalogue calls so."""
    shelf = catalogue()
    named = {
        one.name: one.id
        for table in (shelf.knots, shelf.hitches, shelf.devices, shelf.attachments)
        for one in table.values()
    }
    drawn = {file.stem for file in FILES.glob("*.yaml")}
    return {name: id for name, id in named.items() if id in drawn}


def drawn_as(thing: str) -> str:
    """The id of the drawing of a thing, by its name in the catalogue; nothing where there is none."""
    return _by_name().get(thing, "")
