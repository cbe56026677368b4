"""Which drawing shows a thing of the catalogue."""

from __future__ import annotations

from functools import lru_cache

from rigging.catalogue import catalogue
from rigging.learning import FILES

# What is tied as something else is drawn.
_ALIKE = {
    "bowline-round": "bowline", "figure-eight-round": "figure-eight-loop", "basket-tape": "basket-loop", "capstan-trunk": "round-turn",
    "capstan-bar": "round-turn", "drum-tie-off": "round-turn", "rack-5": "rack-4-threaded", "rack-6": "rack-4-threaded", "twin-rope": "tube-threaded",
}  # fmt: skip


@lru_cache
def drawings() -> dict[str, tuple[str, str]]:
    """What of the catalogue is drawn, by its id there: the id of the drawing, and what the catalogue calls it."""
    shelf = catalogue()
    drawn = {file.stem for file in FILES.glob("*.yaml")}
    found = {}
    for table in (shelf.knots, shelf.hitches, shelf.attachments, shelf.devices):
        for id, one in table.items():
            # A device is drawn as the rope goes through it; one that has its name from a knot is none.
            threaded = f"{id}-threaded"
            drawing = _ALIKE.get(id, threaded if threaded in drawn else id)
            if drawing in drawn:
                found[id] = drawing, one.name
    return found
