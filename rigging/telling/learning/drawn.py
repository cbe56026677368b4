"""Which drawing shows how a thing is tied."""

from __future__ import annotations

from functools import lru_cache

from rigging.catalogue import catalogue
from rigging.learning import FILES

# A device that has its name from a knot which is none.
_SHARED = {"figure-eight"}
# What is tied as something else is drawn.
_ALIKE = {
    "bowline-round": "bowline", "figure-eight-round": "figure-eight-loop", "basket-tape": "basket-loop", "capstan-trunk": "round-turn",
    "capstan-bar": "round-turn", "drum-tie-off": "round-turn", "rack-5": "rack-4-threaded", "rack-6": "rack-4-threaded", "twin-rope": "tube-threaded",
}  # fmt: skip


@lru_cache
def _by_name() -> dict[str, str]:
    """The drawing of what the catalogue calls so."""
    shelf = catalogue()
    drawn = {file.stem for file in FILES.glob("*.yaml")}
    found = {one.name: one.id for table in (shelf.knots, shelf.hitches, shelf.attachments) for one in table.values()}
    # A device is drawn as the rope goes through it; the munter is a hitch itself, and shares its name with no other.
    found |= {
        one.name: f"{one.id}-threaded" if f"{one.id}-threaded" in drawn else one.id
        for one in shelf.devices.values()
        if one.id not in _SHARED or f"{one.id}-threaded" in drawn
    }
    return {name: _ALIKE.get(id, id) for name, id in found.items() if _ALIKE.get(id, id) in drawn}


def drawn_as(thing: str) -> str:
    """The id of the drawing of a thing, by its name in the catalogue; nothing where there is none."""
    return _by_name().get(thing, "")
