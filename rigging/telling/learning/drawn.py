"""Which drawing shows how a thing is tied."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from rigging.catalogue import catalogue
from rigging.learning import FILES

# What is tied as something else is drawn.
_ALIKE = {
    "bowline-round": "bowline", "figure-eight-round": "figure-eight-loop", "basket-tape": "basket-loop", "capstan-trunk": "round-turn",
    "capstan-bar": "round-turn", "drum-tie-off": "round-turn", "rack-5": "rack-4-threaded", "rack-6": "rack-4-threaded", "twin-rope": "tube-threaded",
}  # fmt: skip


@dataclass(slots=True)
class DrawnAs:
    """A drawing of the reference: its id, and what it shows as the catalogue calls it."""

    id: str
    name: str


@lru_cache
def _drawings() -> dict[str, DrawnAs]:
    """What of the catalogue is drawn, by its id there."""
    shelf = catalogue()
    drawn = {file.stem for file in FILES.glob("*.yaml")}
    found = {}
    for table in (shelf.knots, shelf.hitches, shelf.attachments, shelf.devices):
        for id, one in table.items():
            # A device is drawn as the rope goes through it; one that has its name from a knot is none.
            threaded = f"{id}-threaded"
            drawing = _ALIKE.get(id, threaded if threaded in drawn else id)
            if drawing in drawn:
                found[id] = DrawnAs(drawing, one.name)
    return found


@lru_cache
def _by_name() -> dict[str, str]:
    return {one.name: one.id for one in _drawings().values()}


def drawn_as(thing: str) -> str:
    """The id of the drawing of a thing, by its name in the catalogue; nothing where there is none."""
    return _by_name().get(thing, "")


def drawings_of(values: Iterable[object]) -> list[DrawnAs]:
    """The drawings of what some values are, by their ids in the catalogue, each once."""
    found = (_drawings().get(one) for one in values if isinstance(one, str))
    return list({one.id: one for one in found if one is not None}.values())


def drawings_named(thing: str) -> list[DrawnAs]:
    """The drawing of a thing, by its name in the catalogue."""
    return [one for one in _drawings().values() if one.name == thing][:1]
