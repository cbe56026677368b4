"""Knots, hitches and wraps drawn from a description of their rope's path: stages of tying, faults beside the right form, and a code by which the drawing
can be checked."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from rigging.learning import FILES
from rigging.learning.curves import Code, Strand, code_of, cuts_itself, smooth
from rigging.learning.shapes import (
    BESIDE,
    bar,
    barrel,
    beside,
    cut,
    gripping,
    on_a_bight,
    ring,
    rope_up,
    scaled,
    slipped,
    through,
    turned_half,
    twisted,
    wound,
)
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse
from rigging.quantities.yaml import read_yaml

Shape = Annotated[dict[str, Any], Field(min_length=1, max_length=1)]


# What knots are chosen from side by side.
Kind = Literal["stopper", "loop", "bend", "tied on", "grip", "runs", "round a post"]


class _Given(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class StrandGiven(_Given):
    """A rope or cord of a knot, or what it goes round (`solid`; `closed`: a ring)."""

    id: str
    shape: Shape
    ends: tuple[str, str] = ("", "")
    solid: bool = False
    closed: bool = False


class StageGiven(_Given):
    """A stage of tying: what is done, and how far along its way the end has then come; where a rope is tied without its end, how its strands then
    lie (`shapes`)."""

    upto: Annotated[float, Field(gt=0, le=1)]
    do: str
    shapes: dict[str, Shape] = {}


class LoadGiven(_Given):
    """A way that it may be loaded: which of its ends, strands or loops are pulled, and what then comes of it; whether it is meant so."""

    pulled: Annotated[list[str], Field(min_length=1)]
    then: str
    meant: bool = True


class FaultGiven(_Given):
    """A way to get it wrong: how to tell, and the strands that then lie otherwise."""

    id: str
    name: str
    tell: str
    shapes: dict[str, Shape]


class Knot(_Given):
    """A knot, hitch, bend or wrap: what it is for and not for, what to look at, how it comes undone, which of its ends bear (`pulled`)."""

    id: str
    name: str
    kind: Kind
    used: str
    not_used: str
    undone: str
    pulled: list[str]
    look: list[str]
    strands: list[StrandGiven]
    stages: list[StageGiven]
    loads: Annotated[list[LoadGiven], Field(min_length=1)]
    faults: list[FaultGiven]

    def drawn(self, fault: str | None = None) -> tuple[Strand, ...]:
        """Its strands as they lie when it is tied; or as they lie with a fault.

        Raises
        ------
        Refused
            If there is no such fault.
        """
        if fault is None:
            return self._lying({}, 1.0)
        wrong = next((one for one in self.faults if one.id == fault), None)
        if wrong is None:
            raise refuse(
                "fault", f"{fault!r} is none of {self.name}", f"one of {', '.join(one.id for one in self.faults)}"
            )
        return self._lying(wrong.shapes, 1.0)

    def at(self, stage: StageGiven) -> tuple[Strand, ...]:
        """Its strands as they lie at a stage of tying."""
        return self._lying(stage.shapes, 1.0 if stage.shapes else stage.upto)

    def _lying(self, shapes: dict[str, Shape], upto: float) -> tuple[Strand, ...]:
        return tuple(
            Strand(
                one.id,
                _path(shapes.get(one.id, one.shape), 1.0 if one.solid else upto),
                one.ends,
                one.solid,
                one.closed,
            )
            for one in self.strands
        )

    def pulls(self, names: Sequence[str]) -> list[tuple[Array, Array]]:
        """Where it is pulled and which way, for ends, strands and loops by name, as it lies.

        Raises
        ------
        Refused
            If there is no such end, strand or loop.
        """
        return [pull for name in names for pull in _pulls(self, name)]

    @property
    def code(self) -> Code:
        """The planar diagram code of its rope closed outside, what it goes round left out."""
        return code_of(self.drawn())


# What is no end: a loop or bight, where it is furthest out; every end of it at once.
_LOOPS, _ALL = ("loop", "bight"), ("both strands", "both cords", "legs")


def _pulls(one: Knot, name: str) -> list[tuple[Array, Array]]:
    ropes = [strand for strand in one.drawn() if not strand.solid]
    if name in _LOOPS:
        return [_furthest(strand) for strand in ropes]
    found = []
    for strand in ropes:
        for label, end, before in (
            (strand.ends[0], strand.path[0], strand.path[1]),
            (strand.ends[1], strand.path[-1], strand.path[-2]),
        ):
            first = name == strand.id and label == strand.ends[0]
            if name in _ALL or label == name or first:
                found.append((end, (end - before) / np.linalg.norm(end - before)))
    if not found:
        raise refuse("pulled", f"{one.id} has no {name!r}", "an end, a strand, a loop or bight of it")
    return found


def _furthest(strand: Strand) -> tuple[Array, Array]:
    """The place of a strand, away from its ends, that is furthest from these; the way out from its middle."""
    inner = strand.path[2:-2]
    far = np.minimum(np.linalg.norm(inner - strand.path[0], axis=1), np.linalg.norm(inner - strand.path[-1], axis=1))
    tip = inner[int(far.argmax())]
    way = tip - inner.mean(axis=0)
    return tip, way / np.linalg.norm(way)


def _path(shape: Shape, upto: float = 1.0) -> Array:
    ((kind, given),) = shape.items()
    return _SHAPES[kind](given, upto)


def _on_a_bight(given: dict[str, Any], upto: float) -> Array:
    return on_a_bight(_path(given["of"], upto), given.get("crossed_at"), given.get("by", BESIDE))


def _beside(given: dict[str, Any], upto: float) -> Array:
    if not given.get("back"):
        return beside(_path(given["of"], upto), given["by"])
    # Followed from its far end.
    return cut(beside(_path(given["of"]), given["by"])[::-1], upto)


# How each shape that a file may name is made, as far as its end has come.
_SHAPES: dict[str, Callable[[Any, float], Array]] = {
    "through": lambda given, upto: cut(through(given), upto),
    "twisted": lambda given, upto: cut(twisted(**given), upto),
    "barrel": lambda given, upto: cut(barrel(**given), upto),
    "gripping": lambda given, upto: cut(gripping(**given), upto),
    "wound": lambda given, upto: cut(wound(**given), upto),
    "on_a_bight": _on_a_bight,
    "beside": _beside,
    "turned": lambda given, upto: turned_half(_path(given["of"], upto)),
    "bar": lambda given, upto: bar(**given),
    "ring": lambda given, upto: ring(**given),
    "joined": lambda given, upto: cut(np.concatenate([_path(one) for one in given]), upto),
    "rope_up": lambda given, upto: rope_up(**given),
    "slipped": lambda given, upto: cut(slipped(**given), upto),
    "moved": lambda given, upto: _path(given["of"], upto) + through([given["by"]]),
    "scaled": lambda given, upto: scaled(_path(given["of"], upto), given["by"]),
}


@lru_cache
def knots() -> dict[str, Knot]:
    """Every knot that is drawn, by id."""
    found = [Knot.model_validate(read_yaml(file.read_text(encoding="utf-8"))) for file in sorted(FILES.glob("*.yaml"))]
    return {one.id: one for one in found}


def knot(id: str) -> Knot:
    """One of them.

    Raises
    ------
    Refused
        If there is no drawing of it.
    """
    if id not in knots():
        raise refuse("id", f"there is no drawing of {id!r}", f"one of {', '.join(knots())}")
    return knots()[id]


def amiss(one: Knot) -> list[str]:
    """What is wrong with a drawing: strands that run through one another at a stage or in the whole."""
    found = []
    for stage in one.stages:
        cuts = cuts_itself(one.at(stage))
        if cuts:
            found.append(f"{one.id}, as far as {stage.upto:g}: {cuts[0]} runs through {cuts[1]}")
    for fault in one.faults:
        cuts = cuts_itself(one.drawn(fault=fault.id))
        if cuts:
            found.append(f"{one.id}, {fault.id}: {cuts[0]} runs through {cuts[1]}")
    return found


def smoothed(strands: tuple[Strand, ...]) -> tuple[Strand, ...]:
    """The strands as they are drawn."""
    return tuple(
        dataclasses.replace(one, path=smooth(one.path, closed=one.closed), closed=False)
        if one.closed
        else dataclasses.replace(one, path=smooth(one.path))
        for one in strands
    )
