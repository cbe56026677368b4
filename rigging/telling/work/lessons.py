"""What was learnt from readings, in words."""

from __future__ import annotations

from collections.abc import Sequence

from rigging.catalogue import catalogue
from rigging.readings.learn import Unsure
from rigging.telling.words.names import listed, lower_first


def value_name(one: Unsure) -> str:
    """A value by the thing that it belongs to."""
    if one.of == "load":
        return "Weight of the load"
    if one.of == "edge":
        return f"{one.name}, {lower_first(catalogue().surfaces[one.kind].name)}"
    shelf = catalogue().bends if one.of == "bend" else catalogue().devices
    return shelf[one.kind].name


def together_text(group: Sequence[Unsure]) -> str:
    """That several values come into every reading only together."""
    names = listed([value_name(group[0]), *(lower_first(value_name(one)) for one in group[1:])])
    if all(one.of == "edge" for one in group):
        names = listed([one.name for one in group])
        return f"{names} lie in one line: every reading knows only all together, and what is said of each rests on the catalogue. A cell between them would tell them apart."
    return f"{names} come into every reading only together: what is said of each rests on the catalogue."
