"""What a drill is: a question of a skill, made from a seed, with options of which one is right, or an order; all of it values, without words."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

Level = Literal[1, 2, 3]
LEVELS: tuple[Level, ...] = (1, 2, 3)


@dataclass(frozen=True)
class Spot:
    """A named place of a drill's drawing, across and up in metres."""

    id: str
    kind: Literal["anchor", "edge", "grab", "block", "load", "hands", "leg", "point"]
    x_m: float
    y_m: float


@dataclass(frozen=True)
class Laid:
    """A piece of rope, cord or sling between spots of a drawing; `slack` ones hang."""

    id: str
    through: tuple[str, ...]
    slack: bool = False
    rope: bool = True


@dataclass(frozen=True)
class Sketch:
    """What a drill shows: spots and what lies between them, to scale or, as on a bench, in their order only; a strip of readings (seconds, newtons) with the band that was predicted; a knot, or
    one of its faults, seen from behind or in the other hand."""

    spots: tuple[Spot, ...] = ()
    laid: tuple[Laid, ...] = ()
    to_scale: bool = False
    strip: tuple[tuple[float, float], ...] = ()
    band_n: tuple[float, float] | None = None
    knot: str = ""
    fault: str | None = None
    behind: bool = False
    mirrored: bool = False


@dataclass(frozen=True)
class Asked:
    """What the core's own command line is asked for the same answer: its arguments, and the file that stands for `FILE` among them."""

    arguments: tuple[str, ...]
    file: Any = None


@dataclass(frozen=True)
class Drill:
    """One question. `asks`: the values it is put with; `options`: what can be answered, each a value; `right`: the number of the right one, or of
    all of them in the right order; `works`: the values that it was worked out by."""

    skill: str
    seed: int
    level: Level
    asks: dict[str, Any]
    options: tuple[Any, ...]
    right: tuple[int, ...]
    works: dict[str, Any] = field(default_factory=dict)
    sketch: Sketch = field(default_factory=Sketch)
    command: Asked | None = None

    @property
    def in_order(self) -> bool:
        """Whether the options are to be put in order, not one of them chosen."""
        return len(self.right) > 1

    def marks(self, given: Sequence[int]) -> bool:
        """Whether an answer, by the numbers of its options, is right."""
        return tuple(given) == self.right


class Again(Exception):
    """What luck made does not come to one clear answer: another is made."""


Maker = Callable[[random.Random, Level], "Made"]


@dataclass(frozen=True)
class Made:
    """A drill before its options are shuffled: `right` and those that are wrong."""

    asks: dict[str, Any]
    right: Any
    wrong: tuple[Any, ...]
    works: dict[str, Any] = field(default_factory=dict)
    sketch: Sketch = field(default_factory=Sketch)
    command: Asked | None = None
    # In their right order: what is asked for, where no single one is.
    order: tuple[Any, ...] = ()


def apart(right: float, tried: Iterable[float], by: float, least: float, count: int) -> tuple[float, ...]:
    """Wrong figures far enough from the right one and from each other, by a share and by a least, in the order tried.

    Raises
    ------
    Again
        If too few are.
    """
    kept: list[float] = []
    for one in tried:
        if one > 0 and all(abs(one - other) > max(by * max(one, other), least) for other in (right, *kept)):
            kept.append(one)
    if len(kept) < count:
        raise Again
    return tuple(kept[:count])


def lay(skill: str, seed: int, level: Level, made: Made, luck: random.Random) -> Drill:
    """The drill with its options in a random order."""
    if made.order:
        shuffled = list(range(len(made.order)))
        while shuffled == sorted(shuffled):
            luck.shuffle(shuffled)
        right = tuple(shuffled.index(number) for number in range(len(made.order)))
        options = tuple(made.order[number] for number in shuffled)
        return Drill(skill, seed, level, made.asks, options, right, made.works, made.sketch, made.command)
    given = [made.right, *made.wrong]
    luck.shuffle(given)
    right = (given.index(made.right),)
    return Drill(skill, seed, level, made.asks, tuple(given), right, made.works, made.sketch, made.command)
